"""Words that only kept a place free."""

import re
from collections.abc import Iterator

from needle.core.render.texts import plain_lines
from needle.core.site.site import Page, Site
from needle.core.snags.snag import ItemAt, Rule, Spot

__all__ = ["RULES"]

_FILLER = re.compile(
    r"\blorem ipsum\b|\bdolor sit amet\b|\bTODO\b|\bTBD\b|\bFIXME\b|\bxxx+\b|\bplaceholder\b"
    r"|\byour text here\b|\btext goes here\b"
    r"|\[[^\]]*\b(?:name|date|price|company|insert)\b[^\]]*\]",
    re.IGNORECASE)


def _in_items(at: ItemAt) -> Iterator[Spot]:
    found = _FILLER.search(" ".join(plain_lines(at.node)))
    if found:
        yield Spot(f"Filler words: “{found[0][:40]}”")


def _for_searches(page: Page, _site: Site) -> Iterator[Spot]:
    for part in ("title", "description"):
        if found := _FILLER.search(getattr(page, part)):
            yield Spot(f"Filler words in the {part}: “{found[0][:40]}”", setting=part)


_WHY = "Visitors see that nobody has looked at the page."
RULES = (
    Rule(id="filler-words", weight=1, scope="item", look=_in_items, reason=_WHY,
         source="trade practice"),
    Rule(id="filler-search-words", weight=2, scope="page", look=_for_searches, reason=_WHY,
         source="trade practice"),
)
