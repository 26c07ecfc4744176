"""Key phrases of the brief that no page says."""

from collections.abc import Iterator

from needle.core.render.texts import plain_lines
from needle.core.site.site import Page, Site
from needle.core.snags.snag import Snag

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield each key phrase that stands neither on a page nor in what searches show of it."""
    phrases = [phrase.strip() for phrase in site.brief.phrases.split(",") if phrase.strip()]
    if not phrases or not site.pages:
        return
    said = " ".join(_words(page) for page in site.pages).casefold()
    for phrase in phrases:
        if phrase.casefold() not in said:
            yield Snag(3, f"No page says “{phrase}”, a key phrase of the brief",
                       site.pages[0].name, "page", site.pages[0].id)


def _words(page: Page) -> str:
    lines = [line for variant in page.variants for node in variant.nodes()
             for line in plain_lines(node)]
    return " ".join([page.title, page.description, *lines])
