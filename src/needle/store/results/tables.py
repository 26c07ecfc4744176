"""The tables, and opening the database that holds them."""

import contextlib
import os
import re
from collections.abc import Iterator
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
    inspect,
    text,
)

from needle.store.results.migrations import bring_up_to_date

__all__ = ["arrived", "day_counts", "day_fields", "day_paths", "day_touches", "events", "filed",
           "hour_counts", "journeys", "leads", "metadata", "open_results", "orders", "outbox",
           "range_counts", "reached_by", "results_engine", "shared", "stock", "unfinished"]

_DRIVERLESS = re.compile(r"^postgres(?:ql)?://")

metadata = MetaData()
_Key = BigInteger().with_variant(Integer, "sqlite")

# Times are milliseconds since 1970, UTC.
# Everything that visitors did, in the order in which it was told: rows are added and, but for
# taking out what practice visitors left, never changed. `core.measure.events` says what is what.
events = Table(
    "events", metadata,
    Column("id", _Key, primary_key=True),
    Column("at", BigInteger, nullable=False),
    Column("visitor", String(40), nullable=False),
    Column("kind", String(8), nullable=False),
    Column("page", String(16), nullable=False),
    Column("variant", String(2), nullable=False),
    Column("what", String(120), nullable=False, default=""),
    Column("amount", Integer, nullable=False, default=0),
    Column("source", String(120), nullable=False, default=""),
    Column("campaign", String(120), nullable=False, default=""),
    Column("device", String(10), nullable=False, default=""),
    Column("mark", String(8), nullable=False, default=""),
    Column("aside", Boolean, nullable=False, default=False, server_default="0"),
    Index("events_by_visitor", "visitor", "at"),
    Index("events_by_time", "at"),
)

# The eight that follow are made of the events, and can be thrown away and made again (`rolling`).
# Who was on a page in which variant: when first, when first on the page in any variant, and when
# they first did there what counts.
arrived = Table(
    "arrived", metadata,
    Column("visitor", String(40), primary_key=True),
    Column("page", String(16), primary_key=True),
    Column("variant", String(2), primary_key=True),
    Column("at", BigInteger, nullable=False),
    Column("first", BigInteger, nullable=False),
    Column("won", BigInteger),
    # They are none of the page's split test.
    Column("aside", Boolean, nullable=False, default=False),
    Index("arrived_by_page", "page", "first"),
)

# Of these, how many came first and won first on each day since 1970.
day_counts = Table(
    "day_counts", metadata,
    Column("day", Integer, primary_key=True, autoincrement=False),
    Column("page", String(16), primary_key=True),
    Column("variant", String(2), primary_key=True),
    Column("came", Integer, nullable=False),
    Column("won", Integer, nullable=False),
)

# Who reached what counts on which page, when first and last, and how often: forms and outside calls
# by their id, everything else by its name.
reached_by = Table(
    "reached_by", metadata,
    Column("goal", String(120), primary_key=True),
    Column("visitor", String(40), primary_key=True),
    Column("page", String(16), primary_key=True),
    Column("variant", String(2), primary_key=True),
    Column("first", BigInteger, nullable=False),
    Column("last", BigInteger, nullable=False),
    Column("times", Integer, nullable=False),
    Index("reached_by_page", "page", "goal"),
)

# How many came first and won first in each hour since 1970, on each page.
hour_counts = Table(
    "hour_counts", metadata,
    Column("hour", Integer, primary_key=True, autoincrement=False),
    Column("page", String(16), primary_key=True),
    Column("came", Integer, nullable=False),
    Column("won", Integer, nullable=False),
)

# Clicks by section and cell in it ("SECTION.ACROSS.DOWN"), and visits by how much of the page was
# seen (in tenths), on each day.
day_touches = Table(
    "day_touches", metadata,
    Column("day", Integer, primary_key=True, autoincrement=False),
    Column("page", String(16), primary_key=True),
    Column("variant", String(2), primary_key=True),
    Column("device", String(10), primary_key=True),
    Column("kind", String(8), primary_key=True),
    Column("what", String(40), primary_key=True),
    Column("times", Integer, nullable=False),
)

# The visit that each visitor is on, or was on last; its path so far is counted in `day_paths`.
journeys = Table(
    "journeys", metadata,
    Column("visitor", String(40), primary_key=True),
    Column("day", Integer, nullable=False),
    Column("last", BigInteger, nullable=False),
    Column("source", String(120), nullable=False),
    Column("campaign", String(120), nullable=False),
    Column("device", String(10), nullable=False),
    Column("path", Text, nullable=False),
)

