"""A click that leads nowhere."""

from collections.abc import Iterator

from needle.core.edit.everywhere import ways
from needle.core.render.holders import kind_of
from needle.core.render.texts import runs_of
from needle.core.site.site import Site, Variant
from needle.core.snags.snag import Snag
from needle.core.snags.walking import place_words
from needle.core.values.actions import (
    Action,
    GiveFile,
    GoPage,
    GoSection,
    HidePart,
    OpenPopup,
    PlayVideo,
    ShowPart,
)

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield buttons that do nothing, and clicks and links to what is gone."""
    for page, variant, path in ways(site):
        node = path[-1]
        where = place_words(page, variant, path)
        actions: tuple[Action, ...] = getattr(node, "actions", ())
        if not actions and any(field.editor == "actions" and field.required
                               for field in kind_of(node).fields):
            yield Snag(1, "A button does nothing", where, "node", node.id)
        if any(_is_dead(action, site, variant) for action in actions):
            yield Snag(1, "A click leads to something that is gone", where, "node", node.id)
        if any(run.link.startswith("page:") and site.page(run.link[5:]) is None
               for run in runs_of(node)):
            yield Snag(1, "A link leads to a page that is gone", where, "node", node.id)


def _is_dead(action: Action, site: Site, variant: Variant) -> bool:
    match action:
        case GoPage(page):
            return site.page(page) is None
        case GoSection(section):
            return all(section != other.id for other in variant.children)
        case OpenPopup(popup):
            return all(popup != other.id for other in variant.popups)
        case GiveFile(file):
            return site.medium(file) is None
        case ShowPart(part) | HidePart(part) | PlayVideo(part):
            return all(part != node.id for node in variant.nodes())
    return False
