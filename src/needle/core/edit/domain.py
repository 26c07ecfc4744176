"""The name that a site has in public."""

from ipaddress import ip_address

import idna
import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.strict import StrictError

__all__ = ["domain_of", "served_at", "set_domain", "set_served_at"]

_LONGEST = 400


def domain_of(words: str) -> str:
    """Return a domain as the net knows it, of what somebody typed: an address, capitals, umlauts
    and a dot at the end are understood (IDNA 2008, RFC 5891).

    Raises:
        EditError: It is none.
    """
    typed = words.strip()[:_LONGEST]
    name = typed.split("://")[-1].split("/")[0].split("@")[-1].partition(":")[0].rstrip(".")
    if not typed:
        return ""
    try:
        found = idna.encode(name.lower(), uts46=True).decode("ascii")
    except (idna.IDNAError, UnicodeError) as error:
        raise EditError("domain-none", given=typed[:80]) from error
    if "." not in found or found.rpartition(".")[2].isdigit():
        raise EditError("domain-none", given=typed[:80])
    return found


def served_at(words: str) -> tuple[str, tuple[str, ...]]:
    """Return the name of the machine and the addresses, of what somebody typed.

    Raises:
        EditError: A part is neither.
    """
    host, addresses = "", []
    for part in words.replace(",", " ").split()[:20]:
        try:
            addresses.append(str(ip_address(part)))
        except ValueError:
            host = domain_of(part)
    return host, tuple(dict.fromkeys(addresses))


def set_served_at(site: Site, words: str) -> Site:
    """Return the site with the place where its pages stand.

    Raises:
        EditError: It is neither a machine's name nor an address.
    """
    host, addresses = served_at(words)
    tidy = ", ".join(one for one in (host, *addresses) if one)
    return site if tidy == site.served_at else msgspec.structs.replace(site, served_at=tidy)


def set_domain(site: Site, words: str) -> Site:
    """Return the site under a domain of its own; under none with no words.

    Raises:
        EditError: It is none.
    """
    name = domain_of(words)
    try:
        return site if name == site.domain else msgspec.structs.replace(site, domain=name)
    except StrictError as error:
        raise EditError("domain-none", given=words[:80]) from error
