"""Whole pages to start from, by kind and by how much there is to say."""

from collections.abc import Callable, Sequence
from dataclasses import dataclass

import msgspec

from needle.core.edit.everywhere import map_node
from needle.core.readymade.arriving import Arrived, as_placeholders
from needle.core.readymade.catalogue import READY_MADE
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import Section
from needle.core.values.about import About
from needle.core.values.ids import IdSource
from needle.core.values.words import plain

__all__ = ["AMOUNTS", "TEMPLATES", "Template", "all_kinds", "find_templates", "framed_by",
           "page_of"]

AMOUNTS = ("short", "medium", "long")
# Which form a kind of page is for, whatever its sections ask for when they stand alone.
_ASKS = {"Waiting list": "waiting", "Event": "event", "Online session": "seat",
         "Article": "letter"}


@dataclass(frozen=True, slots=True)
class Template:
    """A whole page.

    Attributes:
        kind: What sort of page it is.
        amount: "short", "medium" or "long".
        note: When to take it.
        sections: Keys of ready-made sections, from top to bottom.
        rows: Of a page that becomes one for each row: "goods", "groups" or "places".
    """

    key: str
    name: str
    kind: str
    amount: str
    note: str
    sections: tuple[str, ...]
    rows: str = ""


def _t(key: str, name: str, kind: str, amount: str, note: str, sections: str, rows: str = "",
       ) -> Template:
    return Template(key, name, kind, amount, note, tuple(sections.split()), rows)


TEMPLATES: Sequence[Template] = (
    _t("one_offer", "One offer", "Landing", "medium", "One advert, one promise, one button.",
       "opening_beside_picture three_gains three_steps three_voices folded_questions "
       "closing_band"),
    _t("one_offer_short", "One screen", "Landing", "short", "For a mail to people who know you.",
       "opening_with_form three_gains footer_plain"),
    _t("one_offer_long", "Every objection answered", "Landing", "long",
       "For visitors who have never heard of you.",
       "opening_over_picture for_whom six_gains three_steps counted voices_in_cards two_prices "
       "promise questions_beside closing_over_picture"),
    _t("guide", "A guide to give away", "Landing", "short", "An e-mail for something to read.",
       "opening_with_form gains_one_by_one the_founder footer_plain"),
    _t("soon", "Coming soon", "Waiting list", "short", "Before there is anything to show.",
       "soon_opening three_gains footer_plain"),
    _t("soon_told", "Coming soon, told in full", "Waiting list", "medium",
       "To see whether anybody wants it.",
       "soon_opening picture_and_gains three_steps the_founder folded_questions form_in_a_box"),
    _t("letter", "Sales letter", "Sales letter", "long", "One person writes to another.",
       "opening_in_the_middle letter pull_out module one_voice bonuses promise one_price "
       "questions_beside closing_band"),
    _t("letter_video", "Letter with a video", "Sales letter", "medium",
       "The video says it, the page takes the answer.",
       "opening_with_video letter three_voices what_is_in_it promise closing_band"),
    _t("home", "Home page", "Home page", "medium", "Who you are, and the ways in.",
       "home_opening picture_and_gains three_pictures three_voices closing_side_by_side "
       "footer_three_columns"),
    _t("home_small", "Small home page", "Home page", "short", "A card to hand over.",
       "home_opening wide_picture footer_plain"),
    _t("product", "One product", "Product", "medium", "A thing, its facts, its price.",
       "product_opening three_gains product_facts three_voices folded_questions closing_band"),
    _t("product_short", "Product, short", "Product", "short", "For something that explains itself.",
       "product_opening product_facts footer_plain"),
    _t("article", "Article", "Article", "medium", "To be found by a search, and read.",
       "article_opening article_body pull_out article_body form_in_a_box"),
    _t("article_short", "Short note", "Article", "short", "News in three paragraphs.",
       "article_opening article_body"),
    _t("thanks", "Thank you", "Thank-you", "short", "After a form was sent.",
       "thanks_opening thanks_next"),
    _t("thanks_offer", "Thank you, and one thing more", "Thank-you", "medium",
       "The best moment to offer something.",
       "thanks_opening picture_and_gains one_price one_voice"),
    _t("event", "Event", "Event", "medium", "A day, an hour, a place.",
       "event_opening three_gains plan_of_the_day the_team two_by_two form_beside_words"),
    _t("event_short", "Event, short", "Event", "short", "For people who know what it is.",
       "event_opening plan_of_the_day form_in_a_box"),
    _t("session", "Online session", "Online session", "medium", "A talk at an hour, and seats.",
       "session_opening gains_one_by_one the_founder three_voices folded_questions "
       "form_over_picture"),
    _t("session_short", "Online session, short", "Online session", "short",
       "For subscribers who know you.", "session_opening for_whom footer_plain"),
    _t("shop_front", "Shop front", "Shop", "medium", "What is new, on sale and sold most.",
       "home_opening all_groups newest_things things_on_sale best_sellers footer_three_columns"),
    _t("shop_shelf", "All on one page", "Shop", "short", "For a shop of some dozen things.",
       "opening_in_the_middle all_things shown_first seen_before footer_plain"),
    _t("thing_pictured", "A page for each product", "Products", "medium",
       "Its pictures, its options, what is like it.",
       "thing_beside_pictures thing_told three_voices goes_well_with_it footer_plain", "goods"),
    _t("thing_dark", "A page for each, on a dark ground", "Products", "long",
       "For things that are looked at before they are read about.",
       "thing_in_a_card thing_told best_rated promise questions_beside footer_plain", "goods"),
    _t("thing_short", "A short page for each product", "Products", "short",
       "For things that explain themselves.",
       "thing_in_a_line goes_well_with_it footer_plain", "goods"),
    _t("group_page", "A page for each group", "Products", "short",
       "What a sort of things is for, and all of them.",
       "group_opening group_things seen_before footer_plain", "groups"),
    _t("place_visit", "A page for each place", "Local pages", "medium",
       "Where one comes by: address, hours, the way.",
       "place_opening place_told place_reached places_near footer_plain", "places"),
    _t("place_service", "A service in each place", "Local pages", "long",
       "For somebody who comes to the customer.",
       "place_over_picture place_told three_steps one_voice form_in_a_box places_near "
       "footer_plain", "places"),
    _t("place_ask", "A form for each place", "Local pages", "short",
       "One screen, and a question.", "place_with_form place_reached footer_plain", "places"),
)
# What searches are told that the page of a row is about.
_ABOUT = {"goods": "product", "groups": "", "places": "business"}
_BUILDERS: dict[str, Callable[..., Section]] = {one.key: one.build for one in READY_MADE}


