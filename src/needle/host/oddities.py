"""Odd things in requests: nothing of them may lose a lead or stall the host.

What cannot be kept as it came (half a surrogate pair, a NUL, a million parameters) is replaced or
left out; the rest stays.
"""

import re
from collections.abc import Mapping
from urllib.parse import unquote_plus, urlsplit

from needle.core.leads.storable import storable

__all__ = ["fields_of", "first_values", "host_of", "name_of_host"]

_MOST_FIELDS = 500

def fields_of(encoded: str, most: int = _MOST_FIELDS) -> dict[str, list[str]]:
    """Return the fields of a form's post, or of a query: UTF-8, and what is none replaced.

    Args:
        most: How many are looked at.
    """
    found: dict[str, list[str]] = {}
    for pair in encoded.split("&", most)[:most]:
        if not pair:
            continue
        name, _, value = pair.partition("=")
        found.setdefault(storable(unquote_plus(name, errors="replace")), []).append(
            storable(unquote_plus(value, errors="replace")))
    return found


def first_values(fields: Mapping[str, list[str]]) -> dict[str, str]:
    """Return the first value of each field."""
    return {name: values[0] for name, values in fields.items()}


def host_of(address: str) -> str:
    """Return host and port in a web address, lower case; empty if it has none or is broken."""
    try:
        return urlsplit(address[:2000]).netloc.rpartition("@")[2].lower()
    except ValueError:
        return ""


def name_of_host(header: str) -> str:
    """Return the name in a Host header, without its port; empty if it is broken."""
    match = re.fullmatch(r"\[?([0-9A-Za-z._:-]{1,255}?)\]?(?::[0-9]{1,5})?", header.strip())
    return match.group(1).lower().rstrip(".") if match else ""
