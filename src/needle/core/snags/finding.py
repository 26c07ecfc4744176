"""Running every rule, worst first, and only where something that it reads has changed."""

import importlib
import pkgutil
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import replace

from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import children_of
from needle.core.snags import rules
from needle.core.snags.beyond import NOTHING, Beyond
from needle.core.snags.laid import LaidPage
from needle.core.snags.snag import ItemAt, Rule, Snag, Weight
from needle.core.values.areas import Area
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.widths import width_for

__all__ = ["RULES", "SnagFinder", "find_snags", "page_snags"]


def _found() -> Iterator[Rule]:
    for module in pkgutil.iter_modules(rules.__path__):
        yield from importlib.import_module(f"{rules.__name__}.{module.name}").RULES


RULES: Mapping[str, Rule] = {rule.id: rule for rule in _found()}
_OF_SITE = tuple(rule for rule in RULES.values() if rule.scope == "site")
_OF_PAGE = tuple(rule for rule in RULES.values() if rule.scope == "page")
_OF_ITEM = tuple(rule for rule in RULES.values() if rule.scope == "item")
_BEYOND = tuple(rule for rule in RULES.values() if rule.scope == "beyond")
_LAID_OUT = tuple(rule for rule in RULES.values() if rule.scope == "laid out")

# The fields of the site that make an area; PAGES and CONTENT are made of the pages' list.
_FIELDS: Mapping[Area, tuple[str, ...]] = {
    Area.NAME: ("name", "invented"), Area.CODE: ("code",),
    Area.TRACKING: ("tracking", "consent", "open_to")}

# What a rule read when it was asked last, and what it said.
_Said = tuple[tuple[object, ...], tuple[Snag, ...]]


def _read(site: Site, reads: Iterable[Area]) -> tuple[object, ...]:
    """Return what stands in some areas; equal and of the same objects if nothing changed."""
    found: list[object] = []
    for area in sorted(reads):
        if area is Area.CONTENT:
            found.append(site.pages)
        elif area is Area.PAGES:
            found.append(remembered(site, "page_list", _page_list))
        else:
            found.extend(getattr(site, name) for name in _FIELDS.get(area, (area.value,)))
    return tuple(found)


def _page_list(site: Site) -> tuple[object, ...]:
    """All of the pages but what stands on them."""
    return tuple((page.id, page.name, page.slug, page.title, page.description, page.folder,
                  page.invented, page.code, page.advert, page.about) for page in site.pages)


def _same(one: tuple[object, ...], other: tuple[object, ...]) -> bool:
    # Lists of pages are made afresh for each site; everything else is shared if it is the same.
    return all(a is b or (isinstance(a, tuple) and a[:1] and isinstance(a[0], tuple) and a == b)
               for a, b in zip(one, other, strict=True))


class SnagFinder:
    """Finds the snags of a site and of what becomes of it, again and again.

    It may be used in any one thread: sites are values, and what was found is kept by the pages.
    """

    def __init__(self) -> None:
        self._of_site: dict[str, _Said] = {}

    def find(self, site: Site, laid: Iterable[LaidPage] = (), beyond: Beyond = NOTHING,
             ) -> list[Snag]:
        """Return everything that the rules find, worst first.

        Args:
            laid: What has been measured of pages that are laid out.
            beyond: What is known of the world around the site.
        """
        found: list[Snag] = []
        for rule in _OF_SITE:
            found.extend(self._site_rule(rule, site))
        for page in site.pages:
            found.extend(page_snags(page, site))
            found.extend(rule.snag(spot, "page", page.id, page.name) for rule in _BEYOND
                         for spot in rule.look(page, site, beyond))
        pages = {page.id: page for page in site.pages}
        for record in laid:
            if record.page in pages:
                found.extend(_laid_snags(record, pages[record.page], site))
        return sorted(dict.fromkeys(found), key=lambda snag: snag.weight)

    def _site_rule(self, rule: Rule, site: Site) -> tuple[Snag, ...]:
        read = _read(site, rule.reads)
        known = self._of_site.get(rule.id)
        if known is None or not _same(known[0], read):
            target = site.pages[0].id if site.pages else ""
            said = tuple(rule.snag(spot, "page", target, site.name) for spot in rule.look(site))
            known = self._of_site[rule.id] = (read, said)
        return known[1]


def find_snags(site: Site, laid: Iterable[LaidPage] = (), beyond: Beyond = NOTHING) -> list[Snag]:
    """Return everything that the rules find in a site, worst first."""
    return SnagFinder().find(site, laid, beyond)


def page_snags(page: Page, site: Site, lightest: Weight = 3) -> list[Snag]:
    """Return what the rules say of one page; each is asked again only if what it reads changed.

    Args:
        lightest: Rules of less weight than this are not asked; 1 is the heaviest.
    """
    held: dict[str, _Said] = remembered(page, "snags", lambda _: {})
    rules = [rule for rule in (*_OF_PAGE, *_OF_ITEM) if rule.weight <= lightest]
    reads = {rule.id: _read(site, rule.reads) for rule in rules}
    stale = [rule for rule in rules
             if rule.id not in held or not _same(held[rule.id][0], reads[rule.id])]
    fresh: dict[str, list[Snag]] = {rule.id: [] for rule in stale}
    of_item = [rule for rule in stale if rule.scope == "item"]
    for rule in stale:
        if rule.scope == "page":
            fresh[rule.id].extend(rule.snag(spot, "page", page.id, page.name)
                                  for spot in rule.look(page, site))
    for at in _items(page, site) if of_item else ():
        for rule in of_item:
            fresh[rule.id].extend(rule.snag(spot, "node", at.node.id, at.where)
                                  for spot in rule.look(at))
    for rule in stale:
        held[rule.id] = (reads[rule.id], tuple(fresh[rule.id]))
    return [snag for rule in rules for snag in held[rule.id][1]]


def _laid_snags(record: LaidPage, page: Page, site: Site) -> Iterator[Snag]:
    for rule in _LAID_OUT:
        for spot in rule.look(record, page, site):
            spot = replace(spot, width=width_for(record.width))
            yield rule.snag(spot, "node" if spot.target else "page", page.id,
                            _where(page, record, spot.target))


def _where(page: Page, record: LaidPage, node_id: str) -> str:
    variant = page.variant(record.variant)
    at = next((at for at in _ways(variant) if at[-1].id == node_id), None) \
        if node_id else None
    name = f"{page.name} {variant.key}" if page.tested else page.name
    return f"{name} · {at[0].name}" if at and at[0].name else name


def _items(page: Page, site: Site) -> Iterator[ItemAt]:
    for variant in page.variants:
        for path in _ways(variant):
            yield ItemAt(site, page, variant, path)


def _ways(variant: Variant) -> Iterator[tuple[Node, ...]]:
    for top in (*variant.children, *variant.popups):
        yield from _down((top,))


def _down(path: tuple[Node, ...]) -> Iterator[tuple[Node, ...]]:
    yield path
    for child in children_of(path[-1]):
        yield from _down((*path, child))
