"""First screens that belong to one kind of page."""

from needle.core.kinds.countdown import Countdown
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "First screens", 2
_CARD: Values = {"card": "theme", "fill": "paper", "colour": "ink"}


def soon_opening(p: Parts, stock: Stock) -> Section:
    """Something is coming: what, when, and the list."""
    return p.section("Coming soon", p.row(
        p.passage("Coming this season", style="small", weight=600, align="theme", colour="main"),
        p.heading("What will be there, in eight words", rank=1, style="title", align="theme"),
        p.passage("Why it is worth waiting for, and what those on the list get before anybody "
                  "else.", style="subtitle", align="theme"),
        p.form(stock.form("waiting")),
        p.passage("One letter when it is ready. One click ends it.", style="small",
                  align="theme"), gap=18),
        fill="ink", colour="paper", space="wide", inner=640)


def article_opening(p: Parts, stock: Stock) -> Section:
    """A headline, a lead, who wrote it and when."""
    return p.section("Article", p.row(
        p.passage("The subject", style="small", weight=600, colour="accent"),
        p.heading("What the reader knows at the end", rank=1, style="title"),
        p.passage("The lead: two sentences that say what this is about and why it matters now.",
                  style="subtitle"),
        p.passage("By somebody, on a day, five minutes to read", style="small", colour="quiet"),
        gap=14), p.row(p.picture(stock.picture(0))), inner=760)


def article_body(p: Parts, stock: Stock) -> Section:
    """Paragraphs under headings, with a list."""
    return p.section("Article text", p.row(
        p.passage("Begin with what happened. One thought in each paragraph, and the most important "
                  "one first.", "Then say what it means for the reader."),
        p.heading("The first thing to know", style="minor", margin_top=16),
        p.passage("Explain it the way you would at a table. An example helps more than a "
                  "definition."),
        p.listing("One point, short", "A second point", "A third, and no more"),
        p.heading("What to do with it", style="minor", margin_top=16),
        p.passage("Close with the step that a reader can take today."), gap=14),
        space="narrow", inner=680)


def session_opening(p: Parts, stock: Stock) -> Section:
    """An online session: what one will know, when it is, and the place on the list."""
    facts = p.listing("Date and hour, with the time zone", "How long it takes",
                      "What is needed: a browser, nothing else", mark="tick")
    return p.section("Online session", p.row(
        p.column(p.passage("A free online session", style="small", weight=600, colour="main"),
                 p.heading("What they can do an hour later", rank=1, style="title"),
                 p.passage("Who leads it, and why that person knows.", style="subtitle"), facts,
                 share=7, gap=16),
        p.column(p.heading("Keep a seat", style="minor"), p.form(stock.form("seat")), share=5,
                 **_CARD),
        level="center", gap=56, phone={"gap": 28}),
        fill="ink", colour="paper")


def product_opening(p: Parts, stock: Stock) -> Section:
    """A thing: its picture, its name, what it does, its price and the button."""
    return p.section("Product", p.row(
        p.column(p.picture(stock.picture(0)), share=7),
        p.column(p.passage("What sort of thing it is", style="small", weight=600,
                           colour="accent"),
                 p.heading("The name of the thing", rank=1, style="title"),
                 p.passage("What it does for whoever has it, in one sentence.",
                           style="subtitle"),
                 p.passage("The price", style="heading", face="heading"),
                 p.button(stock.call, phone={"width": "full"}),
                 p.listing("When it arrives", "How long it can be sent back", margin_top=6),
                 share=5, gap=14),
        level="center", gap=56, phone={"gap": 24}))


def product_facts(p: Parts, stock: Stock) -> Section:
    """What it is made of, how large it is, what is in the box."""
    columns = [p.column(p.heading(title, style="minor"), p.passage(words), gap=6)
               for title, words in (("Made of", "Material and where it comes from."),
                                    ("Size and weight", "In numbers, with the box."),
                                    ("In the box", "Everything, down to the screws."),
                                    ("Care", "What keeps it going for years."))]
    return p.section("Facts", p.row(p.heading("The facts")), p.row(*columns, cells=2, gap=32))


def event_opening(p: Parts, stock: Stock) -> Section:
    """An event: what, where, when, and how long until then."""
    return p.section("Event", p.row(
        p.passage("Day, hour and place", style="small", weight=600, colour="main"),
        p.heading("What happens that evening", rank=1, style="title", max_width=760),
        p.passage("Who will be there, and why it happens only once.", style="subtitle",
                  max_width=560),
        Countdown(id=p.ids()), p.button(stock.call, margin_top=8,
                                                  phone={"width": "full"}), gap=18),
        picture=stock.picture(0), shade=55, fill="ink", colour="paper", space="wide")


def home_opening(p: Parts, stock: Stock) -> Section:
    """Who this is, and the three ways in."""
    ways = [p.column(p.heading(title, style="minor"), p.passage(words),
                     p.button("Go there", looks="second", margin_top=6), gap=8, **_CARD)
            for title, words in (("The first way in", "For those who are new here."),
                                 ("The second", "For those who know what they want."),
                                 ("The third", "For those who come back."))]
    return p.section("Home", p.row(
        p.heading("Who you are, in one sentence", rank=1, style="title", max_width=820),
        p.passage("What visitors find here, and what they can do first.", style="subtitle",
                  max_width=620), gap=14), p.row(*ways, gap=20),
        fill="main", colour="on_main")


def thanks_opening(p: Parts, stock: Stock) -> Section:
    """Thanks, what happens next, and when."""
    return p.section("Thanks", p.row(
        p.icon("circle-check-big", size=44, place="theme"),
        p.heading("Thank you, it has arrived", rank=1, style="title", align="theme"),
        p.passage("What happens next, and when. Look into your mail: the letter is on its way.",
                  style="subtitle", align="theme"), gap=16), space="wide", inner=720)


def thanks_next(p: Parts, stock: Stock) -> Section:
    """What somebody who just said yes can do now."""
    columns = [
        p.column(p.heading(title, style="minor"), p.passage(words), gap=6, card="theme")
        for title, words in (
            ("Put it into your calendar", "Day, hour and place, ready to copy."),
            ("Tell somebody", "It is better with two."),
            ("Read on while you wait", "The article that most people start with."))]
    return p.section("Next", p.row(p.heading("Until then", align="theme")),
                     p.row(*columns, gap=20), space="narrow")


SECTIONS = (
    ("Coming soon", "waiting list launch soon", soon_opening),
    ("Article head", "blog story headline lead", article_opening),
    ("Article text", "blog story body", article_body),
    ("Online session", "webinar talk seat register", session_opening),
    ("Product", "shop buy price thing", product_opening),
    ("Facts of a product", "shop size material specification", product_facts),
    ("Event", "date evening concert", event_opening),
    ("Home with three ways in", "start front page", home_opening),
    ("Thanks", "after sending thank you", thanks_opening),
    ("What to do next", "after sending thank you", thanks_next),
)
