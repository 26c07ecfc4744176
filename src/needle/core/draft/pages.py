"""A first draft as pages: its words in one of several orders of argument.

Looks are left to the theme of the site wherever a theme has a say.
"""

from collections.abc import Callable, Mapping, Sequence

import msgspec

from needle.core.draft.copy import Copy, Point
from needle.core.draft.foreign import PageWords
from needle.core.draft.orders import Order
from needle.core.kinds.figures import Figure, Figures
from needle.core.kinds.logo import Logo
from needle.core.kinds.prices import Offer, Prices
from needle.core.kinds.questions import Answered, Questions
from needle.core.kinds.testimonial import Testimonial
from needle.core.site.parts import Parts
from needle.core.site.site import Page, Variant
from needle.core.site.tree import Column, Section
from needle.core.values.actions import GoPage, GoSection
from needle.core.values.ids import Id, IdSource
from needle.core.values.node import Item
from needle.core.values.words import Run

__all__ = ["PageDraft"]

_LETTER = 720
# One number by itself is no section.
_LEAST_FIGURES = 2


class PageDraft:
    """Makes the pages of one draft.

    Attributes:
        thanks_page: The page that follows after sending.
    """

    def __init__(self, copy: Copy, order: Order, words: PageWords, ids: IdSource, *, name: str,
                 headline: str, sub: str, pictures: Sequence[Id], form: Id, own_call: bool,
                 ) -> None:
        """Prepare to make them.

        Args:
            words: What stands on pages of this language besides.
            name, headline, sub: What was chosen among the proposals.
            pictures: Ids of the stand-in pictures, at least three.
            own_call: The words of the button are the person's own.
        """
        self._copy, self._order, self._words = copy, order, words
        self._p = Parts(ids, invented=True)
        self._told = Parts(ids)
        self._sure = Parts(ids, invented=not own_call)
        self._name, self._headline, self._sub = name, headline, sub
        self._pictures, self._form = pictures, form
        self._privacy, self.thanks_page, self._start, self._closing_id = (ids() for _ in range(4))

    def pages(self) -> tuple[Page, Page, Page]:
        """Return the start page, the thank-you page and the privacy note."""
        makers: Mapping[str, Callable[[], Section | None]] = {
            name.removeprefix("_make_"): getattr(self, name)
            for name in dir(self) if name.startswith("_make_")}
        body = [made for part in self._order.parts if (made := makers[part]()) is not None]
        sections = (self._header(on_start=True), *body, self._footer())
        p, words = self._p, self._words
        thanks = p.section("Thanks", p.row(
            p.heading(words.thanks_title, rank=1, style="title", align="theme"),
            p.passage(self._copy.thanks, style="subtitle", align="theme"),
            p.button(words.back, GoPage(self._start), looks="second", place="theme"),
            gap=18), space="wide", inner=_LETTER)
        return (
            Page(id=self._start, name="Start", slug="", title=self._copy.title,
                 description=self._copy.description, invented=("title", "description"),
                 variants=(Variant(key="A", children=sections),)),
            self._small_page(self.thanks_page, "Thank you", "thanks", words.thanks_title,
                             self._copy.thanks, thanks),
            self._small_page(self._privacy, "Privacy", "privacy", words.privacy,
                             words.privacy_note[-1], self._privacy_note()))

    def _small_page(self, page: Id, name: str, slug: str, title: str, description: str,
                    section: Section) -> Page:
        return Page(id=page, name=name, slug=slug, title=f"{title} | {self._name}",
                    invented=("title", "description"), description=description,
                    variants=(Variant(key="A", children=(
                        self._header(), section, self._footer())),))

    # The frame

    def _header(self, on_start: bool = False) -> Section:
        p = self._p
        action = GoSection(self._closing_id) if on_start else GoPage(self._start)
        call = self._sure.button(self._copy.call, action, looks="second", place="right",
                                 pad_top=8, pad_bottom=8, pad_left=12, pad_right=12, size=15,
                                 phone={"pad_top": 12, "pad_bottom": 12})
        return p.section("Header", p.row(p.column(Logo(id=p.ids()), share=1),
                                         p.column(call, share=1), level="center", stack="never"),
                         role="header", pad_top=14, pad_bottom=14)

    def _footer(self) -> Section:
        p = self._p
        links = Parts(p.ids).passage((Run(self._words.privacy, link=f"page:{self._privacy}"),),
                                     style="small", align="right")
        return p.section("Footer", p.row(
            p.column(p.passage(f"{self._name}. {self._words.footer}.", style="small"), share=8),
            p.column(links, share=4)), role="footer", space="narrow")

    def _privacy_note(self) -> Section:
        p = self._p
        return p.section("Privacy", p.row(
            p.heading(self._words.privacy, rank=1, style="heading"),
            p.passage(*self._words.privacy_note), gap=16), inner=_LETTER)

    # First screens

    def _call(self, place: str = "left") -> Item:
        return self._sure.button(self._copy.call, GoSection(self._closing_id), margin_top=8,
                                 place=place, phone={"width": "full"})

    def _lead(self, align: str = "left", small: str = "accent") -> list[Item]:
        p, c = self._p, self._copy
        above: list[Item] = [p.passage(c.eyebrow, style="small", weight=600, align=align,
                                       colour=small)] if c.eyebrow else []
        return [*above, p.heading(self._headline, rank=1, style="title", align=align),
                p.passage(self._sub, style="subtitle", align=align)]

    def _make_opening_side(self) -> Section:
        p = self._p
        words = p.column(*self._lead(), self._call(), share=6, gap=18)
        picture = p.column(p.picture(self._pictures[0]), share=6)
        return p.section("Opening", p.row(words, picture, level="center", gap=56,
                                          phone={"gap": 28}), space="wide")

    def _make_opening_middle(self) -> Section:
        p = self._p
        return p.section("Opening", p.row(*self._lead("theme"), self._call("theme"), gap=18),
                         p.row(p.picture(self._pictures[0])), space="wide", inner=960)

    def _make_opening_form(self) -> Section:
        p, c = self._p, self._copy
        card = p.column(p.heading(c.closing.title, style="minor"), p.form(self._form), share=5,
                        card="theme", fill="paper", colour="ink")
        made = p.section("Opening", p.row(
            p.column(*self._lead(small="main"), share=7, gap=18), card, level="center", gap=56,
            phone={"gap": 28}), fill="ink", colour="paper", space="wide")
        return msgspec.structs.replace(made, id=self._closing_id)

    def _make_opening_band(self) -> Section:
        p = self._p
        call = self._sure.button(self._copy.call, GoSection(self._closing_id), fill="ink",
                                 colour="paper", margin_top=8, phone={"width": "full"})
        words = p.column(*self._lead(small="on_main"), call, share=7, gap=18)
        return p.section("Opening", p.row(words, p.column(p.picture(self._pictures[0]), share=5),
                                          level="center", gap=48, phone={"gap": 28}),
                         fill="main", colour="on_main", space="wide")

    def _make_opening_plain(self) -> Section:
        p = self._p
        return p.section("Opening", p.row(*self._lead(), self._call(), gap=18), space="wide",
                         inner=860)

    def _make_opening_picture(self) -> Section:
        p = self._p
        return p.section("Opening", p.row(*self._lead(small="main"), self._call(), gap=18),
                         picture=self._pictures[0], shade=72, fill="ink", colour="paper",
                         space="wide")

    def _make_gallery_first(self) -> Section:
        p = self._p
        large = p.column(p.picture(self._pictures[0]), share=7)
        small = p.column(p.picture(self._pictures[1]), share=5)
        lead = self._lead()
        return p.section("Opening", p.row(large, small, gap=20, level="end"), p.row(
            p.column(*lead[:-1], share=7, gap=12),
            p.column(lead[-1], self._call(), share=5, gap=14), gap=40, phone={"gap": 14}))

    # What is said

    def _make_facts(self) -> Section | None:
        c, p, told = self._copy, self._p, self._told
        if not c.facts:
            return None
        lines = [p.row(p.column(p.passage(fact.label, weight=600), share=3),
                       p.column(told.passage(fact.words), share=9), gap=20, phone={"gap": 2})
                 for fact in c.facts]
        return p.section("Facts", p.row(p.heading(c.facts_title)), *lines, gap=14, inner=860)

    def _make_problem(self) -> Section:
        p, c = self._p, self._copy
        words = p.column(p.heading(c.problem_title), p.passage(*c.problem, style="subtitle"),
                         share=7, gap=16)
        picture = p.column(p.picture(self._pictures[1]), share=5)
        return p.section("Problem", p.row(words, picture, level="center", gap=56,
                                          phone={"gap": 24}))

    def _make_points(self) -> Section:
        p, c = self._p, self._copy
        across = 2 if len(c.points) in (2, 4) else 3
        cards = [self._card(point) for point in c.points]
        return p.section("Benefits", p.row(p.heading(c.points_title)),
                         p.row(*cards, cells=across, gap=24))

    def _card(self, point: Point) -> Column:
        p = self._p
        icon: list[Item] = [p.icon(point.icon, size=30)] if point.icon else []
        return p.column(*icon, p.heading(point.title, rank=3, style="minor"),
                        p.passage(point.words), gap=8, card="theme")

    def _make_steps(self) -> Section:
        p, c = self._p, self._copy
        columns = [p.column(p.passage(str(number), style="heading", colour="accent", weight=700,
                                      face="heading"),
                            p.heading(step.title, rank=3, style="minor"), p.passage(step.words),
                            gap=4) for number, step in enumerate(c.steps, 1)]
        return p.section("Steps", p.row(p.heading(c.steps_title)),
                         p.row(*columns, gap=40, phone={"gap": 20}))

    def _make_voices(self) -> Section | None:
        p, c = self._p, self._copy
        if not c.voices:
            return None
        voices = [p.column(Testimonial(
            id=p.ids(), quote=(p.text(f"“{said.quote}”"),), name_said=p.text(said.name),
            about=p.text(said.about), initial=True, style="body"), card="theme")
            for said in c.voices]
        return p.section("Voices", p.row(p.heading(c.voices_title)),
                         p.row(*voices, gap=24, level="stretch"))

    def _make_figures(self) -> Section | None:
        p, c = self._told, self._copy
        if len(c.figures) < _LEAST_FIGURES:
            return None
        figures = Figures(id=p.ids(), entries=tuple(
            Figure(number=p.text(number), label=p.text(label)) for number, label in c.figures))
        return p.section("In numbers", p.row(figures), fill="ink", colour="paper")

    def _make_offer(self) -> Section | None:
        p, c = self._p, self._copy
        if c.offer is None:
            return None
        price = (self._told if c.offer.sure else p).text(c.offer.price)
        offer = Offer(
            title=p.text(c.offer.title), price=price, period=p.text(c.offer.unit),
            included=tuple(map(p.text, c.offer.included)),
            missing=tuple(map(p.text, c.offer.missing)), button=self._sure.text(c.call))
        prices = Prices(id=p.ids(), entries=(offer,), actions=(GoSection(self._closing_id),))
        return p.section("Price", p.row(p.heading(c.offer_title)), p.row(prices), inner=560)

    def _make_questions(self) -> Section | None:
        p, c = self._p, self._copy
        if not c.questions:
            return None
        folds = Questions(id=p.ids(), entries=tuple(
            Answered(question=p.text(point.title), answer=(p.text(point.words),))
            for point in c.questions))
        return p.section("Questions", p.row(p.heading(c.questions_title)), p.row(folds),
                         inner=860)

    def _make_story(self) -> Section | None:
        p, c = self._p, self._copy
        if not c.story:
            return None
        title = [p.heading(c.story_title)] if c.story_title else []
        return p.section("Story", p.row(
            p.column(*title, p.passage(*c.story), share=7, gap=18),
            p.column(p.picture(self._pictures[1]), share=5), gap=56, phone={"gap": 24}))

    def _make_letter(self) -> Section:
        p, c = self._p, self._copy
        facts = [self._told.listing(*(f"{fact.label}: {fact.words}" for fact in c.facts),
                                    mark="dot")] if c.facts else []
        points = [item for point in c.points[:3] for item in (
            p.heading(point.title, rank=3, style="minor", margin_top=14),
            p.passage(point.words))]
        return p.section("Letter", p.row(
            p.heading(c.problem_title), p.passage(*c.problem),
            p.heading(c.story_title, margin_top=20), p.passage(*c.story), *points,
            p.heading(c.facts_title, margin_top=20), *facts,
            *([p.passage(c.behind)] if c.behind else []), gap=14), inner=_LETTER)

    def _make_behind(self) -> Section | None:
        p, c = self._p, self._copy
        if not c.behind:
            return None
        return p.section("Who", p.row(
            p.column(p.picture(self._pictures[2]), share=4),
            p.column(p.passage(c.behind, style="subtitle"), share=8), level="center", gap=40,
            phone={"gap": 20}))

    def _make_compared(self) -> Section:
        p, c = self._p, self._copy
        lines = [p.row(p.column(p.passage(line.what, weight=600), share=4),
                       p.column(p.passage(line.there, style="small"), share=4),
                       p.column(p.listing(line.here), share=4), gap=24, phone={"gap": 4})
                 for line in c.compared]
        return p.section("Compared", p.row(p.heading(c.compared_title)), *lines)

    def _make_day(self) -> Section:
        p, c = self._p, self._copy
        rows = [p.row(p.column(p.passage(moment.title, weight=600, colour="accent"), share=3),
                      p.column(p.passage(moment.words), share=9), gap=20, phone={"gap": 2})
                for moment in c.day]
        return p.section("Plan", p.row(p.heading(c.day_title)), *rows, gap=16)

    def _make_gallery(self) -> Section:
        p, c = self._p, self._copy
        cells = [p.column(p.picture(picture), p.passage(words, style="small"), gap=8)
                 for picture, words in zip(self._pictures, c.seen, strict=False)]
        return p.section("Pictures", p.row(p.heading(c.gallery_title)),
                         p.row(*cells, cells=3, gap=20))

    def _make_closing(self) -> Section:
        p, c = self._p, self._copy
        made = p.section("Closing call", p.row(
            p.column(p.heading(c.closing.title), p.passage(c.closing.words, style="subtitle"),
                     share=6, gap=14),
            p.column(p.form(self._form), share=5, card="theme", fill="paper", colour="ink"),
            level="center", gap=56, phone={"gap": 24}), fill="ink", colour="paper", space="wide")
        return msgspec.structs.replace(made, id=self._closing_id)
