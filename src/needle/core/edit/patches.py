"""What a live view must change to show the next value of a page.

The walk skips every branch that is the same object, so the cost of a keystroke does not
grow with the page.
"""

from collections.abc import Iterator, Sequence
from typing import Literal

import msgspec

from needle.core.kinds.formbox import FormBox
from needle.core.kinds.logo import Logo
from needle.core.render.context import Context
from needle.core.render.holders import render_node
from needle.core.render.stylesheet import edit_sheet, node_css, own_css
from needle.core.site.site import Site, Variant
from needle.core.site.tree import children_of, walk
from needle.core.values.ids import Id
from needle.core.values.node import Node

__all__ = ["Patch", "patches"]


class Patch(msgspec.Struct, frozen=True, omit_defaults=True):
    """One change of a live view.

    Attributes:
        op: "node" replaces an element, "css" a node's own rules, "base" the sheet that all
            share, "own" the marketer's rules, "order" puts a holder's children into a new
            order, "reload" asks for the whole page again.
        id: The node; for "order" of the page's top level, "children" or "popups".
        html: The element's new markup.
        css: The new rules.
        ids: The children in their new order.
        fresh: Markup of children that were not there before, by id.
        rules: Rules of nodes that were not there before, by id.
    """

    op: Literal["node", "css", "base", "own", "order", "reload"]
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
    if _surroundings_changed(old, new):
        return [Patch(op="reload")]
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
    if old.forms is not new.forms:
        changed = {form.id for form in new.forms if old.form(form.id) is not form}
        found.extend(Patch(op="node", id=node.id, html=str(render_node(node, context)))
                     for node in after.nodes()
                     if isinstance(node, FormBox) and node.form in changed)
    if old.brand is not new.brand or old.name != new.name:
        found.extend(Patch(op="node", id=node.id, html=str(render_node(node, context)))
                     for node in after.nodes() if isinstance(node, Logo))
    return found


def _surroundings_changed(old: Site, new: Site) -> bool:
    """Whether something changed that any node's markup may depend on."""
    # A medium that has only come changes no node but those that are made to show it.
    if old.media is not new.media and list(old.media) != list(new.media[: len(old.media)]):
        return True
    if old.pages is new.pages:
        return False
    return [(p.id, p.slug) for p in old.pages] != [(p.id, p.slug) for p in new.pages]


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
