"""Star evenings in twelve towns: a table, and one page that becomes a page for each of them."""

from collections.abc import Mapping
from datetime import date, timedelta

from needle.core.kinds.heading import Heading
from needle.core.kinds.rowlist import RowList
from needle.core.site.parts import Parts
from needle.core.site.site import Medium, Page, Variant
from needle.core.site.tree import Section
from needle.core.values.about import About
from needle.core.values.actions import GoSection
from needle.core.values.form import Form
from needle.core.values.ids import Id, IdSource
from needle.core.values.tables import Bound, Fact, Master, Table, TableColumn, TableRow
from needle.core.values.words import Run, Text

__all__ = ["evenings"]

_COLUMNS = (("town", "Town", "text"), ("region", "Region", "choice"), ("on", "On", "date"),
            ("spot", "Where", "text"), ("own", "Own paragraph", "long"),
            ("way", "Getting there", "text"), ("phrase", "Key phrase", "text"),
            ("shot", "Picture", "picture"))
_REGIONS = ("The moor", "The coast", "The valley")
# Town, region, where, its own paragraph, the way, key phrase, picture.
_TOWNS = (
    ("Little Quill", 0, "the village green",
     "The ridge behind the church keeps the glow of the county town off the green. Orion comes up "
     "over the school roof, and the publican turns his sign out at nine.",
     "Ten minutes on foot from the bus stop.", "star evening little quill", "barn"),
    ("Harrowick", 1, "the harbour wall",
     "From the harbour wall the south is open to the sea, and on a still night the Milky Way lies "
     "in the water. Bring a coat: the wind finds you there.",
     "Twenty minutes from Quillmoor by the coast road.", "star evening harrowick", "sky"),
    ("Fenwater", 2, "the pumping station", "",
     "Park at the lock and walk along the dyke.", "star evening fenwater", "moon"),
    ("Ottermill", 2, "the old school field",
     "The old school field has a hedge on three sides and no lamp on the fourth. The mill race "
     "covers every word that is not said close by, so we speak softly and you hear owls.",
     "Follow the brown signs to the mill.", "star evening ottermill", "dome"),
    ("Larkhollow", 0, "the sheep pens",
     "Fog fills the hollow and leaves the pens above it like an island. On such nights the sky is "
     "black to the very edge and Saturn looks nailed there.",
     "The last mile is gravel; drive slowly.", "star evening larkhollow", "saturn"),
    ("Third Lamp", 2, "the bowling green", "",
     "Behind the third lamp, which is off that night.", "star evening third lamp", "moon"),
    ("Nethercombe", 2, "the weir",
     "A mile past the weir the valley bends and the village is gone. Meteors come out of the "
     "north-east there, and the farmer's dog counts them with us.",
     "By bike along the river it is flat all the way.", "star evening nethercombe", "meteors"),
    ("Brindle Cross", 0, "the four-lane cross",
     "Where four lanes meet there is a bench from 1911 with a view of everything. Two counties "
     "can be seen from it by day, and about four thousand stars by night.",
     "Any of the four lanes will do.", "star evening brindle cross", "sky"),
    ("Sallow Bay", 1, "the lifeboat slip", "",
     "Down the slip; hold the rope.", "star evening coast", "meteors"),
    ("Upper Thorne", 0, "the moor edge",
     "The moor edge, west of the last gate, is the driest ground for miles. Children see the "
     "craters of the moon there before they see their own boots.",
     "Through three gates; please shut each.", "star evening upper thorne", "moon"),
    ("Wexmoor", 0, "the peat sheds",
     "Bring boots, the path to the peat sheds is soft. What you get for it is a horizon without a "
     "single light, and peat smoke from the stove that the wardens keep going until we leave.",
     "Forty minutes on foot, or by the wardens' cart.", "star evening wexmoor", "dome"),
    ("Gannet Row", 1, "the old lookout",
     "Gulls first, and then the dark. The lookout was built to find ships; it finds Jupiter just "
     "as well, and its shutters keep the spray off the glass.",
     "Up the hundred and eight steps.", "star evening coast", "saturn"),
)


def evenings(media: Mapping[str, Medium], form: Form, header: Section, footer: Section,
             first: date) -> tuple[Table, Page]:
    """Return the table, and the page that is made for each of its rows.

    Args:
        first: The evening in the first town; the others follow week by week.
    """
    ids = IdSource(1812)
    table = _table(ids, media, first)
    return table, _Evening(Parts(ids), table, media, form).page(header, footer)


def _table(ids: IdSource, media: Mapping[str, Medium], first: date) -> Table:
    columns = tuple(TableColumn(id=key, name=name, kind=kind,
                                choices=_REGIONS if kind == "choice" else ())
                    for key, name, kind in _COLUMNS)
    rows = tuple(TableRow(ids(), (
        town, _REGIONS[region], f"{first + timedelta(weeks=week):%Y-%m-%d}", spot, own, way,
        phrase, media[shot].name))
        for week, (town, region, spot, own, way, phrase, shot) in enumerate(_TOWNS))
    return Table(id=ids(), name="Evenings", columns=columns, rows=rows)


