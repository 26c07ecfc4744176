"""Whole pages."""

import json
from collections.abc import Sequence
from dataclasses import dataclass
from itertools import groupby

from markupsafe import Markup

from needle.core.markup.markup import Attributes, join, tag
from needle.core.render.adverts import advert_script
from needle.core.render.callers import calls_reached
from needle.core.render.context import Context, needs_script
from needle.core.render.holders import kind_of, render_node
from needle.core.render.structured import structured_data
from needle.core.render.stylesheet import (
    edit_sheet,
    node_css,
    own_css,
    page_css,
    without_unused,
)
from needle.core.render.tracking import (
    CONSENT_CSS,
    asks_for_consent,
    codes_at,
    consent_banner,
)
from needle.core.site.tree import Section
from needle.core.values.form import Role, ThankPage

__all__ = ["STRIP_CSS", "STRIP_PX", "Assets", "document_around", "edit_page", "live_body",
           "live_page", "runtime_parts", "still_page"]


STRIP_PX = 8
# Where the link that leads past the header goes.
_MAIN = "content"
STRIP_CSS = f"#needle-strip{{height:{STRIP_PX}px;background:#000}}"


@dataclass(frozen=True)
class Assets:
    """What a page refers to besides its pictures.

    Attributes:
        font_css: The @font-face rules.
        preload: Addresses of the fonts that the first screen needs.
        script: Address of the runtime, or empty if the page needs none.
        canonical: The page's one true address, or empty if it is not known.
        icon: Address of the icon in a browser's tab.
        touch_icon: Address of the icon that a phone puts on its home screen.
        share: Address of the picture that is shown where the page is shared.
        policy: What the page may load and run, where no host says it beside the page.
    """

    font_css: str = ""
    preload: Sequence[str] = ()
    script: str = ""
    canonical: str = ""
    icon: str = ""
    touch_icon: str = ""
    share: str = ""
    policy: str = ""


def live_body(context: Context) -> Markup:
    """Return the body of the page as visitors get it (or as a walk-through shows it)."""
    body: Attributes = {
        "data-root": context.root, "data-page": context.page.id,
        "data-variant": context.variant.key, "data-walk": context.mode == "walk",
        "data-reach": json.dumps([[one.name, one.does, one.amount]
                                  for one in context.page.reaches]) if context.page.reaches
        else None,
        "data-links": json.dumps([[context.link(one.to), one.name]
                                  for one in context.page.links]) if context.page.links
        else None,
        "data-out": " ".join(f"{call.id} {call.begins}" for call in calls_reached(
            context.site, context.variant.nodes())) or None}
    return tag("body", body, codes_at(context, "start"), _sections(context),
               join(render_node(popup, context) for popup in context.variant.popups),
               consent_banner(context), codes_at(context, "end"),
               Markup("".join(code.body for code in context.site.codes(context.page))))


def live_page(context: Context, assets: Assets, body: Markup) -> str:
    """Return the whole page around what `live_body` gave."""
    page, advert = context.page, advert_script(context)
    head = [
        *_common_head(context),
        tag("meta", {"http-equiv": "Content-Security-Policy", "content": assets.policy})
        if assets.policy else "",
        tag("meta", {"name": "description", "content": page.description})
        if page.description else "",
        tag("meta", {"name": "robots", "content": "noindex"})
        if page.unlisted or _follows_sending(context) else "",
        tag("meta", {"name": "theme-color", "content": _first_ground(context)}),
        tag("link", {"rel": "canonical", "href": assets.canonical}) if assets.canonical else "",
        *(tag("link", {"rel": "preload", "href": address, "as": "font", "type": "font/woff2",
                       "crossorigin": True}) for address in assets.preload),
        tag("link", {"rel": "icon", "href": assets.icon}) if assets.icon else "",
        tag("link", {"rel": "apple-touch-icon", "href": assets.touch_icon})
        if assets.touch_icon else "",
        *_shared(context, assets),
        tag("style", {}, Markup(assets.font_css + without_unused(
            page_css(context, body) + (CONSENT_CSS if asks_for_consent(context) else "")
            + own_css(context.site, context.page), body))),
        tag("script", {}, Markup(advert)) if advert else "",
        tag("script", {"src": assets.script, "defer": True}) if assets.script else "",
        structured_data(context, assets.share if assets.canonical else ""),
        codes_at(context, "head"),
        Markup("".join(code.head for code in context.site.codes(context.page))),
    ]
    return _document(context, head, body)


def document_around(context: Context, head: Sequence[Markup], body: Markup) -> str:
    """Return a document with what every page says of itself, and more in its head."""
    return _document(context, [*_common_head(context), *head], body)


def edit_page(context: Context, font_css: str) -> str:
    """Return the page for the editor's live views: inert, every node marked.

    The nodes' own rules come as JSON, so that the view can keep them apart and change
    one node's rules without touching the others.
    """
    rules = {node.id: css for node in context.variant.nodes() if (css := node_css(node))}
    held = json.dumps(rules).replace("<", "\\u003c")
    head = [
        *_common_head(context),
        tag("style", {"id": "needle-fonts"}, Markup(font_css)),
        tag("style", {"id": "needle-base"},
            Markup(edit_sheet(context.site, context.page))),
        tag("script", {"type": "application/json", "id": "needle-own"},
            Markup(json.dumps(own_css(context.site, context.page)).replace("<", "\\u003c"))),
        tag("script", {"type": "application/json", "id": "needle-rules"}, Markup(held)),
    ]
    tops = join(render_node(top, context) for top in context.variant.children)
    popups = join(render_node(popup, context) for popup in context.variant.popups)
    return _document(context, head, tag("body", {}, tag("main", {"data-holder": "children"}, tops),
                               tag("div", {"data-holder": "popups"}, popups)))


