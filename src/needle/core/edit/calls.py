"""Edits of what pages made elsewhere call in."""

import secrets
import string
from urllib.parse import urlsplit

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.ids import Id, new_id
from needle.core.values.outsidecall import OutsideCall
from needle.core.values.strict import StrictError

__all__ = ["add_call", "begins_of", "call_of", "remove_call", "set_call"]

_MOST = 40


def call_of(site: Site, call_id: Id) -> OutsideCall | None:
    """Return an outside call by its id."""
    return next((call for call in site.calls if call.id == call_id), None)


def add_call(site: Site, name: str) -> tuple[Site, Id]:
    """Return the site with one more outside call, of a fresh key, and its id.

    Raises:
        EditError: There are as many as can be.
    """
    if len(site.calls) >= _MOST:
        raise EditError("calls-full", most=_MOST)
    key = "".join(secrets.choice(string.ascii_lowercase + string.digits) for _ in range(20))
    made = OutsideCall(new_id(), name, key)
    return msgspec.structs.replace(site, calls=(*site.calls, made)), made.id


def set_call(site: Site, call_id: Id, **values: object) -> Site:
    """Return the site with a call set otherwise.

    Raises:
        EditError: A value cannot stand there, or another call has the name.
    """
    name = values.get("name")
    if name is not None and (not name or any(
            call.name == name and call.id != call_id for call in site.calls)):
        raise EditError("call-name")

    def changed(call: OutsideCall) -> OutsideCall:
        try:
            return msgspec.structs.replace(call, **values)
        except StrictError as error:
            raise EditError(error.message) from error

    calls = tuple(changed(call) if call.id == call_id else call for call in site.calls)
    return site if calls == site.calls else msgspec.structs.replace(site, calls=calls)


def remove_call(site: Site, call_id: Id) -> Site:
    """Return the site without a call; what it brought stays in the results."""
    return msgspec.structs.replace(site, calls=tuple(
        call for call in site.calls if call.id != call_id))


def begins_of(words: str) -> str:
    """Return the address that somebody typed, as links begin that lead there.

    Raises:
        EditError: It is none.
    """
    typed = words.strip()
    if not typed:
        return ""
    try:
        parts = urlsplit(typed if "://" in typed else f"https://{typed}")
        host = (parts.hostname or "").encode("idna").decode()
        port = f":{parts.port}" if parts.port else ""
    except (ValueError, UnicodeError) as error:
        raise EditError("outside-no-site", given=typed[:80]) from error
    if parts.scheme not in ("http", "https") or not host:
        raise EditError("outside-no-site", given=typed[:80])
    return f"{parts.scheme}://{host}{port}{parts.path}"
