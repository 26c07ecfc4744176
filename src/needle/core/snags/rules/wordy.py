"""Words that nobody reads: walls of text, long headlines, shouting."""

import re
from collections.abc import Iterator

from needle.core.kinds.button import Button
from needle.core.kinds.heading import Heading
from needle.core.kinds.passage import Passage
from needle.core.render.texts import plain_lines
from needle.core.snags.snag import ItemAt, Rule, Spot

__all__ = ["RULES"]

_MOST_IN_A_PARAGRAPH = 110
_MOST_IN_A_HEADLINE = 16
# So many words in capitals are no abbreviation any more.
_SHOUTED = 3
_WORD = re.compile(r"[^\W\d_]{2,}")


def _wall(at: ItemAt) -> Iterator[Spot]:
    if not isinstance(at.node, Passage):
        return
    longest = max((len(line.split()) for line in plain_lines(at.node)), default=0)
    if longest > _MOST_IN_A_PARAGRAPH:
        yield Spot(f"A paragraph of {longest} words")


def _headline(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, Heading) and at.node.rank == 1:
        count = len(" ".join(plain_lines(at.node)).split())
        if count > _MOST_IN_A_HEADLINE:
            yield Spot(f"A headline of {count} words")


def _shouting(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, Heading | Button):
        words = " ".join(plain_lines(at.node))
        loud = [word for word in _WORD.findall(words) if word.isupper()]
        if len(loud) >= _SHOUTED and len(loud) == len(_WORD.findall(words)):
            yield Spot(f"Written in capitals: “{words[:48]}”")
        elif "!!" in words:
            yield Spot(f"More than one exclamation mark: “{words[:48]}”")


RULES = (
    Rule(id="wall-of-text", weight=3, scope="item", look=_wall, source="trade practice",
         reason="Visitors look over a page before they read; nothing in a long block is found."),
    Rule(id="long-headline", weight=3, scope="item", look=_headline, source="trade practice",
         reason="It is read in one look or not at all."),
    Rule(id="shouting", weight=3, scope="item", look=_shouting, source="trade practice",
         reason="Words in capitals are read slower, some screen readers spell them out, and both "
                "look like advertising."),
)
