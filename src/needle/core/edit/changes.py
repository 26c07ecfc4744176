"""What changed between a page as it was sent and as it is, in words."""

from collections.abc import Iterator, Sequence

import msgspec

from needle.core.markup.surroundings import Rendition
from needle.core.render.adverts import adverts_shown
from needle.core.render.callers import calls_reached
from needle.core.render.context import Context
from needle.core.render.holders import kind_of, render_node
from needle.core.render.reads import media_of, reads_of
from needle.core.site.site import Brand, Code, Page, Site, TextStyle, Variant
from needle.core.site.tree import Section, children_of, walk, without_children
from needle.core.values.advert import AdvertWords
from needle.core.values.areas import Area
from needle.core.values.counting import counted
from needle.core.values.form import Form
from needle.core.values.ids import Id
from needle.core.values.language import ENGLISH, Language
from needle.core.values.media import Font, Medium
from needle.core.values.node import Node
from needle.core.values.outside import OutsidePart
from needle.core.values.outsidecall import OutsideCall
from needle.core.values.remembering import remembered
from needle.core.values.shop import NO_SHOP, Shop
from needle.core.values.strict import Domain
from needle.core.values.testplan import ANY_GOAL, TestPlan
from needle.core.values.tracking import Consent, TrackingCode

__all__ = ["Drawn", "Sent", "as_sent", "changes_since", "page_changes",
           "site_changes", "site_of", "variant_changes"]


class Sent(msgspec.Struct, frozen=True, omit_defaults=True):
    """A page when it was sent, with all of the site that it drew on.

    Attributes:
        drew: What of the rest of the site it showed; `None` for a page that an earlier Needle
            sent, which did not keep it.
        outside: What of it is shown elsewhere.
    """

    page: Page
    brand: Brand
    styles: tuple[TextStyle, ...]
    forms: tuple[Form, ...]
    codes: tuple[Code, ...] = ()
    tracking: tuple[TrackingCode, ...] = ()
    consent: Consent = Consent()
    drew: "Drawn | None" = None
    outside: tuple[OutsidePart, ...] = ()


class Drawn(msgspec.Struct, frozen=True, omit_defaults=True):
    """What a page showed of the rest of the site.

    Attributes:
        pages: Id, name and slug of each, where anything on the page names or links to pages.
        media: Those that it showed, handed out or was shared with.
        fonts: Cuts of type that were added to those that ship.
        open_to: Hosts that pages might reach besides those that their codes name.
        language: That of the site.
        domain: The name that the site has in public.
        calls: What pages made elsewhere call in, as far as links of the page lead there.
        adverts: Words on it that the address of an advert chooses.
        sells: The table that is sold, if its row is one of that.
        cart: The page with the cart, if anything on it leads there.
        shop: How things are sold, if it is the page with the cart.
    """

    name: str
    pages: tuple[tuple[Id, str, str], ...] = ()
    media: tuple[Medium, ...] = ()
    fonts: tuple[Font, ...] = ()
    open_to: tuple[str, ...] = ()
    language: Language = ENGLISH
    domain: Domain = ""
    calls: tuple[OutsideCall, ...] = ()
    adverts: tuple[AdvertWords, ...] = ()
    sells: Id = ""
    cart: Id = ""
    shop: Shop = NO_SHOP


def as_sent(site: Site, page: Page) -> Sent:
    """Return what is kept of a page when it is sent."""
    shown = _shown_media(page) | {site.brand.mark.medium, site.brand.share.medium}
    drawn = Drawn(
        site.name, site.named_pages()
        if remembered(page, "names_pages", _names_pages) else (),
        tuple(medium for medium in site.media if medium.id in shown), site.fonts, site.open_to,
        site.language, site.domain, calls_reached(site, _nodes(page)) if site.calls else (),
        adverts_shown(site, _nodes(page)),
        site.shop.table if page.row.table == site.shop.table else "",
        site.shop.cart if remembered(page, "leads_to_cart", _leads_to_cart) else "",
        site.shop if page.id == site.shop.cart else NO_SHOP)
    used = _used_forms(page)
    forms = tuple(form for form in site.forms if form.id in used)
    return Sent(page, site.brand, site.styles, forms, site.codes(page), site.tracking_on(page),
                site.consent, drawn, site.outside_of(page.id))


