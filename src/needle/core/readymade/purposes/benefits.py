"""Benefits: what the visitor gets out of it."""

from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Column, Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Benefits", 2.5
_CARD: Values = {"card": "theme"}
_POINTS = (("sparkles", "The first gain", "What is different for them the day after."),
           ("clock", "The second gain", "What they no longer have to do, or wait for."),
           ("heart-handshake", "The third gain", "Who they can do it with, or give it to."))


def _card(p: Parts, drawing: str, title: str, words: str, **look: str | int) -> Column:
    return p.column(p.icon(drawing, size=34), p.heading(title, rank=3, style="minor"),
                    p.passage(words, style="small"), gap=8, **(_CARD | look))


def three_gains(p: Parts, stock: Stock) -> Section:
    """Three cards with icons."""
    return p.section("Benefits", p.row(p.heading("What changes for you", align="theme")),
                     p.row(*(_card(p, *point) for point in _POINTS), cells=3))


def six_gains(p: Parts, stock: Stock) -> Section:
    """Six short ones in a grid, no boxes."""
    points = (*_POINTS, ("shield-check", "The fourth", "What cannot go wrong any more."),
              ("wallet", "The fifth", "What it saves, in money or in evenings."),
              ("compass", "The sixth", "What they will know that others do not."))
    cells = [p.column(p.icon(d, size=28), p.heading(t, rank=3, style="minor"),
                      p.passage(w, style="small"), gap=6) for d, t, w in points]
    return p.section("Benefits", p.row(p.heading("Six reasons, each in one line")),
                     p.row(*cells, cells=3, gap=36))


def picture_and_gains(p: Parts, stock: Stock) -> Section:
    """A picture at the left, ticks at the right."""
    return p.section(
        "Benefits",
        p.row(p.column(p.picture(stock.picture(1)), share=5),
              p.column(p.heading("What you will be able to do"),
                       p.passage("Say in two sentences what life is like without it."),
                       p.listing("They can do this, which they could not",
                                 "They need not do that any more",
                                 "They know whom to ask when it rains"), share=6),
              level="center", gap=56, phone={"gap": 24}))


def gains_one_by_one(p: Parts, stock: Stock) -> Section:
    """Picture and words in turns, left and right."""
    rows = []
    for number, title in enumerate(("The first gain", "The second gain", "The third gain")):
        picture = p.column(p.picture(stock.picture(number)), share=5,
                           phone={"order": 0})
        words = p.column(p.heading(title),
                         p.passage("Two or three sentences with one thing in them that can be "
                                   "seen, heard or counted."), share=6, phone={"order": 1})
        pair = (picture, words) if number % 2 == 0 else (words, picture)
        rows.append(p.row(*pair, level="center", gap=56, phone={"gap": 20}))
    return p.section("Benefits in turn", *rows, gap=56)


def for_whom(p: Parts, stock: Stock) -> Section:
    """For whom it is, and for whom it is not."""
    yes = p.column(p.heading("This is for you if", rank=3, style="minor"),
                   p.listing("you have wanted it for a year", "you can spare two evenings",
                             "you like to do it yourself"), **_CARD)
    no = p.column(p.heading("It is not for you if", rank=3, style="minor"),
                  p.listing("you need it by tomorrow", "you want it done for you",
                            "you have done it before", mark="cross"), **_CARD)
    return p.section("For whom", p.row(p.heading("For whom this is, and for whom it is not")),
                     p.row(yes, no, gap=24))


def compared(p: Parts, stock: Stock) -> Section:
    """Line by line: as it is done elsewhere, and as it is done here."""
    lines = [p.row(p.column(p.passage(what, weight=600), share=4),
                   p.column(p.passage(there, style="small"), share=4),
                   p.column(p.listing(here), share=4), gap=24, phone={"gap": 4})
             for what, there, here in (
                 ("How long it takes", "What others need for it.", "What you need for it."),
                 ("What it costs", "The price, and what comes on top.", "The whole price."),
                 ("What if it fails", "Whom they call then.", "What you do then."))]
    head = p.row(p.column(p.passage("What counts", style="small", colour="quiet"), share=4),
                 p.column(p.passage("Elsewhere", style="small", colour="quiet"), share=4),
                 p.column(p.passage("Here", style="small", weight=600, colour="accent"), share=4),
                 gap=24, phone={"gap": 4})
    return p.section("Compared", p.row(p.heading("Compared, line by line")), head, *lines)


SECTIONS = (
    ("Three cards", "features advantages icons", three_gains),
    ("Six in a grid", "features advantages icons", six_gains),
    ("Picture and ticks", "features advantages list", picture_and_gains),
    ("In turns", "features zigzag pictures left right", gains_one_by_one),
    ("Compared line by line", "comparison versus table others", compared),
    ("For whom it is", "fit audience not for you", for_whom),
)
