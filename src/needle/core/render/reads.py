"""What a node draws on of the rest of the site: the one place that patches, marks of what is
stale and the uses of media ask."""

from collections.abc import Iterator

from needle.core.render.holders import kind_of
from needle.core.render.texts import runs_of
from needle.core.values.actions import GiveFile, GoPage
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.remembering import remembered

__all__ = ["actions_of", "media_of", "reads_of"]


def reads_of(node: Node) -> frozenset[Area]:
    """Return the areas of the site that a node's markup draws on.

    Those are what its kind declares, and what its links and clicks lead to.
    """
    return remembered(node, "reads", _reads)


def _reads(node: Node) -> frozenset[Area]:
    found = set(kind_of(node).reads)
    for action in actions_of(node):
        if isinstance(action, GoPage):
            found.add(Area.PAGES)
        elif isinstance(action, GiveFile):
            found.add(Area.MEDIA)
    if any(run.link.startswith("page:") for run in runs_of(node)):
        found.add(Area.PAGES)
    return frozenset(found)


def actions_of(node: Node) -> Iterator[object]:
    """Yield what clicks on a node and on its entries do."""
    yield from getattr(node, "actions", ())
    for entry in getattr(node, "entries", ()):
        yield from getattr(entry, "actions", ())


def media_of(node: Node) -> Iterator[tuple[str, Id]]:
    """Yield the media that a node shows or hands out, each with its path in the node."""
    for field in kind_of(node).fields:
        if field.editor in ("medium", "film"):
            yield field.name, getattr(node, field.name)
        elif field.editor == "entries":
            for at, entry in enumerate(getattr(node, field.name)):
                for part in field.parts:
                    if part.editor in ("medium", "film"):
                        yield f"{field.name}.{at}.{part.name}", getattr(entry, part.name)
    if kind_of(node).key == "rows":  # What its cells show was worked out.
        for at, entry in enumerate(getattr(node, "entries", ())):
            yield f"entries.{at}.medium", entry.medium
    for at, action in enumerate(getattr(node, "actions", ())):
        if isinstance(action, GiveFile):
            yield f"actions.{at}.file", action.file
