"""Telling: text in one column, with what breaks it up."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Telling", 7


def letter(p: Parts, stock: Stock) -> Section:
    """A heading and paragraphs in letter width."""
    return p.section("Letter", p.row(
        p.heading("The problem, as they would put it"),
        p.passage("What they have tried, and why it did not help.",
                  "What it costs them to leave it as it is.",
                  "What would have to be true for it to be easy."),
        p.heading("What changed it", rank=3, style="minor"),
        p.passage("The turn: what was found, by whom, and how it can be checked.")),
        inner=680)


def module(p: Parts, stock: Stock) -> Section:
    """One part of a course or offer, its picture hanging out at the side."""
    return p.section("Part", p.row(
        p.column(p.picture(stock.picture(1), hang="left", hang_by=140), share=5),
        p.column(p.passage("Part 1", style="small", weight=600, colour="accent"),
                 p.heading("What they learn in it"),
                 p.passage("What they do, what they take home."),
                 p.listing("One thing they make", "One thing they can do after"), share=6),
        level="center", gap=36, phone={"gap": 20}), inner=760)


def pull_out(p: Parts, stock: Stock) -> Section:
    """One sentence, as large as a title, on the colour of the main action."""
    return p.section("One sentence", p.row(
        p.heading("The one sentence they should remember", style="title"),
        p.passage("Where it comes from, or what follows from it.", style="small"), gap=14),
        inner=860, fill="main", colour="on_main")


def told_in_full(p: Parts, stock: Stock) -> Section:
    """How it came to be: three paragraphs beside a picture, with a year for each."""
    rows = [p.row(p.column(p.passage(year, style="heading", face="heading", colour="accent"),
                           share=2), p.column(p.passage(words), share=9), gap=24,
                  phone={"gap": 4})
            for year, words in (("Then", "How it was, and what nobody wanted to see."),
                                ("One day", "What happened, and who was there."),
                                ("Since", "What is different for everybody who came."))]
    return p.section("Story", p.row(p.heading("How it came to this")), *rows)


SECTIONS = (("Letter", "text sales letter story paragraphs", letter),
            ("Part with picture", "module chapter lesson hanging", module),
            ("One large sentence", "quote pull out highlight", pull_out),
            ("A story in three turns", "about history told timeline", told_in_full))
