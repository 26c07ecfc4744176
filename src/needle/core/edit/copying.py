"""Copies with ids of their own, whose inner references point inside the copy."""

from typing import Any

import msgspec

from needle.core.site.site import Variant
from needle.core.site.tree import children_of, walk
from needle.core.values.actions import (
    Action,
    GoSection,
    HidePart,
    OpenPopup,
    PlayVideo,
    ShowPart,
)
from needle.core.values.ids import Id, new_id
from needle.core.values.node import Node

__all__ = ["fresh_copy", "fresh_variant", "renamed"]


def fresh_copy(node: Node) -> Any:
    """Return a copy of `node` in which every node has a new id."""
    return renamed(node, {old.id: new_id() for old in walk(node)})


def fresh_variant(variant: Variant, key: str) -> Variant:
    """Return a copy of a variant under another key, every node with a new id."""
    names = {node.id: new_id() for node in variant.nodes()}
    return msgspec.structs.replace(
        variant, key=key,
        children=tuple(renamed(section, names) for section in variant.children),
        popups=tuple(renamed(popup, names) for popup in variant.popups))


def renamed(node: Node, names: dict[Id, Id]) -> Any:
    """Return a copy of `node` under new ids, its inner references changed with them."""
    changes: dict[str, object] = {"id": names[node.id]}
    if inside := children_of(node):
        changes["children"] = tuple(renamed(child, names) for child in inside)
    if actions := getattr(node, "actions", ()):
        changes["actions"] = tuple(_redirected(action, names) for action in actions)
    return msgspec.structs.replace(node, **changes)


def _redirected(action: Action, names: dict[Id, Id]) -> Action:
    if isinstance(action, OpenPopup):
        return OpenPopup(names.get(action.popup, action.popup))
    if isinstance(action, GoSection):
        return GoSection(names.get(action.section, action.section))
    if isinstance(action, PlayVideo):
        return PlayVideo(names.get(action.video, action.video))
    if isinstance(action, ShowPart | HidePart):
        return type(action)(names.get(action.part, action.part))
    return action
