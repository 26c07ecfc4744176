"""Letters in the colours of the brand, as mail programs show them."""

from collections.abc import Collection, Mapping, Sequence

from markupsafe import Markup

from needle.core.colour.palette import best_on
from needle.core.markup.markup import join, tag
from needle.core.values.language import ENGLISH, Language

__all__ = ["mail_html"]

_SAFE_FACES = "Helvetica,Arial,sans-serif"


def mail_html(name: str, colours: Mapping[str, str], title: str,
              rows: Sequence[tuple[str, str]], language: Language = ENGLISH,
              links: Collection[str] = ()) -> str:
    """Return a letter with a title and a table of what it tells.

    Args:
        name: Of the site.
        colours: The palette by role; what is missing is plain.
        rows: What each line is about, and what it says.
        language: That of the words.
        links: Words of these that are addresses of our own, to be followed; what a visitor wrote
            never is.
    """
    main, ink = colours.get("main", "#0e6b54"), colours.get("ink", "#14211d")
    mist, paper = colours.get("mist", "#f3f3f3"), colours.get("paper", "#ffffff")
    on_main = best_on(main, (colours.get("on_main", "#ffffff"), paper, ink))
    cells = join(tag("tr", {}, tag("td", {"style": _cell(paper, colours.get("quiet", ink), 13)},
                                   label), tag("td", {"style": _cell(paper, ink, 15)},
                                                        _words(words, links)))
                 for label, words in rows)
    body = tag("table", {"role": "presentation", "style":
                         f"width:100%;border-spacing:0;max-width:600px;margin:24px auto;"
                         f"background:{paper}"},
               tag("tr", {}, tag("td", {"colspan": 2, "style":
                                        f"padding:18px 22px;background:{main};color:{on_main};"
                                        f"font:700 18px {_SAFE_FACES}"}, tag(
                   "h1", {"style": "margin:0;font:inherit"}, title))),
               cells,
               tag("tr", {}, tag("td", {"colspan": 2, "style": _cell(paper, ink, 13)}, name)))
    return str(Markup("<!DOCTYPE html>") + tag(
        "html", {"lang": language}, tag("head", {}, tag("meta", {"charset": "utf-8"}),
                                        tag("title", {}, title)),
        tag("body", {"style": f"margin:0;padding:12px;background:{mist}"},
            tag("div", {"role": "main"}, body))))


def _words(words: str, links: Collection[str]) -> Markup:
    if words in links:
        return tag("a", {"href": words, "style": "color:inherit"}, words)
    return Markup("<br>").join(words.splitlines())


def _cell(ground: str, ink: str, px: int) -> str:
    return (f"padding:8px 22px;vertical-align:top;font:{px}px/1.5 {_SAFE_FACES};"
            f"color:{best_on(ground, (ink,))};overflow-wrap:anywhere")
