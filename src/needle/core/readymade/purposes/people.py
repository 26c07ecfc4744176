"""People: who is behind it."""

from needle.core.kinds.team import KIND as TEAM
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "People", 6


def the_team(p: Parts, stock: Stock) -> Section:
    """Three people with what they do."""
    return p.section("Who we are", p.row(p.heading("Who you will meet")),
                     p.row(p.fresh(TEAM)))


def the_founder(p: Parts, stock: Stock) -> Section:
    """One person, a picture and a letter."""
    return p.section(
        "A letter",
        p.row(p.column(p.picture(stock.picture(1)), share=4),
              p.column(p.heading("Why I do this"),
                       p.passage("How it began: the evening, the place, the mistake.",
                                 "What came of it, and for whom.",
                                 "What you can expect of me."),
                       p.passage("Name, and what they do here", style="small", weight=600),
                       share=7), gap=56, phone={"gap": 24}))


SECTIONS = (("The team", "about us staff persons", the_team),
            ("One person and a letter", "about me founder story", the_founder))
