"""The whole site as one value."""

from collections.abc import Iterator, Mapping
from typing import Annotated

from needle.core.site.tree import Popup, Section, walk
from needle.core.values.about import About
from needle.core.values.advert import AdvertWords
from needle.core.values.brand import Brand, Mark, ShareCard, Swatch
from needle.core.values.brief import Brief
from needle.core.values.form import Form
from needle.core.values.ids import Id, OwnId
from needle.core.values.language import ENGLISH, Language
from needle.core.values.look import PLAIN, Look
from needle.core.values.media import Cut, Font, Medium
from needle.core.values.node import Node, check_look
from needle.core.values.outside import OutsidePart
from needle.core.values.outsidecall import OutsideCall
from needle.core.values.passing import Passed
from needle.core.values.remembering import remembered
from needle.core.values.rows import RowOf
from needle.core.values.shop import NO_SHOP, Shop
from needle.core.values.strict import Address, Choice, Domain, Slug, StyleKey, VariantKey, whole
from needle.core.values.tables import NO_MASTER, Master, Table
from needle.core.values.targets import Target
from needle.core.values.testplan import NO_PLAN, GoalWorth, LinkGoal, Reach, TestPlan
from needle.core.values.tracking import Consent, TrackingCode
from needle.core.values.value import Value

__all__ = ["NO_CODE", "SCHEMA", "Brand", "Brief", "Code", "Cut", "EndedTest", "Folder", "Font",
           "Kept", "Mark", "Medium",
           "Page", "Service", "ShareCard", "Site", "Swatch", "TextStyle", "Variant"]

SCHEMA = 2


class TextStyle(Value, frozen=True):
    """A named look of text for the whole site."""

    key: StyleKey
    name: str
    look: Look = PLAIN

    def __post_init__(self) -> None:
        Value.__post_init__(self)
        check_look(self.look, f"text style {self.key}")


class Service(Value, frozen=True):
    """A service that leads are sent to, or that orders are paid at.

    Attributes:
        does: Its kind: "list", "mail", "hook", "file", "contacts" or "pay".
        practice: It is one of the stand-ins that ship with Needle.
        address: Where one's own is; unused for practice.
        options: Its kind's further settings, by name; never keys.
    """

    id: OwnId
    name: str
    does: Choice
    practice: bool = False
    address: str = ""
    options: Mapping[str, str] = {}


class Code(Value, frozen=True):
    """Outside code that the marketer adds, as pasted.

    Attributes:
        head: For the end of the head.
        body: For the end of the body.
        css: Own rules, after all of Needle's.
    """

    head: str = ""
    body: str = ""
    css: str = ""


NO_CODE = Code()


class Folder(Value, frozen=True):
    """Pages that belong together: a journey from an advert to a thank-you."""

    id: OwnId
    name: str
    code: Code = NO_CODE


class Kept(Value, frozen=True):
    """A section that is kept for use on other pages.

    Attributes:
        linked: Every use follows it, and it follows every use.
    """

    id: OwnId
    name: str
    section: Section
    linked: bool = False


class Variant(Value, frozen=True):
    """One version of a page. A page without a split test has one.

    Attributes:
        key: "A", "B", …
        share: How many of a hundred visitors see it, while a test runs.
    """

    key: VariantKey
    share: Annotated[int, whole(0, 100)] = 100
    children: tuple[Section, ...] = ()
    popups: tuple[Popup, ...] = ()

    def nodes(self) -> Iterator[Node]:
        """Yield every node in reading order, popups last."""
        return iter(remembered(self, "nodes_in_order", _in_order))


def _in_order(variant: Variant) -> tuple[Node, ...]:
    return tuple(node for top in (*variant.children, *variant.popups) for node in walk(top))


class EndedTest(Value, frozen=True):
    """A split test that is over. Its figures are those of its own time and never change.

    Attributes:
        started, ended: ISO times, UTC: since when visitors got the variants, and until when it
            counted.
        kept: The variant that was kept.
        shares: How many of a hundred visitors were to see each variant, by its key.
        plan: How it was meant.
    """

    started: str
    ended: str
    kept: VariantKey
    shares: Mapping[VariantKey, int]
    plan: TestPlan = NO_PLAN


class Page(Value, frozen=True):
    """A page of the site.

    Attributes:
        slug: Its address below the site; empty for the home page.
        title, description: For search results.
        variants: At least one; two or more while a split test runs.
        archive: Variants of ended tests, kept.
        test_started: ISO time, UTC, at which the running test was made; earlier Needles kept
            its date alone.
        plan: How the running test is meant.
        reaches: What counts on it besides forms and clicks.
        links: Links in its menus and words whose clicks count.
        ended: Tests that are over, oldest first.
        folder: The folder it is in; empty for none.
        letter_width: How wide the sections' contents are, in CSS pixels, where a section sets
            nothing else; 0 leaves it to the default.
        share: The picture that is shown where the page is shared; empty for one made from
            the brand.
        unlisted: Searches are asked to leave it out, as a page of thanks.
        advert: What the advert says that leads here; visitors look for its words.
        about: What searches are told besides: an event, or a product.
        invented: Which of "name", "title" and "description" wait to be confirmed.
        master: For which rows of which table there is one page each, in place of this one.
        row: Of an expanded page: the row that it is for. No page of a project has one.
    """

    id: OwnId
    name: str
    slug: Slug = ""
    title: str = ""
    description: str = ""
    variants: tuple[Variant, ...] = ()
    archive: tuple[Variant, ...] = ()
    test_started: str = ""
    ended: tuple[EndedTest, ...] = ()
    plan: TestPlan = NO_PLAN
    reaches: tuple[Reach, ...] = ()
    links: tuple[LinkGoal, ...] = ()
    folder: Id = ""
    letter_width: int = 0
    code: Code = NO_CODE
    share: Id = ""
    invented: tuple[str, ...] = ()
    unlisted: bool = False
    advert: str = ""
    about: About = About()
    master: Master = NO_MASTER
    row: RowOf = RowOf()

    def variant(self, key: str) -> Variant:
        """Return a variant by its key; the first one if there is none with it."""
        return next((v for v in self.variants if v.key == key), self.variants[0])

    @property
    def tested(self) -> bool:
        """Whether a split test runs on it."""
        return len(self.variants) > 1


