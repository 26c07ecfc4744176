"""Local pages: one for each place of a table."""

from needle.core.kinds.heading import Heading
from needle.core.kinds.trail import Trail
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section
from needle.core.values.words import Run

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Local pages", 17
_CARD: Values = {"card": "theme"}


def _called(p: Parts, before: str, stock: Stock) -> Heading:
    return p.heading((Run(before), *stock.rows("places").name()), rank=1, style="title")


def place_opening(p: Parts, stock: Stock) -> Section:
    """What is offered in this place, its picture, the button."""
    rows = stock.rows("places")
    return p.section("Opening", p.row(
        p.column(_called(p, "What we do in ", stock),
                 p.passage(rows.line(), style="subtitle"), p.button(stock.call), share=6, gap=18),
        p.column(rows.picture(p), share=6), level="center", gap=48, phone={"gap": 24}))


def place_over_picture(p: Parts, stock: Stock) -> Section:
    """The place's name large on a dark ground, with the way here above it."""
    rows = stock.rows("places")
    return p.section("Opening", p.row(Trail(id=p.ids()), _called(p, "Near you in ", stock),
                                      p.passage(rows.line(), style="subtitle", max_width=560),
                                      p.button(stock.call), gap=16),
                     fill="ink", colour="paper", space="wide")


def place_with_form(p: Parts, stock: Stock) -> Section:
    """The place, and a form that says which place a lead came from."""
    rows = stock.rows("places")
    return p.section("Ask", p.row(
        p.column(_called(p, "Ask us in ", stock), p.passage(rows.told()), share=7, gap=16),
        p.column(p.heading("Write to us", style="minor"), p.form(stock.form("contact")), share=5,
                 **_CARD), gap=56, phone={"gap": 24}))


def place_told(p: Parts, stock: Stock) -> Section:
    """The paragraph that only this place has."""
    rows = stock.rows("places")
    return p.section("Here", p.row(p.heading("What is special here"),
                                   p.passage(rows.told()), gap=12), inner=720)


def place_reached(p: Parts, stock: Stock) -> Section:
    """Where it is, when it is open, how one gets there."""
    rows = stock.rows("places")
    cells = [p.column(p.icon(icon, size=28), p.heading(title, rank=3, style="minor"),
                      p.passage(words), gap=6, **_CARD)
             for icon, title, words in (
                 ("map-pin", "Where", rows.said("", "Street", "address", "text")),
                 ("clock", "When", rows.said("", "Open", "date", "text")),
                 ("signpost", "How to get there", rows.said("", "Way", "text")))]
    return p.section("Reached", p.row(p.heading("Come by")), p.row(*cells, cells=3))


def places_near(p: Parts, stock: Stock) -> Section:
    """The three places that are nearest to this one."""
    rows = stock.rows("places")
    near: Values = {"choose": "near"} if rows.table.meaning("north") else {
        "same": rows.column_of("choice")}
    return p.section("Near by", p.row(p.heading("Near by")), p.row(
        rows.listed(p, most=3, priced=False, **near)))


def all_places(p: Parts, stock: Stock) -> Section:
    """All places, to search and to choose by region: the page of an area."""
    rows = stock.rows("places")
    return p.section("All places", p.row(p.heading("Find the place near you")), p.row(rows.listed(
        p, across=4, search=True, by=rows.column_of("choice"), step=24, priced=False)))


SECTIONS = (("A place and its picture", "town local page opening", place_opening),
            ("A place on a dark ground", "town local page opening", place_over_picture),
            ("A place with a form", "town local page contact question", place_with_form),
            ("Only here", "town local page paragraph own", place_told),
            ("Where, when and how", "town local page address hours map", place_reached),
            ("Places near by", "town local neighbours list", places_near),
            ("All places", "town local area region list search", all_places))
