"""Edits of tracking codes and of the question for consent."""

from collections.abc import Sequence

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.ids import Id, new_id
from needle.core.values.tracking import TrackingCode

__all__ = ["add_code", "delete_code", "open_to", "reach_words", "set_code", "set_consent"]


def add_code(site: Site, name: str = "New code", html: str = "") -> tuple[Site, Id]:
    """Return the site with one more tracking code, and its id."""
    code = TrackingCode(id=new_id(), name=name, html=html)
    return msgspec.structs.replace(site, tracking=(*site.tracking, code)), code.id


def set_code(site: Site, code_id: Id, **changes: object) -> Site:
    """Return the site with a code changed.

    Raises:
        EditError: It would have no name.
    """
    if not str(changes.get("name", "x")).strip():
        raise EditError("code-needs-name")
    codes = tuple(msgspec.structs.replace(code, **changes) if code.id == code_id else code
                  for code in site.tracking)
    return site if codes == site.tracking else msgspec.structs.replace(site, tracking=codes)


def delete_code(site: Site, code_id: Id) -> Site:
    """Return the site without a code."""
    return msgspec.structs.replace(site, tracking=tuple(
        code for code in site.tracking if code.id != code_id))


def set_consent(site: Site, **changes: object) -> Site:
    """Return the site with the question for consent changed."""
    consent = msgspec.structs.replace(site.consent, **changes)
    return site if consent == site.consent else msgspec.structs.replace(site, consent=consent)


def reach_words(site: Site, reach: Id) -> str:
    """Return where a code runs, in words."""
    if not reach:
        return "whole site"
    folder = site.folder(reach)
    if folder is not None:
        return f"journey {folder.name}"
    page = site.page(reach)
    return f"page {page.name}" if page else "a page that is gone"


def open_to(site: Site, hosts: Sequence[str]) -> Site:
    """Return the site whose pages may reach these hosts besides those that their codes name."""
    return msgspec.structs.replace(site, open_to=tuple(hosts))
