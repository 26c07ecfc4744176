"""The salt of a day, with which hosts know visitors again without a cookie; then it is gone."""

import secrets

from sqlalchemy import Engine, select, update
from sqlalchemy.dialects import postgresql, sqlite

from needle.store.results.tables import shared

__all__ = ["SALT", "day_salt"]

# The name under which it stands among what hosts share.
SALT = "day-salt"


def day_salt(engine: Engine, day: int) -> tuple[int, str]:
    """Return the day since 1970 that hosts are in, and its salt; the first to ask makes it.

    That of the day before is overwritten by it: from then on nobody can tell whose an id was. A
    host whose clock is behind takes the day of the others.
    """
    dialect = postgresql if engine.dialect.name == "postgresql" else sqlite
    fresh = f"{day:08d}:{secrets.token_hex(16)}"
    with engine.begin() as connection:
        connection.execute(dialect.insert(shared).values(
            name=SALT, value="").on_conflict_do_nothing(index_elements=["name"]))
        connection.execute(update(shared).where(
            shared.c.name == SALT, shared.c.value < f"{day:08d}:").values(value=fresh))
        held = str(connection.execute(
            select(shared.c.value).where(shared.c.name == SALT)).scalar_one())
    day_held, _, salt = held.partition(":")
    return int(day_held), salt
