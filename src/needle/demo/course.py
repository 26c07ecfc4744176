"""The long sales letter of the telescope course."""

from collections.abc import Mapping

from needle.core.kinds.chart import Chart
from needle.core.kinds.figures import Figure, Figures
from needle.core.kinds.guarantee import Guarantee
from needle.core.kinds.prices import Offer, Prices
from needle.core.kinds.questions import Answered, Questions
from needle.core.kinds.team import Member, Team
from needle.core.kinds.testimonial import Testimonial
from needle.core.kinds.video import Video
from needle.core.site.parts import Parts, Values
from needle.core.site.site import Medium, Page, Variant
from needle.core.site.tree import Column, Popup, Section
from needle.core.values.actions import OpenPopup, PlayVideo
from needle.core.values.form import Form
from needle.core.values.ids import Id
from needle.core.values.words import Text, text

__all__ = ["course_page"]

_CARD: Values = {"card": "theme"}
_MODULES = (
    ("Friday evening", "The blank", "mirror",
     "You are handed a disc of glass the size of a soup plate. By bedtime you know what it has "
     "to become, and how little glass has to go.",
     ("Rough grinding, done together", "The first test with a lamp and a card")),
    ("Saturday morning", "The curve", "moon",
     "Two hours of long, slow strokes. Nobody talks much. The curve appears by itself, which is "
     "the part that nobody believes until they have done it.",
     ("Fine grinding through three grits", "Your curve, measured to a thousandth")),
    ("Saturday afternoon", "The polish", "saturn",
     "Pitch, warm water, rouge. The glass turns from grey to black to clear, and at four o'clock "
     "you see your own face in it.",
     ("A pitch lap that you keep", "The knife-edge test, read by yourself")),
    ("Sunday", "The tube", "tube",
     "Wood, cork, two screws and a cradle. At dusk it stands on the lawn, and you are the first "
     "to look through it.",
     ("A tube and mount to take home", "First light before the drive back")),
)


def course_page(parts: Parts, page_id: Id, media: Mapping[str, Medium], form: Form,
                header: Section, footer: Section) -> Page:
    """Return the page, with its popup."""
    return _Course(parts, media, form).page(page_id, header, footer)


def _lines(*lines: str) -> tuple[Text, ...]:
    return tuple(text(line) for line in lines)


