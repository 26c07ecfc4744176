"""Indexes for long lead books and for what a visitor did."""

from needle.store.results.migrations.steps import add_index

revision, down_revision = "0004", "0003"


def upgrade() -> None:
    """Add the indexes."""
    add_index("visits_by_visitor", "visits", "visitor", "at")
    add_index("leads_by_email", "leads", "email", "id")
    add_index("leads_by_time", "leads", "at")
    add_index("leads_by_page", "leads", "page", "variant", "robot", "visitor")
    add_index("outbox_due", "outbox", "state", "due")
    add_index("outbox_by_lead", "outbox", "lead")
