"""Parts that are not seen where they are needed."""

from collections.abc import Iterator

from needle.core.kinds.button import Button
from needle.core.kinds.formbox import FormBox
from needle.core.site.tree import Section
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.actions import GoSection
from needle.core.values.node import Item
from needle.core.values.widths import Width

__all__ = ["RULES"]


def _hidden_at(at: ItemAt) -> set[Width]:
    return {width for node in at.path for width in node.hidden}


def _form(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, FormBox):
        hidden = _hidden_at(at)
        others = [node for node in at.variant.nodes()
                  if isinstance(node, FormBox) and node is not at.node]
        for width in sorted(hidden, key=lambda width: width.value) if len(hidden) < len(Width) \
                and not others else ():
            yield Spot("The form is hidden", note=width.value, width=width)


def _everywhere(at: ItemAt) -> Iterator[Spot]:
    if len(at.node.hidden) == len(Width):
        yield Spot("Hidden at every width, so nobody gets it")


def _empty(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, Section) and not at.node.picture and not any(
            isinstance(node, Item) for row in at.node.children for column in row.children
            for node in column.children):
        yield Spot("A section with nothing in it")


def _jump(at: ItemAt) -> Iterator[Spot]:
    if not isinstance(at.node, Button):
        return
    sections = {section.id: section for section in at.variant.children}
    for action in at.node.actions:
        target = sections.get(action.section) if isinstance(action, GoSection) else None
        if target is not None and target.hidden:
            where = ", ".join(sorted(width.value for width in target.hidden))
            yield Spot("A click goes to a section that is hidden", note=where)


RULES = (
    Rule(id="form-hidden", setting="shown",
         weight=1, scope="item", look=_form, source="trade practice",
         reason="Half of all visitors and more come by phone; where there is no form there is no "
                "lead."),
    Rule(id="hidden-everywhere", setting="shown",
         weight=3, scope="item", look=_everywhere,
         source="trade practice",
         reason="It is kept and cared for, and does nothing."),
    Rule(id="empty-section", weight=3, scope="item", look=_empty, source="trade practice",
         reason="Visitors see a gap."),
    Rule(id="jump-to-hidden", weight=2, scope="item", look=_jump, source="trade practice",
         reason="There the click does nothing."),
)
