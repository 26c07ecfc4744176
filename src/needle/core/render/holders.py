"""Sections, rows, columns and popups: their declarations and templates."""

from collections.abc import Mapping

from markupsafe import Markup

from needle.core.kinds import ITEM_KINDS
from needle.core.kinds.kind import Field, Kind
from needle.core.markup.anchors import popup_anchor, section_anchor
from needle.core.markup.imagery import image
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.site.tree import Column, Popup, Row, Section, children_of
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.media import Medium
from needle.core.values.node import Node
from needle.core.values.styletable import colour_css, ground_css
from needle.core.values.widths import Width

__all__ = ["KINDS", "kind_of", "render_node"]


def kind_of(node: Node) -> Kind:
    """Return the kind of any node."""
    return _BY_TYPE[type(node)]


def render_node(node: Node, context: Surroundings) -> Markup:
    """Return the markup of a node and everything in it."""
    if context.mode != "edit" and len(set(node.hidden)) == len(Width):
        return Markup("")  # Nobody would see it; its words are not sent either.
    kind = kind_of(node)
    outer = context.declare(kind.reads)
    try:
        return kind.render(node, context)
    finally:
        context.declare(outer)


def _inside(node: Node, context: Surroundings) -> Markup:
    return join(render_node(child, context) for child in children_of(node))


def _section(node: Section, context: Surroundings) -> Markup:
    classes = "section backed" if node.picture or node.film else "section"
    attributes = context.attributes(node, classes) | {"id": section_anchor(node.id)}
    if node.linked and context.mode == "edit":
        attributes["data-linked"] = True
    return tag(node.role, attributes, _behind(node, context, "100vw", context.seen_at_once(node)),
               _inside(node, context))


def _behind(node: Section | Column, context: Surroundings, sizes: str, first: bool) -> Markup:
    """Return what covers a section or column from behind: picture or video, and a colour."""
    medium = context.medium(node.picture)
    film = context.medium(node.film) if isinstance(node, Section) else None
    if medium is None and film is None:
        return Markup("")
    parts = [image(medium, context, alt="", sizes=sizes, first=first)] if medium else []
    if film is not None and context.mode != "edit":
        parts = [tag("video", {
            "src": context.pictures.original(film), "autoplay": True, "muted": True, "loop": True,
            "playsinline": True, "aria-hidden": "true", "tabindex": "-1",
            "poster": context.pictures.renditions(medium)[-1].address if medium else None})]
    if node.shade:
        parts.append(tag("div", {"class": "shade", "style":
                         f"opacity:{node.shade / 100:g};background:{colour_css(node.overlay)}"}))
    kept = f"object-position:{_kept_in_sight(node, medium)}"
    return tag("div", {"class": "behind", "style": kept}, *parts)


def _kept_in_sight(node: Section | Column, medium: Medium | None) -> str:
    """Return the point that stays in sight: the side that was chosen, or the picture's own."""
    if medium is None or node.focus != "center":
        return node.focus
    return f"{medium.focus_x}% {medium.focus_y}%"


def _column(node: Column, context: Surroundings) -> Markup:
    classes = "column column-backed backed" if node.picture else "column"
    return tag("div", context.attributes(node, classes), _behind(node, context, "", False),
               _inside(node, context))


def _popup(node: Popup, context: Surroundings) -> Markup:
    back = colour_css(node.backdrop)
    attributes = context.attributes(node, f"popup popup-{node.position}") | {
        "id": popup_anchor(node.id), "aria-label": node.name or context.words("popup-unnamed"),
        "style": f"--back:color-mix(in srgb,{back} {node.strength}%,transparent);"
                 f"--size:{node.size}px",
        "data-fixed": not node.outside, "data-held": not node.escape,
    }
    if node.opens_itself and context.mode != "edit":
        attributes |= {
            "data-after": node.after_s or None, "data-scroll": node.at_scroll or None,
            "data-leave": node.on_leave, "data-again": node.again_days}
    close = tag("a", {"class": "popup-close", "href": "#", "role": "button", "data-close": True,
                      "aria-label": context.words("popup-close")}, "×")
    return tag("dialog", attributes, close, _inside(node, context))


def _new_column(node_id: Id) -> Column:
    return Column(id=node_id)


def _new_row(node_id: Id) -> Row:
    return Row(id=node_id, children=(Column(id=f"{node_id}c"),))


def _new_section(node_id: Id) -> Section:
    return Section(id=node_id, name="New section", children=(_new_row(f"{node_id}r"),))


def _new_popup(node_id: Id) -> Popup:
    return Popup(id=node_id, name="New popup", children=(_new_row(f"{node_id}r"),))


