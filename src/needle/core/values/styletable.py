"""The style table: every property of a look, declared once.

The tray's editors, validation, CSS and copying a look all read these rows.
A new property is a new row.
"""

import re
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, field
from typing import Literal

from needle.core.colour.palette import ROLES
from needle.core.messages.message import Message, say
from needle.core.values.look import Look, Value
from needle.core.values.widths import Width

__all__ = ["PROPERTIES", "TABLE", "Property", "colour_css", "ground_css", "ink_css",
           "look_faults", "measured",
           "properties_for"]

Editor = Literal["number", "choice", "colour", "face"]
ColumnName = Literal["type", "box", "surface", "state"]
State = Literal["", "hover", "active", "focus-visible"]
_ROOT_PX = 16
# As `strict.Face`, which is declared on a floor that knows this table.
_FACE = re.compile(r"\w[\w .,+&()-]{0,79}")
_HEX = re.compile(r"#[0-9a-f]{6}\Z")
_ROLE = re.compile(r"[a-z][a-z_]{0,30}\Z")


@dataclass(frozen=True, slots=True, kw_only=True, eq=False)
class Property:
    """One row of the style table.

    Attributes:
        name: The key in a look.
        label: The word in the tray; properties with one `line` share a line there.
        column: The column of the tray: "type", "box", "surface" or "state".
        beside: What is said before it where it shares a line, if its place there does not say it.
        tip: What it means.
        needs: The trait a node must have to take it.
        css: Declarations with "{}" for the value, or one text for each choice.
        editor: "face" is a choice too, or the name of any family of the site.
        low, high, step: Limits and arrow step of a number, in `unit`.
        default: What holds where nothing is set. `None`: it is left to the kind.
        phone: What holds on a phone unless a value is set there; base does not reach it.
        ground: It is the colour behind words, which stay readable on it.
        state: When it holds: always, or while the node is pointed at ("hover"), pressed
            ("active") or in focus by keyboard ("focus-visible").
    """

    name: str
    label: str
    line: str
    column: ColumnName
    needs: str
    editor: Editor
    beside: str = ""
    tip: str = ""
    css: str = ""
    unit: str = ""
    low: float = 0
    high: float = 0
    step: float = 1
    default: Value | None = None
    phone: Value | None = None
    choices: Mapping[Value, tuple[str, str]] = field(default_factory=dict)
    ground: bool = False
    state: State = ""

    @property
    def css_name(self) -> str:
        """The CSS property of a number that is set by one plain declaration, or empty."""
        name, _, value = self.css.partition(":")
        plain = self.editor == "number" and value in ("{}px", "{}em", "{}")
        return name if plain and not name.startswith("--") else ""

    def fault(self, value: object) -> Message | None:
        """Return what is wrong with `value`, or `None`."""
        given = f"{value!r:.60}"
        if self.editor == "number":
            if isinstance(value, bool) or not isinstance(value, int | float):
                return say("look-number", label=self.label, given=given)
            if not self.low <= value <= self.high:
                return say("look-range", label=self.label, low=f"{self.low:g}",
                           high=f"{self.high:g}{' ' if self.unit else ''}{self.unit}")
        elif self.editor == "face":
            if value not in self.choices and not (
                    isinstance(value, str) and _FACE.fullmatch(value)):
                return say("look-face", label=self.label, given=given)
        elif self.editor == "choice":
            if value not in self.choices:
                return say("look-choice", label=self.label, given=given,
                           known=", ".join(str(key) for key in self.choices))
        elif not isinstance(value, str) or not (_HEX.match(value) or _ROLE.match(value)):
            return say("look-colour", label=self.label, given=given)
        return None

    def declarations(self, value: Value) -> str:
        """Return the CSS that sets `value`."""
        if self.editor == "face" and value not in self.choices:
            return f"font-family:{face_css(str(value))}"
        if self.editor in ("choice", "face"):
            return self.choices[value][1]
        if self.editor == "colour":
            shown = ink_css(str(value)) if self.css == "color:{}" else colour_css(str(value))
            behind = ";" + ground_css(str(value)) if self.ground else ""
            return self.css.replace("{}", shown) + behind
        if self.name == "size" and not isinstance(value, str):
            # Visitors who set a larger type for their browser get a larger page.
            return f"font-size:{value / _ROOT_PX:g}rem"
        return self.css.replace("{}", f"{value:g}" if isinstance(value, float) else str(value))


