"""Countdowns: until when."""

from needle.core.kinds.countdown import Countdown
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.tree import Section
from needle.core.values.look import Look

__all__ = ["PLACE", "PURPOSE", "SECTIONS"]

PURPOSE, PLACE = "Countdown", 10


def countdown_strip(p: Parts, stock: Stock) -> Section:
    """A narrow strip that stays at the top."""
    clock = Countdown(id=p.ids(), ended="The offer has ended.", style="small")
    return p.section("Countdown", p.row(
        p.column(p.passage("Places at this price until", style="small", weight=600), share=6),
        p.column(clock, share=5), stack="never", level="center", gap=16), fill="ink",
        colour="paper", space="narrow", stick="top")


def countdown_and_call(p: Parts, stock: Stock) -> Section:
    """A large countdown over the call to action."""
    clock = Countdown(id=p.ids(), ended="It has begun.",
                      look=Look(base={"place": "center"}))
    return p.section("Countdown", p.row(
        p.heading("What happens then, and why not later", align="theme"), clock,
        p.button(stock.call, place="theme")), inner=680)


SECTIONS = (("Strip at the top", "timer deadline bar sticky", countdown_strip),
            ("With the call", "timer deadline urgency", countdown_and_call))
