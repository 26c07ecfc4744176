"""Web archives (MHTML, RFC 2557): a page and what it shows, in one file."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from email import message_from_bytes
from email.message import Message as MailMessage
from email.policy import compat32
from html import unescape
from urllib.parse import urljoin

__all__ = ["Archive", "read_archive"]

_MOST_PARTS = 2000
_TAKEN = re.compile(r"image/[a-z.+-]+|text/css|font/[a-z0-9-]+|application/(x-)?font[a-z-]*")
_ENDS = "(?=[\"'()<>\\s,]|\\Z)"
# Where a text speaks of another file: an attribute, url(…) or @import.
_SPOKEN = re.compile(r"""(\b(?:src|href|poster|background)\s*=\s*["']|url\(\s*["']?|"""
                     r"""@import\s+["'])([^"'()<>\s]+)""", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Archive:
    """A page whose references are names of its own parts.

    Attributes:
        html: The page, as it was written but for the references.
        kind: Its media type, with the charset if it was said.
        parts: Media type and bytes by name.
    """

    html: bytes
    kind: str
    parts: Mapping[str, tuple[str, bytes]]


def read_archive(data: bytes) -> Archive | None:
    """Return what an archive holds; `None` if it is none, or holds no page."""
    try:
        whole = message_from_bytes(data, policy=compat32)
        leaves = [part for part in whole.walk() if not part.is_multipart()][:_MOST_PARTS]
    except (ValueError, LookupError, RecursionError):
        return None
    page = next((part for part in leaves if part.get_content_type() in (
        "text/html", "application/xhtml+xml")), None)
    if page is None or not whole.is_multipart():
        return None
    named = [(f"part{number}", part) for number, part in enumerate(leaves)
             if part is not page and _TAKEN.fullmatch(part.get_content_type())]
    names = {place: name for name, part in named for place in _places(part)}
    parts = {}
    for name, part in named:
        kind, body = part.get_content_type(), _body(part)
        parts[name] = (kind, _renamed(body, names, _location(part))
                       if kind == "text/css" else body)
    charset = page.get_content_charset()
    kind = page.get_content_type() + (f"; charset={charset}" if charset else "")
    return Archive(_renamed(_body(page), names, _location(page)), kind, parts)


def _body(part: MailMessage) -> bytes:
    body = part.get_payload(decode=True)
    return body if isinstance(body, bytes) else b""


def _location(part: MailMessage) -> str:
    return str(part.get("Content-Location") or "").strip()


def _places(part: MailMessage) -> list[str]:
    """Return the addresses under which other parts speak of this one."""
    found = [_location(part)]
    own = str(part.get("Content-ID") or "").strip().strip("<>")
    return [place for place in (*found, f"cid:{own}" if own else "") if place]


def _renamed(text: bytes, names: Mapping[str, str], base: str) -> bytes:
    """Return a text with every address of a part replaced by the part's name.

    Args:
        base: Where the text itself stood, for addresses that begin there.
    """
    if not names:
        return text
    by_said = {said: name for place, name in names.items()
               for said in (place, place.replace("&", "&amp;"))}
    pattern = "|".join(re.escape(said) for said in sorted(by_said, key=len, reverse=True))
    loose = text.decode("utf-8", "surrogateescape")
    whole = re.sub(f"({pattern}){_ENDS}", lambda hit: by_said[hit[1]], loose)

    def found(hit: re.Match[str]) -> str:
        try:
            place = urljoin(base, unescape(hit[2]))
        except ValueError:
            return hit[0]
        return hit[1] + names.get(place, hit[2])

    return _SPOKEN.sub(found, whole).encode("utf-8", "surrogateescape")
