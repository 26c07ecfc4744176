"""The one secret that all hosts over a shared database sign with."""

import secrets

from sqlalchemy import Engine, select
from sqlalchemy.dialects import postgresql

from needle.store.results.tables import shared

__all__ = ["SECRET", "shared_secret"]

# The name under which it stands among what hosts share.
SECRET = "seals"


def shared_secret(engine: Engine) -> bytes:
    """Return the secret in a database; the first host to ask makes it."""
    with engine.begin() as connection:
        connection.execute(postgresql.insert(shared).values(
            name=SECRET, value=secrets.token_hex(32)).on_conflict_do_nothing())
        return bytes.fromhex(connection.execute(
            select(shared.c.value).where(shared.c.name == SECRET)).scalar_one())
