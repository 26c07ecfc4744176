"""Closing calls: the last chance on the page."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Closing call", 12


def closing_band(p: Parts, stock: Stock) -> Section:
    """A dark band with one sentence and the button."""
    return p.section("Closing call", p.row(
        p.heading("What they will say to themselves the morning after", align="theme"),
        p.passage("What it costs to try, and what if it is nothing for them.", align="theme"),
        p.button(stock.call, place="theme", margin_top=8)), fill="ink", colour="paper",
        inner=720)


def closing_over_picture(p: Parts, stock: Stock) -> Section:
    """The call over a picture."""
    return p.section("Closing call", p.row(
        p.heading("One last picture of how it will be", style="title"),
        p.button(stock.call, phone={"width": "full"}), gap=24), picture=stock.picture(1),
        shade=45, fill="ink", colour="paper")


def closing_side_by_side(p: Parts, stock: Stock) -> Section:
    """Words and what they risk at the left, the button and what follows at the right."""
    box = p.column(p.button(stock.call, width="full"),
                   p.passage("What happens in the minute after the click.", style="small"),
                   share=4, card="theme", fill="paper", colour="ink", gap=12)
    return p.section("Closing call", p.row(
        p.column(p.heading("Ready when you are"),
                 p.passage("What it costs to try, and how they get out again.",
                           style="subtitle"), share=7, gap=10), box,
        level="center", gap=56, phone={"gap": 24}))


SECTIONS = (("Dark band", "call to action last chance cta", closing_band),
            ("Over a picture", "call to action last chance cta", closing_over_picture),
            ("Side by side", "call to action strip cta", closing_side_by_side))
