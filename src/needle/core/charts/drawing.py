"""Charts as SVG: bars, lines and a ring, in colours of the brand."""

import math
from collections.abc import Iterator, Sequence

from markupsafe import Markup, escape

from needle.core.charts.numbers import Table
from needle.core.messages.formats import number_in, share_in

__all__ = ["SHAPES", "chart_svg"]

SHAPES = {"bar": "Bars", "line": "Line", "ring": "Ring"}

# In units of the drawing, which is as wide as a phone's column in CSS pixels.
_WIDE, _HIGH = 420, 260
_LEFT, _RIGHT, _TOP, _BOTTOM = 44, 8, 14, 30
_INKS = ("var(--c-main)", "var(--c-accent)", "color-mix(in srgb,var(--c-main) 55%,currentColor)",
         "color-mix(in srgb,var(--c-accent) 45%,transparent)")


def chart_svg(table: Table, shape: str, language: str, title: str) -> Markup:
    """Return a chart as an SVG element that says its title to screen readers.

    Args:
        language: That its numbers are written in.
    """
    drawn = "".join(_ring(table, language) if shape == "ring" else _axes(table, shape, language))
    high = _HIGH if shape != "ring" else 220
    return Markup(
        f'<svg class="chart-draw" viewBox="0 0 {_WIDE} {high}" role="img" '
        f'aria-label="{escape(title)}">{drawn}</svg>')


def _text(x: float, y: float, words: str, anchor: str = "middle", css: str = "") -> str:
    style = f' class="{css}"' if css else ""
    return f'<text x="{x:.1f}" y="{y:.1f}" text-anchor="{anchor}"{style}>{escape(words)}</text>'


def _steps(low: float, high: float) -> list[float]:
    """Return round values from at most `low` to at least `high`: 1, 2 or 5 times a power of ten."""
    span = (high - low) or abs(high) or 1.0
    power = 10.0 ** math.floor(math.log10(span / 4))
    step = next(power * factor for factor in (1, 2, 5, 10) if span / (power * factor) <= 5)
    first, last = math.floor(low / step), math.ceil(high / step)
    return [round(number * step, 10) for number in range(first, max(last, first + 1) + 1)]


def _axes(table: Table, shape: str, language: str) -> Iterator[str]:
    values = [value for series in table.series for value in series]
    steps = _steps(min(0.0, *values), max(0.0, *values))
    low, high = steps[0], steps[-1]

    def y(value: float) -> float:
        return _HIGH - _BOTTOM - (value - low) / (high - low) * (_HIGH - _TOP - _BOTTOM)

    for step in steps:
        css = "chart-zero" if step == 0 else "chart-line"
        yield (f'<line class="{css}" x1="{_LEFT}" x2="{_WIDE - _RIGHT}" '
               f'y1="{y(step):.1f}" y2="{y(step):.1f}"/>')
        yield _text(_LEFT - 6, y(step) + 4, number_in(language, step), "end", "chart-small")
    room = (_WIDE - _LEFT - _RIGHT) / len(table.labels)
    every = max(1, math.ceil(len(table.labels) * 46 / (_WIDE - _LEFT - _RIGHT)))
    most = max(3, int(room * every / 7))
    for number, label in enumerate(table.labels):
        if number % every == 0:
            short = label if len(label) <= most else label[: most - 1] + "…"
            yield _text(_LEFT + room * (number + 0.5), _HIGH - 10, short, css="chart-small")
    draw = _bars if shape == "bar" else _lines
    yield from draw(table, room, y, language)


def _bars(table: Table, room: float, y, language: str) -> Iterator[str]:  # type: ignore[no-untyped-def]
    wide = room * 0.72 / len(table.series)
    for place, series in enumerate(table.series):
        for number, value in enumerate(series):
            x = _LEFT + room * number + room * 0.14 + wide * place
            top, foot = sorted((y(value), y(0)))
            yield (f'<rect x="{x:.1f}" y="{top:.1f}" width="{wide:.1f}" '
                   f'height="{max(0.5, foot - top):.1f}" style="fill:{_INKS[place]}"/>')
            if len(table.series) == 1 and room > 34:
                yield _text(x + wide / 2, top - 4, number_in(language, value), css="chart-small")


def _lines(table: Table, room: float, y, language: str) -> Iterator[str]:  # type: ignore[no-untyped-def]
    for place, series in enumerate(table.series):
        points = [(_LEFT + room * (number + 0.5), y(value)) for number, value in enumerate(series)]
        path = " ".join(f"{x:.1f},{at:.1f}" for x, at in points)
        dash = ' stroke-dasharray="7 4"' if place else ""
        yield (f'<polyline points="{path}" fill="none"{dash} '
               f'style="stroke:{_INKS[place]};stroke-width:3"/>')
        if len(points) <= 24:
            yield from (f'<circle cx="{x:.1f}" cy="{at:.1f}" r="4" '
                        f'style="fill:{_INKS[place]}"/>' for x, at in points)


def _ring(table: Table, language: str) -> Iterator[str]:
    values = [max(0.0, value) for value in table.series[0]]
    whole = sum(values) or 1.0
    round_ = 2 * math.pi * 70
    at = 0.0
    for number, value in enumerate(values):
        part = value / whole * round_
        yield (f'<circle cx="110" cy="110" r="70" fill="none" '
               f'style="stroke:{_ring_ink(number, len(values))};stroke-width:34" '
               f'stroke-dasharray="{max(0.0, part - 2):.2f} {round_ - max(0.0, part - 2):.2f}" '
               f'stroke-dashoffset="{-at:.2f}" transform="rotate(-90 110 110)"/>')
        at += part
    yield from _ring_words(table, values, whole, language)


def _ring_words(table: Table, values: Sequence[float], whole: float, language: str,
                ) -> Iterator[str]:
    shown = list(zip(table.labels, values, strict=True))[:9]
    top = 110 - 22 * (len(shown) - 1) / 2
    for number, (label, value) in enumerate(shown):
        y = top + 22 * number
        yield (f'<rect x="216" y="{y - 6:.1f}" width="12" height="12" '
               f'style="fill:{_ring_ink(number, len(values))}"/>')
        yield _text(236, y + 5, f"{label[:16]} {share_in(language, value / whole)}", "start")


def _ring_ink(number: int, count: int) -> str:
    share = 100 - round(number / max(1, count) * 78)
    base = "--c-main" if number % 2 == 0 else "--c-accent"
    return f"color-mix(in srgb,var({base}) {share}%,transparent)"