# How many visits that began on a day went which way.
day_paths = Table(
    "day_paths", metadata,
    Column("day", Integer, primary_key=True, autoincrement=False),
    Column("source", String(120), primary_key=True),
    Column("campaign", String(120), primary_key=True),
    Column("device", String(10), primary_key=True),
    Column("path", Text, primary_key=True),
    Column("visits", Integer, nullable=False),
)

# What happened in the fields of forms on each day.
day_fields = Table(
    "day_fields", metadata,
    Column("day", Integer, primary_key=True, autoincrement=False),
    Column("field", String(120), primary_key=True),
    Column("times", Integer, nullable=False),
    Column("took_ms", BigInteger, nullable=False),
    Column("faults", Integer, nullable=False),
    Column("stops", Integer, nullable=False),
)

# What each host has counted by range of addresses lately, for the others.
range_counts = Table(
    "range_counts", metadata,
    Column("host", String(16), primary_key=True),
    Column("what", String(16), primary_key=True),
    Column("range", String(60), primary_key=True),
    Column("count", Integer, nullable=False),
    Column("at", BigInteger, nullable=False),
)

leads = Table(
    "leads", metadata,
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
    # Marked data that was sent to see the way of a lead: not counted, and taken out again.
    Column("trial", Boolean, nullable=False, default=False, server_default="0"),
    # "new", "talking", "won" or "lost".
    Column("status", String(10), nullable=False, default="new", server_default="new"),
    # The marketer's own words, each between bars: "|guide|autumn|".
    Column("tags", Text, nullable=False, default="", server_default=""),
    # The e-mail address in its normal form, by which people are told apart.
    Column("person", String(320), nullable=False, default="", server_default=""),
    # The page of another site on which the form stood; empty for one of the own pages.
    Column("outside", String(400), nullable=False, default="", server_default=""),
    # "practice": of a visitor who is none, and taken out again.
    Column("mark", String(8), nullable=False, default="", server_default=""),
    Index("leads_by_person", "person", "id"),
    Index("leads_by_page", "page", "variant", "robot", "visitor"),
    Index("leads_by_time", "at"),
    Index("leads_by_email", "email", "id"),
    Index("leads_by_robot", "robot", "trial", "id"),
    Index("leads_by_form", "form", "robot", "id"),
    Index("leads_by_status", "status", "robot", "id"),
    Index("leads_by_tags", "tags"),
)

# What visitors sent along: the files themselves stand below the project's `attachments/`.
filed = Table(
    "filed", metadata,
    Column("id", _Key, primary_key=True),
    Column("lead_key", String(64), nullable=False),
    Column("field", String(16), nullable=False),
    Column("name", String(120), nullable=False),
    Column("path", String(200), nullable=False),
    Index("filed_by_lead", "lead_key"),
)

# Answers of those who stopped half-way through a form.
unfinished = Table(
    "unfinished", metadata,
    Column("key", String(64), primary_key=True),
    Column("at", BigInteger, nullable=False),
    Column("visitor", String(40), nullable=False),
    Column("form", String(16), nullable=False),
    Column("form_name", String(200), nullable=False),
    Column("page", String(16), nullable=False),
    Column("variant", String(2), nullable=False),
    Column("email", String(320), nullable=False, default=""),
    Column("answers", Text, nullable=False),
    Column("person", String(320), nullable=False, default="", server_default=""),
    # The cart that is left, as a browser keeps it; when a letter about it was sent, 0 for never.
    Column("cart", Text, nullable=False, default="", server_default=""),
    Column("written", BigInteger, nullable=False, default=0, server_default="0"),
    Index("unfinished_by_time", "at"),
    Index("unfinished_by_person", "person"),
)

outbox = Table(
    "outbox", metadata,
    Column("id", _Key, primary_key=True),
    Column("lead", _Key, nullable=False),
    Column("route", String(16), nullable=False),
    Column("key", String(64), nullable=False, unique=True),
    # "waiting", "held" (until the visitor confirms), "done" or "refused" (never again by itself).
    Column("state", String(8), nullable=False),
    # Deliveries of one person on one thread share a lane and go in their order.
    Column("lane", String(64), nullable=False, default="", server_default=""),
    Column("tries", Integer, nullable=False, default=0),
    Column("due", BigInteger, nullable=False),
    Column("held_until", BigInteger, nullable=False, default=0),
    # How long it has been waiting between tries, in milliseconds, whatever clocks say.
    Column("waited", BigInteger, nullable=False, default=0, server_default="0"),
    Column("result", Text, nullable=False, default=""),
    Column("result_at", BigInteger, nullable=False, default=0),
    # The last request and its answer as they went over the wire, without keys.
    Column("request", Text, nullable=False, default="", server_default=""),
    Column("answer", Text, nullable=False, default="", server_default=""),
    Index("outbox_due", "state", "due"),
    Index("outbox_by_lane", "lane", "state", "id"),
    Index("outbox_by_lead", "lead"),
)


