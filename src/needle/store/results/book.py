"""The lead book: finding leads among very many, one lead's way, status and tags."""

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any

import msgspec
from sqlalchemy import Engine, Select, and_, column, exists, func, or_, select, table, text, update

from needle.core.leads.people import normal_address
from needle.core.measure.events import EventKind
from needle.core.values.ids import Id
from needle.store.results.deliveries import Sent, deliveries_of
from needle.store.results.tables import events, filed, leads, unfinished

__all__ = [
    "MOST_COUNTED",
    "STATUSES",
    "Filter",
    "Lead",
    "LeadWay",
    "change_lead",
    "count_leads",
    "known_tags",
    "leads_csv_rows",
    "list_leads",
    "list_unfinished",
    "way_of",
]

STATUSES: Mapping[str, str] = {"new": "new", "talking": "talking", "won": "won", "lost": "lost"}
# Counting on beyond this would keep the person waiting for a number that nobody reads.
MOST_COUNTED = 2000
# The end of the year 9999, beyond which no calendar here goes.
_LAST_MS = 253_402_300_799_000
_words = table("leads_words", column("rowid"))
_SEARCHED = (leads.c.email, leads.c.answers, leads.c.form_name, leads.c.source, leads.c.tags)


class Filter(msgspec.Struct, frozen=True, omit_defaults=True):
    """Which leads are meant.

    Attributes:
        words: Each stands somewhere in the lead; those of one or two letters begin its e-mail.
        robots: "without", "with" or "only".
        since_ms: Those that came since then.
        one_each: Only the newest of each e-mail address.
        place: The key of the place whose leads are meant, as `core.measure.places` has it.
        pages: The pages of that place; without any and with a place, no lead is meant.
    """

    words: str = ""
    robots: str = "without"
    form: Id = ""
    status: str = ""
    tag: str = ""
    since_ms: int = 0
    one_each: bool = False
    place: str = ""
    pages: tuple[Id, ...] = ()


@dataclass(frozen=True, slots=True)
class Lead:
    """A row of the lead book."""

    id: int
    key: str
    at: datetime
    visitor: str
    form: Id
    form_name: str
    page: Id
    variant: str
    email: str
    answers: Sequence[tuple[str, str, str]]
    robot: bool
    signs: str
    source: str
    trial: bool
    status: str
    tags: Sequence[str]
    outside: str = ""


@dataclass(frozen=True, slots=True)
class LeadWay:
    """Where a lead came from and where it went.

    Attributes:
        visits: Time, page, variant and source of each page seen before.
        deliveries: To each service.
        others: Further leads of the same e-mail address, newest first.
        files: Name and path below the project of what was sent along.
    """

    visits: Sequence[tuple[datetime, Id, str, str]]
    deliveries: Sequence[Sent]
    others: Sequence[Lead]
    files: Sequence[tuple[str, str]]


def _wanted(engine: Engine, of: Filter) -> list[Any]:
    tests: list[Any] = [leads.c.trial.is_(False)]
    if of.robots != "with":
        tests.append(leads.c.robot.is_(of.robots == "only"))
    for column_, value in ((leads.c.form, of.form), (leads.c.status, of.status)):
        if value:
            tests.append(column_ == value)
    if of.tag and engine.dialect.name != "sqlite":
        tests.append(leads.c.tags.like(f"%|{_escaped(of.tag)}|%", escape="\\"))
    if of.since_ms:
        tests.append(leads.c.at >= of.since_ms)
    if of.place:
        tests.append(leads.c.page.in_(of.pages))
    if of.one_each:
        later = leads.alias()
        tests.append(or_(leads.c.person == "", ~exists().where(
            later.c.person == leads.c.person, later.c.id > leads.c.id, later.c.trial.is_(False),
            *([] if of.robots == "with" else [later.c.robot.is_(of.robots == "only")]))))
    return tests


def _found(engine: Engine, query: Select[Any], of: Filter) -> Select[Any]:
    """Return a query for the leads that a filter means."""
    words = of.words.split()
    long = [word for word in words if len(word) > 2]
    query = query.where(and_(True, *_wanted(engine, of)))
    for word in (word for word in words if len(word) <= 2):
        query = query.where(_begins(engine, word.lower()))
    if engine.dialect.name == "sqlite":
        asked = _asked_words(of)
        if not asked:
            return query
        return query.select_from(_words.join(leads, leads.c.id == _words.c.rowid)).where(
            text("leads_words MATCH :asked").bindparams(asked=asked))
    for word in long:
        query = query.where(or_(*(one.ilike(f"%{_escaped(word)}%", escape="\\")
                                  for one in _SEARCHED)))
    return query


def _begins(engine: Engine, word: str) -> Any:
    """Return the test for e-mail addresses that begin with a word.

    Many of them are soon met on a walk from the newest lead; few are looked up by their index, as
    a list of its own, since otherwise the walk would go through all leads.
    """
    def test(of: Any) -> Any:
        return and_(of.c.email >= word, of.c.email < word[:-1] + chr(ord(word[-1]) + 1))

    begun = leads.alias()
    found = select(begun.c.id).where(test(begun))
    with engine.connect() as connection:
        count = connection.execute(
            select(func.count()).select_from(found.limit(MOST_COUNTED).subquery())).scalar_one()
    return leads.c.id.in_(found) if count < MOST_COUNTED else test(leads)


def _asked_words(of: Filter) -> str:
    """Return what the index of words is asked; nothing if the filter needs none of it."""
    asked = [word for word in of.words.split() if len(word) > 2]
    quoted = ['"' + word.replace('"', '""') + '"' for word in asked]
    if of.tag:
        quoted.append('tags : "|' + of.tag.replace('"', '""') + '|"')
    return " AND ".join(quoted)


