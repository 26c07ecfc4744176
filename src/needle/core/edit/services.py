"""Edits of the services that leads are sent to."""

import re
from collections.abc import Mapping

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Service, Site
from needle.core.values.ids import Id, new_id

__all__ = ["add_service", "delete_service", "service_users", "set_service"]

_MAIL_SERVER = re.compile(r"[\w.-]+(:\d{1,5})?\Z")


def add_service(site: Site, does: str, name: str) -> tuple[Site, Id]:
    """Return the site with one more service, the practice one at first, and its id."""
    wish, number = name, 2
    while any(service.name == name for service in site.services):
        name, number = f"{wish} {number}", number + 1
    service = Service(id=new_id(), name=name, does=does, practice=True)
    return msgspec.structs.replace(site, services=(*site.services, service)), service.id


def set_service(site: Site, service_id: Id, *, name: str, practice: bool, address: str,
                options: Mapping[str, str]) -> Site:
    """Return the site with a service that is the practice one, or one's own at an address.

    Raises:
        EditError: One's own has no address, or one that cannot be.
    """
    service = site.service(service_id)
    address, name = address.strip(), " ".join(name.split())
    if service is None:
        raise EditError("service-gone")
    if not name:
        raise EditError("service-needs-name")
    if not practice:
        _check_address(service, address)
    told = {key: value.strip() for key, value in options.items() if value.strip()}
    changed = msgspec.structs.replace(service, name=name, practice=practice, address=address,
                                      options=told)
    return site if changed == service else msgspec.structs.replace(site, services=tuple(
        changed if other.id == service_id else other for other in site.services))


def _check_address(service: Service, address: str) -> None:
    if service.does == "mail":
        if not _MAIL_SERVER.match(address):
            raise EditError("service-mail-address", service=service.name)
    elif service.does == "file":
        if not address.lower().endswith((".csv", ".jsonl")):
            raise EditError("service-file-ending", service=service.name)
    elif not address.startswith(("https://", "http://")):
        raise EditError("service-address", service=service.name)


def service_users(site: Site, service_id: Id) -> list[str]:
    """Return what uses a service: the names of the forms that send to it, and of the ways in which
    orders are paid there."""
    ways = [pay.name for pay in site.shop.pays if pay.service == service_id]
    return ways + [form.name for form in site.forms
            if service_id in [route.service for route in form.routes]
            or service_id in [letter.service for letter in (form.letter, form.confirmation)
                              if letter]]


def delete_service(site: Site, service_id: Id) -> Site:
    """Return the site without a service.

    Raises:
        EditError: A form still sends to it.
    """
    users = service_users(site, service_id)
    if users:
        raise EditError("service-in-use", form=users[0])
    return msgspec.structs.replace(site, services=tuple(
        service for service in site.services if service.id != service_id))