class _Evening:
    def __init__(self, parts: Parts, table: Table, media: Mapping[str, Medium], form: Form,
                 ) -> None:
        self.p, self.table, self.media, self.form = parts, table, media, form
        # What stands where a row has nothing: the words of Harrowick.
        self.sample = table.rows[1]

    def _of(self, column: Id, shape: str = "", words: str = "") -> Run:
        return Run(words or self.table.cell(self.sample, column), column=column, shape=shape)

    def _said(self, *parts: str | Run) -> Text:
        return tuple(Run(part) if isinstance(part, str) else part for part in parts)

    def _call(self) -> Section:
        p = self.p
        return p.section("Keep a place", p.row(
            p.column(p.heading("Sixteen places, the same evening for all"),
                     p.passage("We write at four in the afternoon and say whether the sky will "
                               "open."), share=6, gap=12),
            p.column(p.form(self.form.id), share=5), gap=56, phone={"gap": 24}))

    def page(self, header: Section, footer: Section) -> Page:
        p = self.p
        picture = p.picture(self.media["sky"].id)
        call = self._call()
        opening = p.section(
            "Opening",
            p.row(p.column(
                p.passage(self._said(self._of("on", "day", "12 August"), ", ", self._of("town")),
                          style="small", weight=600, colour="main"),
                Heading(id=p.ids(), rank=1, style="title", words=self._said(
                    "A star evening above ", self._of("town"))),
                p.passage(self._said("We bring eight telescopes to ", self._of("spot"), ". Two "
                                     "hours, two guides, and nothing to pay if it is cloudy."),
                          style="subtitle"),
                p.button("Keep me a place", GoSection(call.id), phone={"width": "full"}),
                share=7, gap=18),
                p.column(picture, share=5), level="center", gap=48, phone={"gap": 24}),
            fill="ink", colour="paper", space="wide")
        sky = p.section(
            "The sky here",
            p.row(p.heading("What the sky is like here"),
                  p.passage(self._said(self._of("own", words="We have not written about this "
                                                "place yet.")))), inner=760)
        bring = p.section(
            "What we bring",
            p.row(p.heading("What we bring, and what you bring")),
            p.row(p.column(p.listing(
                "Eight telescopes, from one that a child can turn to the 12-inch",
                "Two guides who have done this for years and still look up first",
                "Blankets, red lamps, and soup from the barn kitchen",
                "A chart of the evening's sky that is yours to keep")),
                p.column(p.listing(
                    "One layer more than you think, and socks that are longer than usual",
                    "Spectacles, if you wear any: every eyepiece can be used with them",
                    "Children from eight; younger ones if they like the dark",
                    "No torch, please: it takes twenty minutes to see again after one")),
                gap=40, phone={"gap": 12}))
        runs = p.section("How it runs", p.row(
            p.heading("How the evening runs"),
            p.passage("We begin when the first star is out. The guides show what can be seen "
                      "without any help, then the planets through the small telescopes, and, when "
                      "it is quite dark, whatever is worth the large one that night. Nobody has "
                      "to queue, and nobody has to know anything.")), inner=760)
        way = p.section("Getting there", p.row(
            p.heading("Getting there"), p.passage(self._said(self._of("way")))), inner=760)
        near = p.section(
            "Near by",
            p.row(p.heading("Other evenings near by")),
            p.row(RowList(
                id=p.ids(), table=self.table.id, same="region", order="on", most=3, picture="shot",
                title=self._said(self._of("town")),
                words=self._said(self._of("on", "day", "12 August"), ", ", self._of("spot")))))
        master = Master(
            table=self.table.id, slug=self._said("star-evening-", self._of("town")),
            title=self._said("Star evening in ", self._of("town"), " | Quillmoor Dark Sky"),
            description=self._said(
                "Eight telescopes at ", self._of("spot"), ", ", self._of("on", "day", "12 August"),
                ". Two hours, two guides, and you pay only if the sky over ", self._of("town"),
                " is clear."),
            apart=(Bound(node=picture.id, field="medium", column="shot"),),
            facts=(Fact(field="starts", column="on"), Fact(field="place", column="spot")))
        return Page(
            id=p.ids(), name="Star evening", slug="star-evening",
            title="Star evening in Harrowick | Quillmoor Dark Sky",
            description=("Eight telescopes at the harbour wall, 12 August. Two hours, two guides, "
                         "and you pay only if the sky over Harrowick is clear."),
            about=About(kind="event", name="Star evening"),
            master=master, variants=(Variant(
                key="A", children=(header, opening, sky, bring, runs, way, near, call, footer)),))

