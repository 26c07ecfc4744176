"""A menu made from the site's pages; on a phone it folds behind a button."""

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.areas import Area
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey
from needle.core.values.styletable import ground_css
from needle.core.values.widths import Width, band_query

__all__ = ["KIND", "Menu"]


class Menu(Item, frozen=True, tag="menu"):
    """Links to pages of the site.

    Attributes:
        left_out: Pages that are not in it; new pages are.
        opener: The words of the button on a phone.
    """

    left_out: tuple[Id, ...] = ()
    opener: str = "Menu"
    style: StyleKey = "small"


def _new(node_id: Id) -> Menu:
    return Menu(id=node_id)


def _render(node: Menu, context: Surroundings) -> Markup:
    mark = f"m-{node.id}"
    links = join(
        tag("li", {}, tag("a", {
            "href": context.page_address(page.id),
            "aria-current": "page" if page.id == context.page_id else None}, page.name))
        for page in context.pages() if page.id not in node.left_out)
    button = tag("button", {"class": "menu-open", "type": "button", "popovertarget": mark},
                 node.opener or "Menu")
    return tag("nav", context.attributes(node, f"menu t-{node.style}") | {
        "aria-label": node.name or "Site"}, button,
        tag("ul", {"id": mark, "popover": True}, links))


def _summary(node: Menu, context: Surroundings) -> str:
    count = sum(page.id not in node.left_out for page in context.pages())
    return f"Menu of {counted(count, 'page')}"


KIND = Kind(
    type=Menu, label="Menu", mark="menu", traits=TYPE_TRAITS, new=_new, render=_render,
    reads=frozenset({Area.PAGES}),
    summary=_summary,
    fields=(
        Field(name="left_out", label="Pages", editor="pages"),
        Field(name="opener", label="On a phone", editor="line"),
        Field(name="style", label="Style", editor="style")),
    css=(".menu ul{list-style:none;display:flex;flex-wrap:wrap;gap:6px 22px;position:static;"
         "margin:0;padding:0;border:0;background:none;color:inherit;width:auto;height:auto;"
         "overflow:visible;inset:auto;justify-content:inherit}"
         ".menu a{display:block;padding:10px 0;text-decoration:none}"
         ".menu a[aria-current]{text-decoration:underline;text-underline-offset:4px}"
         ".menu-open{display:none;font:inherit;color:inherit;background:none;cursor:pointer;"
         "border:1px solid currentColor;border-radius:4px;padding:10px 14px;margin-left:auto}"
         f"@media {band_query(Width.PHONE)}{{.menu-open{{display:block}}"
         ".menu ul:not(:popover-open){display:none}"
         ".menu ul:popover-open{position:fixed;inset:0 0 auto;flex-direction:column;"
         f"padding:20px;background-color:var(--c-paper);color:var(--t-ink);{ground_css('paper')};"
         "box-shadow:0 20px 60px #0b112652}}"),
)
