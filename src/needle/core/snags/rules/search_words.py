"""What a search shows: a title and a description of each page's own."""

from collections import Counter
from collections.abc import Iterator

from needle.core.edit.pages import set_page
from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Snag, Spot
from needle.core.values.areas import Area

__all__ = ["RULES"]

_PARTS = ("title", "description")


def _missing(page: Page, _site: Site) -> Iterator[Spot]:
    for part in _PARTS:
        if not getattr(page, part).strip():
            yield Spot(f"The {part} for searches is missing", setting=part)


def _name_it(site: Site, snag: Snag) -> Site:
    """Give a page without a title its own name; a description nobody but a person can write."""
    page = site.page(snag.target)
    return set_page(site, snag.target, title=page.name) if page and not page.title.strip() else site


def _doubled(site: Site) -> Iterator[Spot]:
    for part in _PARTS:
        words = Counter(getattr(page, part).strip().casefold() for page in site.pages)
        for page in site.pages:
            own = getattr(page, part).strip().casefold()
            if own and words[own] > 1:
                yield Spot(f"Two pages have the same {part}", "page", page.id, page.name,
                           setting=part)


_WHY = "It is what people read before they decide to come."
_SOURCE = "HTML standard, title and description"
RULES = (
    Rule(id="search-words-missing", weight=3, scope="page", look=_missing, mend=_name_it,
         reason=_WHY, source=_SOURCE),
    Rule(id="search-words-doubled", weight=3, scope="site", look=_doubled, reason=_WHY,
         source=_SOURCE, reads=frozenset({Area.PAGES})),
)
