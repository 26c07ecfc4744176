"""The report of a week as one page of paper, to be printed or shown."""

from collections.abc import Callable, Sequence
from datetime import timedelta

from markupsafe import Markup

from needle.core.markup.markup import join, tag
from needle.core.measure.week import Came, Chapter, Week, chapters_of
from needle.core.render.document import STRIP_CSS

__all__ = ["PAGE_PX", "week_page"]

# A4 in CSS pixels.
PAGE_PX = (794, 1123)
_BARS = (690, 120)
# As attributes, since what makes PDFs on a host has no rules inside a drawing.
_SMALL = {"font-family": "'IBM Plex Sans',sans-serif", "font-size": "11px", "fill": "#566660"}
_CSS = """*{box-sizing:border-box}html,body{margin:0;background:#fff;color:#14211d}
@page{size:A4;margin:0}
body{width:794px;padding:44px 52px;font:13px/1.5 'IBM Plex Sans',sans-serif}
h1,h2{font-family:'Zilla Slab',serif;font-weight:600;line-height:1.2;margin:0}
h1{font-size:26px}h2{font-size:16px;margin:22px 0 6px}
p{margin:0}
.when{color:#566660;margin:2px 0 14px;padding-bottom:14px;border-bottom:2px dashed #8c7a4f}
ul{margin:0;padding:0 0 0 18px}li{margin:3px 0}
table{border-collapse:collapse;width:100%;font-variant-numeric:tabular-nums}
th{font-weight:400;color:#566660;text-align:left}
th,td{padding:5px 0;border-bottom:1px solid #cbd4d0}
td+td,th+th{text-align:right;width:86px}
.two{display:grid;grid-template-columns:1fr 1fr;gap:0 36px}
@media print{#needle-strip{display:none}}
"""


def week_page(week: Week, font_css: str) -> str:
    """Return the report as a document; it loads nothing but fonts.

    A strip at its foot, which is not printed, is there to tell when all of it has been painted.

    Args:
        font_css: The rules that bring the faces of the window.
    """
    came, *later = chapters_of(week)
    sunday = week.monday + timedelta(days=6)
    when = f"{week.monday:%d %B} to {sunday:%d %B %Y}"
    if week.until is not None:
        when += f", until {week.until:%A, %H:%M}"
    body = tag("body", {},
               tag("h1", {}, week.site), tag("p", {"class": "when"}, f"The week of {when}"),
               _chapter(came), _bars(week),
               tag("div", {"class": "two"},
                   _table("Pages", "Page", "Converted", week.now.pages,
                          lambda key: week.names.get(key, "a page that is gone")),
                   _table("Sources", "Source", "Sent a form", week.now.sources,
                          lambda key: "came by themselves" if key in ("", "direct") else key)),
               *map(_chapter, later), tag("div", {"id": "needle-strip"}))
    head = tag("head", {}, tag("meta", {"charset": "utf-8"}),
               tag("title", {}, f"{week.site}: the week of {when}"),
               tag("style", {}, Markup(font_css + _CSS + STRIP_CSS)))
    return f'<!DOCTYPE html>\n<html lang="en">{head}{body}</html>\n'


def _chapter(chapter: Chapter) -> Markup:
    shown = chapter.sentences[:8]
    more = len(chapter.sentences) - len(shown)
    return join((tag("h2", {}, chapter.title), tag("ul", {}, *(
        tag("li", {}, words) for words in shown),
        tag("li", {}, f"And {more} more.") if more else "")))


def _bars(week: Week) -> Markup:
    """Return visitors by day as bars, each with its figure."""
    width, height = _BARS
    most = max((*week.now.days, 1))
    parts = []
    for place, visitors in enumerate(week.now.days):
        day = week.monday + timedelta(days=place)
        left, room = place * width // 7, width // 7
        tall = round(visitors / most * (height - 44))
        middle = left + room // 2
        parts += [
            tag("rect", {"x": left + 14, "y": height - 20 - tall, "width": room - 28,
                         "height": tall, "fill": "#2a62a8"}),
            tag("text", {"x": middle, "y": height - 25 - tall, "text-anchor": "middle", **_SMALL},
                f"{visitors:,}"),
            tag("text", {"x": middle, "y": height - 5, "text-anchor": "middle", **_SMALL},
                f"{day:%a %d}")]
    return join((tag("h2", {}, "Visitors by day"), tag(
        "svg", {"viewBox": f"0 0 {width} {height}", "width": width, "height": height,
                "role": "img", "aria-label": "Visitors by day: " + ", ".join(
                    f"{week.monday + timedelta(days=place):%A} {visitors}"
                    for place, visitors in enumerate(week.now.days))},
        tag("line", {"x1": 0, "x2": width, "y1": height - 19, "y2": height - 19,
                     "stroke": "#b9c4bf"}), *parts)))


def _table(title: str, what: str, won: str, rows: Sequence[Came],
           name: Callable[[str], str]) -> Markup:
    lines = [tag("tr", {}, tag("td", {}, name(row.key)), tag("td", {}, f"{row.visitors:,}"),
                 tag("td", {}, f"{row.conversions:,}")) for row in rows]
    head = tag("tr", {}, *(tag("th", {}, words) for words in (what, "Visitors", won)))
    return tag("div", {}, tag("h2", {}, title), tag("table", {}, head, *lines))
