"""Each rule finds the faults that are planted for it, and nothing in a good site."""

import unittest
from collections.abc import Callable, Iterable, Sequence
from typing import Any

import msgspec

from needle.core.edit.forms import change_form
from needle.core.edit.looks import set_look
from needle.core.edit.nodes import change, insert, set_field, set_hidden, set_words
from needle.core.edit.pages import set_page, set_slug
from needle.core.kinds.button import Button
from needle.core.kinds.countdown import Countdown
from needle.core.kinds.embed import Embed
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.heading import Heading
from needle.core.kinds.passage import Passage
from needle.core.kinds.picture import Picture
from needle.core.kinds.testimonial import Testimonial
from needle.core.site.site import Medium, Site
from needle.core.site.tree import Column, Row, Section
from needle.core.snags.finding import RULES, find_snags
from needle.core.values.about import About
from needle.core.values.actions import Dial, GoAddress, GoSection, Write
from needle.core.values.form import FormField, Role, ShowMessage, ThankPage
from needle.core.values.node import Node
from needle.core.values.tracking import Consent, TrackingCode
from needle.core.values.widths import Width
from needle.core.values.words import Run, text
from tests.core.test_snags import clean_site
from tests.sites import EMAIL, FORM, NAME, PAGE, THANKS

SITE = clean_site()
Plant = tuple[Site, str]


def said(words: str) -> Site:
    return set_words(SITE, "text1", (text(words),))


def headed(words: str) -> Site:
    return set_words(SITE, "head1", (text(words),))


def button(words: str) -> Site:
    return set_words(SITE, "button1", (text(words),))


def linked(words: str, link: str = "https://x.example") -> Site:
    return set_words(SITE, "text1", ((Run("See "), Run(words, link=link)),))


def node(node_id: str, **changes: Any) -> Site:
    return change(SITE, node_id, lambda old: msgspec.structs.replace(old, **changes))


def beside(*items: Node) -> Site:
    site = SITE
    for item in items:
        site = insert(site, item, "button1", "after")
    return site


def form(how: Callable[[Any], Any]) -> Site:
    return change_form(SITE, FORM, how)


def fields(*more: FormField) -> Site:
    return form(lambda old: msgspec.structs.replace(old, fields=(*old.fields, *more)))


def field(field_id: str, **changes: Any) -> Site:
    return form(lambda old: msgspec.structs.replace(old, fields=tuple(
        msgspec.structs.replace(one, **changes) if one.id == field_id else one
        for one in old.fields)))


def shown(**medium: Any) -> Site:
    held = Medium(**({"id": "m1", "name": "hill.png", "file": "a.png", "width": 9, "height": 9,
                      "alt": "A hill at night"} | medium))
    site = msgspec.structs.replace(SITE, media=(held,))
    return insert(site, Picture(id="p1", medium="m1"), "head1", "after")


def filmed(megabytes: int) -> Site:
    film = Medium(id="f1", name="sky.mp4", file="a.mp4", width=9, height=9, seconds=9,
                  weight=megabytes * 1_000_000)
    site = msgspec.structs.replace(SITE, media=(film,))
    return change(site, section_of(SITE), lambda old: msgspec.structs.replace(old, film="f1"))


def section_of(site: Site) -> str:
    return site.pages[0].variants[0].children[0].id


def clicked(*actions: Any) -> Site:
    return set_field(SITE, "button1", "actions", actions)


def coded(*purposes: str) -> Site:
    return msgspec.structs.replace(SITE, tracking=tuple(
        TrackingCode(id=f"t{n}", name=f"Code {n}", purpose=purpose, html="<script></script>")
        for n, purpose in enumerate(purposes)))


def many(count: int) -> list[FormField]:
    return [FormField(id=f"x{n}", role=Role.LINE, label=f"Question {n}") for n in range(count)]


def away(count: int) -> Site:
    site = insert(SITE, FormBox(id="more1", form=FORM), "button1", "after")
    words = tuple(Run(f"{n} ", link=f"https://x{n}.example") for n in range(count))
    return set_words(site, "text1", (words,))