def face_css(face: str) -> str:
    """Return the font-family value for a face of the brand, with its stand-in and a fallback."""
    serif = any(word in face for word in ("Slab", "Serif", "Garamond", "Bitter", "Fraunces"))
    fallback = "ui-monospace,monospace" if "Courier" in face or "Mono" in face else (
        "Georgia,serif" if serif else "system-ui,sans-serif")
    return f"'{face}','{face} stand-in',{fallback}"


def colour_css(value: str) -> str:
    """Return the CSS for a colour value: a role of the palette or a hex colour."""
    return value if value.startswith("#") else f"var(--c-{value})"


def ink_css(value: str) -> str:
    """Return the CSS for the colour of words: as `colour_css`, but readable on its ground."""
    return value if value.startswith("#") else f"var(--t-{value})"


def ground_css(value: str) -> str:
    """Return the CSS that tells words inside what they stand on.

    Where a role of the palette would be hard to read there, `brand_css` names the colour that
    words take in its place.
    """
    if value.startswith("#"):
        return ";".join(f"--t-{role}:var(--c-{role})" for role in ROLES)
    return ";".join(f"--t-{role}:var(--{value}-{role},var(--c-{role}))" for role in ROLES)


def measured(computed: Mapping[str, str]) -> dict[str, float]:
    """Return the numbers of the table that a browser worked out for an element.

    Args:
        computed: Values by CSS property as a browser computes them: "15px", "normal", "1.2em".

    Returns:
        By the row's name, in its unit; rows whose value is no plain number are left out.
    """
    found = {}
    size = _plain_number(computed.get("font-size", "")) or 16.0
    for row in PROPERTIES:
        value = _plain_number(computed.get(row.css_name, ""))
        if value is not None:
            # As fine as a person sets it: hundredths of the type size, else whole pixels.
            found[row.name] = round(value / size, 2) if row.unit in ("em", "×") else round(
                value, 0 if row.unit == "px" else 2)
    return found


def _plain_number(value: str) -> float | None:
    try:
        return float(value.removesuffix("px"))
    except ValueError:
        return None


_SIDES_SAID = {"pad": "Room between the edge and what is inside", "margin": "Room around it, "
               "outside; less than nothing lets it overlap"}
# What each setting means, for whoever points at it.
_SAID: Mapping[str, str] = {
    "weight": "How bold the letters are", "size": "Size of the letters",
    "line_height": "From one line to the next, as a multiple of the size",
    "spacing": "Extra room between letters, as a share of their size",
    "align": "Where lines of words begin", "colour": "Colour of the words",
    "card": "Padding, corners, border and shadow as the theme has them for cards",
    "space": "Padding above and below a section, as the theme has it",
    "inner": "How wide what is in the section may be at most",
    "min_height": "How high the section is at least",
    "share": "How much of the row the column takes, next to the others",
    "cells": "How many columns stand in one line; more of them go into the next",
    "stack": "Whether columns stand below each other on a phone",
    "gap": "Room between what is inside", "level": "Where columns of unlike height stand",
    "width": "As wide as what is in it, or as there is room", "wide": "Width",
    "max_width": "Never wider than this", "justify": "Where what is inside stands",
    "stick": "Whether it stays in sight while the page is scrolled",
    "hang": "Whether it hangs over the edge of its column", "hang_by": "How far it hangs over",
    "place": "Where it stands in its column",
    "order": "Its place among its neighbours; smaller numbers come first",
    "fill": "Colour behind it", "radius": "How round the corners are",
    "edge": "How thick the border is", "edge_colour": "Colour of the border",
    "shadow": "A shadow around it", "opacity": "0 cannot be seen, 1 hides what is behind",
    "fill_hover": "Colour behind it while it is pointed at",
    "colour_hover": "Colour of the words while it is pointed at",
    "edge_hover": "Colour of the border while it is pointed at",
    "fill_pressed": "Colour behind it while it is pressed",
    "edge_focus": "Ring around it while the keyboard is on it"}
_TIPS = {**_SAID, **{f"{stem}_{side}": f"{said} ({side})" for stem, said in _SIDES_SAID.items()
                     for side in ("top", "right", "bottom", "left")}}


def _number(name: str, label: str, line: str, column: ColumnName,
            needs: str, css: str, limits: tuple[float, float, float], unit: str = "px",
            beside: str = "", **more: Value | None) -> Property:
    low, high, step = limits
    return Property(name=name, label=label, line=line, column=column, needs=needs, css=css,
                    editor="number", unit=unit, low=low, high=high, step=step,
                    beside=beside, tip=_TIPS.get(name, ""), default=more.get("default"),
                    phone=more.get("phone"))


