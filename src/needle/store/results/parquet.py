"""Everything that was counted, event by event, as a Parquet file with types and compressed."""

import os
import tempfile
from collections.abc import Iterable, Mapping
from pathlib import Path
from typing import Any

import numpy as np
from sqlalchemy import Engine, select

from needle.core.values.ids import Id
from needle.store.results.exporting import digest_of
from needle.store.results.tables import events

__all__ = ["write_events"]

_AT_ONCE = 50_000
_TABLE = ("CREATE TABLE told (moment BIGINT, what VARCHAR, page VARCHAR, variant VARCHAR, "
          "visitor VARCHAR, source VARCHAR, campaign VARCHAR, device VARCHAR, of_what VARCHAR, "
          "amount BIGINT, mark VARCHAR, aside BOOLEAN)")
_SHOWN = "make_timestamp(moment * 1000) AS moment, * EXCLUDE (moment)"


def write_events(engine: Engine, names: Mapping[Id, str], path: Path) -> int:
    """Write all that visitors did, the oldest first; return how many events those are. The file
    stands there whole or not at all.

    As in `event_rows`, no answer is among it, and visitors are told by a digest.

    Args:
        names: The names of pages and forms by their ids.

    Raises:
        SQLAlchemyError: The results cannot be read.
        OSError: The file cannot be written.
    """
    import duckdb  # Heavy, and needed only here.

    count = 0
    with tempfile.TemporaryDirectory(dir=path.parent, prefix=".new-") as made:
        made_file = Path(made) / "events.parquet"
        # In a file, since ten million events are more than a small machine's memory.
        held = duckdb.connect(str(Path(made) / "held.db"))
        try:
            held.execute(_TABLE)
            with engine.connect() as connection:
                rows = connection.execution_options(yield_per=_AT_ONCE).execute(
                    select(events).order_by(events.c.id))
                for part in rows.partitions(_AT_ONCE):
                    batch = _columns(part, names)  # noqa: F841 – read by its name below.
                    held.execute("INSERT INTO told SELECT * FROM batch")
                    count += len(part)
            held.sql(f"SELECT {_SHOWN} FROM told").write_parquet(str(made_file), compression="zstd")
        except duckdb.Error as error:
            raise OSError(None, str(error).splitlines()[0], str(path)) from error
        finally:
            held.close()
        os.chmod(made_file, 0o600)
        os.replace(made_file, path)
    return count


def _columns(rows: Iterable[Any], names: Mapping[Id, str]) -> dict[str, np.ndarray[Any, Any]]:
    told = list(rows)
    words = {
        "what": [row.kind for row in told], "page": [names.get(row.page, row.page) for row in told],
        "variant": [row.variant for row in told],
        "visitor": [digest_of(row.visitor) for row in told],
        "source": [row.source for row in told], "campaign": [row.campaign for row in told],
        "device": [row.device for row in told],
        "of_what": [names.get(row.what, row.what) for row in told]}
    return ({"moment": np.array([row.at for row in told], dtype=np.int64)}
            | {name: np.array(values, dtype=object) for name, values in words.items()}
            | {"amount": np.array([row.amount for row in told], dtype=np.int64),
               "mark": np.array([row.mark for row in told], dtype=object),
               "aside": np.array([bool(row.aside) for row in told])})