def calls(count: int) -> Site:
    return beside(*(Button(id=f"b{n}", words=text(f"Do thing {n}"),
                           actions=(Dial("+44 20 7946 0000"),)) for n in range(count)))


def hollow(**changes: Any) -> Site:
    made = Section(id="s9", children=(Row(id="r9", children=(Column(id="c9"),)),), **changes)
    return insert(SITE, made, section_of(SITE), "after")


# For each rule: sites with its fault, and the id of what it should point to.
FAULTS: dict[str, Iterable[Plant]] = {
    "small-type": [(set_look(said("word " * 30), ("text1",), "size", size, width), "text1")
                   for size, width in ((15, None), (12, None), (10, Width.PHONE), (14, None),
                                       (9, Width.PHONE))],
    "claim-without-proof": [(headed(words), "head1") for words in (
        "The world’s best view of the stars", "No. 1 for families", "Award-winning nights",
        "97 % of our guests come again", "We are #1")],
    "mixed-languages": [(said(words), "text1") for words in (
        "Wir sind für Sie da und freuen uns auf die Nacht mit dem Fernrohr.",
        "Nous sommes là pour vous et pour les enfants qui aiment la nuit.",
        "La noche es para los que no tienen prisa y para los niños del pueblo.",
        "Il cielo è di tutti e la notte non è mai la stessa per noi.",
        "Het is een nacht voor iedereen en wij staan op de heuvel met u.")],
    "wall-of-text": [(said("word " * count), "text1") for count in (111, 140, 200, 400, 900)],
    "long-headline": [(headed("word " * count), "head1") for count in (17, 18, 20, 30, 60)],
    "shouting": [(headed(words), "head1") for words in (
        "COME UP THE HILL", "THREE HOURS OUTSIDE", "Come!!", "Come now!!!")]
        + [(button("KEEP ME A PLACE"), "button1")],
    "vague-button": [(button(words), "button1") for words in (
        "Click here", "SUBMIT", "Read more…", "OK", " more → ")],
    "vague-link": [(linked(words), "text1") for words in (
        "here", "Click here", "read more", "this link", "Learn more…")],
    "vague-form-button": [(form(lambda old, words=words: msgspec.structs.replace(
        old, submit=words)), FORM) for words in ("Submit", "OK", "Next", "Go", "continue")],
    "filler-words": [(said(words), "text1") for words in (
        "Lorem ipsum dolor", "TODO: prices", "xxxx", "Dear [name], hello", "Your text here")],
    "filler-search-words": [(set_page(SITE, PAGE, **{part: words}), PAGE) for part, words in (
        ("title", "TODO"), ("description", "Lorem ipsum dolor sit amet, consectetur elit"),
        ("title", "xxx"), ("title", "[Company] home"), ("title", "TBD"))],
    "false-urgency": [(beside(Countdown(id="k1", hours=hours)), "k1")
                      for hours in (1, 2, 24, 48, 720)],
    "countdown-without-date": [(beside(Countdown(id="k1", until=until, ended=ended)), "k1")
                               for until in ("", "  ") for ended in ("", "Over.", "x")],
    "countdown-over": [(beside(Countdown(id="k1", until=until)), "k1") for until in (
        "2001-01-01 10:00", "2020-12-31 23:59", "2024-02-29 00:00", "2025-01-01 00:00",
        "1999-12-31 23:59")],
    "no-main-heading": [(set_field(SITE, "head1", "rank", rank), PAGE) for rank in (2, 3, 4, 5, 6)],
    "second-main-heading": [
        (set_field(SITE, "head2", "rank", 1), "head2"),
        (set_field(SITE, "pophead", "rank", 1), "pophead"),
        *((beside(Heading(id=f"h{n}", words=text(f"Again {n}"), rank=1)), "*")
          for n in range(3))],
    "same-main-heading": [(set_words(SITE, "head1", (text(words),)), "head1") for words in (
        "See you", "SEE YOU", "see you", " See you ", "seE yoU")],
    "form-hidden": [(set_hidden(SITE, "formbox", width, True), "formbox") for width in Width]
    + [(set_hidden(SITE, "popup1", width, True), "formbox") for width in (Width.PHONE,
                                                                         Width.TABLET)],
    "hidden-everywhere": [(node(one, hidden=tuple(Width)), one) for one in (
        "head1", "text1", "head2", "list1", "button1")],
    "empty-section": [(hollow(), "s9"), (hollow(name="Later"), "s9"),
                      (hollow(role="footer"), "s9"), (hollow(role="header"), "s9"),
                      (hollow(shade=40), "s9")],
    "jump-to-hidden": [(set_hidden(clicked(GoSection(SITE.pages[0].variants[0].children[1].id)),
                                   SITE.pages[0].variants[0].children[1].id, width, True),
                        "button1") for width in Width],
    "ways-out": [(away(count), PAGE) for count in (11, 12, 15, 20, 40)],
    "competing-calls": [(calls(count), PAGE) for count in (3, 4, 5, 8, 12)],
    "popup-holds": [(node("popup1", outside=False, escape=False, size=size), "popup1")
                    for size in (240, 300, 460, 800, 1600)],
    "popup-at-once": [(node("popup1", after_s=seconds), "popup1") for seconds in (1, 2, 3, 4)],
    "popup-every-time": [(node("popup1", again_days=0, **by), "popup1") for by in (
        {"after_s": 30}, {"at_scroll": 50}, {"on_leave": True}, {"after_s": 3600},
        {"at_scroll": 100, "on_leave": True})],
    "long-form": [(fields(*many(count)), FORM) for count in (6, 7, 9, 12, 30)],
    "doubled-label": [(fields(FormField(id="x1", role=role, label="e-mail ")), FORM) for role in (
        Role.LINE, Role.EMAIL, Role.NAME, Role.PHONE, Role.LONG)],
    "field-without-label": [(field(one, label=words), FORM) for one in (NAME, EMAIL)
                            for words in ("", "  ")],
    "no-choice": [(fields(FormField(id="x1", role=role, label="Which?", choices=choices)), FORM)
                  for role in (Role.CHOICE, Role.CHOICES) for choices in ((), ("one",))],
    "nothing-after-sending": [
        (form(lambda old, after=after: msgspec.structs.replace(old, after=after)), FORM)
        for after in (ThankPage("gone"), ThankPage(""), ShowMessage(""), ShowMessage("  "),
                      ThankPage("page9"))],
    "list-without-consent": [
        (form(lambda old, role=role: msgspec.structs.replace(old, fields=tuple(
            msgspec.structs.replace(one, role=role) if one.role is Role.CONSENT else one
            for one in old.fields))), FORM)
        for role in (Role.LINE, Role.LONG, Role.NUMBER, Role.DATE, Role.COMPANY)],
    "ticked-consent": [(field("yes1", default=words), FORM)
                       for words in ("yes", "on", "1", "true", "x")],
    "codes-without-consent": [(coded(*purposes), PAGE) for purposes in (
        ("marketing",), ("statistics",), ("needed", "marketing"), ("marketing",) * 5,
        ("statistics", "needed"))],
    "title-cut-off": [(set_page(SITE, PAGE, title="t" * count), PAGE)
                      for count in (71, 80, 100, 150, 300)],
    "description-length": [(set_page(SITE, PAGE, description="d" * count), PAGE)
                           for count in (1, 20, 39, 181, 400)],
    "unchanged-address": [(set_slug(SITE, PAGE, slug), PAGE) for slug in (
        "new-page", "night-copy", "copy-of-night", "untitled", "night-2")],
    "file-name-for-words": [(shown(alt=alt), "p1") for alt in (
        "hill.png", "IMG_2041", "dsc 0012", "photo-3", "night.JPEG")],
    "long-picture-words": [(shown(alt="a " * count), "p1") for count in (101, 110, 150, 300, 500)],
    "heavy-picture": [(shown(file=f"a.{ending}", weight=weight), "p1") for ending, weight in (
        ("gif", 900_000), ("gif", 5_000_000), ("svg", 151_000), ("svg", 400_000),
        ("svg", 9_000_000))],
    "jumps-while-loading": [(beside(Embed(id="e1", code=code, height=height)), "e1")
                            for code, height in (
        ("<script src='https://x.example/a.js'></script>", 0), ("<IFRAME src='x'></IFRAME>", 10),
        ("<div></div><img src='x'>", 39), ("<video src='x'></video>", 1),
        ("<object data='x'></object>", 20))],
    "event-over": [(set_page(SITE, PAGE, about=About(kind="event", place="Hill", starts=starts,
                                                     ends=ends)), PAGE) for starts, ends in (
        ("2020-08-12 21:30", ""), ("2020-08-12", ""), ("2020-08-12 21:30", "2020-08-13 00:30"),
        ("2024-02-29", "2024-03-01"), ("1999-12-31 23:59", ""))],
    "about-lacks": [(set_page(SITE, PAGE, about=About(**told)), PAGE) for told in (
        {"kind": "event"}, {"kind": "event", "starts": "2999-01-01"},
        {"kind": "event", "place": "Hill"},
        {"kind": "event", "place": "Hill", "starts": "2999-02-30"},
        {"kind": "product", "price": "12"},
        {"kind": "product", "currency": "GBP"})],
    "advert-words": [(set_page(headed(headline), PAGE, advert=advert), PAGE)
                     for headline, advert in (
        ("A night outside", "Perseids 2027, free telescopes"),
        ("The barn is warm", "Learn to find meteors"),
        ("A night outside", "Night school: welding, casting, forging"),
        ("Komm mit", "Sternschnuppen über dem Hügel"), ("Come", "48 places, 12 August"))],
    "heavy-video": [(filmed(weight), section_of(SITE)) for weight in (7, 8, 12, 30, 90)],
    "plain-http": [(linked("the map", f"http://{host}/x"), "text1") for host in (
        "x.example", "a.b.example", "hill.example")]
    + [(clicked(GoAddress(f"http://{host}")), "button1") for host in ("x.example", "y.example")],
    "phone-number": [(clicked(Dial(number)), "button1") for number in (
        "020 7946 0000", "12", "", "0049 30 1234567", "call us")],
    "mail-address": [(clicked(Write(address)), "button1") for address in (
        "", "desk", "desk@", "@hill.example", "a b@hill.example")],
    "no-address": [(clicked(GoAddress(address)), "button1") for address in (
        "", "#", " ", "##", "# ")],
}
# Sites that are near a fault and have none.
FINE: Sequence[tuple[str, Site]] = (
    ("wall-of-text", said("word " * 110)), ("long-headline", headed("word " * 16)),
    ("shouting", headed("THE BBC on air")), ("shouting", headed("NASA ESA")),
    ("vague-button", button("Read more about the night")),
    ("vague-link", linked("here", "")), ("filler-words", said("Forty [not fifty] seats")),
    ("countdown-over", beside(Countdown(id="k1", until="2999-01-01 10:00"))),
    ("countdown-over", beside(Countdown(id="k1", until="soon"))),
    ("form-hidden", node("formbox", hidden=tuple(Width))),
    ("empty-section", hollow(picture="m1")), ("ways-out", away(10)),
    ("competing-calls", calls(2)), ("popup-holds", node("popup1", outside=False)),
    ("popup-at-once", node("popup1", after_s=5)),
    ("popup-every-time", node("popup1", again_days=0)), ("long-form", fields(*many(4))),
    ("nothing-after-sending", form(lambda old: msgspec.structs.replace(
        old, after=ThankPage(THANKS)))),
    ("codes-without-consent", coded("needed")),
    ("codes-without-consent", msgspec.structs.replace(
        coded("marketing"), consent=Consent(asked=True))),
    ("title-cut-off", set_page(SITE, PAGE, title="t" * 70)),
    ("description-length", set_page(SITE, PAGE, description="d" * 180)),
    ("small-type", set_look(said("word " * 20), ("text1",), "size", 12)),
    ("small-type", said("word " * 60)),
    ("mixed-languages", said("A night at the Café du Nord, and the dome of Santa Maria del Mar.")),
    ("mixed-languages", headed("Die Nacht")),
    ("claim-without-proof", linked("97 % of our guests come again")),
    ("claim-without-proof", insert(headed("Award-winning nights"), Testimonial(
        id="q1", quote=(text("True."),), name_said=text("Ro")), "head1", "after")),
    ("unchanged-address", set_slug(SITE, PAGE, "meteor-night")),
    ("file-name-for-words", shown(alt="Photo of the barn, 2041")),
    ("heavy-picture", shown(file="a.gif", weight=800_000)),
    ("heavy-picture", shown(weight=9_000_000)),
    ("jumps-while-loading", beside(Embed(id="e1", code="<p>Words</p>", height=0))),
    ("jumps-while-loading", beside(Embed(id="e1", code="<script></script>", height=40))),
    ("event-over", set_page(SITE, PAGE, about=About(kind="event", place="Hill",
                                                   starts="2020-01-01", ends="2999-01-01"))),
    ("event-over", set_page(SITE, PAGE, about=About(kind="product", starts="2020-01-01"))),
    ("about-lacks", set_page(SITE, PAGE, about=About(place="Hill"))),
    ("advert-words", set_page(headed("Perseids from the hill"), PAGE, advert="The Perseids")),
    ("advert-words", set_page(SITE, PAGE, advert="Go! To it")),
    ("heavy-video", filmed(6)), ("plain-http", linked("x", "http://hill.localhost:8000/")),
    ("phone-number", clicked(Dial("+44 20 7946 0000"))),
    ("mail-address", clicked(Write("desk@hill.example?subject=Night"))),
    ("vague-button", msgspec.structs.replace(button("OK"), language="de")),
)


