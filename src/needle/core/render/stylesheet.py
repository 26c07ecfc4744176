"""Looks as CSS: phone first, and only the rules that are used."""

import re
from collections.abc import Callable, Iterable, Mapping
from functools import partial

from needle.core.colour.palette import words_on
from needle.core.kinds.kind import Kind
from needle.core.markup.anchors import node_class
from needle.core.render.context import Context
from needle.core.render.holders import KINDS
from needle.core.render.ownrules import sound_css
from needle.core.render.usedrules import used_rules
from needle.core.site.site import Brand, Page, Site
from needle.core.values.look import PLAIN, Look, Value
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.styletable import PROPERTIES, TABLE, face_css, ground_css
from needle.core.values.theme import theme_css
from needle.core.values.widths import Width, band_query

__all__ = ["BASE_CSS", "base_sheet", "brand_css", "edit_sheet", "font_rule",
           "look_css", "node_css", "own_css", "page_css", "without_unused"]

BASE_CSS = (
    "*,::before,::after{box-sizing:border-box}"
    "html{-webkit-text-size-adjust:100%;scroll-behavior:smooth}"
    "body{margin:0;font-family:var(--f-body);font-size:1.0625rem;line-height:1.6;"
    "color:var(--t-ink);background-color:var(--c-paper);overflow-wrap:break-word}"
    "h1,h2,h3,h4,h5,h6,p,ul,ol{margin:0;padding:0}"
    ".section a:not(.button){color:inherit}"
    "img,video{max-width:100%;height:auto}"
    ".section{position:relative;display:grid;column-gap:0!important;row-gap:28px;"
    "grid-template-columns:minmax(20px,1fr) minmax(0,var(--inner,1120px)) minmax(20px,1fr);"
    "padding:var(--room,56px) 0;align-content:center}"
    ".section>*{grid-column:2}"
    "[hidden]{display:none!important}"
    ".section{overflow-x:clip}"
    ".behind{position:absolute;inset:0;overflow:hidden;border-radius:inherit}"
    ".section>.behind{grid-column:auto}"
    ".behind img,.behind video{display:block;width:100%;height:100%;object-fit:cover;"
    "object-position:inherit}"
    ".shade{position:absolute;inset:0}"
    ".column-backed{position:relative;isolation:isolate}.column-backed>.behind{z-index:-1}"
    ".section>.row{position:relative}"
    ".row{display:flex;flex-wrap:nowrap;gap:24px}"
    ".column{display:flex;flex-direction:column;gap:16px;flex:1 1 0;min-width:0}"
    f"@media {band_query(Width.PHONE)}{{.row{{flex-direction:var(--dir,column)}}"
    ".column{flex:var(--flex,none);width:var(--wide,100%)}}"
    ".skip{position:absolute;left:-99rem}.skip:focus{left:8px;top:8px;z-index:9;padding:10px 16px;"
    "background:var(--c-paper);color:var(--c-ink)}"
    "@media (prefers-reduced-motion:reduce){html{scroll-behavior:auto}"
    ".behind video{display:none}}"
    "@media (forced-colors:active){.button{border:1px solid}}"
    "@media print{details::details-content{content-visibility:visible;block-size:auto}"
    ".skip{display:none}}"
)


# Words that wait to be confirmed, as the editor shows them.
_INVENTED_CSS = (".needle-invented{text-decoration:underline dotted #b4780f 2px;"
                 "text-underline-offset:.18em;text-decoration-skip-ink:none}")
# Words in whose place an advert may put others.
_ADVERT_CSS = ("[data-advert]{text-decoration:underline dashed #2f6f62 2px;"
               "text-underline-offset:.18em;text-decoration-skip-ink:none}")
# Words that stand for a column of a table, and parts that are one row's own.
_COLUMN_CSS = ("[data-column]{background:#dfe9f7;color:#14213d;box-shadow:0 2px #2f5fb3;"
               "border-radius:2px;padding:0 .12em;-webkit-text-fill-color:#14213d}"
               "[data-own]{box-shadow:-5px 0 #2f5fb3}.rows-bar{display:flex!important}")
