"""What a live view must change to show the next value of a page.

The walk skips every branch that is the same object, so the cost of a keystroke does not
grow with the page.
"""

from collections.abc import Iterator, Sequence
from typing import Literal

import msgspec

from needle.core.edit.areas import changed_areas
from needle.core.render.context import Context
from needle.core.render.holders import render_node
from needle.core.render.reads import reads_of
from needle.core.render.stylesheet import edit_sheet, node_css, own_css
from needle.core.site.site import Site, Variant
from needle.core.site.tree import children_of, walk, without_children
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Node

__all__ = ["Patch", "patches"]


class Patch(msgspec.Struct, frozen=True, omit_defaults=True):
    """One change of a live view.

    Attributes:
        op: "node" replaces an element, "css" a node's own rules, "base" the sheet that all
            share, "own" the marketer's rules, "order" puts a holder's children into a new
            order.
        id: The node; for "order" of the page's top level, "children" or "popups".
        html: The element's new markup.
        css: The new rules.
        ids: The children in their new order.
        fresh: Markup of children that were not there before, by id.
        rules: Rules of nodes that were not there before, by id.
    """

    op: Literal["node", "css", "base", "own", "order"]
    id: Id = ""
    html: str = ""
    css: str = ""
    ids: tuple[Id, ...] = ()
    fresh: dict[Id, str] = {}
    rules: dict[Id, str] = {}


def patches(old: Site, new: Site, before: Variant, context: Context) -> list[Patch]:
    """Return the patches that lead from one render of a variant to the next.

    Args:
        before: The variant as it was in `old`.
        context: The surroundings of the new render; its variant is the new one.
    """
    found: list[Patch] = []
    page, was = context.page, old.page(context.page.id) or context.page
    if old.brand is not new.brand or old.styles is not new.styles or (
            old.fonts is not new.fonts or was.letter_width != page.letter_width):
        found.append(Patch(op="base", css=edit_sheet(new, page)))
    if old.codes(was) != new.codes(page):
        found.append(Patch(op="own", css=own_css(new, page)))
    after = context.variant
    for field in ("children", "popups"):
        found.extend(_inside(field, getattr(before, field), getattr(after, field), context))
    shown = {patch.id for patch in found if patch.op == "node"}
    found.extend(_drawn_on_elsewhere(old, new, before, context, shown))
    return found


def _drawn_on_elsewhere(old: Site, new: Site, before: Variant, context: Context, shown: set[Id],
                        ) -> Iterator[Patch]:
    """Yield patches of nodes that show something of the rest of the site that has changed.

    Args:
        shown: Nodes that are rendered again anyway.
    """
    areas = changed_areas(old, new) - {Area.CONTENT}
    if not areas:
        return
    former = {node.id: node for node in before.nodes()}
    then = Context(old, old.page(context.page.id) or context.page, before, context.mode,
                   context.pictures, context.root)
    for node in context.variant.nodes():
        was = former.get(node.id)
        if was is None or node.id in shown or areas.isdisjoint(reads_of(node)):
            continue
        # Of what holds others, its own markup tells; each of those is asked itself.
        if render_node(without_children(node), context) != (
                render_node(without_children(was), then)):
            yield Patch(op="node", id=node.id, html=str(render_node(node, context)))


def _inside(holder: Id, old: Sequence[Node], new: Sequence[Node], context: Context,
            ) -> Iterator[Patch]:
    if old is new:
        return
    former = {node.id: node for node in old}
    if [node.id for node in old] != [node.id for node in new]:
        fresh = [node for node in new if node.id not in former]
        yield Patch(
            op="order", id=holder, ids=tuple(node.id for node in new),
            fresh={node.id: str(render_node(node, context)) for node in fresh},
            # Also the empty ones: a node that comes back may have had rules when it went.
            rules={n.id: node_css(n) for top in fresh for n in walk(top)})
    for node in new:
        was = former.get(node.id)
        if was is not None and was is not node:
            yield from _changed(was, node, context)


def _changed(old: Node, new: Node, context: Context) -> Iterator[Patch]:
    if old.look != new.look or old.hidden != new.hidden:
        yield Patch(op="css", id=new.id, css=node_css(new))
    if type(old) is not type(new) or _own_fields(old) != _own_fields(new):
        yield Patch(op="node", id=new.id, html=str(render_node(new, context)))
        for inner in walk(new):
            if inner is not new:
                yield Patch(op="css", id=inner.id, css=node_css(inner))
    else:
        yield from _inside(new.id, children_of(old), children_of(new), context)


def _own_fields(node: Node) -> list[object]:
    """All that the node's own markup depends on."""
    apart = {"look", "hidden", "children"}
    return [getattr(node, name) for name in node.__struct_fields__ if name not in apart]
