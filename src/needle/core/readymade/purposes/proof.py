"""Proof: what others say, and who they are."""

from needle.core.kinds.logos import KIND as LOGOS
from needle.core.kinds.testimonial import Testimonial
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts, Values
from needle.core.site.tree import Section
from needle.core.values.look import Look, Value
from needle.core.values.words import text

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Proof", 4
_ROOM: Values = {"pad_top": 72, "pad_bottom": 72}
_PHONE: Values = {"pad_top": 48, "pad_bottom": 48}
_SAID = (("One thing that happened to them, in their own words.", "A guest", "Their town"),
         ("What they feared before, and what came of it.", "Another guest", "Their town"),
         ("What they told a friend the day after.", "A third guest", "Their town"))


def _said(p: Parts, number: int, **look: Value) -> Testimonial:
    quote, name, place = _SAID[number % len(_SAID)]
    return Testimonial(id=p.ids(), quote=(text(f"“{quote}”"),), name_said=text(name),
                       about=text(place), style="body", look=Look(base=look))


def three_voices(p: Parts, stock: Stock) -> Section:
    """Three short testimonials side by side."""
    return p.section("What people say", p.row(p.heading("What people say afterwards")),
                     p.row(*(p.column(_said(p, n)) for n in range(3)), gap=40), **_ROOM,
                     phone=_PHONE)


def one_voice(p: Parts, stock: Stock) -> Section:
    """One large testimonial on a dark ground."""
    return p.section("One voice", p.row(_said(p, 0, face="heading", size=30, line_height=1.35)),
                     fill="ink", colour="paper", inner=820, pad_top=88, pad_bottom=88,
                     phone=_PHONE | {"pad_top": 56})


def voices_in_cards(p: Parts, stock: Stock) -> Section:
    """Six testimonials in cards."""
    cards = [p.column(_said(p, n), fill="paper", radius=8, shadow="soft", pad_top=24,
                      pad_right=24, pad_bottom=24, pad_left=24) for n in range(6)]
    return p.section("Voices", p.row(p.heading("Six people, six evenings", align="center")),
                     p.row(*cards, cells=3), fill="mist", **_ROOM, phone=_PHONE)


def known_from(p: Parts, stock: Stock) -> Section:
    """A quiet row of logos."""
    return p.section("Known from", p.row(
        p.passage("Told about in", style="small", align="center"), p.fresh(LOGOS), gap=14),
        pad_top=36, pad_bottom=36)


def voice_beside_picture(p: Parts, stock: Stock) -> Section:
    """A picture of the thing, and one who has it."""
    return p.section(
        "A voice and a picture",
        p.row(p.column(p.picture(stock.picture(2), radius=8), share=5),
              p.column(_said(p, 1, size=22), share=6), level="center", gap=56,
              phone={"gap": 24}), **_ROOM, phone=_PHONE)


SECTIONS = (
    ("Three voices", "testimonials reviews quotes guests", three_voices),
    ("One large voice", "testimonial review quote", one_voice),
    ("Voices in cards", "testimonials reviews quotes grid", voices_in_cards),
    ("Row of logos", "press trust partners", known_from),
    ("A voice and a picture", "testimonial review case story", voice_beside_picture),
)
