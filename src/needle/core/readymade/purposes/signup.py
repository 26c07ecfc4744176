"""Forms: where they leave an address."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Form", 11
_CARD: Values = {"card": "theme"}


def form_in_a_box(p: Parts, stock: Stock) -> Section:
    """A form in a white box on a coloured ground."""
    return p.section("Form", p.row(p.column(
        p.heading("Say when, and we keep a place"),
        p.passage("One sentence on what happens after they press the button.", style="small"),
        p.form(stock.form("contact")), fill="paper", colour="ink", **_CARD)), inner=520)


def form_beside_words(p: Parts, stock: Stock) -> Section:
    """Reasons at the left, the form at the right."""
    return p.section("Form", p.row(
        p.column(p.heading("What you get for your address"),
                 p.listing("The first thing, at once", "The second, next week",
                           "And never more than one letter a month"), share=6),
        p.column(p.form(stock.form("letter")), share=5, **_CARD),
        level="center", gap=56, phone={"gap": 24}))


def form_over_picture(p: Parts, stock: Stock) -> Section:
    """A form on a picture."""
    return p.section("Form", p.row(
        p.column(p.heading("Come and see for yourself", style="title"), share=6),
        p.column(p.form(stock.form("event")), share=5, fill="paper", colour="ink", **_CARD),
        level="center", gap=48, phone={"gap": 24}), picture=stock.picture(0), shade=55,
        fill="ink", colour="paper")


SECTIONS = (("In a box", "sign up lead contact e-mail", form_in_a_box),
            ("Beside reasons", "sign up lead newsletter e-mail", form_beside_words),
            ("Over a picture", "sign up lead contact background", form_over_picture))