_READS = frozenset({Area.MEDIA})
_BOX = frozenset({"box", "holder"})
_ROLES = {"section": "Section", "header": "Header", "footer": "Footer"}
_FOCUS = {"center": "Middle", "top": "Top", "bottom": "Bottom"}
_POSITIONS = {"middle": "In the middle", "top": "At the top", "bottom": "At the bottom",
              "left": "At the left", "right": "At the right", "full": "Over all"}
_YES_NO = {True: "Yes", False: "No"}
_NAME = Field(name="name", label="Name", editor="line")
_BEHIND = (
    Field(name="picture", label="Picture", editor="medium", column="Behind"),
    Field(name="shade", label="Covered %", editor="number", column="Behind"),
    Field(name="overlay", label="With", editor="colour", column="Behind"),
    Field(name="focus", label="Keeps", editor="choice", choices=_FOCUS, column="Behind"))
_FILM = Field(name="film", label="Or video", editor="film", column="Behind")
_OPENS = "Opens and closes"

_HOLDERS: Mapping[type[Node], Kind] = {kind.type: kind for kind in (
    Kind(type=Section, purpose="Layout",
         about="A band across the page that holds rows and items",
         label="Section", mark="section", new=_new_section, render=_section,
         reads=_READS,
         traits=_BOX | {"section", "sticky", "type", "ink"},
         fields=(
             _NAME,
             Field(name="role", label="Stands as", editor="choice", choices=_ROLES),
             _BEHIND[0], _FILM, *_BEHIND[1:])),
    Kind(type=Row, purpose="Layout",
         about="Columns side by side, one below another on a phone",
         label="Row", mark="row", new=_new_row,
         traits=_BOX | {"row", "type", "ink"}, fields=(_NAME,),
         render=lambda node, context: tag("div", context.attributes(node, "row"),
                                          _inside(node, context))),
    Kind(type=Column, purpose="Layout",
         about="One of the columns of a row",
         label="Column", mark="column", new=_new_column,
         traits=_BOX | {"column", "sticky", "movable", "type", "ink"}, fields=(_NAME, *_BEHIND),
         render=_column, reads=_READS),
    Kind(type=Popup, purpose="Layout",
         about="A layer over the page, opened by a button, time, depth or leaving (overlay)",
         label="Popup", mark="popup", new=_new_popup, render=_popup,
         reads=frozenset({Area.LANGUAGE}),
         traits=_BOX | {"type", "ink"},
         fields=(
             _NAME,
             Field(name="backdrop", label="Backdrop", editor="colour"),
             Field(name="strength", label="Strength %", editor="number"),
             Field(name="size", label="Width px", editor="number"),
             Field(name="position", label="Stands", editor="choice", choices=_POSITIONS),
             Field(name="after_s", label="After s", editor="number",
                   column=_OPENS),
             Field(name="at_scroll", label="At depth %", editor="number",
                   column=_OPENS),
             Field(name="on_leave", label="On leaving", editor="choice", choices=_YES_NO,
                   column=_OPENS),
             Field(name="again_days", label="Again, days", editor="number", column=_OPENS),
             Field(name="outside", label="Click beside", editor="choice",
                   column=_OPENS,
                   choices={True: "Closes", False: "Nothing"}),
             Field(name="escape", label="Esc", editor="choice", column=_OPENS,
                   choices={True: "Closes", False: "Nothing"})),
         css=(".popup a:not(.button){color:inherit}"
              ".popup{border:0;width:min(var(--size,460px),calc(100% - 32px));"
              "max-width:none;max-height:calc(100% - 32px);overflow:auto;padding:32px 28px 28px;"
              "border-radius:var(--corner,8px);background-color:var(--c-paper);color:var(--t-ink);"
              f"{ground_css('paper')}}}"
              ".popup-top{margin-top:16px}.popup-bottom{margin-bottom:16px}"
              ".popup-left{margin-left:16px}.popup-right{margin-right:16px}"
              ".popup-full{width:100%;height:100%;max-height:none;border-radius:0}"
              ".popup[open]{display:grid;gap:16px}.popup::backdrop{background:var(--back)}"
              ".popup:is(:target,[data-back]):not([open]){display:grid;gap:16px;position:fixed;"
              "inset:0;margin:auto;"
              "box-shadow:0 0 0 100vmax var(--back);height:fit-content}"
              ".popup-close{position:absolute;top:6px;right:6px;width:44px;height:44px;"
              "display:grid;place-items:center;font-size:26px;line-height:1;color:inherit;"
              "text-decoration:none}")),
)}

KINDS: tuple[Kind, ...] = (*_HOLDERS.values(), *ITEM_KINDS.values())
_BY_TYPE: Mapping[type[Node], Kind] = {kind.type: kind for kind in KINDS}
