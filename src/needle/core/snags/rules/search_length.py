"""Titles, descriptions and addresses that a search cuts off or nobody understands."""

import re
from collections.abc import Iterator

from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Spot

__all__ = ["RULES"]

_LONGEST_TITLE = 70
_LONGEST_DESCRIPTION = 180
_SHORTEST_DESCRIPTION = 40
# What names that were never changed leave in an address.
_LEFT_OVER = re.compile(r"(?:^|-)(?:copy|new-page|untitled|page-\d+)(?:-|$)|-\d+$")


def _title(page: Page, _site: Site) -> Iterator[Spot]:
    if len(page.title) > _LONGEST_TITLE:
        yield Spot(f"The title has {len(page.title)} characters; searches show about 60")


def _description(page: Page, _site: Site) -> Iterator[Spot]:
    count = len(page.description.strip())
    if count > _LONGEST_DESCRIPTION:
        yield Spot(f"The description has {count} characters; searches show about 155")
    elif 0 < count < _SHORTEST_DESCRIPTION:
        yield Spot(f"The description has only {count} characters")


def _address(page: Page, _site: Site) -> Iterator[Spot]:
    if _LEFT_OVER.search(page.slug):
        yield Spot(f"The address /{page.slug} tells nobody what is there")


_WHY = "It is what people read before they decide to come."
_SOURCE = "published search guidelines"
RULES = (
    Rule(id="title-cut-off", setting="title",
         weight=3, scope="page", look=_title, reason=_WHY, source=_SOURCE),
    Rule(id="description-length", setting="description",
         weight=3, scope="page", look=_description, reason=_WHY,
         source=_SOURCE),
    Rule(id="unchanged-address", setting="slug",
         weight=3, scope="page", look=_address, source=_SOURCE,
         reason="The address is seen in searches, in messages and on posters; changed later, it "
                "breaks what leads to it."),
)
