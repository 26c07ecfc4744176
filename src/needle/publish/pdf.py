"""Pages as PDF where no window is: the report of the week, invoices, packing lists."""

import logging
from collections.abc import Callable
from importlib.resources import files
from typing import Any

from needle.core.render.stylesheet import font_rule
from needle.core.type.faces import FACES

__all__ = ["pdf_of", "report_fonts"]

_FAMILIES = ("IBM Plex Sans", "Zilla Slab")
_PLACE = "needle-font:"


def report_fonts() -> str:
    """Return the @font-face rules of the faces that a report is set in."""
    return "".join(font_rule(face.family, face.weight, face.italic, f"{_PLACE}{face.file}")
                   for face in FACES if face.family in _FAMILIES)


def pdf_of(html: str) -> bytes:
    """Return a page as PDF, tagged for who cannot see it; it can load nothing but our fonts."""
    from weasyprint import HTML  # Heavy, and needed only here.
    from weasyprint.urls import URLFetcher, URLFetcherResponse

    class OurFonts(URLFetcher):  # type: ignore[misc]
        """Gives out our fonts, and nothing of the net or of this machine."""

        def fetch(self, url: str, headers: object = None) -> Any:
            return _font(url, URLFetcherResponse)

    logging.getLogger("weasyprint").setLevel(logging.CRITICAL)
    made: bytes | None = HTML(string=html, url_fetcher=OurFonts()).write_pdf(pdf_tags=True)
    assert made is not None
    return made


def _font(url: str, response: Callable[..., Any]) -> Any:
    known = {f"{_PLACE}{face.file}": face.file for face in FACES if face.family in _FAMILIES}
    if url not in known:
        raise ValueError("a report loads nothing")
    data = (files("needle") / "fonts" / known[url]).read_bytes()
    return response(url, data, {"Content-Type": "font/ttf"})
