"""Edits of what belongs to the whole site: brief, brand, media, services."""

import re

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.ids import Id
from needle.core.site.site import Medium, Service, Site

__all__ = ["add_medium", "set_brief", "set_medium_alt", "set_service", "set_site_name",
           "set_swatch"]

_MAIL_SERVER = re.compile(r"[\w.-]+(:\d{1,5})?\Z")


def set_site_name(site: Site, name: str) -> Site:
    """Return the site under another name.

    Raises:
        EditError: The name is empty or too long.
    """
    tidy = " ".join(name.split())
    if not 0 < len(tidy) <= 80:
        raise EditError("A site needs a name of at most 80 characters.")
    return site if tidy == site.name else msgspec.structs.replace(site, name=tidy)


def set_brief(site: Site, part: str, words: str) -> Site:
    """Return the site with one part of its brief changed."""
    brief = msgspec.structs.replace(site.brief, **{part: words})
    return site if brief == site.brief else msgspec.structs.replace(site, brief=brief)


def set_swatch(site: Site, role: str, value: str) -> Site:
    """Return the site with one colour of the brand changed to "#rrggbb"."""
    palette = tuple(msgspec.structs.replace(swatch, value=value.lower())
                    if swatch.role == role else swatch for swatch in site.brand.palette)
    return msgspec.structs.replace(site, brand=msgspec.structs.replace(site.brand,
                                                                       palette=palette))


def add_medium(site: Site, medium: Medium) -> Site:
    """Return the site with one more medium; one with the same file is not added twice."""
    if any(old.file == medium.file for old in site.media):
        return site
    return msgspec.structs.replace(site, media=(*site.media, medium))


def set_medium_alt(site: Site, medium_id: Id, words: str) -> Site:
    """Return the site with the words for a medium changed."""
    media = tuple(msgspec.structs.replace(m, alt=words.strip()) if m.id == medium_id else m
                  for m in site.media)
    return site if media == site.media else msgspec.structs.replace(site, media=media)


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
