"""Numbers: what has been counted."""

from needle.core.kinds.chart import KIND as CHART
from needle.core.kinds.figures import Figure, Figures
from needle.core.kinds.progress import KIND as PROGRESS
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section
from needle.core.values.words import text

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Numbers", 5


def _figures(p: Parts) -> Figures:
    return Figures(id=p.ids(), entries=tuple(
        Figure(text(number), text(label)) for number, label in (
            ("48", "what there are of them"), ("9 of 10", "who came again"),
            ("3 h", "how long it takes"))))


def counted(p: Parts, stock: Stock) -> Section:
    """Three large numbers on a dark ground."""
    return p.section("In numbers", p.row(_figures(p)), fill="ink", colour="paper")


def charted(p: Parts, stock: Stock) -> Section:
    """A chart with two sentences on what it shows."""
    return p.section(
        "A chart",
        p.row(p.column(p.heading("What the numbers say"),
                       p.passage("One sentence on what to see in it, one on where the numbers "
                                 "come from."), share=5),
              p.column(p.fresh(CHART), share=7), level="center", gap=48,
              phone={"gap": 24}))


def how_many_are_left(p: Parts, stock: Stock) -> Section:
    """A progress bar of places taken."""
    return p.section("Places left", p.row(
        p.heading("How many places are left", align="theme"), p.fresh(PROGRESS),
        p.button(stock.call, place="theme")), inner=620)


SECTIONS = (
    ("Three figures", "statistics numbers facts", counted),
    ("A chart and words", "statistics diagram graph", charted),
    ("Places left", "progress bar scarcity", how_many_are_left),
)
