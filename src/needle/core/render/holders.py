"""Sections, rows, columns and popups: their declarations and templates."""

from collections.abc import Mapping

from markupsafe import Markup

from needle.core.kinds import ITEM_KINDS, item_kind
from needle.core.render.context import Context, popup_anchor, section_anchor
from needle.core.render.imagery import image
from needle.core.render.markup import join, tag
from needle.core.site.ids import Id
from needle.core.site.kind import Field, Kind
from needle.core.site.node import Node
from needle.core.site.tree import Column, Popup, Row, Section, children_of

__all__ = ["KINDS", "kind_of", "render_node"]


def kind_of(node: Node) -> Kind:
    """Return the kind of any node."""
    return item_kind(type(node)) or _HOLDERS[type(node)]


def render_node(node: Node, context: Context) -> Markup:
    """Return the markup of a node and everything in it."""
    return kind_of(node).render(node, context)


def _inside(node: Node, context: Context) -> Markup:
    return join(render_node(child, context) for child in children_of(node))


def _section(node: Section, context: Context) -> Markup:
    attributes = context.attributes(node, "section") | {"id": section_anchor(node.id)}
    medium = context.medium(node.picture)
    behind = Markup("")
    if medium is not None:
        first = any(node is top for top in context.variant.children[:2])
        shade = tag("div", {"class": "shade", "style": f"opacity:{node.shade / 100:g}"})
        behind = tag("div", {"class": "behind", "style": f"object-position:{node.focus}"},
                     image(medium, context, alt="", sizes="100vw", first=first),
                     shade if node.shade else "")
    return tag(node.role, attributes, behind, _inside(node, context))


def _popup(node: Popup, context: Context) -> Markup:
    attributes = context.attributes(node, "popup") | {
        "id": popup_anchor(node.id), "aria-label": node.name or "Popup",
        "style": f"--back:color-mix(in srgb,var(--c-{node.backdrop}) {node.strength}%,transparent)",
    }
    close = tag("a", {"class": "popup-close", "href": "#", "role": "button", "data-close": True,
                      "aria-label": "Close"}, "×")
    return tag("dialog", attributes, close, _inside(node, context))


def _new_column(node_id: Id) -> Column:
    return Column(id=node_id)


def _new_row(node_id: Id) -> Row:
    return Row(id=node_id, children=(Column(id=f"{node_id}c"),))


def _new_section(node_id: Id) -> Section:
    return Section(id=node_id, name="New section", children=(_new_row(f"{node_id}r"),))


def _new_popup(node_id: Id) -> Popup:
    return Popup(id=node_id, name="New popup", children=(_new_row(f"{node_id}r"),))


_BOX = frozenset({"box", "holder"})
_ROLES = {"section": "Section", "header": "Header", "footer": "Footer"}
_FOCUS = {"center": "Middle", "top": "Top", "bottom": "Bottom"}
_NAME = Field(name="name", label="Name", editor="line")

_HOLDERS: Mapping[type[Node], Kind] = {kind.type: kind for kind in (
    Kind(type=Section, label="Section", mark="section", new=_new_section, render=_section,
         traits=_BOX | {"section", "type"},
         fields=(
             _NAME,
             Field(name="role", label="Stands as", editor="choice", choices=_ROLES),
             Field(name="picture", label="Picture", editor="medium"),
             Field(name="shade", label="Darkened %", editor="number", low=0, high=95),
             Field(name="focus", label="Keeps", editor="choice", choices=_FOCUS))),
    Kind(type=Row, label="Row", mark="row", new=_new_row,
         traits=_BOX | {"row", "type"}, fields=(_NAME,),
         render=lambda node, context: tag("div", context.attributes(node, "row"),
                                          _inside(node, context))),
    Kind(type=Column, label="Column", mark="column", new=_new_column,
         traits=_BOX | {"column", "movable", "type"}, fields=(_NAME,),
         render=lambda node, context: tag("div", context.attributes(node, "column"),
                                          _inside(node, context))),
    Kind(type=Popup, label="Popup", mark="popup", new=_new_popup, render=_popup,
         traits=_BOX | {"type"},
         fields=(
             _NAME,
             Field(name="backdrop", label="Backdrop", editor="colour"),
             Field(name="strength", label="Strength %", editor="number", low=0, high=100)),
         css=(".popup a:not(.button){color:inherit}"
              ".popup{border:0;width:min(460px,calc(100% - 32px));"
              "max-height:calc(100% - 32px);overflow:auto;padding:32px 28px 28px;"
              "border-radius:8px;background-color:var(--c-paper);color:var(--c-ink)}"
              ".popup[open]{display:grid;gap:16px}.popup::backdrop{background:var(--back)}"
              ".popup:target:not([open]){display:grid;gap:16px;position:fixed;inset:0;margin:auto;"
              "box-shadow:0 0 0 100vmax var(--back);height:fit-content}"
              ".popup-close{position:absolute;top:6px;right:6px;width:44px;height:44px;"
              "display:grid;place-items:center;font-size:26px;line-height:1;color:inherit;"
              "text-decoration:none}")),
)}

KINDS: tuple[Kind, ...] = (*_HOLDERS.values(), *ITEM_KINDS.values())