class _Course:
    def __init__(self, parts: Parts, media: Mapping[str, Medium], form: Form) -> None:
        self.p = parts
        self.media = media
        self.popup = Popup(
            id=parts.ids(), name="Ask for a place", size=520, children=(parts.row(
                parts.heading("A place at the bench", size=28),
                parts.passage("Twelve places in March, twelve in October. We write back the same "
                              "week.", style="small"), parts.form(form.id)),))
        self.open = OpenPopup(self.popup.id)
        self.video = Video(id=parts.ids(), film=media["night"].id, poster=media["sky"].id,
                           title="A night on the hill, in eight seconds")

    def page(self, page_id: Id, header: Section, footer: Section) -> Page:
        sections = (header, self._opening(), self._letter(), self._voices(), self._figures(),
                    self._team(), self._modules_head(),
                    *(self._module(n) for n in range(len(_MODULES))), self._bonuses(),
                    self._prices(), self._guarantee(), self._questions(), self._closing(), footer)
        return Page(
            id=page_id, name="Telescope course", slug="telescope-course",
            title="Make your own telescope in a weekend | Quillmoor Dark Sky",
            description=("A weekend at the bench: grind a mirror, build the tube, and look at "
                         "Saturn through it on Sunday night. Twelve places, twice a year."),
            letter_width=680, variants=(Variant(key="A", children=sections,
                                                popups=(self.popup,)),))

    def _opening(self) -> Section:
        p = self.p
        return p.section(
            "Opening",
            p.row(p.passage("A weekend course for twelve people", style="small", weight=600,
                            align="theme", colour="main"),
                  p.heading("Make your own telescope. Look through it on Sunday.", rank=1,
                            style="title", align="theme"), gap=14),
            p.row(self.video,
                  p.button("Watch the night turn", PlayVideo(self.video.id), looks="second",
                           place="theme", drawing="play"),
                  p.passage("Eight seconds, no sound. Then read on.", style="small",
                            align="theme"), gap=14),
            fill="ink", colour="paper", pad_top=36, pad_bottom=64, inner=600)

    def _letter(self) -> Section:
        p = self.p
        return p.section(
            "Letter",
            p.row(p.passage("Dear reader,"),
                  p.heading("You have looked through a good telescope once."),
                  p.passage("Perhaps it was at a star party, perhaps on a school roof. Somebody "
                            "said: there, the small bright one. You bent down, and Saturn hung "
                            "there with its ring on, and you said what everybody says.",
                            "Then you priced one."),
                  p.heading("The price is not in the glass", rank=3, style="minor"),
                  p.passage("A mirror that shows you the rings is a disc of glass from which a "
                            "spoonful has been taken away. The glass costs less than a pair of "
                            "boots. What you pay for is the patience.",
                            "Patience is what a weekend is for."),
                  p.listing("No skill with tools is needed", "No mathematics beyond halving",
                            "Nobody has ever gone home without a telescope"),
                  p.passage("In 1994 Maud Arkle stood at a bench at the back of our barn with a "
                            "disc, a tin of grit and a book that was wrong on page nine. The "
                            "mirror she made that winter is in the dome today."), gap=18))

    def _voices(self) -> Section:
        p = self.p
        said = (("“I am a bus driver. I made a parabola.”", "Wyn Tarrow", "Pell Cross"),
                ("“We did not speak for two hours and it was the best talk we had in years.”",
                 "Ida and Bram Lisle", "Nettlebridge"),
                ("“The first thing I looked at was my own chimney. I cried anyway.”",
                 "Hesper Vane", "Upper Cawl"))
        return p.section("Voices", p.row(p.heading("From the guest book", rank=2)),
                         p.row(*(p.column(Testimonial(
                             id=p.ids(), quote=_lines(words), name_said=text(who),
                             about=text(town), style="body")) for words, who, town in said),
                             gap=32), inner=980)

    def _figures(self) -> Section:
        p = self.p
        counted = Figures(id=p.ids(), entries=tuple(
            Figure(text(n), text(label)) for n, label in (
                ("31", "courses so far"), ("372", "mirrors made"), ("0", "broken"))))
        chart = Chart(id=p.ids(), words=text("Hours of truly dark sky above the hill, by month"),
                      numbers="Jan; 214\nFeb; 172\nMar; 150\nApr; 96\nMay; 31\nJun; 0\nJul; 12\n"
                              "Aug; 74\nSep; 128\nOct; 171\nNov; 198\nDec; 221", unit="h")
        return p.section("Figures", p.row(
            p.heading("What has been counted"), counted, chart,
            p.passage("The course is in March and in October: dark early, and not yet cold.",
                      style="small"), gap=24))

    def _team(self) -> Section:
        p = self.p
        people = (("Maud Arkle", "Mirrors", "Ground her first at fourteen.", "dome"),
                  ("Tobit Fenn", "Wood and cork", "Built boats before he built tubes.", "barn"),
                  ("Sunniva Ord", "The sky", "Knows what is up, and when to go in.", "meteors"))
        team = Team(id=p.ids(), entries=tuple(
            Member(text(n), text(r), _lines(a), self.media[m].id) for n, r, a, m in people))
        return p.section("Who teaches", p.row(p.heading("Who stands beside you"), team, gap=24),
                         inner=860)

    def _modules_head(self) -> Section:
        p = self.p
        return p.section("The weekend", p.row(
            p.heading("What you do, and when"),
            p.passage("Four sittings. Between them there is soup, sleep, and a walk to the stone "
                      "circle for those who want one.")), pad_top=56, pad_bottom=8)

    def _module(self, number: int) -> Section:
        p = self.p
        when, title, medium, words, made = _MODULES[number]
        left = number % 2 == 0
        picture = p.column(p.picture(self.media[medium].id, hang_by=150,
                                     hang="left" if left else "right"), share=5,
                           phone={"order": -1})
        told = p.column(p.passage(when, style="small", weight=600, colour="accent"),
                        p.heading(f"{number + 1}. {title}", rank=3, style="heading", size=28),
                        p.passage(words), p.listing(*made), share=6, gap=10)
        pair: tuple[Column, ...] = (picture, told) if left else (told, picture)
        return p.section(f"Part {number + 1}", p.row(*pair, level="center", gap=36,
                                                     phone={"gap": 20}),
                         pad_top=28, pad_bottom=28)

    def _bonuses(self) -> Section:
        p = self.p
        extras = (("book-open", "The bench book", "Every stroke we show you, drawn. Eighty "
                   "pages, and page nine is right."),
                  ("gift", "The pitch lap", "Yours to keep. The second mirror is always better."),
                  ("moon-star", "Three winter evenings", "Bring your telescope back to the dome, "
                   "any clear Friday."))
        cards = [p.column(p.icon(d, size=30), p.heading(t, rank=3, style="minor"),
                          p.passage(w, style="small"), fill="paper", gap=8, **_CARD)
                 for d, t, w in extras]
        return p.section("On top", p.row(p.heading("What comes with it")),
                         p.row(*cards, cells=3), inner=980)

    def _prices(self) -> Section:
        p = self.p
        offers = (
            Offer(text("With a bed in the barn"), text("£390"), text("for one, all in"),
                  _lines("Two nights in the loft", "All meals, from Friday soup on",
                         "Glass, grit, wood, cork", "The bench book", "Three winter evenings"),
                  _lines("A room of your own"), text("Ask for a place with a bed")),
            Offer(text("Without a bed"), text("£310"), text("for one"),
                  _lines("All lunches", "Glass, grit, wood, cork", "The bench book"),
                  _lines("The loft", "Suppers", "The winter evenings"),
                  text("Ask for a place")))
        return p.section("Prices", p.row(
            p.heading("What it costs, and what it does not hold", align="theme"),
            Prices(id=p.ids(), entries=offers, recommended=1, actions=(self.open,)), gap=28),
            inner=820)

    def _guarantee(self) -> Section:
        p = self.p
        return p.section("Guarantee", p.row(Guarantee(
            id=p.ids(), title=text("You go home with a telescope, or with your money"),
            words=_lines("If your mirror is not finished on Sunday, we finish it with you on a "
                         "day of your choice. If you would rather not, we send the whole sum "
                         "back the same week and you keep the book."))),
            pad_top=8, pad_bottom=48)

    def _questions(self) -> Section:
        p = self.p
        asked = (("Do I need to be good with my hands?", "You need two of them. The work is slow "
                  "and even, and somebody is always beside you."),
                 ("How large is the telescope?", "The mirror is six inches across, the tube four "
                  "feet long. It fits across the back seat of a small car."),
                 ("What can I see with it?", "Saturn's rings, Jupiter's bands, the craters of "
                  "the moon, and several hundred nebulae, from a dark place."),
                 ("May two of us make one?", "Yes. It is one place, one bed and two aprons; ask "
                  "us for the price of the second supper."),
                 ("What if it is cloudy on Sunday?", "You look at the lamp on the church, nine "
                  "miles off. You will count its panes."))
        return p.section("Questions", p.row(
            p.heading("Asked by nearly everybody"),
            Questions(id=p.ids(), entries=tuple(
                Answered(text(q), _lines(a)) for q, a in asked)), gap=16))

    def _closing(self) -> Section:
        p = self.p
        return p.section(
            "Closing call", p.row(
                p.heading("Twelve places, and a clear Sunday if we are lucky", align="theme"),
                p.passage("P.S. The disc you are handed on Friday is already in the barn. It is "
                          "grey, and rather heavy, and it does not know yet.", align="theme"),
                p.button("Ask for a place", self.open, place="theme", margin_top=8,
                         drawing="arrow-right", icon_side="after"), gap=18),
            picture=self.media["meteors"].id, shade=35, fill="ink", colour="paper",
            pad_top=96, pad_bottom=96)