_REFERRED = re.compile(r"var\(--([a-z_][a-z0-9_-]*)")
_GIVEN = re.compile(r"--(?P<name>[a-z_][a-z0-9_-]*):[^;{}]*(?:;|(?=\}))")
_ORDER = {row: place for place, row in enumerate(PROPERTIES)}


def brand_css(brand: Brand, dark_too: bool = False) -> str:
    """Return the custom properties that looks refer to.

    Args:
        dark_too: Have visitors whose system is dark get the dark colours, if there are any.
            Pictures keep what was chosen for them, so words on a picture do too.
    """
    day = _colour_css(brand.colours())
    css = (f":root{{{day}{ground_css('paper')};--f-heading:{face_css(brand.heading_face)};"
           f"--f-body:{face_css(brand.body_face)}}}")
    if dark_too and brand.dark:
        night = _colour_css({swatch.role: swatch.value for swatch in brand.dark})
        css += (f"@media (prefers-color-scheme:dark){{:root{{color-scheme:dark;{night}}}"
                f".backed{{{day}{ground_css('paper')};color:var(--t-ink)}}}}")
    return css


def _colour_css(colours: Mapping[str, str]) -> str:
    inks = "".join(f"--{ground}-{role}:{value};"
                   for (ground, role), value in words_on(colours).items())
    return "".join(f"--c-{role}:{value};" for role, value in colours.items()) + inks


def look_css(look: Look, selector: str) -> str:
    """Return the rules that give `selector` this look at every width."""
    return "".join(
        _wrap(query, rule) for query, rule in _rules(look, lambda state: selector + state))


def _rules(look: Look, select: Callable[[str], str]) -> Iterable[tuple[str, str]]:
    if look == PLAIN:
        return
    for width in (None, Width.PHONE, Width.TABLET, Width.DESKTOP):
        values = look.at(width)
        if width is Width.PHONE and look.base:
            values = _phone_defaults(look) | dict(values)
        if not values:
            continue
        query = "" if width is None else band_query(width)
        for state, body in _bodies(values):
            yield query, f"{select(state)}{{{body}}}"


def _phone_defaults(look: Look) -> dict[str, Value]:
    return {row.name: row.phone for name in look.base
            if (row := TABLE[name]).phone is not None}


def _bodies(values: Mapping[str, Value]) -> Iterable[tuple[str, str]]:
    """Yield the state ("", ":hover", …) and the declarations for it."""
    rows = sorted((TABLE[name] for name in values), key=_ORDER.__getitem__)
    for state in ("", "hover", "focus-visible", "active"):
        body = ";".join(row.declarations(values[row.name]) for row in rows if row.state == state)
        if body:
            yield (f":{state}" if state else ""), body


def _wrap(query: str, rule: str) -> str:
    return f"@media {query}{{{rule}}}" if query else rule


def node_css(node: Node) -> str:
    """Return the rules for a node's own look and for where it is hidden."""
    selector = f".{node_class(node)}.{node_class(node)}"
    hidden = "".join(
        f"@media {band_query(width)}{{{selector}{{display:none!important}}}}"
        for width in node.hidden)
    return look_css(node.look, selector) + hidden


def base_sheet(site: Site, page: Page, kinds: Iterable[Kind],
               styles: Iterable[str] | None = None, dark_too: bool = False) -> str:
    """Return everything but the nodes' own rules and the marketer's.

    Args:
        kinds: The kinds whose rules are needed.
        styles: The text styles that are used; `None` for all.
    """
    wanted = None if styles is None else set(styles)
    texts = "".join(look_css(style.look, f".t-{style.key}") for style in site.styles
                    if wanted is None or style.key in wanted)
    letters = f"section.section{{--inner:{page.letter_width}px}}" if page.letter_width else ""
    return (brand_css(site.brand, dark_too) + BASE_CSS + "".join(kind.css for kind in kinds)
            + theme_css(site.brand.theme, site.brand.room) + texts + letters)