# What all hosts over one database must agree on.
shared = Table(
    "shared", metadata,
    Column("name", String(40), primary_key=True),
    Column("value", Text, nullable=False),
)
# Orders of the shop, everything as it was when they were made. Nothing of a person stands here: who
# ordered is the lead, which can be erased.
orders = Table(
    "orders", metadata,
    Column("id", _Key, primary_key=True),
    # From 1 without a gap; it is given in the transaction that stores the order.
    Column("number", Integer, nullable=False, unique=True),
    # None once the lead was erased: its id may be given again.
    Column("lead", BigInteger, unique=True),
    Column("at", BigInteger, nullable=False),
    # "aside", "new", "paid", "sent", "done", "cancelled" or "lapsed".
    Column("state", String(10), nullable=False),
    # JSON: a list of [state, when], the first one first.
    Column("states", Text, nullable=False),
    # JSON: a list of [key, thing, item number, pieces, price of one, price of all, counted,
    # why it was put in].
    Column("lines", Text, nullable=False),
    Column("way", String(120), nullable=False),
    # Amounts as words, "12.50": exact in every database.
    Column("things", String(20), nullable=False),
    Column("discount", String(20), nullable=False),
    # JSON: [id, code, most, once] of the coupon; empty for none.
    Column("coupon", String(120), nullable=False),
    Column("carriage", String(20), nullable=False),
    Column("tax", String(20), nullable=False),
    # JSON: a list of [percent, net, tax], one for each rate.
    Column("taxes", Text, nullable=False),
    # Where it goes to, two letters; the tax number of a business that owes the tax itself.
    Column("land", String(2), nullable=False),
    Column("firm", String(20), nullable=False),
    Column("total", String(20), nullable=False),
    Column("currency", String(3), nullable=False),
    # JSON: [id, name, kind, service, words] of how it is paid; empty for as the form says.
    Column("pay", Text, nullable=False),
    # JSON: [name, amount] of what is given on top; empty for nothing.
    Column("tip", Text, nullable=False),
    # Of the cart that it was made of, so that one cart is ordered once.
    Column("cart", String(32), unique=True),
    # Until when its pieces are kept for a payment; 0 for always.
    Column("due", BigInteger, nullable=False),
    # From 1 without a gap, once an invoice was written; and JSON of that: [when, whom it names],
    # which stays when the person is erased.
    Column("invoice", Integer, unique=True),
    Column("billed", Text, nullable=False),
    Index("orders_by_state", "state", "id"),
    Index("orders_by_due", "due"),
)

# What is paid through payment services: a row for each payment that was begun there.
payments = Table(
    "payments", metadata,
    Column("id", _Key, primary_key=True),
    Column("order", BigInteger, nullable=False),
    # Sent along when it is begun, so that the service begins it once.
    Column("key", String(40), nullable=False, unique=True),
    Column("service", String(16), nullable=False),
    # What the service calls it, and where it is paid; empty until it said so.
    Column("reference", String(120), nullable=False),
    Column("go", Text, nullable=False),
    # "asked", "open", "paid", "failed", or "odd": another amount was paid.
    Column("state", String(8), nullable=False),
    Column("amount", String(20), nullable=False),
    Column("currency", String(3), nullable=False),
    Column("at", BigInteger, nullable=False),
    # When it is looked up next, and how often it was.
    Column("next", BigInteger, nullable=False),
    Column("tries", Integer, nullable=False),
    # What went wrong last; empty for nothing.
    Column("words", Text, nullable=False),
    Index("payments_by_order", "order"),
    Index("payments_by_reference", "service", "reference"),
    Index("payments_by_next", "state", "next"),
)

# What is paid back.
refunds = Table(
    "refunds", metadata,
    Column("id", _Key, primary_key=True),
    Column("order", BigInteger, nullable=False),
    # The payment that it is of; none where it was paid otherwise.
    Column("payment", BigInteger),
    Column("key", String(40), nullable=False, unique=True),
    Column("amount", String(20), nullable=False),
    # "waiting", "done" or "failed".
    Column("state", String(8), nullable=False),
    Column("at", BigInteger, nullable=False),
    Column("next", BigInteger, nullable=False),
    Column("tries", Integer, nullable=False),
    Column("words", Text, nullable=False),
    Index("refunds_by_order", "order"),
    Index("refunds_by_next", "state", "next"),
)

