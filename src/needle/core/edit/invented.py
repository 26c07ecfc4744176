"""Words and pictures that were made up for a first draft, until somebody confirms them."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import msgspec

from needle.core.edit.everywhere import map_nodes
from needle.core.edit.media import set_medium
from needle.core.edit.texts import with_lines
from needle.core.render.reads import media_of
from needle.core.render.texts import read_lines, runs_of, texts_of
from needle.core.site.site import Page, Site
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.words import Text, tidy

__all__ = ["Placeholder", "confirm", "confirm_everything", "confirm_page", "confirmed",
           "holds_invented", "placeholders"]


@dataclass(frozen=True, slots=True)
class Placeholder:
    """Something that waits to be confirmed.

    Attributes:
        page: The page it stands on; `None` for the name of the site.
        node: The item; empty for a page's own name, title or description.
        medium: The stand-in picture, if it is one.
        words: What was made up.
    """

    page: Page | None
    node: Id
    words: str
    medium: Id = ""


def holds_invented(node: Node) -> bool:
    """Whether any words of a node were made up."""
    return any(run.invented for run in runs_of(node))


def placeholders(site: Site) -> Iterator[Placeholder]:
    """Yield everything that waits to be confirmed, in reading order."""
    if "name" in site.invented:
        yield Placeholder(None, "", site.name)
    stand_ins = {medium.id for medium in site.media if medium.invented}
    for page in site.pages:
        for found in remembered(page, "maybe_invented", _maybe):
            if not found.medium or found.medium in stand_ins:
                yield found


def _maybe(page: Page) -> tuple[Placeholder, ...]:
    """Return what was made up on a page, and every picture on it, which may be a stand-in."""
    found = [Placeholder(page, "", str(getattr(page, part))) for part in page.invented]
    for variant in page.variants:
        for node in variant.nodes():
            if holds_invented(node):
                found.append(Placeholder(page, node.id, " ".join(
                    run.words for run in runs_of(node) if run.invented)))
            found.extend(Placeholder(page, node.id, "a stand-in picture", medium)
                         for _, medium in media_of(node) if medium)
    return tuple(found)


def confirmed(lines: Iterable[Text]) -> tuple[Text, ...]:
    """Return lines of which nothing counts as made up any more."""
    return tuple(tidy(msgspec.structs.replace(run, invented=False) for run in line)
                 for line in lines)


def _confirmed_node(node: Node) -> Node:
    if holds_invented(node):
        for path in texts_of(node):
            node = with_lines(node, path, confirmed(read_lines(node, path)))
    return node


def confirm(site: Site, ids: Iterable[Id]) -> Site:
    """Return the site with the words and pictures of some nodes, and of all in them, confirmed."""
    wanted = set(ids)
    shown: set[Id] = set()

    def how(node: Node) -> Node:
        if node.id not in wanted:
            return node
        shown.update(medium for _, medium in media_of(node))
        return _confirmed_node(node)

    site = map_nodes(site, how)
    for medium in site.media:
        if medium.id in shown and medium.invented:
            site = set_medium(site, medium.id, invented=False)
    return site


def confirm_page(site: Site, page_id: Id) -> Site:
    """Return the site with everything on a page confirmed."""
    page = site.page(page_id)
    if page is None:
        return site
    site = confirm(site, [node.id for variant in page.variants for node in variant.nodes()])
    pages = tuple(msgspec.structs.replace(other, invented=()) if other.id == page_id else other
                  for other in site.pages)
    return msgspec.structs.replace(site, pages=pages)


def confirm_everything(site: Site) -> Site:
    """Return the site with nothing left that waits to be confirmed."""
    for page in site.pages:
        site = confirm_page(site, page.id)
    media = tuple(msgspec.structs.replace(m, invented=False) for m in site.media)
    return msgspec.structs.replace(map_nodes(site, _confirmed_node), media=media, invented=())
