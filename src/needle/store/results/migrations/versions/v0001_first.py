"""Visits, leads and the outbox, as they first shipped. Every database has them."""

revision, down_revision = "0001", None


def upgrade() -> None:
    """Do nothing: this is where the steps begin."""
