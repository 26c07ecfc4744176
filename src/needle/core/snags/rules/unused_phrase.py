"""Key phrases of the brief that no page says."""

from collections.abc import Iterator

from needle.core.render.texts import plain_lines
from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.remembering import remembered

__all__ = ["RULES"]


def _look(site: Site) -> Iterator[Spot]:
    """Yield each key phrase that stands neither on a page nor in what searches show of it."""
    phrases = [phrase.strip() for phrase in site.brief.phrases.split(",") if phrase.strip()]
    if not phrases or not site.pages:
        return
    said = [remembered(page, "said", _words) for page in site.pages]
    for phrase in phrases:
        if not any(phrase.casefold() in words for words in said):
            yield Spot(f"No page says “{phrase}”, a key phrase of the brief",
                       where=site.pages[0].name)


def _words(page: Page) -> str:
    lines = [line for variant in page.variants for node in variant.nodes()
             for line in plain_lines(node)]
    return " ".join([page.title, page.description, *lines]).casefold()


RULES = (
    Rule(id="unused-phrase", weight=3, scope="site", look=_look, source="the brief",
         reads=frozenset({Area.BRIEF, Area.CONTENT, Area.PAGES}),
         reason="Who searches for it does not find the site."),
)
