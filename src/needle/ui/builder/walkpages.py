"""The pages of a walk-through: those of the draft, or those that are live."""

import mimetypes
from pathlib import Path
from typing import Protocol

from needle.core.site.site import Site
from needle.publish.refusing import PublishError
from needle.publish.release import LivePage
from needle.publish.releases import Releases
from needle.publish.rendering import Renderer, page_file

__all__ = ["DraftPages", "LivePages", "WalkedPages"]

_HTML = "text/html; charset=utf-8"
# Where a site has dark colours, its pages say with this when they hold; and what always holds.
_WHEN_DARK, _ALWAYS = b"(prefers-color-scheme:dark)", b"(min-width:0)"


class WalkedPages(Protocol):
    """Answers as a server would, and counts nothing."""

    variant: str
    dark: bool

    def answer(self, path: str) -> tuple[bytes, str] | None:
        """Return what stands at a path, with its type; `None` where nothing does."""

    def variants(self, slug: str) -> list[str]:
        """Return the variants of a page, by their keys; one where no split test runs."""


def _kind(name: str) -> str:
    return mimetypes.guess_type(name)[0] or "font/woff2"


def _lit(html: bytes, dark: bool) -> bytes:
    return html.replace(_WHEN_DARK, _ALWAYS) if dark else html


class DraftPages:
    """The draft, rendered when the walk begins.

    Attributes:
        variant: Which variant of a tested page is shown.
        dark: Show the dark colours, where the site has some.
    """

    def __init__(self, site: Site, project: Path) -> None:
        self._site = site
        self._renderer = Renderer(site, project, "walk")
        self._done = self._renderer.render()
        self.variant, self.dark = "", False

    def answer(self, path: str) -> tuple[bytes, str] | None:
        """As every source."""
        if path.startswith("assets/"):
            name = path.removeprefix("assets/")
            try:
                return self._renderer.asset_bytes(self._done, name), _kind(name)
            except (KeyError, OSError):
                return None
        page = next((one for one in self._site.pages if one.slug == path.strip("/")), None)
        html = self._done.pages.get(page_file(page, page.variant(self.variant))) if page else None
        return (_lit(html.encode(), self.dark), _HTML) if html is not None else None

    def variants(self, slug: str) -> list[str]:
        """As every source."""
        page = next((one for one in self._site.pages if one.slug == slug), None)
        return [one.key for one in page.variants] if page else []


class LivePages:
    """What visitors get, as it was sent; forms are told that they are walked through.

    Attributes:
        variant: Which variant of a tested page is shown.
        dark: Show the dark colours, where the site has some.
    """

    def __init__(self, project: Path) -> None:
        """Read what is live.

        Raises:
            PublishError: It is broken.
        """
        self._releases = Releases(project)
        self._release = self._releases.current()
        self.variant, self.dark = "", False

    def _page(self, slug: str) -> LivePage | None:
        return self._release.live.page_at(slug) if self._release else None

    def answer(self, path: str) -> tuple[bytes, str] | None:
        """As every source."""
        page = None if path.startswith("assets/") else self._page(path.strip("/"))
        if page is not None:
            path = next((one.file for one in page.variants if one.key == self.variant),
                        page.variants[0].file)
        held = self._release.files.get(path) if self._release else None
        if held is None:
            return None
        try:
            data = self._releases.bytes_of(held)
        except PublishError:
            return None
        if page is None:
            return data, _kind(path)
        return _lit(data.replace(b"<body ", b'<body data-walk="" ', 1), self.dark), _HTML

    def variants(self, slug: str) -> list[str]:
        """As every source."""
        page = self._page(slug)
        return [one.key for one in page.variants] if page else []
