"""A guarantee: what the visitor risks by saying yes, which is nothing."""

from markupsafe import Markup

from needle.core.icons.drawing import icon_svg
from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, TextMode
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import lines_html, words_html
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Choice, StyleKey
from needle.core.values.words import Text, text

__all__ = ["KIND", "Guarantee"]


class Guarantee(Item, frozen=True, tag="guarantee"):
    """A promise in a frame, with a seal.

    Attributes:
        drawing: The icon in the seal.
    """

    title: Text
    words: tuple[Text, ...]
    drawing: Choice = "shield-check"
    style: StyleKey = "body"


def _new(node_id: Id) -> Guarantee:
    return Guarantee(id=node_id, title=text("Thirty days, no questions"), words=(
        text("If it is not what you hoped for, say so within thirty days and the money is back "
             "the same week."),))


def _texts(_node: Guarantee) -> dict[str, TextMode]:
    return {"title": "one", "words": "lines"}


def _render(node: Guarantee, context: Surroundings) -> Markup:
    words = tag("div", {"class": "promise-words"},
                tag("p", {"class": "promise-title"} | context.typed("title", "one"),
                    words_html(node.title, context)),
                tag("div", {"class": "promise-lines"} | context.typed("words", "lines"),
                    lines_html(node.words, context)))
    seal = tag("div", {"class": "promise-seal"}, icon_svg(node.drawing))
    return tag("div", context.attributes(node, f"promise t-{node.style}"), seal, words)


KIND = Kind(
    purpose="Proof",
    about="A seal with a promise beside it",
    type=Guarantee, label="Guarantee", mark="shield", new=_new, render=_render, texts=_texts,
    traits=TYPE_TRAITS, needs=frozenset({"icon"}), cuts=frozenset({("heading", 600)}),
    fields=(
        Field(name="drawing", label="Seal", editor="icon"),
        Field(name="style", label="Style", editor="style")),
    css=(".promise{display:flex;gap:22px;align-items:flex-start;padding:26px;border-radius:var(--corner,8px);"
         "border:2px solid var(--c-accent)}"
         ".promise-seal{font-size:34px;line-height:1;padding:15px;border-radius:50%;flex:none;"
         "color:var(--t-accent);background:color-mix(in srgb,var(--c-accent) 14%,transparent)}"
         ".promise-title{font:600 1.35em/1.25 var(--f-heading);margin-bottom:.35em}"
         ".promise-lines{display:grid;gap:.6em}"
         "@media (max-width:480px){.promise{flex-direction:column;gap:14px}}"),
)