def still_page(context: Context, font_css: str) -> str:
    """Return the page to be taken a picture of: no scripts, no outside code, popups left out.

    A strip below the page is there to tell, by its colour, when all of it has been painted.
    """
    head = [*_common_head(context), tag("style", {}, Markup(
        font_css + edit_sheet(context.site, context.page, still=True) + page_css(context)
        + own_css(context.site, context.page) + "html{--vh:8px;scroll-behavior:auto}" + STRIP_CSS))]
    body = tag("body", {}, tag("main", {}, join(
        render_node(top, context) for top in context.variant.children)),
        tag("div", {"id": "needle-strip"}))
    # Pictures are there when the page is, not later.
    for later in (' loading="lazy"', ' decoding="async"'):
        body = Markup(body.replace(later, ""))
    return _document(context, head, body)


def runtime_parts(context: Context, counted: bool) -> tuple[str, ...]:
    """Return the names of the runtime parts that a page needs, in loading order.

    Args:
        counted: A host stands behind the page and counts its visits.
    """
    variant, forms = context.variant, context.site.forms
    nodes = list(variant.nodes())
    clicks = any(needs_script(getattr(node, "actions", ())) for node in nodes)
    kinds = sorted({part for node in nodes for part in kind_of(node).runtime_of(node, context)})
    shown = {getattr(node, "form", "") for node in nodes}
    remembers = any(field.role is Role.HIDDEN for form in forms for field in form.fields)
    needs = {
        "takealong": counted and bool(calls_reached(context.site, nodes)),
        "visit": counted,
        "source": "form" in kinds or remembers,
        "steps": any(form.steps for form in forms if form.id in shown),
        "work": "form" in kinds and any(form.challenge for form in forms),
        "popup": clicks or any(popup.opens_itself for popup in variant.popups),
        "clicks": clicks,
        "consent": asks_for_consent(context),
    } | dict.fromkeys(kinds, True)
    needs["followed"] = counted
    needs["seen"] = bool(context.looked_back_on) or "seen" in kinds
    return tuple(part for part, needed in needs.items() if needed)


def _common_head(context: Context) -> list[Markup]:
    return [
        tag("meta", {"charset": "utf-8"}),
        tag("meta", {"name": "viewport", "content": "width=device-width,initial-scale=1"}),
        tag("title", {}, context.page.title or context.page.name),
    ]


def _follows_sending(context: Context) -> bool:
    """Whether the page is shown after a form was sent: nobody is to begin there."""
    return any(isinstance(form.after, ThankPage) and form.after.page == context.page.id
               for form in context.site.forms)


def _first_ground(context: Context) -> str:
    """Return the colour that stands at the top of the page, for the browser around it."""
    colours = context.site.brand.colours()
    fill = next((str(top.look.base.get("fill", "")) for top in context.variant.children), "")
    return fill if fill.startswith("#") else colours.get(fill) or colours.get("paper", "#ffffff")


def _shared(context: Context, assets: Assets) -> list[Markup]:
    """Return what is told to those who show the page in a preview (Open Graph protocol)."""
    page = context.page
    told = {"og:type": "website", "og:site_name": context.site.name,
            "og:title": page.title or page.name, "og:description": page.description,
            "og:image": assets.share, "og:url": assets.canonical}
    card = [tag("meta", {"name": "twitter:card", "content": "summary_large_image"})] \
        if assets.share else []
    return [tag("meta", {"property": name, "content": words})
            for name, words in told.items() if words] + card


def _document(context: Context, head: Sequence[str], body: Markup) -> str:
    language = context.site.language
    return f'<!DOCTYPE html>\n<html lang="{language}">{tag("head", {}, *head)}{body}</html>\n'


def _sections(context: Context) -> Markup:
    """Return the sections; those between header and footer stand in the main landmark."""
    parts: list[Markup] = []
    # Of which table its row is, for the script that keeps what was seen.
    main = {"id": _MAIN, "data-table": context.looked_back_on or None}
    for inside, group in groupby(context.variant.children, key=_belongs_in_main):
        html = join(_section(section, context) for section in group)
        parts.append(tag("main", main, html) if inside and not any(
            part.startswith("<main") for part in parts) else
            tag("div", {}, html) if inside else html)
    over = bool(parts) and not parts[0].startswith("<main") and any(
        part.startswith("<main") for part in parts)
    skip = tag("a", {"class": "skip", "href": f"#{_MAIN}"}, context.words("skip-link"))
    return join((skip, *parts) if over else parts)


def _section(section: Section, context: Context) -> Markup:
    if context.sections is None:
        return render_node(section, context)
    return context.sections(section, context, lambda: render_node(section, context))


def _belongs_in_main(section: Section) -> bool:
    return section.role == "section"
