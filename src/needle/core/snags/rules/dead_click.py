"""A click that leads nowhere."""

from collections.abc import Iterator

from needle.core.render.holders import kind_of
from needle.core.render.reads import actions_of
from needle.core.render.texts import runs_of
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.actions import (
    GiveFile,
    GoPage,
    GoSection,
    HidePart,
    OpenPopup,
    PlayVideo,
    ShowPart,
)
from needle.core.values.areas import Area

__all__ = ["RULES"]


def _idle(at: ItemAt) -> Iterator[Spot]:
    if not getattr(at.node, "actions", ()) and any(
            field.editor == "actions" and field.required for field in kind_of(at.node).fields):
        yield Spot("A button does nothing")


def _gone(at: ItemAt) -> Iterator[Spot]:
    if any(_is_dead(action, at) for action in actions_of(at.node)):
        yield Spot("A click leads to something that is gone")
    if any(run.link.startswith("page:") and at.site.page(run.link[5:]) is None
           for run in runs_of(at.node)):
        yield Spot("A link leads to a page that is gone")


def _is_dead(action: object, at: ItemAt) -> bool:
    match action:
        case GoPage(page):
            return at.site.page(page) is None
        case GoSection(section):
            return all(section != other.id for other in at.variant.children)
        case OpenPopup(popup):
            return all(popup != other.id for other in at.variant.popups)
        case GiveFile(file):
            return at.site.medium(file) is None
        case ShowPart(part) | HidePart(part) | PlayVideo(part):
            return all(part != node.id for node in at.variant.nodes())
    return False


RULES = (
    Rule(id="idle-button", setting="actions",
         weight=1, scope="item", look=_idle, source="trade practice",
         reason="Who clicks and sees nothing happen leaves."),
    Rule(id="dead-click", setting="actions",
         weight=1, scope="item", look=_gone, source="trade practice",
         reads=frozenset({Area.PAGES, Area.MEDIA}),
         reason="Who follows a click to nothing is lost."),
)
