"""Moving results from one database to another: from the project's file to a server, or back."""

from collections.abc import Callable, Iterator
from pathlib import Path

from sqlalchemy import Connection, Engine, Table, delete, func, insert, inspect, select, text

from needle.store.keys import write_key
from needle.store.results.migrations import ResultsError
from needle.store.results.secrets import SECRET
from needle.store.results.tables import events, leads, metadata, open_results, shared
from needle.store.seals import seals_key, secret_of

__all__ = ["move_results"]

_AT_ONCE = 2000


def move_results(project: Path, source: str | Path, target: str | Path,
                 told: Callable[[str, int], object] = lambda *_: None) -> int:
    """Copy all results, and the secret that hosts sign with; return how many rows those were.

    The source stays as it is. What stands in a target by then is taken out again if it fails.

    Args:
        told: Called with the name of each table and how many of its rows are there.

    Raises:
        ResultsError: The target holds results already, or a host wrote meanwhile.
        SQLAlchemyError: A database does not answer.
        OSError: A file or the key cannot be written.
    """
    before, after = open_results(source), open_results(target)
    try:
        if held := _rows(after, leads) + _rows(after, events):
            raise ResultsError("results-target-full", count=held)
        secret = secret_of(project, before)
        marks = _marks(before)
        try:
            count = sum(_copy(before, after, table, told) for table in metadata.sorted_tables)
            if _marks(before) != marks:
                raise ResultsError("results-moved-on")
        except BaseException:
            _empty(after)
            raise
        _hand_on(project, after, secret)
    finally:
        before.dispose()
        after.dispose()
    return count


def _rows(engine: Engine, table: Table) -> int:
    with engine.connect() as connection:
        return int(connection.execute(select(func.count()).select_from(table)).scalar_one())


def _marks(engine: Engine) -> dict[str, int]:
    """Return how many rows each table holds, which no host that writes leaves as it is."""
    return {table.name: _rows(engine, table) for table in metadata.sorted_tables}


def _copy(before: Engine, after: Engine, table: Table, told: Callable[[str, int], object]) -> int:
    count = 0
    with before.connect() as source, after.begin() as target:
        rows = source.execution_options(yield_per=_AT_ONCE).execute(select(table))
        for part in _parts(rows.mappings().partitions(_AT_ONCE), table):
            if part:
                target.execute(insert(table), part)
            count += len(part)
            told(table.name, count)
        _count_on(target, table)
    return count


def _parts(partitions: object, table: Table) -> Iterator[list[dict[str, object]]]:
    """Yield the rows, without the secret, which each kind of database keeps in its own way."""
    for part in partitions:  # type: ignore[attr-defined]
        yield [dict(row) for row in part
               if table is not shared or row["name"] != SECRET]


def _count_on(connection: Connection, table: Table) -> None:
    """Have a server give numbers that are free yet; SQLite does so by itself."""
    if connection.dialect.name == "postgresql" and any(
            column["name"] == "id" for column in inspect(connection).get_columns(table.name)):
        connection.execute(text(
            f"SELECT setval(pg_get_serial_sequence('{table.name}', 'id'), "
            f"GREATEST((SELECT MAX(id) FROM {table.name}), 1))"))


def _empty(engine: Engine) -> None:
    with engine.begin() as connection:
        for table in reversed(metadata.sorted_tables):
            connection.execute(delete(table))


def _hand_on(project: Path, engine: Engine, secret: bytes) -> None:
    """Have hosts over the target sign with the same secret, so that what visitors hold stays
    good."""
    if engine.dialect.name == "sqlite":
        write_key(seals_key(project), secret.hex())
        return
    with engine.begin() as connection:
        connection.execute(delete(shared).where(shared.c.name == SECRET))
        connection.execute(insert(shared).values(name=SECRET, value=secret.hex()))