def _nodes(page: Page) -> Iterator[Node]:
    for variant in page.variants:
        yield from variant.nodes()


def _leads_to_cart(page: Page) -> bool:
    return any(Area.SHOP in reads_of(node) for node in _nodes(page))


def _names_pages(page: Page) -> bool:
    return any(Area.PAGES in reads_of(node) for node in _nodes(page))


def _shown_media(page: Page) -> set[Id]:
    return remembered(page, "shown_media", lambda page: {page.share} | {
        medium for node in _nodes(page) for _, medium in media_of(node)})


def _used_forms(page: Page) -> set[Id]:
    return remembered(page, "used_forms", lambda page: {
        getattr(node, "form", "") for node in _nodes(page)} - {""})


def changes_since(sent: Sent, now: Sent) -> list[str]:
    """Return what a visitor would notice, most telling first; nothing if it is the same."""
    return [*page_changes(sent, now.page), *site_changes(sent, now)]


def page_changes(sent: Sent, page: Page) -> list[str]:
    """Return what changed on a page itself since it was sent."""
    return list(_page_changes(sent.page, page))


def site_changes(sent: Sent, now: Sent) -> list[str]:
    """Return what changed since in the rest of the site and shows on the page."""
    found = []
    if sent.brand != now.brand:
        found.append("brand")
    if sent.styles != now.styles:
        found.append("text styles")
    if _said(sent.codes) != _said(now.codes):
        found.append("outside code")
    if (sent.tracking, sent.consent) != (now.tracking, now.consent):
        found.append("tracking codes")
    if sent.outside != now.outside:
        found.append("what of it is shown elsewhere")
    before = {form.id: form for form in sent.forms}
    found.extend(f"form {form.name}" for form in now.forms if before.get(form.id) != form)
    found.extend(_elsewhere(sent, now))
    return found


def _elsewhere(sent: Sent, now: Sent) -> Iterator[str]:
    """Yield what differs though nothing on the page itself has changed."""
    if sent.drew is None or now.drew is None:
        yield "sent by an earlier Needle, so what it shows of other pages is not known"
        return
    if sent.drew == now.drew:
        return
    if sent.drew.name != now.drew.name:
        yield "name of the site"
    if sent.drew.language != now.drew.language:
        yield "language of the site"
    if sent.drew.domain != now.drew.domain:
        yield "domain of the site"
    if sent.drew.fonts != now.drew.fonts:
        yield "fonts"
    if sent.drew.open_to != now.drew.open_to:
        yield "hosts that the page may reach"
    if sent.drew.calls != now.drew.calls:
        yield "what outside pages call in"
    if sent.drew.adverts != now.drew.adverts:
        yield "words from the advert"
    media = {medium.id: medium for medium in sent.drew.media}
    yield from (f"picture {medium.name}" for medium in now.drew.media
                if medium.id in media and _seen(media[medium.id]) != _seen(medium))
    left = {medium.id for medium in now.drew.media}
    still_shown = _shown_media(now.page)
    yield from (f"picture {medium.name} is gone" for medium in sent.drew.media
                if medium.id in still_shown - left)
    if sent.drew.pages != now.drew.pages:
        yield from _named_pages(sent, now)


def _seen(medium: Medium) -> Medium:
    """A medium as visitors get it: that its words wait to be confirmed is not seen."""
    return msgspec.structs.replace(medium, invented=False)


def _named_pages(sent: Sent, now: Sent) -> Iterator[str]:
    """Yield the kinds of items that show pages otherwise, though they are as they were."""
    assert sent.drew is not None and now.drew is not None
    replace = msgspec.structs.replace
    # Everything but the pages as it is now: what else shows in an item is said elsewhere.
    before = replace(now, page=replace(now.page, name=sent.page.name, slug=sent.page.slug),
                     drew=replace(now.drew, pages=sent.drew.pages))
    then, since = _surroundings(before), _surroundings(now)
    was = {node.id: node for node in _nodes(sent.page)}
    told = set()
    for node in _nodes(now.page):
        if Area.PAGES not in reads_of(node) or node.id not in was or (
                children_of(node) or without_children(was[node.id]) != without_children(node)):
            continue
        label = kind_of(node).label.lower()
        if label not in told and render_node(node, then) != render_node(node, since):
            told.add(label)
            yield label if label == "menu" else f"where a {label} leads"


