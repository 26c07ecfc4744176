"""How much came from ranges of addresses, as hosts over one database tell each other."""

from collections import defaultdict
from collections.abc import Iterable, Mapping

from sqlalchemy import Engine, delete, func, insert, select

from needle.store.results.tables import range_counts

__all__ = ["exchange_counts"]


def exchange_counts(engine: Engine, host: str, own: Iterable[tuple[str, str, int]], now_ms: int,
                    within_ms: int) -> Mapping[str, Mapping[str, int]]:
    """Tell what a host has counted, and return what the others have, by what and range.

    Args:
        host: Its name among them, a fresh one each time it starts.
        own: What was counted, the range, and how often in the window.
        within_ms: What was told longer ago is forgotten.
    """
    told, rows = range_counts.c, list(own)
    found: dict[str, dict[str, int]] = defaultdict(dict)
    with engine.begin() as connection:
        connection.execute(delete(range_counts).where(
            (told.host == host) | (told.at < now_ms - within_ms)))
        if rows:
            connection.execute(insert(range_counts), [
                {"host": host, "what": what, "range": where[:60], "count": count, "at": now_ms}
                for what, where, count in rows])
        for row in connection.execute(select(
                told.what, told.range, func.sum(told.count).label("n")).where(
                told.host != host).group_by(told.what, told.range)):
            found[row.what][row.range] = int(row.n)
    return found
