"""One stream of events in place of visits and goals, and what is counted from it."""

import sqlalchemy as sa
from alembic import op

from needle.store.results.migrations.steps import add_columns, add_index, add_table

revision, down_revision = "0009", "0008"

_KEY = sa.BigInteger().with_variant(sa.Integer, "sqlite")


def _words(name: str, longest: int, key: bool = False) -> "sa.Column[object]":
    return sa.Column(name, sa.String(longest), primary_key=key, nullable=False)


def _number(name: str, big: bool = False) -> "sa.Column[object]":
    return sa.Column(name, sa.BigInteger if big else sa.Integer, nullable=False)


def _day() -> "sa.Column[object]":
    return sa.Column("day", sa.Integer, primary_key=True, autoincrement=False)


def upgrade() -> None:
    """Make the tables and take over what was counted, in the order in which it happened."""
    add_columns("leads", sa.Column("mark", sa.String(8), nullable=False, server_default=""))
    add_table("events", sa.Column("id", _KEY, primary_key=True), _number("at", True),
              _words("visitor", 40), _words("kind", 8), _words("page", 16), _words("variant", 2),
              _words("what", 120), _number("amount"), _words("source", 120),
              _words("campaign", 120), _words("device", 10), _words("mark", 8))
    _take_over()
    add_index("events_by_visitor", "events", "visitor", "at")
    add_index("events_by_time", "events", "at")
    add_table("arrived", _words("visitor", 40, True), _words("page", 16, True),
              _words("variant", 2, True), _number("at", True), _number("first", True),
              sa.Column("won", sa.BigInteger))
    add_index("arrived_by_page", "arrived", "page", "first")
    add_table("day_counts", _day(), _words("page", 16, True), _words("variant", 2, True),
              _number("came"), _number("won"))
    add_table("reached_by", _words("goal", 120, True), _words("visitor", 40, True),
              _number("last", True))
    add_table("journeys", _words("visitor", 40, True), _number("day"), _number("last", True),
              _words("source", 120), _words("campaign", 120), _words("device", 10),
              sa.Column("path", sa.Text, nullable=False))
    add_table("day_paths", _day(), _words("source", 120, True), _words("campaign", 120, True),
              _words("device", 10, True), sa.Column("path", sa.Text, primary_key=True),
              _number("visits"))
    add_table("day_fields", _day(), _words("field", 120, True), _number("times"),
              _number("took_ms", True), _number("faults"), _number("stops"))


def _take_over() -> None:
    old = set(sa.inspect(op.get_bind()).get_table_names())
    parts = []
    if "visits" in old:
        parts.append("SELECT at, visitor, 'visit' AS kind, page, variant, '' AS what, source, "
                     "campaign, device FROM visits")
    if "goals" in old:
        parts.append("SELECT at, visitor, 'goal', page, variant, goal, '', '', '' FROM goals")
    parts.append("SELECT at, visitor, 'lead', page, variant, form, '', '', '' FROM leads "
                 "WHERE NOT robot AND NOT trial")
    op.execute("INSERT INTO events (at, visitor, kind, page, variant, what, amount, source, "
               "campaign, device, mark) SELECT at, visitor, kind, page, variant, what, 0, source, "
               f"campaign, device, '' FROM ({' UNION ALL '.join(parts)}) AS told ORDER BY at")
    for name in ("visits", "goals"):
        if name in old:
            op.drop_table(name)
