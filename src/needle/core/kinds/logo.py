"""The site's sign and name, from the brand."""

from typing import Annotated

from markupsafe import Markup, escape

from needle.core.brand.marks import mark_svg
from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.areas import Area
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey, one_of, whole

__all__ = ["KIND", "Logo"]

_SHOWS = {"both": "Sign and name", "sign": "Sign alone", "name": "Name alone"}


class Logo(Item, frozen=True, tag="logo"):
    """The sign and the name of the site; a click leads to its first page.

    Attributes:
        shows: "both", "sign" or "name".
        high: How high the sign is, in CSS pixels.
    """

    shows: Annotated[str, one_of(*_SHOWS)] = "both"
    high: Annotated[int, whole(12, 200)] = 30
    style: StyleKey = "minor"


def _render(node: Logo, context: Surroundings) -> Markup:
    site = context.branded()
    own = context.medium(site.brand.mark.medium)
    parts = []
    if node.shows != "name":
        if own is not None:
            parts.append(tag("img", {
                "src": context.pictures.renditions(own)[0].address, "alt": "",
                "height": node.high, "width": round(node.high * own.width / max(1, own.height))}))
        else:
            parts.append(Markup(mark_svg(site, None, node.high, inline=True).replace(
                "<svg ", '<svg aria-hidden="true" ', 1)))
    if node.shows != "sign":
        parts.append(tag("span", {}, escape(site.name)))
    home = next((page for page in context.pages() if not page.slug), None)
    attributes = context.attributes(node, f"logo t-{node.style}") | {
        "href": context.page_address(home.id) if home else None,
        "aria-label": site.name if node.shows == "sign" else None}
    return tag("a" if home else "div", attributes, *parts)


KIND = Kind(
    purpose="Finding the way",
    about="The site's own sign and name, as the brand has them",
    type=Logo, label="Logo", mark="logo", new=lambda node_id: Logo(id=node_id), render=_render,
    reads=frozenset({Area.NAME, Area.BRAND, Area.FONTS, Area.PAGES, Area.MEDIA}),
    traits=TYPE_TRAITS, summary=lambda node, context: f"{context.branded().name}, from the brand",
    cuts=frozenset({("heading", 600)}),
    fields=(
        Field(name="shows", label="Shows", editor="choice", choices=_SHOWS),
        Field(name="high", label="Sign px", editor="number"),
        Field(name="style", label="Style", editor="style")),
    css=(".section .logo{display:inline-flex;gap:.5em;align-items:center;color:inherit;"
         "text-decoration:none;width:fit-content;font-family:var(--f-heading);font-weight:600}"
         ".logo svg,.logo img{flex:none}"),
)
