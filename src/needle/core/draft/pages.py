"""A first draft as pages: sections made from its words, in one of several layouts."""

from collections.abc import Sequence
from typing import Any

import msgspec

from needle.core.draft.copy import Copy, Point
from needle.core.draft.looks import Layout
from needle.core.kinds.figures import Figure, Figures
from needle.core.kinds.logo import Logo
from needle.core.kinds.prices import Offer, Prices
from needle.core.kinds.questions import Answered, Questions
from needle.core.kinds.testimonial import Testimonial
from needle.core.site.parts import Parts, Values
from needle.core.site.site import Page, Variant
from needle.core.site.tree import Column, Row, Section
from needle.core.values.actions import GoPage, GoSection
from needle.core.values.ids import Id, IdSource
from needle.core.values.node import Item
from needle.core.values.words import Run

__all__ = ["PageDraft"]

_PHONE: Values = {"pad_top": 44, "pad_bottom": 44}
_LAST_BODY = 5
_CARD: Values = {"pad_top": 24, "pad_right": 24, "pad_bottom": 24, "pad_left": 24}


class PageDraft:
    """Makes the pages of one draft."""

    def __init__(self, copy: Copy, layout: Layout, ids: IdSource, *, name: str, headline: str,
                 sub: str, pictures: Sequence[Id], icons: Sequence[str], form: Id,
                 own_call: bool) -> None:
        """Prepare to make them.

        Args:
            name, headline, sub: What was chosen among the proposals.
            pictures: Ids of the stand-in pictures, at least two.
            icons: Names of icons for the points.
            own_call: The words of the button are the person's own.
        """
        self._copy = copy
        self._layout = layout
        self._p = Parts(ids, invented=True)
        self._sure = Parts(ids, invented=not own_call)
        self._name, self._headline, self._sub = name, headline, sub
        self._pictures, self._icons, self._form = pictures, icons, form
        self._privacy = ids()
        self._thanks = ids()
        self._start = ids()
        self._closing_id = ids()

    def pages(self) -> tuple[Page, Page, Page]:
        """Return the start page, the thank-you page and the privacy note."""
        p = self._p
        bodies = [self._problem(), self._points(), self._steps(), self._voices(), self._offer(),
                  self._questions()]
        if self._layout.voices_first:
            bodies[2], bodies[3] = bodies[3], bodies[2]
        sections = (self._header(on_start=True), self._opening(),
                    *map(self._grounded, range(len(bodies)), bodies), self._closing(),
                    self._footer())
        thanks = p.section("Thanks", p.row(
            p.heading("Thank you", rank=1, style="title", align="center"),
            p.passage(self._copy.thanks, style="subtitle", align="center"),
            p.button("Back to the start", GoPage(self._start), looks="second", place="center"),
            gap=18), pad_top=110, pad_bottom=110, inner=760, phone=_PHONE)
        return (
            Page(id=self._start, name="Start", slug="", title=self._copy.title,
                 description=self._copy.description, invented=("title", "description"),
                 variants=(Variant(key="A", children=sections),)),
            Page(id=self._thanks, name="Thank you", slug="thanks",
                 title=f"Thank you | {self._name}", invented=("title", "description"),
                 description="Your message has arrived. This is what happens next.",
                 variants=(Variant(key="A", children=(self._header(), thanks, self._footer())),)),
            Page(id=self._privacy, name="Privacy", slug="privacy",
                 title=f"Privacy | {self._name}", invented=("title", "description"),
                 description="Which data this site keeps, what for, and for how long.",
                 variants=(Variant(key="A", children=(
                     self._header(), self._privacy_note(), self._footer())),)))

    @property
    def thanks_page(self) -> Id:
        """The page that follows after sending."""
        return self._thanks

    # Sections

    def _header(self, on_start: bool = False) -> Section:
        p = self._p
        logo = Logo(id=p.ids())
        action = GoSection(self._closing_id) if on_start else GoPage(self._start)
        call = self._sure.button(self._copy.call, action, looks="second", place="right",
                                 pad_top=8, pad_bottom=8, pad_left=12, pad_right=12, size=15)
        return p.section("Header", p.row(p.column(logo, share=1), p.column(call, share=1),
                                         level="center", stack="never"),
                         role="header", pad_top=14, pad_bottom=14, inner=self._layout.wide)

    def _call(self, **look: Any) -> Item:
        return self._sure.button(self._copy.call, GoSection(self._closing_id),
                                 phone={"width": "full"}, radius=self._layout.corner, **look)

    def _opening(self) -> Section:
        makers = {"side": self._opening_side, "middle": self._opening_middle,
                  "form": self._opening_form, "band": self._opening_band}
        return makers[self._layout.opening]()

    def _lead(self, align: str = "left", **colours: str) -> list[Item]:
        p, c = self._p, self._copy
        small = [p.passage(c.eyebrow, style="small", weight=600, align=align,
                           colour=colours.get("small", "accent"))] if c.eyebrow else []
        return [*small, p.heading(self._headline, rank=1, style="title", align=align),
                p.passage(self._sub, style="subtitle", align=align)]

    def _opening_side(self) -> Section:
        p = self._p
        words = p.column(*self._lead(), self._call(margin_top=8), share=6, gap=18)
        picture = p.column(p.picture(self._pictures[0], radius=self._layout.corner), share=6)
        return p.section("Opening", p.row(words, picture, level="center", gap=56,
                                          phone={"gap": 28}),
                         pad_top=72, pad_bottom=72, inner=self._layout.wide, phone=_PHONE)

    def _opening_middle(self) -> Section:
        p = self._p
        return p.section("Opening", p.row(
            *self._lead("center"), self._call(place="center", margin_top=8), gap=18),
            p.row(p.picture(self._pictures[0], radius=self._layout.corner)),
            fill="mist", pad_top=88, pad_bottom=72, inner=900, phone=_PHONE)

    def _opening_form(self) -> Section:
        p, c = self._p, self._copy
        card = p.column(p.heading(c.closing.title, style="minor"), p.form(self._form), share=5,
                        fill="paper", colour="ink", radius=self._layout.corner, shadow="lifted",
                        **_CARD)
        return p.section("Opening", p.row(
            p.column(*self._lead(small="main"), share=7, gap=18), card, level="center", gap=56,
            phone={"gap": 28}), fill="ink", colour="paper", pad_top=84, pad_bottom=84,
            inner=self._layout.wide, phone=_PHONE)

    def _opening_band(self) -> Section:
        p = self._p
        words = p.column(*self._lead(small="on_main"),
                         self._call(fill="ink", colour="paper", margin_top=8), share=7, gap=18)
        picture = p.column(p.picture(self._pictures[0], radius=self._layout.corner), share=5)
        return p.section("Opening", p.row(words, picture, level="center", gap=48,
                                          phone={"gap": 28}),
                         fill="main", colour="on_main", pad_top=72, pad_bottom=72,
                         inner=self._layout.wide, phone=_PHONE)

    def _grounded(self, number: int, section: Section) -> Section:
        """Return a section on the ground whose turn it is."""
        ground = self._layout.ground[number % len(self._layout.ground)]
        if ground == "ink" and number == _LAST_BODY:
            ground = "mist"  # The closing call stands on ink.
        look = section.look.with_value("inner", self._layout.wide, None) \
            if "inner" not in section.look.base else section.look
        if ground != "paper":
            look = look.with_value("fill", ground, None)
        if ground == "ink":
            look = look.with_value("colour", "paper", None)
        return msgspec.structs.replace(section, look=look)

    def _section(self, name: str, *rows: Row, **look: Any) -> Section:
        return self._p.section(name, *rows, pad_top=72, pad_bottom=72, phone=_PHONE, **look)

    def _problem(self) -> Section:
        p, c = self._p, self._copy
        words = p.column(p.heading(c.problem_title), p.passage(*c.problem, style="subtitle"),
                         share=7, gap=16)
        picture = p.column(p.picture(self._pictures[1], radius=self._layout.corner), share=5)
        return self._section("Problem", p.row(words, picture, level="center", gap=56,
                                              phone={"gap": 24}))

    def _points(self) -> Section:
        p, c, kind = self._p, self._copy, self._layout.points
        if kind == "rows":
            half = (len(c.points) + 1) // 2
            columns = [p.column(*(item for point in part for item in self._titled(point)), gap=10)
                       for part in (c.points[:half], c.points[half:])]
            return self._section("Benefits", p.row(p.heading(c.points_title)),
                                 p.row(*columns, gap=56))
        cards = [self._card(point, self._icons[number % len(self._icons)], kind == "cards")
                 for number, point in enumerate(c.points)]
        return self._section("Benefits", p.row(p.heading(c.points_title)),
                             p.row(*cards, cells=3, gap=24))

    def _titled(self, point: Point) -> list[Item]:
        p = self._p
        return [p.heading(point.title, rank=3, style="minor", margin_top=8),
                p.passage(point.words)]

    def _card(self, point: Point, icon: str, boxed: bool) -> Column:
        p = self._p
        look: Values = {"fill": "paper", "colour": "ink", "radius": self._layout.corner,
                        "shadow": "soft"} | _CARD if boxed else {}
        return p.column(p.icon(icon, size=30), p.heading(point.title, rank=3, style="minor"),
                        p.passage(point.words), gap=8, **look)

    def _steps(self) -> Section:
        p, c = self._p, self._copy
        columns = [p.column(p.passage(str(number), style="heading", colour="accent", weight=700,
                                      face="heading"), *self._titled(step), gap=4)
                   for number, step in enumerate(c.steps, 1)]
        return self._section("Steps", p.row(p.heading(c.steps_title)),
                             p.row(*columns, gap=40, phone={"gap": 20}))

    def _voices(self) -> Section:
        p, c = self._p, self._copy
        voices = [p.column(Testimonial(
            id=p.ids(), quote=(p.text(f"“{said.quote}”"),), name_said=p.text(said.name),
            about=p.text(said.about), style="body")) for said in c.voices]
        figures = Figures(id=p.ids(), entries=tuple(
            Figure(number=p.text(number), label=p.text(label)) for number, label in c.figures))
        return self._section("Voices", p.row(p.heading(c.voices_title)), p.row(*voices, gap=40),
                             p.row(figures))

    def _offer(self) -> Section:
        p, c = self._p, self._copy
        offer = Offer(
            title=p.text(c.offer.title), price=p.text(c.offer.price), period=p.text(c.offer.unit),
            included=tuple(map(p.text, c.offer.included)),
            missing=tuple(map(p.text, c.offer.missing)), button=self._sure.text(c.call))
        prices = Prices(id=p.ids(), entries=(offer,),
                        actions=(GoSection(self._closing_id),))
        return self._section("Price", p.row(p.heading(c.offer_title, align="center")),
                             p.row(prices), inner=560)

    def _questions(self) -> Section:
        p, c = self._p, self._copy
        folds = Questions(id=p.ids(), entries=tuple(
            Answered(question=p.text(point.title), answer=(p.text(point.words),))
            for point in c.questions))
        return self._section("Questions", p.row(p.heading(c.questions_title)), p.row(folds),
                             inner=820)

    def _closing(self) -> Section:
        p, c = self._p, self._copy
        if self._layout.opening == "form":
            made = p.section("Closing call", p.row(
                p.heading(c.closing.title, align="center"),
                p.passage(c.closing.words, style="subtitle", align="center"), p.form(self._form),
                gap=18), fill="mist", inner=620, pad_top=80, pad_bottom=80, phone=_PHONE)
        else:
            made = p.section("Closing call", p.row(
                p.column(p.heading(c.closing.title), p.passage(c.closing.words, style="subtitle"),
                         share=6, gap=14),
                p.column(p.form(self._form), share=5, fill="paper", colour="ink",
                         radius=self._layout.corner, **_CARD), level="center", gap=56,
                phone={"gap": 24}), fill="ink", colour="paper", pad_top=80, pad_bottom=80,
                inner=self._layout.wide, phone=_PHONE)
        return msgspec.structs.replace(made, id=self._closing_id)

    def _footer(self) -> Section:
        p = self._p
        links = Parts(p.ids).passage((Run("Privacy", link=f"page:{self._privacy}"),),
                                     style="small")
        return p.section("Footer", p.row(
            p.column(p.passage(f"{self._name}. Street, town, and who answers for it.",
                               style="small"), share=8), p.column(links, share=4)),
            role="footer", pad_top=28, pad_bottom=28, inner=self._layout.wide)

    def _privacy_note(self) -> Section:
        p = self._p
        return p.section("Privacy", p.row(
            p.heading("Privacy", rank=1, style="heading"),
            p.passage("Who answers for this site: name, street and town still to be written.",
                      "What the form asks is kept to answer you and to send what you asked for. "
                      "It is deleted when you ask for it.",
                      "This site counts visits without names. Nothing is passed on to anybody "
                      "else unless it says so here."), gap=16),
            pad_top=72, pad_bottom=88, inner=720, phone=_PHONE)