def all_kinds() -> list[str]:
    """Return the kinds of page, in order."""
    return list(dict.fromkeys(template.kind for template in TEMPLATES))


def find_templates(kind: str = "", amount: str = "") -> list[Template]:
    """Return the templates of a kind and amount; an empty text stands for any."""
    return [one for one in TEMPLATES if kind in ("", one.kind) and amount in ("", one.amount)]


def page_of(template: Template, site: Site, ids: IdSource, framed: bool) -> Arrived[Page]:
    """Return a fresh page; its words count as placeholders.

    Args:
        framed: With the site's own header and footer, in place of those of the template.
    """
    parts, stock = Parts(ids), Stock(site, ids, True, _ASKS.get(template.kind, ""))
    sections = [as_placeholders(_BUILDERS[key](parts, stock), stock) for key in template.sections]
    if framed:
        sections = framed_by(site, [s for s in sections if s.role == "section"], ids)
    page = Page(id=ids(), name=template.name, invented=("title", "description"),
                description=f"{template.name}: what it offers, for whom, and what to do here.",
                variants=(Variant(key="A", children=tuple(sections)),))
    if template.rows:
        master = stock.rows(template.rows).master("")
        page = msgspec.structs.replace(
            page, master=master, title=plain(master.title), description=plain(master.description),
            invented=(), about=About(kind=_ABOUT[template.rows]))
    return Arrived(page, stock.brought(site), stock.files, page.master)


def framed_by(site: Site, sections: list[Section], ids: IdSource) -> list[Section]:
    """Return sections between the site's own header and footer, as its first page has them."""
    for page in site.pages:
        tops = page.variants[0].children
        header = [_fresh(top, ids) for top in tops if top.role == "header"]
        footer = [_fresh(top, ids) for top in tops if top.role == "footer"]
        if header or footer:
            return [*header, *sections, *footer]
    parts, stock = Parts(ids), Stock(site, ids)
    top, foot = (as_placeholders(_BUILDERS[key](parts, stock), stock)
                 for key in ("header_with_menu", "footer_plain"))
    return [top, *sections, foot]


def _fresh(section: Section, ids: IdSource) -> Section:
    made: Section = map_node(section, lambda node: msgspec.structs.replace(node, id=ids()))
    return made
