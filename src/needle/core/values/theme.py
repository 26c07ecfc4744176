"""Themes: how a site is built up, beside its colours and its type.

A theme is one choice for each facet. Facets are rows that say what each choice looks like, so the
brand screen, validation and the style sheet all read the same table. Rules speak of custom
properties (`--room`, `--corner` …) that sections, cards, buttons and pictures draw on; whatever a
node sets for itself goes before them.
"""

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Annotated

from needle.core.values.look import Value as LookValue
from needle.core.values.strict import one_of
from needle.core.values.styletable import ground_css
from needle.core.values.value import Value
from needle.core.values.widths import Width, band_query

__all__ = ["FACETS", "Facet", "FacetChoice", "Theme", "theme_css"]

_PHONE = f"@media {band_query(Width.PHONE)}"
# Sections that follow on another one; those over a picture keep their straight edge.
_NEXT = "section.section+section.section"
_SHAPED = f"{_NEXT}:not(.backed)"
_AT_THE_EDGE = "minmax(20px,calc((100% - 1120px)/2))"
_EDGE_OF_PAGE = f"{_AT_THE_EDGE} minmax(0,var(--inner,1120px)) minmax(20px,1fr)"


@dataclass(frozen=True, slots=True)
class FacetChoice:
    """What one facet can be.

    Attributes:
        name: As the person reads it.
        css: Its rules.
        room: Above and below a section on desktop and on the phone, in CSS pixels.
        styles: Values of the text styles for titles and headings, which a theme sets when it is
            chosen.
    """

    name: str
    css: str = ""
    room: tuple[int, int] = (0, 0)
    styles: Mapping[str, LookValue] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class Facet:
    """One side of a theme.

    Attributes:
        key: The field of `Theme`.
        label: As the person reads it.
        choices: By key, the plainest first.
    """

    key: str
    label: str
    choices: Mapping[str, FacetChoice]


def _before(shape: str, where: str = _SHAPED) -> str:
    """Return a rule for a piece that stands on top of a section, in the section's own colour."""
    return (f"{where}::before{{content:'';"
            f"position:absolute;inset:auto 0 calc(100% - 1px);background:inherit;{shape}}}")


def _line(shape: str) -> str:
    return (f"{_NEXT}::before{{content:'';position:absolute;top:0;left:50%;translate:-50%;"
            f"width:min(1120px,100% - 40px);{shape}}}")


def _ground(where: str, role: str, more: str = "") -> str:
    """Return a rule that gives sections a ground, with words that stay readable on it.

    It weighs nothing, so that a section's own fill goes before it.
    """
    return f":where({where}){{background-color:var(--c-{role});{ground_css(role)};{more}}}"


