"""Orders of the shop, and what is left of things that are counted."""

import sqlalchemy as sa

from needle.store.results.migrations.steps import add_index, add_table

revision, down_revision = "0011", "0010"


def _words(name: str, longest: int) -> "sa.Column[object]":
    return sa.Column(name, sa.String(longest), nullable=False)


def upgrade() -> None:
    """Make both tables."""
    add_table(
        "orders",
        sa.Column("id", sa.BigInteger().with_variant(sa.Integer, "sqlite"), primary_key=True),
        sa.Column("number", sa.Integer, nullable=False, unique=True),
        sa.Column("lead", sa.BigInteger, unique=True),
        sa.Column("at", sa.BigInteger, nullable=False), _words("state", 10),
        sa.Column("states", sa.Text, nullable=False), sa.Column("lines", sa.Text, nullable=False),
        _words("way", 120), _words("things", 20), _words("discount", 20), _words("coupon", 120),
        _words("carriage", 20), _words("tax", 20),
        _words("percent", 6), _words("total", 20), _words("currency", 3))
    add_index("orders_by_state", "orders", "state", "id")
    add_table("stock", sa.Column("offer", sa.String(40), primary_key=True),
              sa.Column("written", sa.Integer, nullable=False),
              sa.Column("left", sa.Integer, nullable=False))
