"""Buttons and links that do not say where they lead."""

from collections.abc import Iterator

from needle.core.kinds.button import Button
from needle.core.render.texts import plain_lines, runs_of
from needle.core.site.site import Site
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.language import ENGLISH

__all__ = ["RULES"]

_VAGUE = frozenset({
    "click", "click here", "here", "ok", "go", "more", "read more", "learn more", "link",
    "this link", "submit", "continue", "next", "press here", "more info", "details", "button"})


def _tidy(words: str) -> str:
    return " ".join(words.casefold().replace("…", " ").strip(" .!>→»").split())


def _button(at: ItemAt) -> Iterator[Spot]:
    words = " ".join(plain_lines(at.node)) if isinstance(at.node, Button) else ""
    if at.site.language.startswith(ENGLISH) and _tidy(words) in _VAGUE:
        yield Spot(f"A button says only “{words.strip()}”")


def _link(at: ItemAt) -> Iterator[Spot]:
    if at.site.language.startswith(ENGLISH):
        for run in runs_of(at.node):
            if run.link and _tidy(run.words) in _VAGUE:
                yield Spot(f"A link says only “{run.words.strip()}”")


def _sending(site: Site) -> Iterator[Spot]:
    for form in site.forms if site.language.startswith(ENGLISH) else ():
        if _tidy(form.submit) in _VAGUE:
            yield Spot(f"The button of “{form.name}” says only “{form.submit}”", "form", form.id,
                       form.name)


_WHY = "Who goes from link to link with a screen reader hears only these words; and a button " \
       "that says what comes of it is clicked more."
_SOURCE = "WCAG 2.2, 2.4.4"
_READS = frozenset({Area.LANGUAGE})
RULES = (
    Rule(id="vague-button", weight=3, scope="item", look=_button, reason=_WHY, source=_SOURCE,
         reads=_READS),
    Rule(id="vague-link", weight=3, scope="item", look=_link, reason=_WHY, source=_SOURCE,
         reads=_READS),
    Rule(id="vague-form-button", weight=3, scope="site", look=_sending, reason=_WHY,
         source=_SOURCE, reads=_READS | {Area.FORMS}),
)
