"""What of a service's settings is secret, and where it is kept: with the keys, by service."""

from collections.abc import Mapping
from urllib.parse import urlsplit

from needle.core.site.site import Service
from needle.services.adapter import Setting
from needle.store.keys import read_key, write_key

__all__ = ["DOTS", "address_of", "keep_secrets", "key_of", "options_of", "secret_part",
           "shown_address"]

DOTS = "•••"


def secret_part(address: str) -> tuple[str, ...]:
    """Return what of an address is secret: all behind its host; nothing if that is no more than
    a slash."""
    try:
        parts = urlsplit(address)
    except ValueError:
        return (address,)
    behind = parts.path + (f"?{parts.query}" if parts.query else "")
    login = (parts.netloc.rpartition("@")[0],) if "@" in parts.netloc else ()
    return (*login, behind) if len(behind) > 1 else login


def shown_address(address: str) -> str:
    """Return an address as it may be shown, and kept in the project."""
    if not secret_part(address):
        return address
    try:
        parts = urlsplit(address)
    except ValueError:
        return DOTS
    return f"{parts.scheme}://{parts.netloc.rpartition('@')[2]}/{DOTS}"


def keep_secrets(service: Service, settings: tuple[Setting, ...], told: dict[str, str],
                 ) -> dict[str, str]:
    """Keep what is secret of newly told settings, and return the others.

    A secret that was left empty, or whose dots were left standing, stays as it was.

    Raises:
        OSError: The keys cannot be written.
    """
    left = dict(told)
    for setting in settings:
        value = told.get(setting.name, "")
        if setting.kind in ("secret", "secrets"):
            left.pop(setting.name, None)
            if value.strip():
                write_key(_name(service, setting.name), "" if value.strip() == "-" else value)
                write_key(_name(service, "place"), _place(_told_address(service, told)))
        elif setting.kind == "secret address":
            left[setting.name] = shown_address(value) if DOTS not in value else service.address
            if DOTS not in value:
                write_key(_name(service, setting.name), value if secret_part(value) else "")
    return left


def address_of(service: Service) -> str:
    """Return where a service is, with what of it is kept apart; empty if that is not known here."""
    if DOTS not in service.address:
        return service.address
    return read_key(_name(service, "address"))


def key_of(service: Service) -> str:
    """Return the key of a service, if it was told for the place where the service is now.

    A project from elsewhere may name one's own service and another address; it gets no key.
    """
    bound = read_key(_name(service, "place"))
    if bound and bound != _place(address_of(service)):
        return ""
    return read_key(_name(service, "key"))


def _told_address(service: Service, told: Mapping[str, str]) -> str:
    address = told.get("address", "")
    return address_of(service) if not address or DOTS in address else address


def _place(address: str) -> str:
    """Return the host and port in an address, with its scheme if it has one."""
    scheme, parted, rest = address.rpartition("://")
    return f"{scheme}{parted}{rest.partition('/')[0].rpartition('@')[2]}".lower()


def options_of(service: Service, settings: tuple[Setting, ...]) -> Mapping[str, str]:
    """Return a service's options, with those that are kept apart."""
    bound = read_key(_name(service, "place"))
    if bound and bound != _place(address_of(service)):
        return service.options
    kept = {setting.name: value for setting in settings if setting.kind == "secrets"
            and (value := read_key(_name(service, setting.name)))}
    return {**service.options, **kept}


def _name(service: Service, setting: str) -> str:
    return service.id if setting == "key" else f"{service.id}.{setting}"