_RHYTHM = Facet("rhythm", "Room", {
    "usual": FacetChoice("As usual", room=(72, 48)),
    "tight": FacetChoice("Close", room=(50, 36)),
    "airy": FacetChoice("Wide", room=(112, 68)),
})
_CORNER = Facet("corner", "Corners", {
    "soft": FacetChoice("Soft", ":root{--corner:8px;--corner-small:5px}"),
    "sharp": FacetChoice("Sharp", ":root{--corner:0px;--corner-small:0px}"),
    "slight": FacetChoice("Just broken", ":root{--corner:3px;--corner-small:3px}"),
    "round": FacetChoice("Round", ":root{--corner:22px;--corner-small:12px}"),
    "leaf": FacetChoice("Two of four", ":root{--corner:26px 3px;--corner-small:10px 2px}"),
})
_CARDS = Facet("cards", "Cards", {
    "flat": FacetChoice("Flat", ":root{--card-pad:26px 24px}"),
    "line": FacetChoice("With a fine line", (
        ":root{--card-pad:26px 24px;"
        "--card-edge:1px solid color-mix(in srgb,currentColor 22%,transparent)}")),
    "soft": FacetChoice("Lifted", (
        ":root{--card-pad:30px 28px;--card-lift:0 1px 2px #0b11261f,0 14px 34px -14px #0b112652}")),
    "hard": FacetChoice("With a hard shadow", (
        ":root{--card-pad:24px 22px;--card-edge:2px solid var(--c-ink);"
        "--card-lift:6px 6px 0 var(--c-ink)}")),
    "top": FacetChoice("With a stripe on top", (
        ":root{--card-pad:28px 24px;--card-lift:inset 0 5px 0 var(--c-accent)}")),
    "side": FacetChoice("With a stripe at the side", (
        ":root{--card-pad:22px 24px 22px 30px;--card-lift:inset 6px 0 0 var(--c-main)}")),
    "dashed": FacetChoice("Dashed", (
        ":root{--card-pad:26px 24px;--card-edge:2px dashed var(--c-accent)}")),
})
_PARTING = Facet("parting", "Sections part by", {
    "none": FacetChoice("Nothing"),
    "line": FacetChoice("A fine line", _line(
        "border-top:1px solid color-mix(in srgb,currentColor 26%,transparent)")),
    "double": FacetChoice("A double rule", _line("border-top:5px double currentColor")),
    "heavy": FacetChoice("A heavy rule", (
        f":where({_NEXT}){{border-top:3px solid var(--c-ink)}}")),
    "curve": FacetChoice("A curve", _before(
        "height:clamp(18px,3.4vw,46px);border-radius:50% 50% 0 0/100% 100% 0 0")),
    "slant": FacetChoice("A slant", _before(
        "height:clamp(20px,4vw,56px);clip-path:polygon(0 100%,100% 0,100% 100%)")),
    "scallop": FacetChoice("Scallops", _before(
        "height:14px;mask-image:radial-gradient(circle at 50% 100%,#000 13px,transparent 13.5px);"
        "mask-position:50% 100%;mask-size:28px 14px;mask-repeat:repeat-x")),
    "teeth": FacetChoice("Teeth", _before(
        "height:10px;mask-image:linear-gradient(135deg,transparent 50%,#000 50%),"
        "linear-gradient(225deg,transparent 50%,#000 50%);mask-size:20px 20px;"
        "mask-repeat:repeat-x")),
    "overlap": FacetChoice("Lying over each other", (
        f":where({_SHAPED}){{margin-top:-30px;"
        "border-radius:30px 30px 0 0}:where(section.section:has(+section.section))"
        "{border-bottom:30px solid transparent}")),
    "panels": FacetChoice("Standing apart", (
        "body{background-color:var(--c-mist)}:where(section.section){"
        "margin:14px clamp(8px,1.4vw,20px);border-radius:var(--corner,8px);overflow:clip}")),
})
_GROUNDS = Facet("grounds", "Grounds", {
    "plain": FacetChoice("Paper"),
    "turns": FacetChoice("Paper and mist in turn", _ground(
        "section.section:nth-of-type(even)", "mist", "--card-fill:var(--c-paper)")),
    "mist": FacetChoice("Mist", _ground(
        "section.section", "mist", "--card-fill:var(--c-paper)")),
    "deep": FacetChoice("Each third one dark", _ground(
        "section.section:nth-of-type(3n)", "ink", "color:var(--t-paper)")),
    "main": FacetChoice("Each fourth one in the main colour", _ground(
        "section.section:nth-of-type(4n-1)", "main",
        "color:var(--t-on_main);--card-fill:var(--c-paper)")),
})
_BUTTONS = Facet("buttons", "Buttons", {
    "soft": FacetChoice("Soft", ":root{--corner-button:6px}"),
    "square": FacetChoice("Square", ":root{--corner-button:0px}"),
    "pill": FacetChoice("Round ends", (
        ":root{--corner-button:99px}.button{padding-inline:32px}")),
    "hard": FacetChoice("With a hard shadow", (
        ":root{--corner-button:var(--corner-small)}.button{border:2px solid var(--c-ink);"
        "box-shadow:4px 4px 0 var(--c-ink)}.button:active{translate:3px 3px;"
        "box-shadow:1px 1px 0 var(--c-ink)}.b-second{border-color:currentColor;"
        "box-shadow:4px 4px 0 currentColor}")),
    "leaf": FacetChoice("Two corners of four", ":root{--corner-button:18px 3px}"),
    "caps": FacetChoice("Capitals", (
        ":root{--corner-button:0px}.button{padding:18px 34px;text-transform:uppercase;"
        "letter-spacing:.09em}")),
    "ring": FacetChoice("With a ring", (
        ":root{--corner-button:99px}.b-main{box-shadow:0 0 0 5px "
        "color-mix(in srgb,var(--c-main) 26%,transparent)}")),
    "tall": FacetChoice("Tall", (
        ":root{--corner-button:var(--corner-small)}.button{padding:21px 40px}")),
})
_PICTURES = Facet("pictures", "Pictures", {
    "soft": FacetChoice("Soft corners", ":root{--corner-picture:8px}"),
    "square": FacetChoice("Square", ":root{--corner-picture:0px}"),
    "round": FacetChoice("Round corners", ":root{--corner-picture:28px}"),
    "arch": FacetChoice("An arch", (
        ":root{--corner-picture:240px 240px 0 0}")),
    "leaf": FacetChoice("Two corners of four", ":root{--corner-picture:72px 4px}"),
    "print": FacetChoice("A print, slightly turned", (
        ":root{--corner-picture:2px}.picture{background:#fff;padding:10px 10px 36px;"
        "box-shadow:0 1px 2px #0b112633,0 12px 26px -10px #0b112659;rotate:-1.3deg}"
        ".row:nth-of-type(even) .picture{rotate:1.1deg}")),
    "mat": FacetChoice("A mat and a line", (
        ":root{--corner-picture:0px}.picture{padding:12px;"
        "border:1px solid color-mix(in srgb,currentColor 38%,transparent)}")),
    "block": FacetChoice("On a block of colour", (
        ":root{--corner-picture:0px}.picture{box-shadow:16px 16px 0 var(--c-accent)}"
        f"{_PHONE}{{.picture{{box-shadow:8px 8px 0 var(--c-accent)}}}}")),
    "edge": FacetChoice("A heavy edge", (
        ":root{--corner-picture:var(--corner)}.picture{border:3px solid var(--c-ink)}")),
})
_HEADINGS = Facet("headings", "Headings", {
    "plain": FacetChoice("Plain", styles={"weight": 600, "spacing": 0}),
    "heavy": FacetChoice("Heavy and close", styles={"weight": 700, "spacing": -0.025}),
    "light": FacetChoice("Light", styles={"weight": 400, "spacing": -0.01}),
    "caps": FacetChoice("Capitals", ".t-title,.t-heading{text-transform:uppercase}",
                        styles={"weight": 700, "spacing": 0.01}),
    "lined": FacetChoice("With a line below", (
        "h2.t-heading{border-bottom:1px solid currentColor;padding-bottom:.4em}"),
        styles={"weight": 600, "spacing": 0}),
})
_SIDE = FacetChoice("At one edge, headings at the side", (
    ":root{--lead:left;--lead-place:flex-start}"
    f".section{{grid-template-columns:{_EDGE_OF_PAGE}}}"
    "@media (min-width:1025px){section.section:has(>.row+.row):has("
    ">.row:first-child>.column:only-child>.t-heading:only-child){grid-template-columns:"
    f"{_AT_THE_EDGE} 240px minmax(0,840px) minmax(20px,1fr);column-gap:0}}"
    "section.section:has(>.row+.row)>.row:first-child:has(>.column:only-child>.t-heading:"
    "only-child){grid-column:2;grid-row:1;align-self:start}"
    "section.section:has(>.row:first-child>.column:only-child>.t-heading:only-child)"
    ">.row:not(:first-child){grid-column:3;margin-left:40px}"
    "section.section:has(>.row:first-child>.column:only-child>.t-heading:only-child)"
    ">.row:nth-child(2){grid-row:1}}"))
