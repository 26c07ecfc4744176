"""The Script: a page as an outline of its words."""

from collections.abc import Sequence
from dataclasses import dataclass

from needle.core.edit.linked import linked_uses
from needle.core.render.context import Context
from needle.core.render.holders import kind_of
from needle.core.render.texts import plain_lines, runs_of, texts_of
from needle.core.site.site import Site, Variant
from needle.core.site.tree import Column, Popup, Row, Section, children_of
from needle.core.values.actions import (
    Action,
    ClosePopup,
    CountGoal,
    Dial,
    GiveFile,
    GoAddress,
    GoPage,
    GoSection,
    HidePart,
    OpenPopup,
    PlayVideo,
    ShowPart,
    Write,
)
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.widths import Width

__all__ = ["OutlineRow", "action_words", "node_words", "outline_top", "shown_on"]

_SHORT = {Width.PHONE: "phone", Width.TABLET: "tablet", Width.DESKTOP: "desk"}


@dataclass(frozen=True, slots=True)
class OutlineRow:
    """One row of the Script.

    Attributes:
        mark: The icon.
        words: What it shows, on one line.
        note: What it does and where it differs.
        top: It is a section or popup.
        editing: What typing in the row changes: "words", "name" or nothing.
        node: The node it belongs to; an item with several texts has a row for each.
        text: The path of the text that is typed in it.
    """

    id: str
    mark: str
    words: str
    note: str
    top: bool
    editing: str
    children: tuple["OutlineRow", ...]
    node: Id
    text: str = ""


def outline_top(node: Node, context: Context) -> OutlineRow:
    """Return the outline of a section or popup. A row with one column is not shown itself."""
    kind = kind_of(node)
    return OutlineRow(node.id, kind.mark, node.name or kind.label, _note(node, context), True,
                      "name", _rows(children_of(node), context), node.id)


def _rows(rows: Sequence[Node], context: Context) -> tuple[OutlineRow, ...]:
    found: list[OutlineRow] = []
    for row in rows:
        columns = children_of(row)
        if len(columns) == 1 and isinstance(columns[0], Column):
            found.extend(_item(item, context) for item in children_of(columns[0]))
        else:
            noun = "cells" if "cells" in row.look.base else "columns"
            found.append(_holder(row, f"{len(columns)} {noun}", context, tuple(
                _holder(column, f"{noun[:-1].capitalize()} {number}", context,
                        tuple(_item(item, context) for item in children_of(column)))
                for number, column in enumerate(columns, 1))))
    return tuple(found)


def _holder(node: Node, words: str, context: Context, children: tuple[OutlineRow, ...],
            ) -> OutlineRow:
    kind = kind_of(node)
    return OutlineRow(node.id, kind.mark, node.name or words, _note(node, context), False, "name",
                      children, node.id)


def _item(node: Node, context: Context) -> OutlineRow:
    kind, paths = kind_of(node), list(texts_of(node))
    words = node_words(node, context) or f"Empty {kind.label.lower()}"
    note = _note(node, context)
    if len(paths) == 1:
        return OutlineRow(node.id, kind.mark, words, note, False, "words", (), node.id, paths[0])
    children = tuple(
        OutlineRow(f"{node.id}/{path}", "pilcrow", _one_line(node, path) or "Empty", "", False,
                   "words", (), node.id, path) for path in paths)
    return OutlineRow(node.id, kind.mark, words, note, False, "name", children, node.id)


def _one_line(node: Node, path: str = "") -> str:
    return " / ".join(line.replace("\n", " ") for line in plain_lines(node, path))


def node_words(node: Node, context: Context) -> str:
    """Return what a node says, on one line."""
    kind = kind_of(node)
    if node.name and len(texts_of(node)) != 1:
        return node.name
    if texts_of(node) and not kind.summary:
        return _one_line(node)
    return kind.summary(node, context) if kind.summary else kind.label


def _note(node: Node, context: Context) -> str:
    parts = [action_words(action, context.site, context.variant)
             for action in getattr(node, "actions", ())]
    if node.hidden:
        parts.append(shown_on(node))
    if any(run.invented for run in runs_of(node)):
        parts.append("placeholder")
    if isinstance(node, Row) and (cells := node.look.base.get("cells")):
        parts.append(f"{cells} a line")
    if isinstance(node, Section) and node.role != "section":
        parts.append(node.role)
    if isinstance(node, Section) and node.linked:
        count = len(linked_uses(context.site, node.linked))
        parts.append(f"linked, {counted(count, 'page')}")
    if isinstance(node, Popup):
        parts.extend(_openers(node))
    return " · ".join(parts)


def _openers(popup: Popup) -> list[str]:
    """Return how a popup opens by itself, in words."""
    found = []
    if popup.after_s:
        found.append(f"after {popup.after_s} s")
    if popup.at_scroll:
        found.append(f"at {popup.at_scroll} %")
    if popup.on_leave:
        found.append("on leaving")
    return found


def shown_on(node: Node) -> str:
    """Return where a node is seen, in short: "desk only", "not on phone"."""
    shown = [width for width in reversed(Width) if width not in node.hidden]
    if not shown:
        return "hidden"
    if len(shown) == 1:
        return f"{_SHORT[shown[0]]} only"
    return f"not on {_SHORT[node.hidden[0]]}"


def action_words(action: Action, site: Site, variant: Variant) -> str:
    """Return what a click does, as the Script and the tray say it."""
    match action:
        case GoPage(page_id):
            page = site.page(page_id)
            return f"to {page.name}" if page else "to a page that is gone"
        case GoAddress(address):
            return f"to {address}"
        case GoSection(section_id):
            found = next((s for s in variant.children if s.id == section_id), None)
            return f"to {found.name or 'section'}" if found else "to a section that is gone"
        case OpenPopup(popup_id):
            popup: Popup | None = next((p for p in variant.popups if p.id == popup_id), None)
            return f"opens {popup.name}" if popup else "opens a popup that is gone"
        case ClosePopup():
            return "closes the popup"
        case Dial(number):
            return f"calls {number}"
        case GiveFile(file):
            medium = site.medium(file)
            return f"hands out {medium.name}" if medium else "hands out a file that is gone"
        case Write(address):
            return f"writes to {address}"
        case ShowPart(part):
            return f"shows {_part_words(part, site, variant)}"
        case HidePart(part):
            return f"hides {_part_words(part, site, variant)}"
        case PlayVideo(video):
            return f"plays {_part_words(video, site, variant)}"
        case CountGoal(name):
            return f"counts “{name}”"


def _part_words(part: Id, site: Site, variant: Variant) -> str:
    node = next((node for node in variant.nodes() if node.id == part), None)
    if node is None:
        return "a part that is gone"
    words = node.name or " ".join(plain_lines(node))
    return f"“{words[:24]}”" if words else kind_of(node).label.lower()