class RuleTest(unittest.TestCase):
    def test_a_good_site_has_no_snag(self) -> None:
        self.assertEqual(find_snags(SITE), [])

    def test_every_planted_fault_is_found_at_its_place(self) -> None:
        for rule, plants in FAULTS.items():
            for number, (site, target) in enumerate(plants):
                with self.subTest(rule=rule, plant=number):
                    found = [snag for snag in find_snags(site) if snag.rule == rule]
                    self.assertTrue(found)
                    if target != "*":
                        self.assertIn(target, [snag.target for snag in found])
                    self.assertTrue(all(snag.where for snag in found))

    def test_what_is_near_a_fault_is_none(self) -> None:
        for number, (rule, site) in enumerate(FINE):
            with self.subTest(rule=rule, number=number):
                self.assertEqual([snag for snag in find_snags(site) if snag.rule == rule], [])

    def test_a_mend_takes_the_snag_away(self) -> None:
        for rule in ("second-main-heading", "popup-holds"):
            mend = RULES[rule].mend
            assert mend is not None
            for number, (site, _) in enumerate(FAULTS[rule]):
                with self.subTest(rule=rule, plant=number):
                    (snag,) = [snag for snag in find_snags(site) if snag.rule == rule]
                    self.assertNotIn(rule, [one.rule for one in find_snags(mend(site, snag))])

    def test_every_rule_says_why_and_from_where(self) -> None:
        for rule in RULES.values():
            with self.subTest(rule.id):
                self.assertTrue(rule.reason.endswith("."))
                self.assertTrue(rule.source)
        self.assertGreaterEqual(len(RULES), 60)

    def test_a_passage_of_two_short_paragraphs_is_no_wall(self) -> None:
        site = change(SITE, "text1", lambda old: msgspec.structs.replace(
            old, words=(text("word " * 80), text("word " * 80)))
            if isinstance(old, Passage) else old)
        self.assertNotIn("wall-of-text", [snag.rule for snag in find_snags(site)])
