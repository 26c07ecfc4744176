"""Offers: prices, what is in them, what comes on top, what is promised."""

from needle.core.kinds.guarantee import KIND as GUARANTEE
from needle.core.kinds.prices import KIND as PRICES
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Prices", 8
_CARD: Values = {"card": "theme"}


def two_prices(p: Parts, stock: Stock) -> Section:
    """Two offers, one recommended, with what is not in them."""
    return p.section("Prices", p.row(p.heading("What it costs, and what you get",
                                               align="theme")),
                     p.row(p.fresh(PRICES)), inner=820)


def one_price(p: Parts, stock: Stock) -> Section:
    """A single offer in a large box."""
    return p.section("Price", p.row(p.column(
        p.heading("Everything together", style="heading"),
        p.listing("The first thing in it", "The second", "The third, which alone is worth it"),
        p.heading("£48", rank=3, style="title"),
        p.passage("For two, paid on the evening.", style="small"),
        p.button(stock.call, width="full"), fill="paper", colour="ink", **_CARD)),
        fill="ink", colour="paper", inner=560)


def what_is_in_it(p: Parts, stock: Stock) -> Section:
    """A list of everything with what each part is worth."""
    lines = [p.row(p.column(p.passage(what, weight=600), share=8),
                   p.column(p.passage(worth, align="right"), share=3), stack="never",
                   level="center", gap=12)
             for what, worth in (("The evening itself", "£24"), ("The printed chart", "£9"),
                                 ("The recording", "£12"))]
    return p.section("What is in it", p.row(p.heading("What is in it, and what it is worth")),
                     *lines, p.row(p.button(stock.call)), inner=680, gap=14)


def bonuses(p: Parts, stock: Stock) -> Section:
    """What comes on top, in cards with icons."""
    cards = [p.column(p.icon("gift", size=30), p.heading(title, rank=3, style="minor"),
                      p.passage(words, style="small"), gap=8, **_CARD)
             for title, words in (("On top: the first", "What it is and what it is for."),
                                  ("On top: the second", "What it is and what it is for."),
                                  ("On top: the third", "What it is and what it is for."))]
    return p.section("On top", p.row(p.heading("What you get on top")), p.row(*cards, cells=3))


def promise(p: Parts, stock: Stock) -> Section:
    """The guarantee."""
    return p.section("Guarantee", p.row(p.fresh(GUARANTEE)), inner=720)


SECTIONS = (("Two offers", "pricing plans table packages", two_prices),
            ("One offer", "pricing box single", one_price),
            ("What is in it", "value stack list worth", what_is_in_it),
            ("What comes on top", "bonus extras gifts", bonuses),
            ("Guarantee", "promise risk money back", promise))
