"""The Quillmoor site: five pages, one for each of twelve towns, a shop of twenty things; four forms
at work and one not yet."""

from collections.abc import Mapping
from datetime import date, datetime, timedelta
from typing import Any

import msgspec

from needle.core.edit.nodes import delete, set_words
from needle.core.edit.pages import set_share, split_page
from needle.core.kinds.cartlink import CartLink
from needle.core.kinds.countdown import Countdown
from needle.core.kinds.logo import Logo
from needle.core.kinds.menu import Menu
from needle.core.kinds.questions import Answered, Questions
from needle.core.kinds.testimonial import Testimonial
from needle.core.site.parts import Parts
from needle.core.site.site import Brand, Brief, Kept, Medium, Page, Site, Swatch, Variant
from needle.core.site.starter import starter_styles
from needle.core.site.tree import Column, Popup, Section
from needle.core.values.about import About
from needle.core.values.actions import GoPage, GoSection, OpenPopup
from needle.core.values.ids import Id, IdSource
from needle.core.values.look import Look
from needle.core.values.theme import Theme
from needle.core.values.tracking import Consent
from needle.core.values.widths import Width
from needle.core.values.words import Run, text
from needle.demo.course import course_page
from needle.demo.evenings import evenings
from needle.demo.forms import DemoForms
from needle.demo.shop import Shop

__all__ = ["as_it_was_sent", "demo_site"]

_PALETTE = (("ink", "Night ink", "#0b1126"), ("paper", "Paper", "#ffffff"),
            ("main", "Lamp amber", "#f2b84b"), ("on_main", "Lamp black", "#16120a"),
            ("accent", "Dusk", "#3e5ba9"), ("mist", "Mist", "#eef1f8"),
            ("quiet", "Quiet ink", "#565d73"))
_CARD: Mapping[str, Any] = {"card": "theme", "gap": 8}


def demo_site(media: Mapping[str, Medium], test_started: datetime) -> Site:
    """Return the site.

    Args:
        media: The painted pictures by name.
        test_started: When the split test began.
    """
    return _Quillmoor(media, test_started.date()).site(test_started)


def as_it_was_sent(site: Site) -> Site:
    """Return the site as it is live: before the last edits to the meteor night."""
    page = next(page for page in site.pages if page.tested)
    for variant in page.variants:
        for node in variant.nodes():
            if getattr(node, "words", ()) == text("£42"):
                site = set_words(site, node.id, (text("£45"),))
    return delete(site, next(s.id for s in page.variant("B").children if s.name == "Questions"))


