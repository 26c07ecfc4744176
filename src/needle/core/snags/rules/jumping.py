"""What pushes the page down once it has loaded."""

from collections.abc import Iterator

from needle.core.kinds.embed import Embed
from needle.core.snags.snag import ItemAt, Rule, Spot

__all__ = ["RULES"]

_LOADS = ("<script", "<iframe", "<img", "<video", "<object")
# What loads something is hardly ever lower than a line of words and its margins.
_ROOM_PX = 40


def _jumps(at: ItemAt) -> Iterator[Spot]:
    node = at.node
    if isinstance(node, Embed) and node.height < _ROOM_PX and any(
            sign in node.code.lower() for sign in _LOADS):
        yield Spot(f"Keeps {node.height} px free for code that loads something")


RULES = (
    Rule(id="jumps-while-loading", setting="height",
         weight=3, scope="item", look=_jumps, source="published search guidelines, layout shift",
         reason="What stands below jumps when it comes: who reads loses the line, who taps hits "
                "something else."),
)
