"""The observatory's shop: twenty things, what there is of each, and what people say of them."""

from collections.abc import Mapping, Sequence
from datetime import date, timedelta

import msgspec

from needle.core.kinds.cart import CartBox
from needle.core.kinds.gallery import Gallery, Shot
from needle.core.kinds.goods import GoodsBox
from needle.core.kinds.heading import Heading
from needle.core.kinds.rowlist import RowList
from needle.core.kinds.trail import Trail
from needle.core.site.parts import Parts
from needle.core.site.site import Medium, Page, Service, Variant
from needle.core.site.tree import Section
from needle.core.values.about import About
from needle.core.values.actions import GoPage, GoSection
from needle.core.values.form import Form, FormField, Letter, NoticeRoute, Role, ShowMessage
from needle.core.values.ids import Id, IdSource
from needle.core.values.shop import Coupon, Extra, Land, PayWay, Way
from needle.core.values.shop import Shop as ShopSettings
from needle.core.values.tables import (
    Bound,
    Condition,
    Master,
    OnlyFor,
    Table,
    TableColumn,
    TableRow,
)
from needle.core.values.words import Run

__all__ = ["Shop"]

_Columns = Sequence[tuple[str, str, str, str]]
_SHELVES: _Columns = (("shelf", "Shelf", "text", ""), ("shelf_line", "In a line", "text", ""),
                      ("shelf_told", "Told", "long", ""), ("shelf_shot", "Picture", "picture", ""))
_THINGS: _Columns = (
    ("thing", "Thing", "text", ""), ("price", "Price", "money", "price"),
    ("sale", "Sale price", "money", "sale"), ("from", "Sale begins", "date", "from"),
    ("until", "Sale ends", "date", "until"), ("stock", "Stock", "number", "stock"),
    ("kind", "Shelf", "link", ""), ("tags", "Tags", "tags", ""),
    ("since", "Since", "date", "added"), ("sold", "Sold", "number", "sold"),
    ("first", "Shown first", "yes", "featured"), ("sku", "Item number", "text", "sku"),
    ("line", "In a line", "text", ""), ("told", "Told", "long", ""),
    ("shots", "Pictures", "pictures", ""), ("with", "Often bought with it", "tags", "together"))
_SIZES: _Columns = (("size_row", "Name", "text", ""), ("size_of", "Thing", "link", ""),
                    ("size", "Size", "text", "option"), ("size_price", "Price", "money", "price"),
                    ("size_stock", "Stock", "number", "stock"))
_SAID: _Columns = (("said_by", "Who", "text", ""), ("said_of", "Thing", "link", ""),
                   ("stars", "Stars", "number", "rating"), ("said", "Words", "long", ""))
_SHELF_ROWS = (
    ("Light", "Lamps that leave the night alone.",
     "Red light keeps your eyes used to the dark; white light takes them twenty minutes back. "
     "Everything on this shelf has been carried over the moor by us first.", "torch"),
    ("Charts and paper", "To find things by, and to hang up.",
     "We print small runs with a printer in Harrowick, on paper that stands the dew. Folded ones "
     "come flat, posters come rolled.", "wheel"),
    ("For the bench", "What one makes a telescope of.",
     "The same glass, grit and cork that we use in the course. Ask us before you order a mirror: "
     "half of all questions are about the size.", "kit"),
    ("To give", "For people who have everything but the dark.",
     "Vouchers come by post or by mail, on the day you say. What is warm comes wrapped.",
     "voucher"))
_WITH = {"Red torch": "Head lamp, Star wheel", "Head lamp": "Red torch, Red film",
         "Star wheel": "Red torch, Moon map", "Moon map": "Star wheel, The evening book",
         "Mirror kit": "Pitch and cork, Grit set, Test lamp", "Grit set": "Pitch and cork",
         "The evening book": "Star wheel, Red torch"}