class Site(Value, frozen=True):
    """Everything that makes a site.

    Attributes:
        address: The name it is published under: "quillmoor" for quillmoor.localhost.
        language: That of all pages, of what forms say of their own, and of dates and numbers.
        fonts: Cuts of type that were added to those that ship.
        open_to: Hosts that pages may reach besides those that their codes name.
        passed: Snags that are let be.
        domain: The name that it has in public, as "www.quillmoor.example"; empty for none.
        served_at: Where the pages stand for that domain: a machine's name, or addresses.
        outside: Forms and popups that are shown on pages made elsewhere.
        calls: What pages made elsewhere call in.
        adverts: Words on pages that the address of an advert chooses.
        worths: What goals are worth, and which one is the main one.
        shop: What is sold, and how.
        targets: Where it is sent to besides the test address.
        invented: Says "name" while the name waits to be confirmed.
        tables: Each with its rows, which a project keeps as CSV files.
    """

    id: OwnId
    name: str
    address: Address
    brand: Brand
    language: Language = ENGLISH
    brief: Brief = Brief()
    styles: tuple[TextStyle, ...] = ()
    pages: tuple[Page, ...] = ()
    forms: tuple[Form, ...] = ()
    services: tuple[Service, ...] = ()
    media: tuple[Medium, ...] = ()
    folders: tuple[Folder, ...] = ()
    kept: tuple[Kept, ...] = ()
    fonts: tuple[Font, ...] = ()
    code: Code = NO_CODE
    tracking: tuple[TrackingCode, ...] = ()
    consent: Consent = Consent()
    open_to: tuple[str, ...] = ()
    invented: tuple[str, ...] = ()
    passed: tuple[Passed, ...] = ()
    targets: tuple[Target, ...] = ()
    domain: Domain = ""
    served_at: str = ""
    outside: tuple[OutsidePart, ...] = ()
    calls: tuple[OutsideCall, ...] = ()
    adverts: tuple[AdvertWords, ...] = ()
    worths: tuple[GoalWorth, ...] = ()
    shop: Shop = NO_SHOP
    tables: tuple[Table, ...] = ()

    def page(self, page_id: Id) -> Page | None:
        """Return a page by its id."""
        return next((page for page in self.pages if page.id == page_id), None)

    def entry(self, page_id: Id) -> Page | None:
        """Return the page that a link leads to: of one for each row, that of the first row."""
        return self.page(page_id) or next(
            (page for page in self.pages if page.row.page == page_id), None)

    def named_pages(self) -> tuple[tuple[Id, str, str], ...]:
        """Return id, name and slug of each page that menus and links may name: the pages of rows
        together as the one that makes them, at the address of the first."""
        found: dict[Id, tuple[Id, str, str]] = {}
        for page in self.pages:
            if page.row.page:
                found.setdefault(page.row.page, (page.row.page, page.row.name, page.slug))
            else:
                found[page.id] = (page.id, page.name, page.slug)
        return tuple(found.values())

    def form(self, form_id: Id) -> Form | None:
        """Return a form by its id."""
        return next((form for form in self.forms if form.id == form_id), None)

    def medium(self, medium_id: Id) -> Medium | None:
        """Return a medium by its id."""
        return next((medium for medium in self.media if medium.id == medium_id), None)

    def folder(self, folder_id: Id) -> Folder | None:
        """Return a folder by its id."""
        return next((folder for folder in self.folders if folder.id == folder_id), None)

    def kept_section(self, kept_id: Id) -> Kept | None:
        """Return a kept section by its id."""
        return next((kept for kept in self.kept if kept.id == kept_id), None)

    def tracking_on(self, page: Page) -> tuple[TrackingCode, ...]:
        """Return the tracking codes that are switched on and reach a page."""
        return tuple(code for code in self.tracking
                     if code.on and code.reach in (
                         "", page.folder or "-", page.row.page or page.id))

    def codes(self, page: Page) -> tuple[Code, ...]:
        """Return the outside code that reaches a page: the site's, its folder's, its own."""
        folder = self.folder(page.folder)
        return (self.code, folder.code if folder else NO_CODE, page.code)

    def service(self, service_id: Id) -> Service | None:
        """Return a service by its id."""
        return next((service for service in self.services if service.id == service_id), None)

    def table(self, table_id: Id) -> Table | None:
        """Return a table by its id."""
        return next((table for table in self.tables if table.id == table_id), None)

    def target(self, target_id: Id) -> Target | None:
        """Return a target by its id."""
        return next((target for target in self.targets if target.id == target_id), None)

    def outside_of(self, page_id: Id) -> tuple[OutsidePart, ...]:
        """Return what of a page is shown elsewhere."""
        return tuple(part for part in self.outside if part.page == page_id)

    def style_map(self) -> Mapping[str, TextStyle]:
        """Return the text styles by their keys."""
        return {style.key: style for style in self.styles}
