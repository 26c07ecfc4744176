"""Numbered steps from every schema of the results that ever shipped to the one of today.

`bring_up_to_date` runs those that a database lacks (Alembic). A new column or table is a step of
its own in `versions/`, besides its row in `tables.py`.
"""

from pathlib import Path

from sqlalchemy import Connection, inspect, text
from sqlalchemy.exc import InvalidRequestError

from needle.store.refusing import StoreError

__all__ = ["HEAD", "ResultsError", "bring_up_to_date"]

# The last step; `tests/store/test_migrations.py` holds it against the files.
HEAD = "0011"


class ResultsError(StoreError, InvalidRequestError):
    """Results that this Needle cannot read; also a fault of the database for who looks for one."""


def bring_up_to_date(connection: Connection, fresh: bool) -> None:
    """Run the steps that a database lacks, each once.

    Args:
        connection: Within a transaction, which is left open.
        fresh: The tables have just been made as they are today.

    Raises:
        ResultsError: It is of a newer Needle.
    """
    version = _version(connection)
    if version == HEAD:
        return
    if version > HEAD:
        raise ResultsError("results-newer", step=version, known=HEAD)
    # Only now: a database that is up to date, as nearly always, is opened without it.
    from alembic import command
    from alembic.config import Config

    config = Config()
    config.set_main_option("script_location", str(Path(__file__).parent).replace("%", "%%"))
    config.attributes["connection"] = connection
    (command.stamp if fresh else command.upgrade)(config, "head")


def _version(connection: Connection) -> str:
    if not inspect(connection).has_table("alembic_version"):
        return ""
    return str(connection.execute(text("SELECT version_num FROM alembic_version")).scalar() or "")
