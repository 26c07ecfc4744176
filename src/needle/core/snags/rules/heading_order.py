"""Headings that skip a rank: a screen reader's list of them has a hole there."""

from collections.abc import Iterator

from needle.core.edit.nodes import set_field
from needle.core.edit.place import find, node_at
from needle.core.kinds.heading import Heading
from needle.core.site.site import Page, Site
from needle.core.site.tree import walk
from needle.core.snags.snag import Rule, Snag, Spot
from needle.core.values.node import Node

__all__ = ["RULES"]


def _skipping(page: Page) -> Iterator[tuple[Heading, int, str]]:
    """Yield headings more than one rank below the one before them, with that one's rank and the
    part they stand in, popups apart."""
    for variant in page.variants:
        parts: list[tuple[Node, ...]] = [variant.children, *((p,) for p in variant.popups)]
        for tops in parts:
            before = 0
            for top in tops:
                for node in walk(top):
                    if not isinstance(node, Heading):
                        continue
                    if before and node.rank > before + 1:
                        yield node, before, top.name
                    before = node.rank


def _look(page: Page, _site: Site) -> Iterator[Spot]:
    for heading, before, part in _skipping(page):
        yield Spot(f"Heading {heading.rank} follows heading {before}", "node", heading.id,
                   f"{page.name} · {part}" if part else page.name)


def _mend(site: Site, snag: Snag) -> Site:
    heading = node_at(site, find(site, snag.target))
    for page in site.pages:
        for found, before, _ in _skipping(page):
            if found is heading:
                return set_field(site, snag.target, "rank", before + 1)
    return site


RULES = (
    Rule(id="heading-order", setting="rank",
         weight=3, scope="page", look=_look, mend=_mend,
         reason="Who has the page read out jumps from heading to heading and takes a missing rank "
                "for missing content.", source="WCAG 2.2, success criterion 1.3.1"),
)