# What is left of things that are counted. A number that the marketer wrote anew holds from then on.
stock = Table(
    "stock", metadata,
    Column("offer", String(40), primary_key=True),
    Column("written", Integer, nullable=False),
    Column("left", Integer, nullable=False),
)
# Any number of our own: hosts that start at once make tables one after the other.
_MAKING = 7_246_031


def open_results(address: str | Path) -> Engine:
    """Open the results by SQLAlchemy address or SQLite path, making what lacks.

    Raises:
        SQLAlchemyError: The database cannot be reached, is none, or is of a newer Needle.
        OSError: The file cannot be made.
    """
    engine = results_engine(address)
    with _one_at_a_time(engine):
        with engine.begin() as connection:
            fresh = not inspect(connection).has_table(leads.name)
            if fresh:
                metadata.create_all(connection)
            bring_up_to_date(connection, fresh)
        if engine.dialect.name == "sqlite":
            _index_words(engine)
    return engine


def results_engine(address: str | Path) -> Engine:
    """Return the engine of a database without asking it anything yet."""
    if isinstance(address, Path):
        _make_private(address)
        url = f"sqlite:///{address}"
    else:
        url = _DRIVERLESS.sub("postgresql+psycopg://", address)
    if url.startswith("sqlite"):
        engine = create_engine(url)
        event.listen(engine, "connect", _prepare_sqlite)
        return engine
    # A connection that a restart of the server has ended is noticed before it is used.
    return create_engine(url, pool_pre_ping=True, pool_size=20, max_overflow=20,
                         connect_args={"connect_timeout": 5})


def _make_private(path: Path) -> None:
    """Make the file for this user alone; SQLite gives its companions the same rights."""
    path.parent.mkdir(parents=True, exist_ok=True)
    os.close(os.open(path, os.O_RDWR | os.O_CREAT | os.O_NOFOLLOW, 0o600))
    path.chmod(0o600)


@contextlib.contextmanager
def _one_at_a_time(engine: Engine) -> Iterator[None]:
    if engine.dialect.name == "sqlite":
        yield
        return
    with engine.connect() as connection:
        connection.execute(text("SELECT pg_advisory_lock(:n)"), {"n": _MAKING})
        try:
            yield
        finally:
            connection.execute(text("SELECT pg_advisory_unlock(:n)"), {"n": _MAKING})


# SQLite's full-text index over the words of a lead, by runs of three letters, so that any part of
# a word is found. It keeps no second copy of the words.
_WORDS = (
    "CREATE VIRTUAL TABLE leads_words USING fts5(email, answers, form_name, source, tags, "
    "content='leads', content_rowid='id', tokenize='trigram', columnsize=0)",
    "CREATE TRIGGER leads_words_added AFTER INSERT ON leads BEGIN INSERT INTO leads_words(rowid, "
    "email, answers, form_name, source, tags) VALUES (new.id, new.email, new.answers, "
    "new.form_name, new.source, new.tags); END",
    "CREATE TRIGGER leads_words_gone AFTER DELETE ON leads BEGIN INSERT INTO leads_words("
    "leads_words, rowid, email, answers, form_name, source, tags) VALUES ('delete', old.id, "
    "old.email, old.answers, old.form_name, old.source, old.tags); END",
    "CREATE TRIGGER leads_words_changed AFTER UPDATE OF email, answers, form_name, source, tags "
    "ON leads BEGIN INSERT INTO leads_words(leads_words, rowid, email, answers, form_name, source,"
    " tags) VALUES ('delete', old.id, old.email, old.answers, old.form_name, old.source, "
    "old.tags); INSERT INTO leads_words(rowid, email, answers, form_name, source, tags) VALUES "
    "(new.id, new.email, new.answers, new.form_name, new.source, new.tags); END",
    "INSERT INTO leads_words(leads_words) VALUES ('rebuild')",
)


def _index_words(engine: Engine) -> None:
    if inspect(engine).has_table("leads_words"):
        return
    with engine.begin() as connection:
        for statement in _WORDS:
            connection.execute(text(statement))


def _prepare_sqlite(connection: Any, _record: object) -> None:
    cursor = connection.cursor()
    for pragma in ("journal_mode=WAL", "synchronous=FULL", "busy_timeout=10000",
                   "secure_delete=ON"):
        cursor.execute(f"PRAGMA {pragma}")
    cursor.close()
