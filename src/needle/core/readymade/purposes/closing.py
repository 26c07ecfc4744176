"""Closing calls: the last chance on the page."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Closing call", 12
_ROOM: Values = {"pad_top": 88, "pad_bottom": 88}
_PHONE: Values = {"pad_top": 56, "pad_bottom": 56}


def closing_band(p: Parts, stock: Stock) -> Section:
    """A dark band with one sentence and the button."""
    return p.section("Closing call", p.row(
        p.heading("What they will say to themselves the morning after", align="center"),
        p.passage("What it costs to try, and what if it is nothing for them.", align="center"),
        p.button(stock.call, place="center", margin_top=8)), fill="ink", colour="paper",
        inner=720, **_ROOM, phone=_PHONE)


def closing_over_picture(p: Parts, stock: Stock) -> Section:
    """The call over a picture."""
    return p.section("Closing call", p.row(
        p.heading("One last picture of how it will be", style="title"),
        p.button(stock.call, phone={"width": "full"}), gap=24), picture=stock.picture(1),
        shade=45, fill="ink", colour="paper", **_ROOM, phone=_PHONE)


def closing_side_by_side(p: Parts, stock: Stock) -> Section:
    """A narrow band: words at the left, the button at the right."""
    return p.section("Closing call", p.row(
        p.column(p.heading("Ready when you are", rank=2, style="heading"),
                 p.passage("What happens after the click.", style="small"), share=7, gap=4),
        p.column(p.button(stock.call, place="right", phone={"place": "left"}), share=4),
        level="center"), fill="mist", pad_top=48, pad_bottom=48)


SECTIONS = (("Dark band", "call to action last chance cta", closing_band),
            ("Over a picture", "call to action last chance cta", closing_over_picture),
            ("Side by side", "call to action strip cta", closing_side_by_side))
