"""The one heading that says what a page is about."""

from collections import defaultdict
from collections.abc import Iterator

import msgspec

from needle.core.edit.nodes import change
from needle.core.kinds.heading import Heading
from needle.core.render.texts import plain_lines
from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Snag, Spot
from needle.core.values.areas import Area
from needle.core.values.node import Node

__all__ = ["RULES"]


def _main(page: Page) -> Iterator[Heading]:
    for node in page.variants[0].nodes():
        if isinstance(node, Heading) and node.rank == 1:
            yield node


def _missing(page: Page, _site: Site) -> Iterator[Spot]:
    if any(True for section in page.variants[0].children) and not any(_main(page)):
        yield Spot("No heading of rank 1 says what the page is about")


def _several(page: Page, _site: Site) -> Iterator[Spot]:
    for heading in list(_main(page))[1:]:
        yield Spot("A second heading of rank 1", "node", heading.id, page.name)


def _lower(site: Site, snag: Snag) -> Site:
    """Make the second main heading one of rank 2; it keeps its looks."""
    def how(node: Node) -> Node:
        return msgspec.structs.replace(node, rank=2) if isinstance(node, Heading) else node

    return change(site, snag.target, how)


def _alike(site: Site) -> Iterator[Spot]:
    told: dict[str, list[tuple[Page, Heading]]] = defaultdict(list)
    for page in site.pages:
        for heading in _main(page):
            words = " ".join(plain_lines(heading)).strip()
            if words:
                told[words.casefold()].append((page, heading))
    for same in told.values():
        pages = {page.id for page, _ in same}
        for page, heading in same if len(pages) > 1 else ():
            yield Spot("Two pages have the same main heading", "node", heading.id, page.name)


_SOURCE = "HTML standard, headings and outlines"
RULES = (
    Rule(id="no-main-heading", weight=2, scope="page", look=_missing, source=_SOURCE,
         reason="Visitors, searches and screen readers look for it first."),
    Rule(id="second-main-heading", setting="rank",
         weight=3, scope="page", look=_several, source=_SOURCE,
         mend=_lower, reason="Two main headings say that the page is about two things."),
    Rule(id="same-main-heading", weight=3, scope="site", look=_alike, source="trade practice",
         reads=frozenset({Area.CONTENT, Area.PAGES}),
         reason="Visitors cannot tell the pages apart, and in searches they stand in each other's "
                "way."),
)
