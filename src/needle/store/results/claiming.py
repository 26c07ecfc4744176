"""What only one of many hosts does: whoever claims a moment first."""

from sqlalchemy import Engine, update
from sqlalchemy.dialects import postgresql, sqlite

from needle.store.results.tables import shared

__all__ = ["claim", "give_back"]


def claim(engine: Engine, name: str, moment: str) -> bool:
    """Return whether a moment is ours: nobody has claimed it or a later one under this name.

    Args:
        moment: An ISO time; all under one name in one zone, so that they sort as words.
    """
    dialect = postgresql if engine.dialect.name == "postgresql" else sqlite
    with engine.begin() as connection:
        connection.execute(dialect.insert(shared).values(
            name=name, value="").on_conflict_do_nothing(index_elements=["name"]))
        return connection.execute(update(shared).where(
            shared.c.name == name, shared.c.value < moment).values(value=moment)).rowcount == 1


def give_back(engine: Engine, name: str, moment: str) -> None:
    """Let a moment be claimed again, since nothing came of it."""
    with engine.begin() as connection:
        connection.execute(update(shared).where(
            shared.c.name == name, shared.c.value == moment).values(value=""))
