"""A small chart, drawn from numbers that are typed or pasted."""

from typing import Annotated

from markupsafe import Markup

from needle.core.charts.drawing import SHAPES, chart_svg
from needle.core.charts.numbers import NumbersError, Table, read_table
from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, one_text
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import words_html
from needle.core.messages.formats import amount_in
from needle.core.messages.message import Message
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey, one_of
from needle.core.values.words import Text, plain, text

__all__ = ["KIND", "Chart"]


class Chart(Item, frozen=True, tag="chart"):
    """Numbers as a picture; screen readers get them as a table.

    Attributes:
        words: What the chart shows.
        numbers: A label and one to four numbers a line, as they were typed or pasted.
        shape: "bar", "line" or "ring".
        unit: What the numbers count; "£", "$" and "€" stand before them.
    """

    words: Text
    numbers: str = ""
    shape: Annotated[str, one_of(*SHAPES)] = "bar"
    unit: str = ""
    style: StyleKey = "small"


def _check(value: object) -> Message | None:
    try:
        read_table(str(value))
    except NumbersError as error:
        return error.message
    return None


def _new(node_id: Id) -> Chart:
    return Chart(id=node_id, words=text("What these numbers show"),
                 numbers="Spring; 18\nSummer; 31\nAutumn; 26\nWinter; 12")


def _render(node: Chart, context: Surroundings) -> Markup:
    attributes = context.attributes(node, f"chart t-{node.style}")
    caption = tag("figcaption", context.typed("words", "one"), words_html(node.words, context))
    try:
        table = read_table(node.numbers)
    except NumbersError as error:
        return tag("figure", attributes, str(error) if context.mode == "edit" else "", caption)
    drawn = chart_svg(table, node.shape, context.language,
                      plain(node.words) or context.words("chart-title"))
    return tag("figure", attributes, drawn, _legend(table, node, context),
               _plain(table, node, context), caption)


def _legend(table: Table, node: Chart, context: Surroundings) -> Markup:
    if node.shape == "ring" or len(table.series) == 1:
        return Markup("")
    return tag("ul", {"class": "chart-legend", "aria-hidden": "true"}, join(
        tag("li", {"class": f"chart-ink-{n}"},
            name or context.words("chart-series", number=n + 1))
        for n, name in enumerate(table.names)))


def _plain(table: Table, node: Chart, context: Surroundings) -> Markup:
    unnamed = node.unit or context.words("chart-value")
    head = tag("tr", {}, tag("td", {}), join(
        tag("th", {"scope": "col"}, name or unnamed) for name in table.names))
    rows = join(tag("tr", {}, tag("th", {"scope": "row"}, label), join(
        tag("td", {}, amount_in(context.language, series[n], node.unit))
        for series in table.series))
        for n, label in enumerate(table.labels))
    return tag("div", {"class": "chart-table"}, tag("table", {}, tag("thead", {}, head),
                                                    tag("tbody", {}, rows)))


KIND = Kind(
    purpose="Pictures",
    about="Numbers as bars, a line or a ring (graph, diagram)",
    type=Chart, label="Chart", mark="chart", new=_new, render=_render, texts=one_text,
    traits=TYPE_TRAITS, reads=frozenset({Area.LANGUAGE}),
    fields=(
        Field(name="numbers", label="Numbers", editor="code", check=_check, required=True),
        Field(name="shape", label="Drawn as", editor="choice", choices=SHAPES),
        Field(name="unit", label="Unit", editor="line"),
        Field(name="style", label="Style", editor="style")),
    css=(".chart{margin:0;display:grid;gap:8px;max-width:620px}"
         ".chart-draw{display:block;width:100%;height:auto;overflow:visible}"
         ".chart-draw text{fill:currentColor;font:14px var(--f-body)}"
         ".chart-draw .chart-small{font-size:12px}"
         ".chart-line{stroke:currentColor;opacity:.16}.chart-zero{stroke:currentColor}"
         ".chart-legend{list-style:none;display:flex;flex-wrap:wrap;gap:4px 18px}"
         ".chart-legend li::before{content:'';display:inline-block;width:.7em;height:.7em;"
         "margin-right:.4em;background:var(--c-main)}"
         ".chart-legend .chart-ink-1::before{background:var(--c-accent)}"
         ".chart-legend .chart-ink-2::before{background:color-mix(in srgb,var(--c-main) 55%,"
         "currentColor)}.chart-legend .chart-ink-3::before{background:color-mix(in srgb,"
         "var(--c-accent) 45%,transparent)}"
         ".chart-table{position:absolute;width:1px;height:1px;overflow:hidden;"
         "clip-path:inset(50%);white-space:nowrap}"),
)
