"""Leads of forms that stand on pages of another site."""

import sqlalchemy as sa

from needle.store.results.migrations.steps import add_columns

revision, down_revision = "0008", "0007"


def upgrade() -> None:
    """Add where such a form stood."""
    add_columns("leads", sa.Column("outside", sa.String(400), nullable=False, server_default=""))
