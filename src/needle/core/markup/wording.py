"""Text as HTML."""

from collections.abc import Sequence

from markupsafe import Markup, escape

from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.styletable import ink_css
from needle.core.values.words import Run, Text, plain

__all__ = ["lines_html", "words_html"]


def words_html(text: Text, context: Surroundings) -> Markup:
    """Return the runs of `text` as inline markup."""
    return join(_run(run, context) for run in text)


def lines_html(lines: Sequence[Text], context: Surroundings, element: str = "p") -> Markup:
    """Return lines of text, each as an element.

    Visitors get none that is empty, which would be nothing but a gap.
    """
    shown = lines if context.mode == "edit" else [line for line in lines if plain(line).strip()]
    return join(tag(element, {}, words_html(line, context)) for line in shown)


def _run(run: Run, context: Surroundings) -> Markup:
    html = escape(run.words)
    if "\n" in run.words:
        html = Markup(html.replace("\n", "<br>"))
    if run.advert:
        # What the editor shows is the page's own words, marked.
        html = tag("span", {"data-advert": run.advert}, html)
    if run.column and context.mode == "edit":
        # Typed as one: what stands there is the row's, not the page's.
        html = tag("span", {"data-column": run.column, "data-shape": run.shape or None,
                            "contenteditable": "false"}, html)
    if run.colour:
        html = tag("span", {"style": f"color:{ink_css(run.colour)}",
                            "data-colour": run.colour if context.mode == "edit" else None}, html)
    if run.invented and context.mode == "edit":
        html = tag("span", {"class": "needle-invented"}, html)
    if run.emphasis:
        html = tag("em", {}, html)
    if run.strong:
        html = tag("strong", {}, html)
    if run.link:
        mark = run.link if context.mode == "edit" else None
        html = tag("a", {"href": context.link(run.link), "data-link": mark}, html)
    return html
