"""What rules look at outside a site: what is live, where links come out, the certificate."""

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Literal

from needle.core.kinds.menu import Menu, shown_pages
from needle.core.markup.surroundings import PageName
from needle.core.render.reads import actions_of
from needle.core.render.texts import runs_of
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import children_of
from needle.core.values.actions import GoAddress, GoPage
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.remembering import remembered

__all__ = ["NOTHING", "Beyond", "Link", "LinkAnswer", "LinkFault", "links_of", "menu_links",
           "outside_addresses"]


LinkFault = Literal["", "name", "silent", "unsafe"]


@dataclass(frozen=True, slots=True)
class LinkAnswer:
    """What came of asking for an address.

    Attributes:
        status: Of HTTP; 0 where nothing answered.
        moved: Where a permanent redirect leads; empty if there was none.
        fault: Why nothing answered.
    """

    status: int = 0
    moved: str = ""
    fault: LinkFault = ""


@dataclass(frozen=True, slots=True)
class Beyond:
    """What is known of the world around a site.

    Attributes:
        live: The pages that are live, or are about to be.
        answers: What came of the outside addresses that were asked for.
        certificate: What is wrong with the certificate of its domain; empty if nothing is.
    """

    live: frozenset[Id] = frozenset()
    answers: Mapping[str, LinkAnswer] = field(default_factory=dict)
    certificate: str = ""


NOTHING = Beyond()


@dataclass(frozen=True, slots=True)
class Link:
    """A link or click that leads to another page, or out of the site.

    Attributes:
        node: What holds it.
        part: The name of the section or popup that the node is in.
        variant: The key of the variant that it is in.
        page: The page that it leads to; empty for one that leads out.
        address: Where it leads out to; empty for one to a page.
        setting: The field that holds it.
    """

    node: Id
    part: str
    variant: str
    page: Id = ""
    address: str = ""
    setting: str = "actions"


def links_of(page: Page) -> tuple[Link, ...]:
    """Return the links of a page, in reading order; those of its menus are not among them."""
    return remembered(page, "links_of", lambda page: tuple(
        link for variant in page.variants for link in _of_variant(variant)))


def menu_links(page: Page, site: Site) -> Iterator[Link]:
    """Yield the links of a page's menus."""
    menus: tuple[tuple[Menu, str, str], ...] = remembered(page, "menus_of", lambda page: tuple(
        (node, part, variant.key) for variant in page.variants
        for node, part in _nodes(variant) if isinstance(node, Menu)))
    for menu, part, key in menus:
        for shown in shown_pages(menu, [
                PageName(one.id, one.name, one.slug) for one in site.pages]):
            yield Link(menu.id, part, key, page=shown.id, setting="pages")


def outside_addresses(site: Site) -> list[str]:
    """Return every address outside the site that a page leads to, each once."""
    return list(dict.fromkeys(link.address for page in site.pages for link in links_of(page)
                              if link.address.startswith(("http://", "https://"))))


def _nodes(variant: Variant) -> Iterator[tuple[Node, str]]:
    for top in (*variant.children, *variant.popups):
        yield from _down(top, top.name)


def _down(node: Node, part: str) -> Iterator[tuple[Node, str]]:
    yield node, part
    for child in children_of(node):
        yield from _down(child, part)


def _of_variant(variant: Variant) -> Iterator[Link]:
    for node, part in _nodes(variant):
        for action in actions_of(node):
            if isinstance(action, GoPage):
                yield Link(node.id, part, variant.key, page=action.page)
            elif isinstance(action, GoAddress):
                yield Link(node.id, part, variant.key, address=action.address.strip())
        for run in runs_of(node):
            if run.link.startswith("page:"):
                yield Link(node.id, part, variant.key, page=run.link[5:], setting="words")
            elif run.link:
                yield Link(node.id, part, variant.key, address=run.link, setting="words")
