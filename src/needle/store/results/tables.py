"""The tables, and opening the database that holds them."""

from pathlib import Path
from typing import Any

from sqlalchemy import (
    BigInteger,
    Boolean,
    Column,
    Engine,
    Index,
    Integer,
    MetaData,
    String,
    Table,
    Text,
    create_engine,
    event,
)

__all__ = ["goals", "leads", "open_results", "outbox", "visits"]

_metadata = MetaData()
_Key = BigInteger().with_variant(Integer, "sqlite")

# Times are milliseconds since 1970, UTC.
visits = Table(
    "visits", _metadata,
    Column("id", _Key, primary_key=True),
    Column("at", BigInteger, nullable=False),
    Column("visitor", String(40), nullable=False),
    Column("page", String(16), nullable=False),
    Column("variant", String(2), nullable=False),
    Column("source", String(120), nullable=False, default=""),
    Column("campaign", String(120), nullable=False, default=""),
    Column("device", String(10), nullable=False, default=""),
    Index("visits_by_page", "page", "variant", "visitor"),
)

# Clicks that the marketer counts as conversions.
goals = Table(
    "goals", _metadata,
    Column("id", _Key, primary_key=True),
    Column("at", BigInteger, nullable=False),
    Column("visitor", String(40), nullable=False),
    Column("page", String(16), nullable=False),
    Column("variant", String(2), nullable=False),
    Column("goal", String(120), nullable=False),
    Index("goals_by_page", "page", "variant", "visitor"),
)

leads = Table(
    "leads", _metadata,
    Column("id", _Key, primary_key=True),
    Column("key", String(64), nullable=False, unique=True),
    Column("at", BigInteger, nullable=False),
    Column("visitor", String(40), nullable=False),
    Column("form", String(16), nullable=False),
    Column("form_name", String(200), nullable=False),
    Column("page", String(16), nullable=False),
    Column("variant", String(2), nullable=False),
    Column("email", String(320), nullable=False, default=""),
    # JSON: a list of [field id, label, answer], as the visitor saw it.
    Column("answers", Text, nullable=False),
    Column("robot", Boolean, nullable=False),
    Column("signs", Text, nullable=False, default=""),
    Column("source", String(120), nullable=False, default=""),
    Index("leads_by_page", "page", "variant", "robot", "visitor"),
    Index("leads_by_time", "at"),
)

outbox = Table(
    "outbox", _metadata,
    Column("id", _Key, primary_key=True),
    Column("lead", _Key, nullable=False),
    Column("route", String(16), nullable=False),
    Column("key", String(64), nullable=False, unique=True),
    # "waiting", "done" or "refused".
    Column("state", String(8), nullable=False),
    Column("tries", Integer, nullable=False, default=0),
    Column("due", BigInteger, nullable=False),
    Column("held_until", BigInteger, nullable=False, default=0),
    Column("result", Text, nullable=False, default=""),
    Column("result_at", BigInteger, nullable=False, default=0),
    Index("outbox_due", "state", "due"),
    Index("outbox_by_lead", "lead"),
)


def open_results(address: str | Path) -> Engine:
    """Open the results by SQLAlchemy address or SQLite path, making tables that lack."""
    url = f"sqlite:///{address}" if isinstance(address, Path) else address
    engine = create_engine(url)
    if engine.dialect.name == "sqlite":
        event.listen(engine, "connect", _prepare_sqlite)
    _metadata.create_all(engine)
    return engine


def _prepare_sqlite(connection: Any, _record: object) -> None:
    cursor = connection.cursor()
    for pragma in ("journal_mode=WAL", "synchronous=FULL", "busy_timeout=10000"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()