# Thing, price, sale, stock, shelf, tags, weeks on sale, sold, first, in a line, told, pictures.
_THING_ROWS = (
    ("Red torch", 24, 19, 42, 0, "red light, pocket", 60, 412, 1, "One red light, no menu.",
     "A knurled tube, one switch, red light and nothing else. It runs sixty hours on one cell and "
     "can be found in a coat by feel.", "torch headlamp"),
    ("Head lamp", 31.5, 0, 3, 0, "red light, hands free", 34, 188, 0,
     "Red first, white only when you ask twice.",
     "The switch begins with red, so that nobody is blinded by accident. The band is knitted, "
     "and washes.", "headlamp torch"),
    ("Step lights, six", 18, 0, 25, 0, "red light, garden", 12, 61, 0,
     "Six small lights for a path.",
     "They mark the way to the telescope without lighting it. A screw foot for grass, a flat one "
     "for stone.", "torch"),
    ("Red film, two sheets", 6, 0, 120, 0, "red light, paper", 80, 240, 0,
     "Makes any lamp a red one.", "Cut it to size and tape it on: car lamps, telephones, torches.",
     "headlamp"),
    ("Star wheel", 14, 0, 60, 1, "chart, pocket, children", 90, 655, 1,
     "Turn the day to the hour and look up.",
     "The whole sky over the moor for every hour of the year, on two discs of card that do not "
     "curl in the dew.", "wheel book"),
    ("Moon map", 9, 7, 80, 1, "chart, moon", 20, 133, 0, "Every crater that has a name here.",
     "The near side with three hundred names, once as one sees it and once as a telescope turns "
     "it.", "moon wheel"),
    ("The season's calendar", 12, 0, 0, 1, "paper, year", 6, 310, 0,
     "Where the planets stand, week by week.",
     "Twelve pages with a chart each, and room to write down what you saw.", "calendar"),
    ("Poster: the Milky Way", 16, 0, None, 1, "paper, wall", 48, 97, 0,
     "From our own hill, four nights long.",
     "Photographed above the barn in four clear nights of one week, printed without a border line.",
     "poster sky"),
    ("Postcards, ten", 7.5, 0, 200, 1, "paper, gift", 70, 402, 0, "Ten nights, one hill.",
     "Ten pictures by our guides, with the date and what can be seen on the back.",
     "postcards sky saturn"),
    ("The evening book", 19, 0, 34, 1, "paper, book", 15, 76, 0,
     "What to look at, month by month.",
     "Forty evenings for the bare eye, binoculars and a small telescope, by the two people who "
     "guide here most.", "book"),
    ("Mirror kit", 96, 0, None, 2, "bench, glass", 64, 58, 1,
     "Two blanks, seven grits, and patience.",
     "Blank, tool, seven grits, pitch and cork, with the bench book. What it takes besides: thirty "
     "hours and a steady table.", "kit mirror tube"),
    ("Grit set", 28, 0, 14, 2, "bench", 40, 44, 0, "Seven grades, sealed.",
     "For one mirror of up to twenty centimetres. Each grade in its own tin, so that none gets "
     "into the next.", "kit"),
    ("Pitch and cork", 17, 0, 22, 2, "bench", 40, 39, 0, "To polish on, and to hold.",
     "A block of pitch, four discs of cork and a stick to stir with.", "mirror kit"),
    ("Test lamp", 34, 29, 5, 2, "bench, light", 9, 12, 0, "See the last wave on the glass.",
     "A slit, a lamp and a blade on one slide. The bench book shows what each shadow means.",
     "mirror"),
    ("Finder, red dot", 42, 0, 8, 2, "telescope, red light", 22, 31, 0,
     "Point it where you look.", "A red dot on glass that seems to lie upon the sky. Fits every "
     "tube with two screws.", "tube"),
    ("Voucher for an evening", 24, 0, None, 3, "gift, evening", 99, 520, 1,
     "Any open evening, any Thursday to Sunday.",
     "For one guest on any open evening within three years. If it is cloudy it stays good.",
     "voucher dome"),
    ("Voucher for the bench", 180, 0, None, 3, "gift, bench", 50, 23, 0,
     "A weekend in which a mirror is made.",
     "For one place at the bench, in March or October, with bed, suppers and the glass.",
     "voucher mirror"),
    ("Wool blanket", 58, 0, None, 3, "gift, warm", 18, 66, 0, "Woven in the valley.",
     "From the mill at Ottermill, undyed weft, heavy enough to sit under until two.",
     "blanket barn"),
    ("Dome mug", 11, 0, 47, 3, "gift, warm", 30, 214, 0, "Holds soup as well.",
     "Thrown by Ruth in Little Quill, with the dome on one side and Orion on the other.",
     "mug dome"),
    ("Flask, one litre", 27, 22, 0, 3, "warm, evening", 27, 140, 0,
     "Tea at two in the morning.",
     "Steel, with a lid that makes two cups. We have carried the same one for eleven years.",
     "mug"))
_SIZE_ROWS = (("Wool blanket", "For one", "", "12"), ("Wool blanket", "For two", "84.00 GBP", "2"),
              ("Poster: the Milky Way", "30 × 45 cm", "", "40"),
              ("Poster: the Milky Way", "60 × 90 cm", "29.00 GBP", "0"),
              ("Mirror kit", "11 cm", "", "9"), ("Mirror kit", "15 cm", "138.00 GBP", "4"),
              ("Mirror kit", "20 cm", "196.00 GBP", "1"))
