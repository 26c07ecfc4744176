"""What a search shows: a title and a description of each page's own."""

from collections import Counter
from collections.abc import Iterator

from needle.core.site.site import Site
from needle.core.snags.snag import Snag

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield titles and descriptions that are missing or stand on two pages."""
    for part in ("title", "description"):
        words = Counter(getattr(page, part).strip().casefold() for page in site.pages)
        for page in site.pages:
            own = getattr(page, part).strip()
            if not own:
                yield Snag(3, f"The {part} for searches is missing", page.name, "page", page.id)
            elif words[own.casefold()] > 1:
                yield Snag(3, f"Two pages have the same {part}", page.name, "page", page.id)