def edit_sheet(site: Site, page: Page, still: bool = False) -> str:
    """Return what `base_sheet` gives for the editor, with the fonts that were added.

    Args:
        still: For a picture: what stands for a column looks as it will be, and is not marked.
    """
    marks = "" if still else _COLUMN_CSS
    return base_sheet(site, page, KINDS) + _INVENTED_CSS + _ADVERT_CSS + marks + "".join(
        font_rule(font.family, font.weight, font.italic, f"/media/{font.file}")
        for font in site.fonts)


def font_rule(family: str, weight: int, italic: bool, address: str, more: str = "") -> str:
    """Return the @font-face rule for one cut of a family."""
    return (f"@font-face{{font-family:'{family}';font-weight:{weight};"
            f"font-style:{'italic' if italic else 'normal'};{more}src:url({address})}}")


def own_css(site: Site, page: Page) -> str:
    """Return the rules that the marketer wrote, which come after all others.

    Rules with an error in them are left out whole, so that one slip of the pen cannot take
    the rest of the page's looks with it.
    """
    return "".join(sound_css(code.css) for code in site.codes(page))


def page_css(context: Context, body: str = "") -> str:
    """Return the whole style sheet of one page: only what this page uses.

    Args:
        body: The page's markup; given that, rules for what is not on it stay out.
    """
    nodes = list(context.variant.nodes())
    types = {type(node) for node in nodes}
    direct = {kind.key for kind in KINDS if kind.type in types}
    borrowed = frozenset().union(*(kind.needs for kind in KINDS if kind.key in direct))
    used = [kind for kind in KINDS if kind.key in direct | borrowed]
    styles = {str(getattr(node, "style", "")) for node in nodes} | borrowed
    dark_too = context.mode != "edit"
    key = (frozenset(direct | borrowed), frozenset(styles), context.page.letter_width, dark_too)
    # Most pages of a site use the same kinds and styles.
    known: dict[object, str] = remembered(context.site, "base_sheets", lambda _: {})
    if (sheet := known.get(key)) is None:
        sheet = known[key] = base_sheet(context.site, context.page, used, styles, dark_too)
    return (used_rules(sheet, body) if body else sheet) + _shared_rules(nodes)


def without_unused(sheet: str, body: str) -> str:
    """Return a sheet without custom properties that neither it nor the page refers to.

    The colours and faces of the brand stay: scripts and pasted code may use them.
    """
    fresh, before = sheet, ""
    while fresh != before:
        before, used = fresh, set(_REFERRED.findall(fresh)) | set(_REFERRED.findall(body))
        fresh = _GIVEN.sub(partial(_kept_if, used), fresh)
    return fresh


def _kept_if(used: set[str], found: re.Match[str]) -> str:
    return found[0] if found["name"] in used or found["name"].startswith(("c-", "f-")) else ""


def _shared_rules(nodes: Iterable[Node]) -> str:
    """Return the nodes' rules; nodes that look alike share one."""
    groups: dict[tuple[str, str], list[str]] = {}
    order = {"": 0} | {band_query(width): n for n, width in enumerate(Width, 1)}
    for node in nodes:
        for query, rule in _rules(node.look, lambda state: state):
            groups.setdefault((query, rule), []).append(node_class(node))
        for width in node.hidden:
            groups.setdefault((band_query(width), "{display:none!important}"), []).append(
                node_class(node))
    parts = []
    for (query, rule), names in sorted(groups.items(), key=lambda group: order[group[0][0]]):
        state, body = rule.split("{", 1)
        selectors = ",".join(f".{name}.{name}{state}" for name in names)
        parts.append(_wrap(query, f"{selectors}{{{body}"))
    return "".join(parts)
