"""An index of the tags in use."""

from needle.store.results.migrations.steps import add_index

revision, down_revision = "0005", "0004"


def upgrade() -> None:
    """Add the index."""
    add_index("leads_by_tags", "leads", "tags")
