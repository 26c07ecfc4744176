"""Clicks that count as conversions."""

import sqlalchemy as sa

from needle.store.results.migrations.steps import add_index, add_table

revision, down_revision = "0002", "0001"


def upgrade() -> None:
    """Add the table of goals."""
    add_table("goals", sa.Column("id", sa.BigInteger().with_variant(sa.Integer, "sqlite"),
                                 primary_key=True),
              sa.Column("at", sa.BigInteger, nullable=False),
              sa.Column("visitor", sa.String(40), nullable=False),
              sa.Column("page", sa.String(16), nullable=False),
              sa.Column("variant", sa.String(2), nullable=False),
              sa.Column("goal", sa.String(120), nullable=False))
    add_index("goals_by_page", "goals", "page", "variant", "visitor")