_SAID_ROWS = (
    ("Ros", "Red torch", 5, "Found it in the grass by feel."),
    ("Ibrahim", "Red torch", 4, "One wishes for a loop to hang it by."),
    ("Ann", "Red torch", 5, "Sixty hours is true."),
    ("Pia", "Star wheel", 5, "My daughter had Orion in a minute."),
    ("Joss", "Star wheel", 5, "Survived a wet night."),
    ("Mo", "Star wheel", 4, "The small stars are small."),
    ("Kit", "Head lamp", 3, "The band is wide for a child."),
    ("Lena", "Mirror kit", 5, "Thirty-four hours, and then Saturn."),
    ("Tam", "Mirror kit", 5, "The bench book answers what one asks."),
    ("Ed", "Dome mug", 4, "Heavy, and warm for long."),
    ("Una", "Voucher for an evening", 5, "Cloudy twice, and nobody made a fuss."),
    ("Bea", "Wool blanket", 5, "Two of us, until two."),
    ("Cal", "The evening book", 4, "Reads itself aloud."),
    ("Dot", "Moon map", 5, "Names for everything at last."))


class Shop:
    """Makes the shop's tables, its form, and four pages: the front, each shelf, each
    thing, the cart."""

    def __init__(self, media: Mapping[str, Medium], mailbox: Id, night: Id, today: date) -> None:
        self._ids = IdSource(1668)
        self._media, self._night, self._today = media, night, today
        self._p = Parts(self._ids)
        self.front_id, self.cart_id, self._thing_id, self._shelf_id = (
            self._ids() for _ in range(4))
        self.shelves = self._table("Shelves", _SHELVES, [
            (*row[:3], media[row[3]].name) for row in _SHELF_ROWS])
        self.things = self._table("Shop", _THINGS, list(map(self._thing, range(20))),
                                  self.shelves.id)
        self.sizes = self._table("Sizes", _SIZES, [
            (f"{row[0]}, {row[1]}", *row) for row in _SIZE_ROWS], self.things.id)
        self.said = self._table("Said of things", _SAID, [
            (who, thing, str(stars), words) for who, thing, stars, words in _SAID_ROWS],
            self.things.id)
        self.tables = (self.shelves, self.things, self.sizes, self.said)
        self.form = self._ordering(mailbox)
        self.paydesk = Service(id="paydesk", name="Barn till", does="pay", practice=True)

    def _table(self, name: str, columns: _Columns, rows: Sequence[tuple[str, ...]], of: Id = "",
               ) -> Table:
        made = tuple(TableColumn(id=key, name=heading, kind=kind, means=means,
                                 of=of if kind == "link" else "")
                     for key, heading, kind, means in columns)
        return Table(id=self._ids(), name=name, columns=made,
                     rows=tuple(TableRow(self._ids(), row) for row in rows))

    def _thing(self, number: int) -> tuple[str, ...]:
        (name, price, sale, stock, shelf, tags, weeks, sold, first, line, told,
         shots) = _THING_ROWS[number]
        begun = self._today - timedelta(weeks=weeks)
        # The demo is looked at some weeks after its test began.
        days = (f"{self._today + timedelta(days=14)}", f"{self._today + timedelta(days=40)}")
        return (name, f"{price:.2f} GBP", f"{sale:.2f} GBP" if sale else "",
                *(days if sale else ("", "")), "" if stock is None else str(stock),
                _SHELF_ROWS[shelf][0], tags, f"{begun}", str(sold), "yes" if first else "",
                f"QM-{number + 1:02}", line, told,
                "; ".join(self._media[shot].name for shot in shots.split()),
                _WITH.get(name, ""))

    def _ordering(self, mailbox: Id) -> Form:
        return Form(
            id=self._ids(), name="Order", submit="Order, with duty to pay", keep_unfinished=True,
            fields=(FormField(id=self._ids(), role=Role.NAME, label="Your name", required=True),
                    FormField(id=self._ids(), role=Role.EMAIL, label="E-mail", required=True),
                    FormField(id=self._ids(), role=Role.LINE, label="Street and town",
                              hint="for what is sent"),
                    FormField(id=self._ids(), role=Role.LONG, label="Anything we should know?"),
                    FormField(id=self._ids(), role=Role.CONSENT, required=True,
                              label="I have read what is sold and how it can be sent back")),
            after=ShowMessage("Thank you. Your order is kept, and a letter with all of it is on "
                              "its way to you."),
            letter=Letter(mailbox, "Your order at the barn",
                          "Thank you. This is what we keep for you. Behind the link you see how "
                          "it stands, and can take it back until we have packed it."),
            routes=(NoticeRoute(id=self._ids(), service=mailbox, to="desk@quillmoor.example"),))

    @property
    def shop(self) -> ShopSettings:
        """How all of it is sold."""
        return ShopSettings(
            table=self.things.id, form=self.form.id, cart=self.cart_id, currency="GBP", tax="20",
            ways=(Way(id="bypost", name="By post", price="3.90", free_from="60", lands=("GB",)),
                  Way(id="fetched", name="Fetched at the barn", kind="fetch"),
                  Way(id="abroad", name="By post, abroad", price="11.50",
                      lands=("IE", "DE", "US"))),
            lands=(Land(code="GB", tax="20"), Land(code="IE", tax="23"),
                   Land(code="DE", tax="19"), Land(code="US")), reverse=True,
            pays=(PayWay(id="atonce", name="At once, by card", kind="service",
                         service=self.paydesk.id),
                  PayWay(id="bybill", name="By bank transfer",
                         words="To Quillmoor Evenings, account 00-0000, within two weeks.")),
            extra=Extra(row=self.things.rows[4].id, percent="20",
                        words="The whole sky for every hour of the year."),
            tip="For the children's telescope",
            seller="Quillmoor Evenings\nThe barn, Moor Lane 1\nHarrowick\n"
                   "Tax number GB 000 0000 00",
            coupons=(Coupon(id="firstnight", code="FIRSTNIGHT", value="10", from_sum="20",
                            once=True),))

    # Pages

    def _of(self, column: Id, words: str) -> Run:
        return Run(words, column=column)

    def _listed(self, across: int = 4, **fields: object) -> RowList:
        return RowList(id=self._ids(), table=self.things.id, across=across, picture="shots",
                       title=(self._of("thing", "Red torch"),),
                       words=(self._of("line", "One red light, no menu."),),
                       **fields)  # type: ignore[arg-type]

    def _come(self) -> Section:
        p = self._p
        return p.section("Come", p.row(
            p.heading("Or come, and look through ours", style="heading"),
            p.button("Keep me a place", GoPage(self._night)), gap=16),
            fill="ink", colour="paper")

    def front(self, header: Section, footer: Section) -> Page:
        """Return the page of the whole shop."""
        p = self._p
        shelves = RowList(id=self._ids(), table=self.shelves.id, across=4, picture="shelf_shot",
                          title=(self._of("shelf", "Light"),),
                          words=(self._of("shelf_line", "Lamps that leave the night alone."),),
                          priced=False)
        opening = p.section("Opening", p.row(
            p.heading("The shop at the barn", rank=1, style="title"),
            p.passage("What we carry over the moor ourselves, and what we make at the bench. "
                      "Fetch it on any open evening, or have it sent.", style="subtitle",
                      max_width=620),
            p.button("Look through all of it", GoSection(all_of_it := self._ids())), gap=16),
            fill="ink", colour="paper")
        everything = p.section("All of it", p.row(p.heading("All of it")), p.row(
            self._listed(search=True, by="kind", step=8, order="thing")))
        return Page(
            id=self.front_id, name="Shop", slug="shop",
            title="Red torches, star wheels, mirror kits | Quillmoor Dark Sky",
            description=("Red light, star charts, what one makes a mirror of, and vouchers for an "
                         "evening on the hill: the shop at the barn."),
            variants=(Variant(key="A", children=(
                header, opening,
                p.section("Shelves", p.row(p.heading("Four shelves")), p.row(shelves)),
                p.section("On sale", p.row(p.heading("For less, for some weeks")), p.row(
                    self._listed(choose="sale", nothing="Nothing is on sale just now."))),
                p.section("First", p.row(p.heading("What most people begin with")), p.row(
                    self._listed(choose="best", most=4))),
                msgspec.structs.replace(everything, id=all_of_it), self._come(), footer)),))

    def cart(self, header: Section, footer: Section) -> Page:
        """Return the page with the cart, on which orders are made."""
        p = self._p
        return Page(
            id=self.cart_id, name="Cart", slug="cart", title="Your cart | The shop at Quillmoor",
            description="What you are about to order from the shop at the barn.", unlisted=True,
            variants=(Variant(key="A", children=(
                header,
                p.section("Cart", p.row(p.heading("Your cart", rank=1, style="title"),
                                        CartBox(id=self._ids())), inner=760),
                p.section("Order", p.row(p.heading("Order it"),
                                         p.passage("Who pays by card is led to the till next. "
                                                   "Until we have packed it, you can take it "
                                                   "back behind the link in our letter."),
                                         p.form(self.form.id)), inner=620), footer)),))

    def shelf(self, header: Section, footer: Section) -> Page:
        """Return the page that is made for each shelf."""
        p = self._p
        opening = p.section("Opening", p.row(Trail(id=self._ids())), p.row(
            p.heading((self._of("shelf", "Light"),), rank=1, style="title"),
            p.passage((self._of("shelf_told", _SHELF_ROWS[0][2]),), style="subtitle",
                      max_width=680),
            p.button("Look at all of it", GoSection(there := self._ids())), gap=14), gap=18)
        full = p.row(self._listed(same="kind", order="price"))
        empty = p.row(p.heading("This shelf is empty just now", style="minor"),
                      p.passage("What was on it comes back in spring. The other shelves are full."))
        master = Master(
            table=self.shelves.id, slug=(Run("shop-"), self._of("shelf", "Light")),
            title=(self._of("shelf", "Light"), Run(" | The shop at Quillmoor")),
            description=(self._of("shelf_line", "Lamps that leave the night alone."),
                         Run(" From the shop at the barn, fetched or sent.")),
            parts=tuple(OnlyFor(node=row.id, condition=Condition(column="kind", test=test))
                        for row, test in ((full, "linked"), (empty, "unlinked"))))
        return Page(
            id=self._shelf_id, name="Shelf", slug="shop-shelf", title="A shelf of the shop",
            description="From the shop at the barn, fetched or sent.",
            master=master, variants=(Variant(key="A", children=(
                header, opening,
                msgspec.structs.replace(p.section("On this shelf", full, empty), id=there),
                self._come(), footer)),))

    def thing(self, header: Section, footer: Section) -> Page:
        """Return the page that is made for each thing."""
        p = self._p
        shots = Gallery(id=self._ids(), layout="strip", entries=(Shot(self._media["torch"].id),))
        gone = p.passage("Ask all the same: we write as soon as it is back.", weight=600)
        opening = p.section(
            "Thing", p.row(Trail(id=self._ids())),
            p.row(p.column(shots, share=6), p.column(
                Heading(id=self._ids(), rank=1, style="title",
                        words=(self._of("thing", "Red torch"),)),
                p.passage((self._of("line", "One red light, no menu."),), style="subtitle"),
                GoodsBox(id=self._ids(), few=5, buys=True), gone,
                share=6, gap=16), level="start", gap=56, phone={"gap": 24}), gap=18)
        told = p.section("Told", p.row(p.heading("What it is"), p.passage(
            (self._of("told", _THING_ROWS[0][10]),)), gap=12), inner=760)
        said = RowList(id=self._ids(), table=self.said.id, layout="lines", same="said_of",
                       title=(self._of("said_by", "Ros"), Run(", "), self._of("stars", "5"),
                              Run(" of 5")),
                       words=(self._of("said", "Found it in the grass by feel."),), leads=False)
        heard = p.section("Said", p.row(p.heading("What people say of it"), said), inner=760)
        alike = p.section("Alike", p.row(p.heading("Goes well with it")), p.row(
            self._listed(choose="related", most=4)))
        seen = p.section("Seen", p.row(
            p.heading("What you looked at", style="minor"),
            self._listed(6, choose="seen", nothing="Nothing else yet in this visit.")),
            space="narrow")
        master = Master(
            table=self.things.id, slug=(Run("shop-"), self._of("thing", "Red torch")),
            title=(self._of("thing", "Red torch"), Run(" | The shop at Quillmoor")),
            description=(self._of("line", "One red light, no menu."),
                         Run(" From the shop at the barn, fetched on an open evening or sent.")),
            apart=(Bound(node=shots.id, field="medium", column="shots"),),
            parts=(OnlyFor(node=gone.id, condition=Condition(column="stock", test="less",
                                                             value="1")),
                   OnlyFor(node=heard.id, condition=Condition(column="said_of", test="linked"))))
        return Page(
            id=self._thing_id, name="Thing", slug="shop-thing", title="A thing of the shop",
            description="From the shop at the barn, fetched on an open evening or sent.",
            about=About(kind="product"), master=master, variants=(Variant(key="A", children=(
                header, opening, told, heard, alike, seen, self._come(), footer)),))