def _escaped(words: str) -> str:
    return words.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")


def count_leads(engine: Engine, of: Filter = Filter(), most: int = 0) -> int:
    """Return how many leads match; with `most`, count no further than one above it."""
    # In the order of the list, so that no other way of finding them is taken.
    query = _found(engine, select(leads.c.id), of).order_by(_order(engine, of).desc())
    query = query.limit(most + 1) if most else query
    with engine.connect() as connection:
        return connection.execute(
            select(func.count()).select_from(query.subquery())).scalar_one()


def _order(engine: Engine, of: Filter) -> Any:
    """Return what leads are put in order by: the index of words gives its rows in order by
    itself, so the first of them come at once."""
    if engine.dialect.name == "sqlite" and _asked_words(of):
        return _words.c.rowid
    return leads.c.id


def list_leads(engine: Engine, of: Filter = Filter(), limit: int = 200, before: int = 0,
               ) -> list[Lead]:
    """Return the leads that match, newest first.

    Args:
        before: Only those stored before the one with this id.
    """
    query = _found(engine, select(leads), of)
    order = _order(engine, of)
    if before:
        query = query.where(order < before)
    with engine.connect() as connection:
        return [_lead(row) for row in connection.execute(
            query.order_by(order.desc()).limit(limit))]


def list_unfinished(engine: Engine, limit: int = 200) -> list[Lead]:
    """Return what people answered who did not send, newest first."""
    with engine.connect() as connection:
        rows = connection.execute(
            select(unfinished).order_by(unfinished.c.at.desc()).limit(limit)).all()
    return [Lead(0, row.key, _moment(row.at), row.visitor, row.form, row.form_name, row.page,
                 row.variant, row.email, _answers(row.answers), False, "not sent", "", False,
                 "new", ()) for row in rows]


def way_of(engine: Engine, lead: Lead) -> LeadWay:
    """Return the way of one lead."""
    until = int(lead.at.timestamp() * 1000) + 60_000
    with engine.connect() as connection:
        seen = connection.execute(
            select(events.c.at, events.c.page, events.c.variant, events.c.source)
            .where(events.c.visitor == lead.visitor, events.c.at <= until,
                   events.c.kind == EventKind.VISIT)
            .order_by(events.c.at.desc()).limit(40)).all()
        others = connection.execute(
            select(leads).where(leads.c.person == normal_address(lead.email),
                                leads.c.person != "",
                                leads.c.id != lead.id)
            .order_by(leads.c.id.desc()).limit(40)).all()
        files = connection.execute(select(filed.c.name, filed.c.path).where(
            filed.c.lead_key == lead.key)).all()
    return LeadWay([(_moment(row.at), row.page, row.variant, row.source) for row in seen[::-1]],
                   deliveries_of(engine, lead.id), [_lead(row) for row in others],
                   [(row.name, row.path) for row in files])


def change_lead(engine: Engine, lead: int, *, status: str, tags: Sequence[str]) -> None:
    """Store a lead's status and tags."""
    tidy = dict.fromkeys(" ".join(tag.replace("|", " ").split()) for tag in tags)
    joined = "".join(f"|{tag}" for tag in tidy if tag)
    with engine.begin() as connection:
        connection.execute(update(leads).where(leads.c.id == lead).values(
            status=status, tags=f"{joined}|" if joined else ""))


def known_tags(engine: Engine) -> list[str]:
    """Return every tag in use."""
    with engine.connect() as connection:
        rows = connection.execute(select(leads.c.tags).where(leads.c.tags > "").distinct())
        return sorted({tag for row in rows for tag in row.tags.split("|") if tag})


def leads_csv_rows(engine: Engine, page_names: Mapping[Id, str], of: Filter = Filter(),
                   ) -> tuple[list[str], Iterator[list[str]]]:
    """Return header and rows of the leads that match, for CSV; rows come as they are read."""
    labels = dict.fromkeys(label for row in _stream(engine, of, leads.c.answers)
                           for _, label, _ in _answers(row.answers))
    header = ["When (UTC)", "Form", "Page", "Variant", "Source", "Status", "Tags", "Robot",
              "Signs", "Outside page", *labels]

    def rows() -> Iterator[list[str]]:
        for row in _stream(engine, of, *leads.c):
            lead = _lead(row)
            held = {label: answer for _, label, answer in lead.answers}
            yield [lead.at.strftime("%Y-%m-%d %H:%M:%S"), lead.form_name,
                   page_names.get(lead.page, lead.page), lead.variant, lead.source, lead.status,
                   ", ".join(lead.tags), "robot" if lead.robot else "", lead.signs,
                   lead.outside, *(held.get(label, "") for label in labels)]

    return header, rows()


def _stream(engine: Engine, of: Filter, *columns: Any) -> Iterator[Any]:
    query = _found(engine, select(*columns), of).order_by(leads.c.id.desc())
    with engine.connect() as connection:
        yield from connection.execution_options(yield_per=2000).execute(query)


def _lead(row: Any) -> Lead:
    return Lead(row.id, row.key, _moment(row.at), row.visitor, row.form, row.form_name, row.page,
                row.variant, row.email, _answers(row.answers), row.robot, row.signs, row.source,
                row.trial, row.status, tuple(tag for tag in row.tags.split("|") if tag),
                row.outside)


def _answers(raw: str) -> list[tuple[str, str, str]]:
    """Return answers as they are kept; of a database that somebody else wrote, what can be read."""
    try:
        return msgspec.json.decode(raw, type=list[tuple[str, str, str]])
    except (msgspec.DecodeError, UnicodeDecodeError, RecursionError):
        return [("", "These answers are damaged", raw[:300])]


def _moment(ms: int) -> datetime:
    return datetime.fromtimestamp(min(max(ms, 0), _LAST_MS) / 1000, UTC)
