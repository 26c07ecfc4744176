"""Building HTML safely: everything that is not already markup is escaped."""

from collections.abc import Iterable, Mapping
from urllib.parse import urlsplit

from markupsafe import Markup, escape

__all__ = ["Attributes", "join", "safe_address", "tag"]

Attributes = Mapping[str, str | int | bool | None]

_VOID = frozenset({"br", "hr", "img", "input", "link", "meta", "source"})
_SCHEMES = frozenset({"", "http", "https", "mailto", "tel"})


def tag(name: str, attributes: Attributes, *children: str) -> Markup:
    """Return one element. `None` and `False` leave an attribute out, `True` writes it bare."""
    parts = [f"<{name}"]
    for key, value in attributes.items():
        if value is None or value is False:
            continue
        parts.append(f" {key}" if value is True else f' {key}="{escape(value)}"')
    parts.append(">")
    if name not in _VOID:
        parts += [_safe(child) for child in children]
        parts.append(f"</{name}>")
    return _marked("".join(parts))


def join(parts: Iterable[str]) -> Markup:
    """Return the parts one after another, escaping those that are not markup."""
    # Markup's own join asks every part again; on long pages that is most of the work.
    return _marked("".join([_safe(part) for part in parts]))


def _marked(html: str) -> Markup:
    # Markup's own way in asks whether the words know their markup; these never do.
    return str.__new__(Markup, html)


def _safe(part: str) -> str:
    return part if type(part) is Markup else escape(part)


def safe_address(address: str) -> str:
    """Return `address` if a visitor may follow it, else "#".

    Only web, mail and phone addresses and addresses within the site pass, so nobody can
    paste a script as a link.
    """
    cleaned = "".join(sign for sign in address.strip() if sign > " ")
    try:
        scheme = urlsplit(cleaned).scheme.lower()
    except ValueError:
        return "#"
    return cleaned if scheme in _SCHEMES and cleaned else "#"
