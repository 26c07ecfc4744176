"""What was reached, by page and variant; hours, clicks and depth; who is aside; ranges."""

import sqlalchemy as sa
from alembic import op

from needle.store.results.migrations.steps import add_columns, add_index, add_table

revision, down_revision = "0010", "0009"

_MADE = ("arrived", "day_counts", "reached_by", "journeys", "day_paths", "day_fields")


def _words(name: str, longest: int, key: bool = True) -> "sa.Column[object]":
    return sa.Column(name, sa.String(longest), primary_key=key, nullable=False)


def _number(name: str, big: bool = False) -> "sa.Column[object]":
    return sa.Column(name, sa.BigInteger if big else sa.Integer, nullable=False)


def _when(name: str) -> "sa.Column[object]":
    return sa.Column(name, sa.Integer, primary_key=True, autoincrement=False)


def upgrade() -> None:
    """Make the tables; all that is made of the events is made again."""
    add_columns("events", sa.Column("aside", sa.Boolean, nullable=False,
                                    server_default=sa.false()))
    for name in _MADE:
        op.execute(f"DELETE FROM {name}")
    op.execute("UPDATE shared SET value = '0' WHERE name = 'events-counted'")
    add_columns("arrived", sa.Column("aside", sa.Boolean, nullable=False,
                                     server_default=sa.false()))
    op.drop_table("reached_by")
    add_table("reached_by", _words("goal", 120), _words("visitor", 40), _words("page", 16),
              _words("variant", 2), _number("first", True), _number("last", True),
              _number("times"))
    add_index("reached_by_page", "reached_by", "page", "goal")
    add_table("hour_counts", _when("hour"), _words("page", 16), _number("came"), _number("won"))
    add_table("day_touches", _when("day"), _words("page", 16), _words("variant", 2),
              _words("device", 10), _words("kind", 8), _words("what", 40), _number("times"))
    add_table("range_counts", _words("host", 16), _words("what", 16), _words("range", 60),
              _number("count"), _number("at", True))
