"""The way to a page: the home page, what stands above it, and the page itself."""

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey

__all__ = ["KIND", "Trail"]


class Trail(Item, frozen=True, tag="trail"):
    """Links to the pages above this one."""

    style: StyleKey = "minor"


def _new(node_id: Id) -> Trail:
    return Trail(id=node_id)


def _render(node: Trail, context: Surroundings) -> Markup:
    home = next((page for page in context.pages() if not page.slug), None)
    steps = []
    if home is not None and home.id != context.page_id:
        steps.append(tag("a", {"href": context.page_address(home.id)}, home.name))
    steps += [tag("a", {"href": context.row_address(one.page, one.slug)}, one.name)
              for one in context.above]
    steps.append(tag("span", {"aria-current": "page"}, context.page_name))
    attributes = context.attributes(node, f"trail t-{node.style}")
    return tag("nav", attributes | {"aria-label": context.words("trail-label")}, tag(
        "ol", {}, join(tag("li", {}, step) for step in steps)))


KIND = Kind(
    purpose="Finding the way",
    about="Home, the area or category, this page, each with a link (breadcrumbs)",
    type=Trail, label="Way to the page", mark="chevron", new=_new, render=_render,
    traits=TYPE_TRAITS, reads=frozenset({Area.PAGES, Area.TABLES, Area.LANGUAGE, Area.CONTENT}),
    summary=lambda node, context: " / ".join([*(one.name for one in context.above),
                                              context.page_name]),
    fields=(Field(name="style", label="Style", editor="style"),),
    css=(".trail ol{list-style:none;display:flex;flex-wrap:wrap;gap:4px 8px;margin:0;padding:0}"
         ".trail li+li::before{content:'/';padding-right:8px;opacity:.6}"
         ".trail a{color:inherit}"))
