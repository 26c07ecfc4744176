"""Proof: what others say, and who they are."""

from needle.core.kinds.logos import Logo, Logos
from needle.core.kinds.testimonial import Testimonial
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section
from needle.core.values.look import Look, Value
from needle.core.values.words import text

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Proof", 4
_SAID = (("One thing that happened to them, in their own words.", "A guest", "Their town"),
         ("What they feared before, and what came of it.", "Another guest", "Their town"),
         ("What they told a friend the day after.", "A third guest", "Their town"),
         ("The moment at which they knew that it was worth it.", "Somebody new", "Their town"),
         ("What they do differently since.", "One of the first", "Their town"),
         ("Why they came again, and whom they brought.", "A regular", "Their town"))


def _said(p: Parts, number: int, style: str = "body", **look: Value) -> Testimonial:
    quote, name, place = _SAID[number % len(_SAID)]
    return Testimonial(id=p.ids(), quote=(text(f"“{quote}”"),), name_said=text(name),
                       about=text(place), initial=True, style=style, look=Look(base=look))


def three_voices(p: Parts, stock: Stock) -> Section:
    """Three testimonials in cards, side by side."""
    cards = [p.column(_said(p, n, "subtitle"), card="theme") for n in range(3)]
    return p.section("What people say", p.row(p.heading("What people say afterwards")),
                     p.row(*cards, gap=24, level="stretch"))


def one_voice(p: Parts, stock: Stock) -> Section:
    """One large testimonial on a dark ground."""
    return p.section("One voice", p.row(_said(p, 0, "heading")),
                     fill="ink", colour="paper", inner=860, space="wide")


def voices_in_cards(p: Parts, stock: Stock) -> Section:
    """One that leads, and five more in cards."""
    cards = [p.column(_said(p, n), card="theme", fill="paper", colour="ink") for n in range(1, 6)]
    lead = p.column(_said(p, 0, "heading"), card="theme", fill="main", colour="on_main")
    return p.section("Voices", p.row(p.heading("Six people, six evenings")), p.row(lead),
                     p.row(*cards[:2], level="stretch"), p.row(*cards[2:], level="stretch"))


def known_from(p: Parts, stock: Stock) -> Section:
    """Who told about it: logos, with one sentence of theirs."""
    names = Logos(id=p.ids(), height=44, style="heading", entries=tuple(
        Logo(text(name)) for name in ("A newspaper", "A radio station", "A magazine")))
    return p.section(
        "Known from",
        p.row(p.column(p.passage("They have told about it", style="small", weight=600,
                                 colour="accent"),
                       p.heading("“The one sentence of theirs that you would frame.”",
                                 style="heading"),
                       p.passage("Who wrote it, where and when", style="small"), share=6, gap=12),
              p.column(names, share=6), level="center", gap=48, phone={"gap": 24}))


def voice_beside_picture(p: Parts, stock: Stock) -> Section:
    """A picture of the thing, and one who has it."""
    return p.section(
        "A voice and a picture",
        p.row(p.column(p.picture(stock.picture(2)), share=5),
              p.column(_said(p, 1, "heading"), share=6), level="center", gap=56,
              phone={"gap": 24}))


def before_and_after(p: Parts, stock: Stock) -> Section:
    """One story of one customer: before, what was done, after, with a number."""
    cells = [p.column(p.passage(when, style="small", weight=600, colour="accent"),
                      p.passage(words), gap=6)
             for when, words in (("Before", "How it was with them, as they would tell it."),
                                 ("What was done", "What you did together, in one sentence."),
                                 ("After", "How it is now, with a number that can be checked."))]
    return p.section("One story", p.row(p.heading("How it went with one of them")),
                     p.row(*cells, gap=40, phone={"gap": 20}),
                     p.row(_said(p, 2, "subtitle")))


SECTIONS = (
    ("Three voices", "testimonials reviews quotes guests", three_voices),
    ("One large voice", "testimonial review quote", one_voice),
    ("One that leads, and five more", "testimonials reviews quotes grid cards", voices_in_cards),
    ("Who told about it", "press trust partners logos media", known_from),
    ("A voice and a picture", "testimonial review case story", voice_beside_picture),
    ("One story, before and after", "case study customer result", before_and_after),
)
