"""Edits of what belongs to the whole site: name, brief, services."""

import re
from datetime import date

import msgspec

from needle.core.edit.place import EditError
from needle.core.render.markup import safe_address
from needle.core.site.ids import Id
from needle.core.site.site import Brief, Service, Site

__all__ = ["brief_fault", "set_brief", "set_service", "set_site_name"]

_MAIL_SERVER = re.compile(r"[\w.-]+(:\d{1,5})?\Z")


def set_site_name(site: Site, name: str) -> Site:
    """Return the site under another name.

    Raises:
        EditError: The name is empty or too long.
    """
    tidy = " ".join(name.split())
    if not 0 < len(tidy) <= 80:
        raise EditError("A site needs a name of at most 80 characters.")
    if tidy == site.name and not site.invented:
        return site
    return msgspec.structs.replace(site, name=tidy, invented=())


def set_brief(site: Site, part: str, words: str) -> Site:
    """Return the site with one part of its brief changed."""
    brief = msgspec.structs.replace(site.brief, **{part: words})
    return site if brief == site.brief else msgspec.structs.replace(site, brief=brief)


def set_service(site: Site, service_id: Id, practice: bool, address: str) -> Site:
    """Return the site with a service that is the practice one, or one's own at an address.

    Raises:
        EditError: One's own has no address, or one that cannot be.
    """
    service = site.service(service_id)
    address = address.strip()
    if service is None:
        raise EditError("This service is no longer there.")
    if not practice:
        _check_address(service, address)
    changed = msgspec.structs.replace(service, practice=practice, address=address)
    return site if changed == service else msgspec.structs.replace(site, services=tuple(
        changed if other.id == service_id else other for other in site.services))


def _check_address(service: Service, address: str) -> None:
    if service.does == "list":
        if not address.startswith(("https://", "http://")):
            raise EditError(f"The address of {service.name} begins with https://, like "
                            "https://lists.example/api.")
    elif not _MAIL_SERVER.match(address):
        raise EditError(f"The mail server of {service.name} is a name and a port, like "
                        "mail.example:25.")


def brief_fault(brief: Brief) -> str:
    """Return what is wrong with the brief in words, or an empty text."""
    deadline = brief.deadline.strip()
    if deadline:
        try:
            date.fromisoformat(deadline)
        except ValueError:
            return f"“{deadline}” is no date. Write it like 2026-12-31."
    for line in brief.links.splitlines():
        if line.strip() and safe_address(line.strip()) == "#":
            return f"“{line.strip()[:40]}” is no address. Write it like https://hill.example."
    return ""
