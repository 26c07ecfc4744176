"""What is printed of an order, as HTML: what goes into a parcel, and its invoice.

All words of the order are the buyer's, so each is escaped.
"""

from collections.abc import Sequence
from typing import NamedTuple

from markupsafe import Markup

from needle.core.values.language import Language

__all__ = ["Paper", "paper_html"]

_CSS = ("@page{size:A4;margin:22mm 20mm}"
        "body{font:10pt/1.5 'IBM Plex Sans';color:#14213d;margin:0}"
        "h1{font:600 19pt/1.2 'Zilla Slab';margin:14mm 0 4mm}"
        ".sender{text-align:right;white-space:pre-line}.to{white-space:pre-line;margin-top:12mm}"
        "table{width:100%;border-collapse:collapse;margin-top:8mm}"
        "th,td{padding:5pt 0 5pt 10pt;text-align:right;border-bottom:.5pt solid #9aa3b2}"
        "th:first-child,td:first-child{text-align:left;padding-left:0}"
        "dl{display:grid;grid-template-columns:1fr auto;gap:3pt 14pt;margin:6mm 0 0 40%}"
        "dt{margin:0}dd{margin:0;text-align:right}.total{font-weight:600;font-size:12pt}")


class Paper(NamedTuple):
    """A page.

    Attributes:
        sender: Whose it is, in lines.
        to: Whom it names, in lines.
        title: What it is, as a headline.
        facts: Lines below that: numbers, days.
        heads: What the columns of the table are called.
        rows: What stands in it, row by row.
        sums: Below it: what, and how much.
        close: Lines at the end.
    """

    sender: str
    to: str
    title: str
    facts: Sequence[str]
    heads: Sequence[str]
    rows: Sequence[Sequence[str]]
    sums: Sequence[tuple[str, str]] = ()
    close: Sequence[str] = ()


def paper_html(paper: Paper, language: Language, fonts: str) -> str:
    """Return a page as HTML that is fit to be printed: no script, nothing from elsewhere.

    Args:
        fonts: Rules of the faces that it is set in.
    """
    heads = Markup("").join(Markup("<th>{}</th>").format(words) for words in paper.heads)
    rows = Markup("").join(Markup("<tr>{}</tr>").format(Markup("").join(
        Markup("<td>{}</td>").format(words) for words in row)) for row in paper.rows)
    last = len(paper.sums) - 1
    sums = Markup("").join(Markup("<dt{2}>{0}</dt><dd{2}>{1}</dd>").format(
        *one, Markup(' class="total"') if place == last else "")
        for place, one in enumerate(paper.sums))
    return Markup(
        '<!DOCTYPE html><html lang="{}"><head><meta charset="utf-8"><title>{}</title>'
        '<style>{}{}</style></head><body><p class="sender">{}</p><p class="to">{}</p><h1>{}</h1>'
        "<p>{}</p><table><thead><tr>{}</tr></thead><tbody>{}</tbody></table>{}<p>{}</p></body>"
        "</html>").format(
            language, paper.title, Markup(fonts), Markup(_CSS), paper.sender, paper.to,
            paper.title, _lines(paper.facts), heads, rows,
            Markup("<dl>{}</dl>").format(sums) if paper.sums else "", _lines(paper.close))


def _lines(lines: Sequence[str]) -> Markup:
    return Markup("<br>").join(lines)
