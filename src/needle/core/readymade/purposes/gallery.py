"""Pictures: to look at."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Pictures", 14
_ROOM: Values = {"pad_top": 64, "pad_bottom": 64}


def three_pictures(p: Parts, stock: Stock) -> Section:
    """Three pictures with a line each."""
    cells = [p.column(p.picture(stock.picture(n), radius=6),
                      p.passage(f"What can be seen here, {word}.", style="small"), gap=8)
             for n, word in enumerate(("one", "two", "three"))]
    return p.section("Pictures", p.row(p.heading("How it looks")), p.row(*cells, cells=3),
                     **_ROOM)


def wide_picture(p: Parts, stock: Stock) -> Section:
    """One picture across the whole page."""
    return p.section("Wide picture", p.row(p.passage("What can be seen here.", style="small")),
                     picture=stock.picture(0), shade=20, fill="ink", colour="paper",
                     min_height=60, pad_top=240, pad_bottom=32)


SECTIONS = (("Three with words", "gallery photos images", three_pictures),
            ("One across the page", "photo image banner full", wide_picture))