class _NoPictures:
    """Names media by their ids: where they lie says nothing about what is shown."""

    def renditions(self, medium: Medium) -> Sequence[Rendition]:
        return [Rendition(medium.id, medium.width)]

    def original(self, medium: Medium) -> str:
        return medium.id


def site_of(sent: Sent) -> Site:
    """Return the site as far as a sent page showed it, to render it again as it was."""
    page, drew = sent.page, sent.drew or Drawn("")
    others = tuple(Page(id=key, name=name, slug=slug) for key, name, slug in drew.pages
                   if key != page.id)
    return Site(id="s", name=drew.name, address="sent", brand=sent.brand, styles=sent.styles,
                pages=(page, *others), forms=sent.forms, media=drew.media, fonts=drew.fonts,
                language=drew.language, domain=drew.domain, adverts=drew.adverts)


def _surroundings(sent: Sent) -> Context:
    page = sent.page
    return Context(site_of(sent), page, page.variants[0], "live", _NoPictures(), "")


def _said(codes: Sequence[Code]) -> list[Code]:
    """The codes that hold anything; pages sent before there were codes have none."""
    return [code for code in codes if code != Code()]


def _page_changes(old: Page, new: Page) -> Iterator[str]:
    if old.slug != new.slug:
        yield f"address was /{old.slug}"
    if (old.title, old.description) != (new.title, new.description):
        yield "title or description"
    if old.about != new.about:
        yield "what searches are told that it is about"
    if old.share != new.share:
        yield "picture for sharing"
    if old.unlisted != new.unlisted:
        yield "whether searches list it"
    if old.letter_width != new.letter_width:
        yield "letter width"
    before = {variant.key: variant for variant in old.variants}
    tested = new.tested
    for variant in new.variants:
        was = before.get(variant.key)
        if was is None:
            yield f"variant {variant.key} added"
            continue
        where = f" in {variant.key}" if tested else ""
        yield from (f"{change}{where}" for change in variant_changes(was, variant))
    for key in sorted(before.keys() - {variant.key for variant in new.variants}):
        yield f"variant {key} archived"
    shares = [(v.key, v.share) for v in new.variants]
    if tested and sorted(shares) != sorted((v.key, v.share) for v in old.variants):
        yield "shares"
    if tested and _for_whom(old.plan) != _for_whom(new.plan):
        yield "for whom and when the test is"
    if old.links != new.links:
        yield "which links count"
    if old.reaches != new.reaches:
        yield "what counts without a click"


def _for_whom(plan: TestPlan) -> TestPlan:
    return msgspec.structs.replace(plan, believed="", counts=ANY_GOAL)


def variant_changes(old: Variant, new: Variant) -> Iterator[str]:
    """Yield what changed in a variant, most telling first; items are known by their ids."""
    before = {node.id: node for node in old.nodes()}
    after = {node.id: node for node in new.nodes()}
    for noun, gone in (("added", after.keys() - before.keys()),
                       ("removed", before.keys() - after.keys())):
        source = after if noun == "added" else before
        sections = [i for i in gone if isinstance(source[i], Section)]
        inner = {n.id for i in sections for n in walk(source[i])}
        loose = [i for i in gone if i not in inner and not hasattr(source[i], "children")]
        if sections:
            yield f"{counted(len(sections), 'section')} {noun}"
        if loose:
            yield f"{counted(len(loose), 'item')} {noun}"
    yield from _by_kind([(before[i], after[i]) for i in after if i in before])
    if [s.id for s in old.children if s.id in after] != [
            s.id for s in new.children if s.id in before]:
        yield "order of sections"


def _by_kind(pairs: Sequence[tuple[Node, Node]]) -> Iterator[str]:
    counts: dict[str, int] = {}
    for old, new in pairs:
        if old is new or without_children(old) == without_children(new):
            continue
        same_words = getattr(old, "words", None) == getattr(new, "words", None)
        what = kind_of(new).label.lower()
        counts[what if same_words else f"words of {what}"] = counts.get(what, 0) + 1
    for what, count in counts.items():
        yield what if count == 1 else f"{what} ({count})"
