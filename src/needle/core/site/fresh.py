"""Fresh items that suit the site they are made for."""

from datetime import date

import msgspec

from needle.core.kinds.kind import Kind, Wishes
from needle.core.kinds.menu import Menu, shown_pages
from needle.core.markup.surroundings import PageName
from needle.core.site.site import Page, Site
from needle.core.site.tree import children_of
from needle.core.values.form import ThankPage
from needle.core.values.ids import Id
from needle.core.values.node import Node

__all__ = ["fresh_item", "menu_pages", "with_menus_written_down"]

# What pages of fine print are called, as the beginning of their address.
_FINE_PRINT = ("privacy", "imprint", "legal", "terms", "cookie")


def fresh_item(site: Site, kind: Kind, node_id: Id) -> Node:
    """Return a fresh node of a kind with what the site has for it."""
    node = kind.new(node_id)
    return kind.suit(node, _wishes(site)) if kind.suit else node


def _wishes(site: Site) -> Wishes:
    deadline = site.brief.deadline.strip()
    try:
        msgspec.convert(deadline, type=date)
    except msgspec.ValidationError:
        deadline = ""
    return Wishes(site.brief.call_to_action.strip(), deadline, menu_pages(site),
                  site.forms[0].id if len(site.forms) == 1 else "",
                  site.tables[-1] if site.tables else None)


def menu_pages(site: Site) -> tuple[Id, ...]:
    """Return the pages that a menu is for.

    Those that only follow after sending, and fine print, which belongs in the footer, are not.
    """
    thanks = {form.after.page for form in site.forms if isinstance(form.after, ThankPage)}
    return tuple(page.id for page in site.pages
                 if page.id not in thanks and not page.slug.startswith(_FINE_PRINT))


def with_menus_written_down(site: Site) -> Site:
    """Return a site of an earlier Needle with the pages of its menus written down.

    There a menu took in every new page by itself. The same site if it has no such menu.
    """
    names = [PageName(page.id, page.name, page.slug) for page in site.pages]

    def walked(node: Node) -> Node:
        if isinstance(node, Menu) and node.pages is None:
            return msgspec.structs.replace(node, left_out=(), pages=tuple(
                page.id for page in shown_pages(node, names)))
        inside = children_of(node)
        fresh = tuple(walked(child) for child in inside)
        return node if all(a is b for a, b in zip(fresh, inside, strict=True)) else (
            msgspec.structs.replace(node, children=fresh))

    def of_page(page: Page) -> Page:
        fresh = {name: tuple(msgspec.structs.replace(
            variant, children=tuple(walked(top) for top in variant.children),
            popups=tuple(walked(top) for top in variant.popups))
            for variant in getattr(page, name)) for name in ("variants", "archive")}
        return page if fresh == {name: getattr(page, name) for name in fresh} else (
            msgspec.structs.replace(page, **fresh))

    pages = tuple(of_page(page) for page in site.pages)
    kept = tuple(msgspec.structs.replace(one, section=walked(one.section)) for one in site.kept)
    if all(a is b for a, b in zip(pages, site.pages, strict=True)) and kept == site.kept:
        return site
    return msgspec.structs.replace(site, pages=pages, kept=kept)
