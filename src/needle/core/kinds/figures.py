"""Figures: a few large numbers with what they count."""

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, TextMode
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import words_html
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Strict, StyleKey
from needle.core.values.words import Text, text

__all__ = ["KIND", "Figure", "Figures"]


class Figure(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One number as it is written, and what it counts."""

    number: Text
    label: Text


class Figures(Item, frozen=True, tag="figures"):
    """Numbers side by side."""

    entries: tuple[Figure, ...] = ()
    style: StyleKey = "small"


def _entry() -> Figure:
    return Figure(text("48"), text("of what"))


def _new(node_id: Id) -> Figures:
    return Figures(id=node_id, entries=(_entry(), _entry(), _entry()))


def _texts(node: Figures) -> dict[str, TextMode]:
    return {f"entries.{number}.{name}": "one" for number in range(len(node.entries))
            for name in ("number", "label")}


def _render(node: Figures, context: Surroundings) -> Markup:
    return tag("ul", context.attributes(node, f"figures t-{node.style}"), join(
        tag("li", {},
            tag("p", {"class": "figure-number"} | context.typed(f"entries.{n}.number", "one"),
                words_html(figure.number, context)),
            tag("p", context.typed(f"entries.{n}.label", "one"),
                words_html(figure.label, context)))
        for n, figure in enumerate(node.entries)))


KIND = Kind(
    purpose="Proof",
    about="Large numbers with what they count (statistics)",
    type=Figures, label="Figures", mark="figures", new=_new, render=_render, texts=_texts,
    traits=TYPE_TRAITS, cuts=frozenset({("heading", 600)}),
    summary=lambda node, context: f"{len(node.entries)} figures",
    fields=(
        Field(name="entries", label="Figures", editor="entries", new_entry=_entry),
        Field(name="style", label="Style", editor="style")),
    css=(".figures{list-style:none;display:grid;gap:24px;"
         "grid-template-columns:repeat(auto-fit,minmax(min(45%,150px),1fr))}"
         ".figure-number{font:600 44px/1.1 var(--f-heading)}"),
)
