"""A picture that says nothing to those who cannot see it."""

from collections.abc import Iterator

from needle.core.kinds.picture import Picture
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area

__all__ = ["RULES"]


def _look(at: ItemAt) -> Iterator[Spot]:
    """Yield pictures without alternative text, here or in the media."""
    if not isinstance(at.node, Picture) or at.node.alt:
        return
    medium = at.site.medium(at.node.medium)
    if medium is not None and not medium.alt:
        yield Spot(f"Nobody said what “{medium.name}” shows")


RULES = (
    Rule(id="picture-without-words", setting="medium",
         weight=2, scope="item", look=_look,
         reads=frozenset({Area.MEDIA}), source="WCAG 2.2, success criterion 1.1.1",
         reason="Who cannot see it is told nothing, and a search does not find it."),
)
