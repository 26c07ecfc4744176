"""Orders of the shop, what is left of things that are counted, and what was paid and paid back."""

import sqlalchemy as sa

from needle.store.results.migrations.steps import add_columns, add_index, add_table

revision, down_revision = "0011", "0010"


def _words(name: str, longest: int) -> "sa.Column[object]":
    return sa.Column(name, sa.String(longest), nullable=False)


def upgrade() -> None:
    """Make the tables, and have unfinished forms keep a cart."""
    add_columns("unfinished",
                sa.Column("cart", sa.Text, nullable=False, server_default=""),
                sa.Column("written", sa.BigInteger, nullable=False, server_default="0"))
    _add_orders()
    _add_payments()


def _key() -> "sa.Column[object]":
    return sa.Column("id", sa.BigInteger().with_variant(sa.Integer, "sqlite"), primary_key=True)


def _tried() -> "list[sa.Column[object]]":
    return [sa.Column("at", sa.BigInteger, nullable=False),
            sa.Column("next", sa.BigInteger, nullable=False),
            sa.Column("tries", sa.Integer, nullable=False),
            sa.Column("words", sa.Text, nullable=False)]


def _add_orders() -> None:
    add_table(
        "orders",
        _key(),
        sa.Column("number", sa.Integer, nullable=False, unique=True),
        sa.Column("lead", sa.BigInteger, unique=True),
        sa.Column("at", sa.BigInteger, nullable=False), _words("state", 10),
        sa.Column("states", sa.Text, nullable=False), sa.Column("lines", sa.Text, nullable=False),
        _words("way", 120), _words("things", 20), _words("discount", 20), _words("coupon", 120),
        _words("carriage", 20), _words("tax", 20),
        sa.Column("taxes", sa.Text, nullable=False), _words("land", 2), _words("firm", 20),
        _words("total", 20), _words("currency", 3),
        sa.Column("pay", sa.Text, nullable=False), sa.Column("tip", sa.Text, nullable=False),
        sa.Column("cart", sa.String(32), unique=True),
        sa.Column("due", sa.BigInteger, nullable=False),
        sa.Column("invoice", sa.Integer, unique=True),
        sa.Column("billed", sa.Text, nullable=False))
    add_index("orders_by_due", "orders", "due")
    add_index("orders_by_state", "orders", "state", "id")
    add_table("stock", sa.Column("offer", sa.String(40), primary_key=True),
              sa.Column("written", sa.Integer, nullable=False),
              sa.Column("left", sa.Integer, nullable=False))


def _add_payments() -> None:
    add_table(
        "payments", _key(), sa.Column("order", sa.BigInteger, nullable=False),
        sa.Column("key", sa.String(40), nullable=False, unique=True), _words("service", 16),
        _words("reference", 120), sa.Column("go", sa.Text, nullable=False), _words("state", 8),
        _words("amount", 20), _words("currency", 3),
        *_tried())
    add_index("payments_by_order", "payments", "order")
    add_index("payments_by_reference", "payments", "service", "reference")
    add_index("payments_by_next", "payments", "state", "next")
    add_table(
        "refunds", _key(), sa.Column("order", sa.BigInteger, nullable=False),
        sa.Column("payment", sa.BigInteger),
        sa.Column("key", sa.String(40), nullable=False, unique=True), _words("amount", 20),
        _words("state", 8),
        *_tried())
    add_index("refunds_by_order", "refunds", "order")
    add_index("refunds_by_next", "refunds", "state", "next")