_EDGE = Facet("edge", "Left edge", {
    "shared": FacetChoice("One for all", (
        ":root{--lead:left;--lead-place:flex-start}"
        f".section{{grid-template-columns:{_EDGE_OF_PAGE}}}")),
    "middle": FacetChoice("Around the middle", (
        ":root{--lead:center;--lead-place:center}section.section>.row:first-child>"
        ".column:only-child>.t-heading:only-child{text-align:center}")),
    "left": FacetChoice("Far to the left", (
        ":root{--lead:left;--lead-place:flex-start}.section{grid-template-columns:"
        "minmax(20px,5vw) minmax(0,var(--inner,1120px)) minmax(20px,1fr)}")),
    "side": _SIDE,
})
_MARK = ("section.section>.row:first-of-type>.column>.t-heading:first-child")
_DECORATION = Facet("decoration", "Decoration", {
    "none": FacetChoice("None"),
    "bar": FacetChoice("A short bar over headings", (
        f"{_MARK}::before{{content:'';display:block;width:56px;height:6px;margin-bottom:18px;"
        "background:var(--c-accent)}")),
    "underline": FacetChoice("A stroke under titles", (
        ".t-title{text-decoration:underline var(--c-accent) .09em;text-underline-offset:.16em;"
        "text-decoration-skip-ink:none}")),
    "index": FacetChoice("Numbered sections", (
        "body{counter-reset:part}section.section{counter-increment:part}"
        f"{_MARK}::before{{content:counter(part,decimal-leading-zero) / '';display:block;"
        "font:600 15px/1 var(--f-body);letter-spacing:.06em;margin-bottom:14px;"
        "color:var(--t-accent)}")),
    "side": FacetChoice("A bar beside headings", (
        f"{_MARK}{{border-left:7px solid var(--c-accent);padding-left:.55em}}")),
    "dots": FacetChoice("A field of dots", (
        "section.section:nth-of-type(odd)::after{content:'';position:absolute;right:0;top:0;"
        "width:clamp(0px,(100vw - 1140px)/2,150px);height:150px;opacity:.45;"
        "background:radial-gradient(var(--c-accent) 2.4px,#0000 2.9px) 0 0/16px 16px}")),
    "quote": FacetChoice("Large quotation marks", (
        ".said blockquote::before{content:'';display:block;width:40px;height:30px;"
        "margin-bottom:6px;background:radial-gradient(circle at 9px 21px,var(--c-accent) 9px,"
        "#0000 9.5px),radial-gradient(circle at 31px 21px,var(--c-accent) 9px,#0000 9.5px),"
        "conic-gradient(from 200deg at 9px 0,var(--c-accent) 0 26deg,#0000 0) 0 0/20px 24px "
        "no-repeat,conic-gradient(from 200deg at 9px 0,var(--c-accent) 0 26deg,#0000 0) 22px 0/"
        "20px 24px no-repeat}")),
})