class _Quillmoor:
    def __init__(self, media: Mapping[str, Medium], today: date) -> None:
        year = today.year + (today > date(today.year, 7, 1))
        self.night_on = date(year, 8, 12)
        self.ids = IdSource(1609)
        self.parts = Parts(self.ids)
        self.media = media
        self.home, self.night, self.calendar, self.thanks, self.course = (
            self.ids() for _ in range(5))
        self.footer_kept = self.ids()
        made = DemoForms(self.ids, self.thanks)
        self.services = made.services
        self.forms = (made.place(), made.calendar(media["calendar"].id), made.group(),
                      made.bench())
        self.tracking = made.tracking(self.night)
        self.shop = Shop(media, made.mailbox.id, self.night, today)

    def site(self, test_started: datetime) -> Site:
        course = course_page(self.parts, self.course, self.media, self.forms[3],
                             self._header(), self._footer())
        pages = (self._home(), self._night(), course, self._calendar(), self._thanks())
        sold = tuple(make(self._header(), self._footer())
                     for make in (self.shop.front, self.shop.shelf, self.shop.thing,
                                  self.shop.cart))
        table, evening = evenings(self.media, self.forms[0], self._header(), self._footer(),
                                  self.night_on + timedelta(days=21))
        footer = Kept(id=self.footer_kept, name="Footer", linked=True,
                      section=msgspec.structs.replace(self._footer(), linked=""))
        site = Site(
            id=self.ids(), name="Quillmoor Dark Sky", address="quillmoor",
            brand=Brand(palette=tuple(Swatch(role=r, name=n, value=v) for r, n, v in _PALETTE),
                        theme=Theme(edge="middle", grounds="turns")),
            brief=Brief(
                idea=("Star evenings on a dark hill, with telescopes and a guide, for people "
                      "who have never looked through one."),
                call_to_action="Keep me a place",
                audience="Couples, families with children from eight, clubs",
                facts="when and how long\nwhat if it is cloudy\nhow to get there in the dark\n"
                      "what it costs",
                phrases="star evening, meteor night, dark sky", voice="Warm, exact, a little dry"),
            styles=starter_styles(), pages=(*pages, evening, *sold),
            forms=(*self.forms, self.shop.form),
            services=(*self.services, self.shop.paydesk), tracking=self.tracking,
            consent=Consent(asked=True),
            media=tuple(self.media.values()),
            kept=(footer,), tables=(table, *self.shop.tables), shop=self.shop.shop)
        return self._split(site, test_started)

    def _split(self, site: Site, started: datetime) -> Site:
        """Start the split test: B has another headline and another button."""
        site = split_page(site, self.night, started)
        site = set_share(site, self.night, "A", 60)
        page = site.page(self.night)
        assert page is not None
        swaps = {"The Perseids, from the darkest hill in the county":
                 "Sixty shooting stars an hour. One very dark hill.",
                 "Keep me a place": "Save me a blanket"}
        for node in list(page.variant("B").nodes()):
            words = getattr(node, "words", ())
            first = words[0].words if words and isinstance(words[0], Run) else ""
            if first in swaps:
                site = set_words(site, node.id, (text(swaps[first]),))
        return self._repeatable(site)

    def _repeatable(self, site: Site) -> Site:
        """Give variant B ids from the demo's own source, so every fresh copy is the same."""
        raw = msgspec.json.encode(site).decode()
        page = site.page(self.night)
        assert page is not None
        for node in page.variant("B").nodes():
            raw = raw.replace(node.id, self.ids())
        return msgspec.json.decode(raw, type=Site)

    # Parts that pages share

    def _header(self) -> Section:
        p = self.parts
        menu = Menu(id=self.ids(), look=Look(base={"place": "right"}), pages=(
            self.night, self.course, self.calendar, self.shop.front_id))
        return p.section(
            "Header",
            p.row(p.column(Logo(id=self.ids(), high=26), share=3),
                  p.column(menu, share=4),
                  p.column(CartLink(id=self.ids(), words=text("Cart")), share=1, align="right"),
                  stack="never", level="center"),
            role="header", fill="ink", colour="paper", pad_top=14, pad_bottom=14)

    def _footer(self) -> Section:
        p = self.parts
        return msgspec.structs.replace(p.section(
            "Footer",
            p.row(p.column(p.passage("Quillmoor Dark Sky. The hill above Little Quill, "
                                     "an hour from any town worth the name.", style="small")),
                  p.column(p.passage("desk@quillmoor.example", "Dark nights, Thursday to Sunday",
                                     style="small", align="right"),
                           phone={"align": "left"})),
            role="footer", fill="ink", colour="paper", pad_top=40, pad_bottom=40),
            linked=self.footer_kept)

    def _sign_up(self) -> Popup:
        p = self.parts
        return Popup(
            id=self.ids(), name="Sign-up", backdrop="ink", strength=78,
            children=(p.row(p.heading("A place on the hill", style="heading", size=28),
                            p.passage("12 August, from half past nine. You pay at the barn, and "
                                      "only if the sky opens.", style="small"),
                            p.form(self.forms[0].id)),))

    def _card(self, title: str, words: str, medium: str = "") -> Column:
        p = self.parts
        top = [p.picture(self.media[medium].id)] if medium else []
        return p.column(*top, p.heading(title, rank=3, style="minor"),
                        p.passage(words, style="small"), **_CARD)

    # Pages

    def _night(self) -> Page:
        popup = self._sign_up()
        sections = (self._header(), self._night_opening(popup.id), self._holds(),
                    self._guides(), self._says(), self._prices(popup.id), self._questions(),
                    self._closing(popup.id), self._footer())
        return Page(
            id=self.night, name="Meteor Night", slug="meteor-night",
            title="Meteor night on the darkest hill in the county | Quillmoor",
            description=("Three hours under the Perseids with eight telescopes, a guide for every "
                         "six guests, and a warm barn. 12 August. You pay only if it is clear."),
            advert="Eight telescopes on a dark hill, 12 August",
            about=About(kind="event", name="Meteor night on Quillmoor Hill",
                        starts="2027-08-12 21:30", ends="2027-08-13 00:30",
                        place="Quillmoor Hill", street="Moor Lane 1, Quillmoor",
                        price="24", currency="GBP"),
            variants=(Variant(key="A", children=sections, popups=(popup,)),))

    def _night_opening(self, popup: Id) -> Section:
        p = self.parts
        return p.section(
            "Opening",
            p.row(p.passage("12 August, 21:30 to half past midnight", style="small", weight=600,
                            colour="main"),
                  p.heading("The Perseids, from the darkest hill in the county", rank=1,
                            style="title", max_width=760),
                  p.passage("Three hours, eight telescopes, one warm barn. A guide for every six "
                            "guests, and nobody minds if you have never looked through an "
                            "eyepiece.", style="subtitle", max_width=560),
                  p.button("Keep me a place", OpenPopup(popup), margin_top=10,
                           phone={"width": "full"}),
                  p.passage("48 places. Clear sky or no charge.", style="small"),
                  self._countdown(), gap=18),
            picture=self.media["sky"].id, shade=16, focus="bottom", colour="paper", fill="ink",
            pad_top=110, pad_bottom=170, phone={"pad_top": 56, "pad_bottom": 150})

    def _countdown(self) -> Countdown:
        """Return what is left until the next night; the phone does without it."""
        return Countdown(id=self.ids(), until=f"{self.night_on:%Y-%m-%d} 21:30",
                         ended="The night has begun. Come up.", hidden=(Width.PHONE,))

    def _holds(self) -> Section:
        p = self.parts
        cards = (("Dusk talk", "Where to look, and why tonight. Twenty minutes on the barn steps."),
                 ("Open dome", "Saturn through the 16-inch, one at a time and no hurry."),
                 ("Meteor watch", "Reclining chairs, blankets, and a count kept on the slate."),
                 ("Your own camera", "We lend a mount and set the exposure. You keep the trail."),
                 ("Warm barn", "Soup, tea and a stove, in red light so your eyes stay dark."),
                 ("Safe path", "Rope lights from car to chair. No torch needed, none allowed."))
        return p.section(
            "What the night holds", p.row(p.heading("What the night holds")),
            p.row(*(self._card(*card) for card in cards), cells=3))

    def _guides(self) -> Section:
        p = self.parts
        return p.section(
            "Who guides you",
            p.row(p.column(p.picture(self.media["dome"].id), share=5),
                  p.column(p.heading("Six to a guide, so nobody waits in the dark"),
                           p.passage("Maud Arkle ground her first mirror at fourteen and has "
                                     "shown the sky to nine thousand people since. Her three "
                                     "guides were all guests once."),
                           p.listing("A stool and a lens at every height, children from eight",
                                     "Wheelchairs reach the dome and both lawns",
                                     "Spectacles welcome: every eyepiece can be used with them"),
                           share=6),
                  level="center", gap=56, phone={"gap": 24}))

    def _says(self) -> Section:
        p = self.parts
        quotes = (("“My daughter counted thirty-one and fell asleep mid-wish.”",
                   "Orla Finch", "Nettlebridge"),
                  ("“I had seen pictures of Saturn. It is not the same thing at all.”",
                   "Tam Wren", "Upper Cawl"),
                  ("“The first time I was cold and did not care.”", "Ines Harrow", "Pell Cross"))
        return p.section(
            "What guests say", p.row(p.heading("What guests say on the way down")),
            p.row(*(p.column(Testimonial(
                id=self.ids(), quote=(text(words),), name_said=text(who), about=text(place),
                look=Look(base={"face": "heading"}))) for words, who, place in quotes), gap=40))

    def _prices(self, popup: Id) -> Section:
        p = self.parts
        plans = (("One", "£24", "A chair, a blanket, the dome, soup.", "second"),
                 ("Two", "£42", "Everything, twice, side by side. Most people take this.", "main"),
                 ("Family", "£58", "Two grown-ups and up to three children from eight.",
                  "second"))
        columns = [
            p.column(p.heading(name, rank=3, style="minor"), p.heading(price, rank=4, size=44),
                     p.passage(words, style="small"),
                     p.button("Keep me a place", OpenPopup(popup), looks=looks, width="full",
                              margin_top=8),
                     fill="paper", shadow="lifted" if looks == "main" else "soft", **_CARD)
            for name, price, words, looks in plans]
        return p.section("Prices", p.row(p.heading("You pay at the barn, if the sky opens")),
                         p.row(*columns, level="center"))

    def _questions(self) -> Section:
        p = self.parts
        asked = (("What if it is cloudy?", "We write at four in the afternoon. If the hill is "
                  "under cloud you come on the 13th instead, or not at all, and pay nothing."),
                 ("How do I find it in the dark?", "The lane from Little Quill has reflectors "
                  "for the last mile. Follow the amber ones; park where the rope begins."),
                 ("What do I wear?", "One layer more than you think. Blankets are ours, warm "
                  "socks are yours."),
                 ("May I bring a telescope?", "Please do. There is a level lawn with power, and "
                  "somebody who will envy it."))
        folded = Questions(id=self.ids(), entries=tuple(
            Answered(text(title), (text(words),)) for title, words in asked))
        return p.section(
            "Questions",
            p.row(p.column(p.heading("Before you drive up"), share=4), p.column(folded, share=7),
                  gap=56, phone={"gap": 12}))

    def _closing(self, popup: Id) -> Section:
        p = self.parts
        return p.section(
            "Closing call",
            p.row(p.column(p.heading("48 chairs. One new moon.", size=44, align="theme"),
                           p.passage("The next night this dark falls in eleven months.",
                                     style="subtitle", align="theme"),
                           p.button("Keep me a place", OpenPopup(popup), place="theme"))),
            picture=self.media["meteors"].id, shade=30, colour="paper", fill="ink",
            pad_top=120, pad_bottom=120, phone={"pad_top": 80, "pad_bottom": 80})

    def _home(self) -> Page:
        p = self.parts
        nights = p.section("Nights", p.row(p.heading("Three ways up the hill")), p.row(
            self._card("Star evening", "Every clear Friday. Two hours, the moon if she is up, "
                       "and the dome.", "moon"),
            self._card("Meteor night", "12 August. Blankets, soup, and sixty an hour if the "
                       "sky is kind.", "meteors"),
            self._card("Planet supper", "Six at the table, Saturn for afters. Book early; it "
                       "is a small table.", "saturn"), cells=3))
        calendar = p.section(
            "Sky calendar",
            p.row(p.column(p.picture(self.media["calendar"].id), share=5),
                  p.column(p.heading("What is up tonight? It is on the kitchen door."),
                           p.passage("The Quillmoor sky calendar: one page for each month, moons, "
                                     "meteors and the planets worth staying up for. Print it, "
                                     "pin it."),
                           p.form(self.forms[1].id), share=5),
                  level="center", gap=56, phone={"gap": 24}))
        sections = (self._header(), self._home_opening(nights.id), nights, calendar,
                    self._hill(), self._footer())
        return Page(
            id=self.home, name="Home", slug="",
            title="Quillmoor Dark Sky | Star evenings on a very dark hill",
            description=("Star evenings, a meteor night and a free sky calendar from a small "
                         "observatory on the darkest hill in the county."),
            variants=(Variant(key="A", children=sections),))

    def _home_opening(self, nights: Id) -> Section:
        p = self.parts
        return p.section(
            "Opening",
            p.row(p.heading("It is dark up here. That is the point.", rank=1, style="title",
                            max_width=620),
                  p.passage("Quillmoor is a barn, a dome and eight telescopes on a hill that "
                            "never had a street lamp. Come and look.", style="subtitle",
                            max_width=520),
                  p.button("See the three nights", GoSection(nights), phone={"width": "full"}),
                  gap=20),
            picture=self.media["barn"].id, shade=16, focus="bottom", colour="paper", fill="ink",
            pad_top=120, pad_bottom=260, phone={"pad_top": 64, "pad_bottom": 220})

    def _hill(self) -> Section:
        p = self.parts
        return p.section(
            "The hill",
            p.row(p.column(p.heading("A hill, a barn, and no street lamp for nine miles"),
                           p.passage("In 1961 a schoolmistress called Ada Quill left the hill to "
                                     "anyone who would keep it dark. We have kept it dark.",
                                     "On a good night you see four thousand stars without any "
                                     "help, and your own hand by the light of the Milky Way."),
                           p.button("See the meteor night", GoPage(self.night), looks="second"),
                           share=6),
                  p.column(p.picture(self.media["dome"].id), share=5),
                  level="center", gap=56, phone={"gap": 24}))

    def _calendar(self) -> Page:
        p = self.parts
        opening = p.section(
            "Opening",
            p.row(p.column(p.heading("A whole year of sky on the kitchen door", rank=1,
                                     style="title", size=48),
                           p.passage("Moons, meteors, and the planets worth staying up for. Twelve "
                                     "pages to print, one e-mail to get them, nothing to pay.",
                                     style="subtitle"),
                           p.form(self.forms[1].id), share=6),
                  p.column(p.picture(self.media["calendar"].id), share=5),
                  level="center", gap=56, phone={"gap": 24}))
        return Page(
            id=self.calendar, name="Sky calendar", slug="sky-calendar",
            title="Printable sky calendar, free | Quillmoor Dark Sky",
            description="Twelve pages to print: moons, meteors and planets, month by month.",
            variants=(Variant(key="A", children=(self._header(), opening, self._footer())),))

    def _thanks(self) -> Page:
        p = self.parts
        note = p.section(
            "Thank you",
            p.row(p.column(p.heading("See you on the hill", rank=1, style="title", align="theme"),
                           p.passage("Your place is kept. We write at four on the day with the "
                                     "forecast and the way.", style="subtitle", align="theme"),
                           p.button("Back to Quillmoor", GoPage(self.home), place="theme",
                                    looks="second"), gap=20)),
            picture=self.media["moon"].id, shade=45, colour="paper", fill="ink",
            min_height=70)
        return Page(
            id=self.thanks, name="Thank you", slug="thank-you", title="See you on the hill",
            description="Your place at Quillmoor is kept. How to find us, and what to wear.",
            variants=(Variant(key="A", children=(self._header(), note, self._footer())),))