def _colour(name: str, label: str, column: ColumnName, needs: str, css: str,
            state: State = "", line: str = "") -> Property:
    return Property(name=name, label=label, line=line or label, column=column, needs=needs, css=css,
                    editor="colour", state=state, ground=css == "background-color:{}",
                    tip=_TIPS.get(name, ""))


def _choice(name: str, label: str, column: ColumnName, needs: str,
            choices: Mapping[Value, tuple[str, str]], line: str = "",
            phone: Value | None = None) -> Property:
    return Property(name=name, label=label, line=line or label, column=column, needs=needs,
                    editor="choice", choices=choices, phone=phone, tip=_TIPS.get(name, ""))


def _sides(stem: str, line: str, css: str, low: float) -> Iterable[Property]:
    for side in ("top", "right", "bottom", "left"):
        yield _number(f"{stem}_{side}", f"{line}, {side}", line, "box", "box",
                      f"{css}-{side}:{{}}px", (low, 400, 4))


PROPERTIES: tuple[Property, ...] = (
    Property(name="face", label="Face", line="Face", column="type", needs="type", editor="face",
             choices={
        "heading": ("Heading", "font-family:var(--f-heading)"),
        "body": ("Body", "font-family:var(--f-body)")}),
    _choice("weight", "Weight", "type", "type", {
        400: ("Regular", "font-weight:400"), 600: ("Semi", "font-weight:600"),
        700: ("Bold", "font-weight:700")}, line="Face"),
    _number("size", "Size", "Size", "type", "ink", "font-size:{}px", (8, 200, 1)),
    _number("line_height", "Line height", "Line height", "type", "type", "line-height:{}",
            (0.8, 3, 0.05), unit="×"),
    _number("spacing", "Letter spacing", "Letter spacing", "type", "type", "letter-spacing:{}em",
            (-0.1, 0.5, 0.01), unit="em"),
    _choice("align", "Align", "type", "ink", {
        "left": ("Left", "text-align:left"), "center": ("Centre", "text-align:center"),
        "right": ("Right", "text-align:right"),
        "theme": ("As the theme", "text-align:var(--lead,center)")}),
    _colour("colour", "Colour", "type", "ink", "color:{}"),
    _choice("card", "Card", "box", "column", {
        "theme": ("As the theme", "padding:var(--card-pad,26px 24px);"
                  "border-radius:var(--corner,8px);border:var(--card-edge,0 solid);"
                  "box-shadow:var(--card-lift,none);color:var(--t-ink);"
                  f"background-color:var(--card-fill,var(--c-mist));{ground_css('mist')}"),
        "no": ("No card", "padding:0;border:0;box-shadow:none;border-radius:0")}),
    _choice("space", "Room", "box", "section", {
        "usual": ("As the theme", "padding-top:var(--room,56px);padding-bottom:var(--room,56px)"),
        "narrow": ("Half of it", "padding-top:calc(var(--room,56px)*.5);"
                   "padding-bottom:calc(var(--room,56px)*.5)"),
        "wide": ("Half more", "padding-top:calc(var(--room,56px)*1.5);"
                 "padding-bottom:calc(var(--room,56px)*1.5)")}),
    *_sides("pad", "Padding", "padding", 0),
    *_sides("margin", "Margin", "margin", -400),
    _number("inner", "Content width", "Content width", "box", "section", "--inner:{}px",
            (280, 2400, 20)),
    _number("min_height", "Min height", "Min height", "box", "section",
            "min-height:calc(var(--vh,1vh)*{})", (0, 100, 5), unit="% of screen"),
    _number("share", "Share", "Share", "box", "column", "flex-grow:{}", (1, 12, 1), unit=""),
    _number("cells", "Cells a line", "Cells a line", "box", "row",
            "display:grid;grid-template-columns:repeat({},minmax(0,1fr))", (1, 8, 1), unit="",
            phone=1),
    _choice("stack", "On a phone", "box", "row", {
        "phone": ("Stacked", "--dir:column;--flex:none;--wide:100%"),
        "never": ("Side by side", "--dir:row;--flex:1 1 0;--wide:auto")}),
    _number("gap", "Gap", "Gap", "box", "holder", "gap:{}px", (0, 200, 4)),
    _choice("level", "Align items", "box", "row", {
        "start": ("Top", "align-items:flex-start"), "center": ("Middle", "align-items:center"),
        "end": ("Bottom", "align-items:flex-end"),
        "stretch": ("Same height", "align-items:stretch")}),
    _choice("width", "Width", "box", "sized", {
        "content": ("Content", "width:fit-content"), "full": ("Full", "width:100%")}),
    _number("wide", "Width in px", "Width", "box", "sized", "width:{}px;max-width:100%",
            (16, 2400, 10), beside="px"),
    _number("max_width", "Max width", "Max width", "box", "box", "max-width:{}px",
            (16, 2400, 10)),
    _choice("justify", "Contents", "box", "column", {
        "start": ("Top", "justify-content:flex-start"),
        "center": ("Middle", "justify-content:center"),
        "end": ("Bottom", "justify-content:flex-end"),
        "between": ("Spread", "justify-content:space-between")}),
    _choice("stick", "Sticky", "box", "sticky", {
        "no": ("Scrolls along", "position:relative"),
        "top": ("At the top", "position:sticky;top:0;z-index:5;align-self:start"),
        "bottom": ("At the bottom", "position:sticky;bottom:0;z-index:5")}),
    _choice("hang", "Hangs out", "box", "item", {
        "no": ("Not", "--by:0px"),
        "left": ("Left", "position:relative;z-index:1;margin-left:calc(-1*var(--by,120px))"),
        "right": ("Right",
                  "position:relative;z-index:1;margin-right:calc(-1*var(--by,120px))"),
        "up": ("Up", "position:relative;z-index:1;margin-top:calc(-1*var(--by,120px))"),
        "down": ("Down",
                 "position:relative;z-index:1;margin-bottom:calc(-1*var(--by,120px))")},
        phone="no"),
    _number("hang_by", "By", "Hangs out", "box", "item", "--by:{}px", (0, 600, 10),
            beside="by"),
    _choice("place", "Place", "box", "item", {
        "left": ("Left", "align-self:flex-start"), "center": ("Centre", "align-self:center"),
        "right": ("Right", "align-self:flex-end"),
        "theme": ("As the theme", "align-self:var(--lead-place,center)")}),
    _number("order", "Order", "Order", "box", "movable", "order:{}", (-20, 20, 1), unit=""),
    _colour("fill", "Background", "surface", "box", "background-color:{}"),
    _number("radius", "Corner radius", "Corner radius", "surface", "box",
            "border-radius:{}px", (0, 200, 1)),
    _number("edge", "Border", "Border", "surface", "box",
            "border-style:solid;border-width:{}px", (0, 40, 1)),
    _colour("edge_colour", "Border colour", "surface", "box", "border-color:{}",
            line="Border"),
    _choice("shadow", "Shadow", "surface", "box", {
        "none": ("None", "box-shadow:none"),
        "soft": ("Soft", "box-shadow:0 1px 3px #0b112626"),
        "lifted": ("Lifted", "box-shadow:0 8px 28px #0b11262e"),
        "deep": ("Deep", "box-shadow:0 20px 60px #0b112652")}),
    _number("opacity", "Opacity", "Opacity", "surface", "box", "opacity:{}", (0, 1, 0.05), unit=""),
    _colour("fill_hover", "Background on hover", "state", "clickable", "background-color:{}",
            "hover", "Hover"),
    _colour("colour_hover", "Words on hover", "state", "clickable", "color:{}", "hover", "Hover"),
    _colour("edge_hover", "Border on hover", "state", "clickable", "border-color:{}", "hover",
            "Hover"),
    _colour("fill_pressed", "Background when pressed", "state", "clickable", "background-color:{}",
            "active", "Pressed"),
    _colour("edge_focus", "Ring in focus", "state", "clickable",
            "outline:3px solid {};outline-offset:2px", "focus-visible", "Focus"),
)

TABLE: Mapping[str, Property] = {row.name: row for row in PROPERTIES}


def properties_for(traits: frozenset[str]) -> tuple[Property, ...]:
    """Return the rows that a node with these traits takes, in the order of the tray."""
    return tuple(row for row in PROPERTIES if row.needs in traits)


def look_faults(look: Look) -> list[Message]:
    """Return everything in `look` that the table does not allow."""
    faults = []
    for width in (None, *Width):
        for name, value in look.at(width).items():
            row = TABLE.get(name)
            fault = row.fault(value) if row else say("look-no-property", name=name)
            if fault:
                faults.append(fault)
    return faults
