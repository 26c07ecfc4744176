"""Telling: text in one column, with what breaks it up."""

from needle.core.kinds.divider import KIND as DIVIDER
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Telling", 7
_ROOM: Values = {"pad_top": 56, "pad_bottom": 56}


def letter(p: Parts, stock: Stock) -> Section:
    """A heading and paragraphs in letter width."""
    return p.section("Letter", p.row(
        p.heading("The problem, as they would put it"),
        p.passage("What they have tried, and why it did not help.",
                  "What it costs them to leave it as it is.",
                  "What would have to be true for it to be easy."),
        p.heading("What changed it", rank=3, style="minor"),
        p.passage("The turn: what was found, by whom, and how it can be checked.")),
        inner=680, **_ROOM)


def module(p: Parts, stock: Stock) -> Section:
    """One part of a course or offer, its picture hanging out at the side."""
    return p.section("Part", p.row(
        p.column(p.picture(stock.picture(1), radius=8, hang="left", hang_by=140), share=5),
        p.column(p.passage("Part 1", style="small", weight=600, colour="accent"),
                 p.heading("What they learn in it"),
                 p.passage("What they do, what they take home."),
                 p.listing("One thing they make", "One thing they can do after"), share=6),
        level="center", gap=36, phone={"gap": 20}), inner=760, fill="mist", **_ROOM)


def pull_out(p: Parts, stock: Stock) -> Section:
    """One sentence, large, between two lines."""
    return p.section("One sentence", p.row(
        p.fresh(DIVIDER),
        p.heading("The one sentence they should remember", style="heading", align="center"),
        p.fresh(DIVIDER), gap=24), inner=680, **_ROOM)


SECTIONS = (("Letter", "text sales letter story paragraphs", letter),
            ("Part with picture", "module chapter lesson hanging", module),
            ("One large sentence", "quote pull out highlight", pull_out))
