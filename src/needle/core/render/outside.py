"""A form or popup of a page as a small page of its own, to be shown in a frame elsewhere."""

import msgspec
from markupsafe import Markup

from needle.core.kinds.formbox import FormBox
from needle.core.markup.markup import join, tag
from needle.core.render.context import Context
from needle.core.render.document import Assets, document_around, runtime_parts
from needle.core.render.holders import render_node
from needle.core.render.stylesheet import page_css
from needle.core.site.site import NO_CODE, Page, Site, Variant
from needle.core.site.tree import Column, Popup, Row, Section
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.outside import OutsidePart
from needle.core.values.tracking import Consent

__all__ = ["PART_CSS", "part_body", "part_page", "part_runtime", "part_variant", "snippet",
           "without_codes"]

# The frame is as high as what stands in it, and shows the other page where that is bare.
PART_CSS = ("html,body{background:transparent;min-height:0}"
            "body>main>section{padding:0!important;min-height:0!important}"
            ".popup{position:static!important;display:block!important;border:0;margin:0;"
            "width:100%!important;max-width:none!important;max-height:none!important}")


def part_variant(page: Page, node_id: Id) -> Variant | None:
    """Return the first variant that has a form or popup, with that alone on it; `None` if there
    is none."""
    for variant in page.variants:
        for node in variant.nodes():
            if node.id == node_id and isinstance(node, Popup):
                return msgspec.structs.replace(variant, children=(), popups=(node,))
            if node.id == node_id and isinstance(node, FormBox):
                alone = Section(id="osec", children=(Row(id="orow", children=(
                    Column(id="ocol", children=(node,)),)),))
                return msgspec.structs.replace(variant, children=(alone,), popups=())
    return None


def snippet(part: OutsidePart, node: Node, base: str) -> str:
    """Return the lines that are set down on a page made elsewhere.

    Args:
        node: The form or popup.
        base: Where the host of the site answers, as "https://www.quillmoor.example".
    """
    told: dict[str, str | int | bool | None] = {
        "src": f"{base}/_needle/elsewhere.js", "data-part": part.id,
        "data-name": node.name or None}
    if isinstance(node, Popup):
        told |= {"data-kind": "popup", "data-size": node.size,
                 "data-click": part.at_click or None, "data-after": part.after_s or None,
                 "data-scroll": part.at_scroll or None, "data-leave": part.on_leave,
                 "data-again": part.again_days}
    return tag("script", {**told, "async": True})


def without_codes(site: Site, page: Page) -> Site:
    """Return the site without outside code: on a stranger's page nobody was asked for it."""
    bare = msgspec.structs.replace(page, code=NO_CODE, unlisted=True)
    return msgspec.structs.replace(
        site, code=NO_CODE, tracking=(), consent=Consent(),
        folders=tuple(msgspec.structs.replace(one, code=NO_CODE) for one in site.folders),
        pages=tuple(bare if one.id == page.id else one for one in site.pages))


def part_body(context: Context) -> Markup:
    """Return the body: the form, or what stands in the popup."""
    inside = join(render_node(top, context) for top in (
        *context.variant.children, *context.variant.popups))
    # Outside of its page a popup is open whenever it is there.
    inside = Markup(str(inside).replace("<dialog ", "<dialog open ", 1))
    return tag("body", {"data-root": context.root, "data-page": context.page.id,
                        "data-variant": context.variant.key, "data-part": True},
               tag("main", {}, inside))


def part_page(context: Context, assets: Assets, body: Markup) -> str:
    """Return the whole small page around what `part_body` gave."""
    return document_around(context, [
        tag("meta", {"name": "robots", "content": "noindex"}),
        tag("style", {}, Markup(assets.font_css + page_css(context, body) + PART_CSS)),
        tag("script", {"src": assets.script, "defer": True})], body)


def part_runtime(context: Context, counted: bool) -> tuple[str, ...]:
    """Return the names of the runtime parts that it needs, in loading order."""
    parts = [part for part in runtime_parts(context, counted) if part not in ("consent", "popup")]
    # Its cross is seen to by the script of popups, whether anything else opens one or not.
    return (*parts, *(["popup"] if context.variant.popups else []), "inside")
