"""Edits of the words that an advert's address chooses."""

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.advert import MOST_VALUES, AdvertValue, AdvertWords
from needle.core.values.ids import Id, new_id
from needle.core.values.strict import StrictError

__all__ = ["add_advert", "advert_of", "read_values", "set_advert", "value_lines"]

_MOST = 60


def advert_of(site: Site, advert_id: Id) -> AdvertWords | None:
    """Return advert words by their id."""
    return next((one for one in site.adverts if one.id == advert_id), None)


def read_values(lines: str, before: AdvertWords | None = None) -> AdvertWords:
    """Return advert words with the values that somebody wrote, a line each: "said = shown", or the
    one for both.

    Args:
        before: As they were; what the address said before keeps its number.

    Raises:
        EditError: A line says nothing, one says what another does, or there are too many.
    """
    found: dict[str, AdvertValue] = {}
    held = before or AdvertWords("new")
    known, given = {one.said.lower(): one.number for one in held.values}, held.given
    for number, line in enumerate(lines.splitlines(), 1):
        if not line.strip():
            continue
        said, equals, shown = (" ".join(part.split()) for part in line.partition("="))
        shown = shown if equals else said
        if not said or not shown:
            raise EditError("advert-line-empty", line=number)
        if said.lower() in found:
            raise EditError("advert-line-twice", line=number, said=said)
        try:
            own = known.get(said.lower(), given + 1)
            given = max(given, own)
            found[said.lower()] = AdvertValue(said, shown, own)
        except StrictError as error:
            raise EditError(error.message) from error
    if not found:
        raise EditError("advert-no-values")
    if len(found) > MOST_VALUES:
        raise EditError("advert-values-full", most=MOST_VALUES)
    return msgspec.structs.replace(held, values=tuple(found.values()), given=given)


def value_lines(advert: AdvertWords) -> str:
    """Return the values as `read_values` takes them."""
    return "\n".join(f"{one.said} = {one.shown}" for one in advert.values)


def add_advert(site: Site, param: str, lines: str) -> tuple[Site, Id]:
    """Return the site with advert words more, and their id.

    Raises:
        EditError: The name or a value cannot stand there, or there are as many as can be.
    """
    if len(site.adverts) >= _MOST:
        raise EditError("adverts-full", most=_MOST)
    try:
        made = msgspec.structs.replace(read_values(lines), id=new_id(), param=param.strip())
    except StrictError as error:
        raise EditError(error.message) from error
    return msgspec.structs.replace(site, adverts=(*site.adverts, made)), made.id


def set_advert(site: Site, advert_id: Id, param: str, lines: str) -> Site:
    """Return the site with advert words set otherwise, wherever they stand.

    Raises:
        EditError: As `add_advert` does.
    """
    try:
        adverts = tuple(msgspec.structs.replace(read_values(lines, one), param=param.strip())
                        if one.id == advert_id else one for one in site.adverts)
    except StrictError as error:
        raise EditError(error.message) from error
    return site if adverts == site.adverts else msgspec.structs.replace(site, adverts=adverts)
