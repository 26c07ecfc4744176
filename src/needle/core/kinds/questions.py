"""Questions with answers that fold."""

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, TextMode
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import lines_html, words_html
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import Strict, StyleKey
from needle.core.values.words import Text, text

__all__ = ["KIND", "Answered", "Questions"]


class Answered(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True):
    """One question and its answer, in paragraphs."""

    question: Text
    answer: tuple[Text, ...]


class Questions(Item, frozen=True, tag="questions"):
    """What people ask before they act. Each answer opens by a click, also without a script."""

    entries: tuple[Answered, ...] = ()
    style: StyleKey = "body"


def _entry() -> Answered:
    return Answered(text("What do they ask?"), (text("Say it in two sentences."),))


def _new(node_id: Id) -> Questions:
    return Questions(id=node_id, entries=(_entry(), _entry(), _entry()))


def _texts(node: Questions) -> dict[str, TextMode]:
    paths: dict[str, TextMode] = {}
    for number in range(len(node.entries)):
        paths[f"entries.{number}.question"] = "one"
        paths[f"entries.{number}.answer"] = "lines"
    return paths


def _render(node: Questions, context: Surroundings) -> Markup:
    return tag("div", context.attributes(node, f"questions t-{node.style}"), join(
        _fold(entry, f"entries.{number}", context) for number, entry in enumerate(node.entries)))


def _fold(entry: Answered, path: str, context: Surroundings) -> Markup:
    # A summary takes the space bar for itself, so in the editor nothing folds.
    outer, head = ("div", "div") if context.mode == "edit" else ("details", "summary")
    question = tag(head, {"class": "fold-head"} | context.typed(f"{path}.question", "one"),
                   words_html(entry.question, context))
    answer = tag("div", {"class": "fold-body"} | context.typed(f"{path}.answer", "lines"),
                 lines_html(entry.answer, context))
    return tag(outer, {"class": "fold"}, question, answer)


KIND = Kind(
    purpose="Words",
    about="Questions that open to their answers (FAQ)",
    type=Questions, label="Questions", mark="question", traits=TYPE_TRAITS, new=_new,
    render=_render, texts=_texts,
    summary=lambda node, context: f"{len(node.entries)} questions",
    cuts=frozenset({("body", 600)}),
    fields=(
        Field(name="entries", label="Questions", editor="entries", new_entry=_entry),
        Field(name="style", label="Style", editor="style")),
    css=(".fold{border-bottom:1px solid color-mix(in srgb,currentColor 22%,transparent)}"
         ".fold-head{font-weight:600;padding:14px 0;cursor:pointer}"
         ".fold-body{display:grid;gap:.7em;padding:0 0 18px}"),
)