FACETS: tuple[Facet, ...] = (_RHYTHM, _CORNER, _CARDS, _PARTING, _GROUNDS, _BUTTONS, _PICTURES,
                             _HEADINGS, _EDGE, _DECORATION)


class Theme(Value, frozen=True):
    """How a site is built up: a choice for each facet."""

    rhythm: Annotated[str, one_of(*_RHYTHM.choices)] = "usual"
    corner: Annotated[str, one_of(*_CORNER.choices)] = "soft"
    cards: Annotated[str, one_of(*_CARDS.choices)] = "flat"
    parting: Annotated[str, one_of(*_PARTING.choices)] = "none"
    grounds: Annotated[str, one_of(*_GROUNDS.choices)] = "plain"
    buttons: Annotated[str, one_of(*_BUTTONS.choices)] = "soft"
    pictures: Annotated[str, one_of(*_PICTURES.choices)] = "soft"
    headings: Annotated[str, one_of(*_HEADINGS.choices)] = "plain"
    edge: Annotated[str, one_of(*_EDGE.choices)] = "shared"
    decoration: Annotated[str, one_of(*_DECORATION.choices)] = "none"


def theme_css(theme: Theme | None, percent: int) -> str:
    """Return the rules of a theme; none for a site that has none.

    Args:
        percent: How much space sections have, of the usual.
    """
    if theme is None:
        return ""
    chosen = [facet.choices[getattr(theme, facet.key)] for facet in FACETS]
    wide, narrow = (round(px * percent / 100) for px in _RHYTHM.choices[theme.rhythm].room)
    return (f":root{{--room:{wide}px}}{_PHONE}{{:root{{--room:{narrow}px}}}}"
            ":where(section.section){background-color:var(--c-paper)}"
            + "".join(choice.css for choice in chosen))
