"""Pictures: to look at."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Pictures", 14


def three_pictures(p: Parts, stock: Stock) -> Section:
    """Three pictures with a line each."""
    cells = [p.column(p.picture(stock.picture(n)),
                      p.passage(f"What can be seen here, {word}.", style="small"), gap=8)
             for n, word in enumerate(("one", "two", "three"))]
    return p.section("Pictures", p.row(p.heading("How it looks")), p.row(*cells, cells=3))


def wide_picture(p: Parts, stock: Stock) -> Section:
    """One picture across the whole page, with a title and a line that belong to it."""
    return p.section("Wide picture", p.row(
        p.heading("The place, in three words", style="title"),
        p.passage("What can be seen here, when, and by whom.", style="subtitle", max_width=520),
        gap=10), picture=stock.picture(0), shade=40, fill="ink", colour="paper", min_height=70)


def picture_wall(p: Parts, stock: Stock) -> Section:
    """One large picture and two small ones beside it, each with its line."""
    large = p.column(p.picture(stock.picture(0)),
                     p.passage("What can be seen here.", style="small"), share=8, gap=8)
    small = p.column(p.picture(stock.picture(1)), p.picture(stock.picture(2)),
                     p.passage("And here, from near.", style="small"), share=4, gap=16)
    return p.section("Picture wall", p.row(large, small, gap=24))


SECTIONS = (("Three with words", "gallery photos images", three_pictures),
            ("One across the page", "photo image banner full", wide_picture),
            ("One large, two small", "gallery photos images wall", picture_wall))
