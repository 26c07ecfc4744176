"""Openings: the first screen."""

from needle.core.kinds.testimonial import Testimonial
from needle.core.kinds.video import Video
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section
from needle.core.values.words import text

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Opening", 1


def opening_over_picture(p: Parts, stock: Stock) -> Section:
    """A picture behind everything, words at the left."""
    return p.section(
        "Opening",
        p.row(p.passage("The occasion, in five words", style="small", weight=600, colour="main"),
              p.heading("What they get, in nine words", rank=1, style="title", max_width=720),
              p.passage("Who it is for, what happens, and what they will have at the end of it.",
                        style="subtitle", max_width=540),
              p.button(stock.call, margin_top=8, phone={"width": "full"}),
              p.passage("What it costs, or that it costs nothing.", style="small"), gap=16),
        picture=stock.picture(0), shade=40, colour="paper", fill="ink", space="wide")


def opening_beside_picture(p: Parts, stock: Stock) -> Section:
    """Words at the left, a picture at the right."""
    return p.section(
        "Opening",
        p.row(p.column(p.heading("What they get, in nine words", rank=1, style="title"),
                       p.passage("One sentence that says for whom, and why now.",
                                 style="subtitle"),
                       p.button(stock.call, margin_top=6, phone={"width": "full"}),
                       p.listing("The first thing they worry about, answered",
                                 "The second, answered", margin_top=8),
                       share=6, gap=18),
              p.column(p.picture(stock.picture(1)), share=6),
              level="center", gap=56, phone={"gap": 28}))


def opening_in_the_middle(p: Parts, stock: Stock) -> Section:
    """Everything centred on a plain ground."""
    return p.section(
        "Opening",
        p.row(p.passage("For people who want one thing", style="small", weight=600, align="theme",
                        colour="accent"),
              p.heading("What they get, in nine words", rank=1, style="title", align="theme"),
              p.passage("One sentence that says for whom, and why now.", style="subtitle",
                        align="theme"),
              p.button(stock.call, place="theme", margin_top=8), gap=18), space="wide", inner=820)


def opening_with_form(p: Parts, stock: Stock) -> Section:
    """Words at the left, the form itself at the right."""
    return p.section(
        "Opening with form",
        p.row(p.column(p.heading("What they get, in nine words", rank=1, style="title"),
                       p.passage("Why to leave an address: what comes, how often, and that it "
                                 "ends with one click.", style="subtitle"),
                       p.listing("What is in the first letter", "What comes after",
                                 "What never happens"), share=7, gap=18),
              p.column(p.heading("Have it sent to you", style="minor"), p.form(stock.form("guide")),
                       share=5, card="theme", fill="paper", colour="ink"),
              level="center", gap=56, phone={"gap": 28}),
        fill="ink", colour="paper", space="wide")


def opening_with_video(p: Parts, stock: Stock) -> Section:
    """A short headline over a video."""
    video = Video(id=p.ids(), poster=stock.picture(0), title="What the video shows")
    return p.section(
        "Opening with video",
        p.row(p.heading("Say what they will see in the video", rank=1, style="title",
                        align="theme"),
              p.passage("How long it takes, and what they will know after it.", style="subtitle",
                        align="theme"),
              video, p.button(stock.call, place="theme", margin_top=8), gap=22),
        fill="ink", colour="paper", inner=860)


def opening_with_proof(p: Parts, stock: Stock) -> Section:
    """A sentence of somebody who has it, before any word of one's own."""
    said = Testimonial(id=p.ids(), quote=(text("“What they say about it to their friends.”"),),
                       name_said=text("Somebody who has it"), about=text("Their town"),
                       initial=True, style="title")
    return p.section("Opening with a voice", p.row(
        said, p.heading("What they get, in nine words", rank=1, style="subtitle", weight=600,
                        margin_top=12),
        p.button(stock.call, phone={"width": "full"}), gap=22), space="wide", inner=980)


def opening_with_pictures(p: Parts, stock: Stock) -> Section:
    """Pictures first, and only then the words."""
    large = p.column(p.picture(stock.picture(0)), share=7)
    small = p.column(p.picture(stock.picture(1)), share=5)
    return p.section("Opening with pictures", p.row(large, small, gap=20, level="end"), p.row(
        p.column(p.heading("What they get, in nine words", rank=1, style="title"), share=7),
        p.column(p.passage("One sentence that says for whom, and why now.", style="subtitle"),
                 p.button(stock.call, phone={"width": "full"}), share=5, gap=16), gap=40))


SECTIONS = (
    ("Over a picture", "hero first headline background", opening_over_picture),
    ("Beside a picture", "hero first headline split two columns", opening_beside_picture),
    ("In the middle", "hero first headline centred plain", opening_in_the_middle),
    ("With the form", "hero first headline lead list e-mail sign up", opening_with_form),
    ("With a voice", "hero first testimonial proof quote", opening_with_proof),
    ("With pictures", "hero first gallery photos", opening_with_pictures),
    ("With a video", "hero first headline film sales letter", opening_with_video),
)
