"""Carts that were left behind in a form that keeps what was begun."""

import json
from collections.abc import Sequence
from typing import NamedTuple

from sqlalchemy import Engine, exists, select, update

from needle.core.values.ids import Id
from needle.store.results.tables import leads, unfinished

__all__ = ["LeftBehind", "claim_left", "give_back_left", "left_behind"]

# Who left longer ago is not written to.
_STALE_MS = 14 * 86_400_000


class LeftBehind(NamedTuple):
    """A cart that somebody left.

    Attributes:
        key: That of the form's filling.
        cart: As their browser kept it.
    """

    key: str
    email: str
    cart: str


def left_behind(engine: Engine, form: Id, consent: Id, before_ms: int) -> list[LeftBehind]:
    """Return the carts that were left before a moment by whoever agreed to a letter, and have
    neither had one nor sent that form since.

    Args:
        consent: The field by which they agreed.
    """
    since = exists().where(leads.c.person == unfinished.c.person, leads.c.form == form,
                           leads.c.at >= unfinished.c.at)
    written = unfinished.alias()
    had = exists().where(written.c.person == unfinished.c.person, written.c.written > 0)
    with engine.connect() as connection:
        rows = connection.execute(select(unfinished).where(
            unfinished.c.form == form, unfinished.c.cart != "", unfinished.c.person != "",
            unfinished.c.written == 0, unfinished.c.at <= before_ms,
            unfinished.c.at > before_ms - _STALE_MS, ~since, ~had).order_by(unfinished.c.at)).all()
    return [LeftBehind(row.key, row.email, row.cart) for row in rows
            if _agreed(json.loads(row.answers), consent)]


def _agreed(answers: Sequence[Sequence[str]], consent: Id) -> bool:
    return any(field == consent and answer for field, _, answer in answers)


def claim_left(engine: Engine, key: str, at_ms: int) -> bool:
    """Have the letter about a cart be this host's to send; `False` if another one has it."""
    with engine.begin() as connection:
        return bool(connection.execute(update(unfinished).where(
            unfinished.c.key == key, unfinished.c.written == 0).values(
                written=at_ms)).rowcount)


def give_back_left(engine: Engine, key: str) -> None:
    """Have a letter that could not be sent be tried again."""
    with engine.begin() as connection:
        connection.execute(update(unfinished).where(unfinished.c.key == key).values(written=0))
