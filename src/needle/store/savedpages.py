"""Saved pages on the disk: an HTML file with what it shows beside it, or a web archive."""

import re
from collections.abc import Mapping
from dataclasses import dataclass
from pathlib import Path, PurePosixPath
from urllib.parse import unquote

from lxml import etree, html

from needle.core.images.picturefile import PictureError
from needle.core.seeing.archives import read_archive

__all__ = ["SAVED_ENDINGS", "SavedPage", "open_saved"]

SAVED_ENDINGS = (".html", ".htm", ".xhtml", ".mhtml", ".mht")
_ARCHIVES = (".mhtml", ".mht")
_MOST_BYTES = 60_000_000
_MOST_UP = 2
# Nothing else is handed to a page that is shown: no scripts, and no other pages.
_SHOWN: Mapping[str, str] = {
    ".css": "text/css", ".png": "image/png", ".jpg": "image/jpeg", ".jpeg": "image/jpeg",
    ".gif": "image/gif", ".webp": "image/webp", ".avif": "image/avif", ".svg": "image/svg+xml",
    ".ico": "image/x-icon", ".woff": "font/woff", ".woff2": "font/woff2", ".ttf": "font/ttf",
    ".otf": "font/otf"}
_UP = re.compile(rb"(?:href|src)\s*=\s*[\"']?((?:\.\./)+)[^\"'>\s]+\.(?:css|png|jpe?g|gif|svg)")

# A page that goes on to another by itself would never stand still to be looked at.
_GOES_ON = re.compile(rb"<meta\b[^>]*http-equiv\s*=\s*[\"']?refresh\b[^>]*>", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class SavedPage:
    """A saved page that can be shown.

    Attributes:
        entry: Where the page stands below its root, with slashes.
    """

    entry: str
    _root: Path | None
    _parts: Mapping[str, tuple[str, bytes]]

    def answer(self, path: str) -> tuple[bytes, str] | None:
        """Return bytes and media type of what the page asks for, or `None`.

        Files are taken only from the page's folder, or as far up as the page itself points (two
        folders at most), and only pictures, styles and fonts.
        """
        if path in self._parts:
            kind, body = self._parts[path]
            return body, kind
        kind = _SHOWN.get(PurePosixPath(path).suffix.lower(), "")
        if self._root is None or not kind or "\0" in path:
            return None
        try:
            target = (self._root / unquote(path)).resolve()
            if not target.is_relative_to(self._root) or not target.is_file() or (
                    target.stat().st_size > _MOST_BYTES):
                return None
            return target.read_bytes(), kind
        except (OSError, ValueError):
            return None


def open_saved(path: Path) -> SavedPage:
    """Return a saved page.

    Raises:
        PictureError: It cannot be read, is too large, or holds no page; in words.
    """
    try:
        if not path.is_file():
            raise PictureError("saved-no-file", name=path.name)
        if path.stat().st_size > _MOST_BYTES:
            raise PictureError("saved-heavy", name=path.name, most=_MOST_BYTES // 1_000_000)
        data = path.read_bytes()
    except OSError as error:
        raise PictureError("saved-unread", name=path.name, why=error.strerror) from error
    if path.suffix.lower() in _ARCHIVES:
        archive = read_archive(data)
        if archive is None:
            raise PictureError("saved-no-page", name=path.name)
        _refuse_frames(archive.html, path.name)
        return SavedPage("page.html", None,
                         {**archive.parts,
                          "page.html": (archive.kind, _GOES_ON.sub(b"", archive.html))})
    if b"<" not in data:
        raise PictureError("saved-no-page", name=path.name)
    _refuse_frames(data, path.name)
    folder = path.resolve().parent
    up = min(_MOST_UP, max((len(found[1]) // 3 for found in _UP.finditer(data)), default=0),
             len(folder.parts) - 1)
    root = folder.parents[up - 1] if up else folder
    entry = path.resolve().relative_to(root).as_posix()
    kind = "application/xhtml+xml" if path.suffix.lower() == ".xhtml" and _is_xml(data) \
        else "text/html"
    return SavedPage(entry, root, {entry: (kind, _GOES_ON.sub(b"", data))})


def _refuse_frames(data: bytes, name: str) -> None:
    """Raise if a page shows nothing but other pages: it has no body to be looked at."""
    if b"<frameset" not in data.lower():
        return
    try:
        root = html.document_fromstring(data)
    except etree.ParserError:
        return
    words = root.xpath("normalize-space(string(.//body[not(.//frameset)]))")
    shown = dict.fromkeys(one.get("src", "") for one in root.iter("frame"))
    if shown and not words:
        raise PictureError("saved-frames", name=name,
                           others=", ".join(filter(None, shown)) or "-")


def _is_xml(data: bytes) -> bool:
    """Whether a page is well-formed; a browser shows one that is not as ordinary HTML."""
    try:
        etree.fromstring(data, etree.XMLParser(resolve_entities=False, no_network=True))
    except etree.XMLSyntaxError:
        return False
    return True
