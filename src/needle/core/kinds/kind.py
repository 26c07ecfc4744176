"""What a kind of item declares about itself."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, field, replace
from typing import Any, Literal, get_args

from markupsafe import Markup

from needle.core.markup.surroundings import Surroundings, TextMode
from needle.core.messages.message import Message
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.strict import OneOf, Span, limit_of
from needle.core.values.tables import Table

__all__ = ["PURPOSES", "TYPE_TRAITS", "Field", "Kind", "Purpose", "TextMode", "Wishes",
           "lines_text", "one_text"]

Purpose = Literal["Words", "Pictures", "To act on", "Proof", "Finding the way", "Layout",
                  "From elsewhere"]
PURPOSES: tuple[Purpose, ...] = get_args(Purpose)
TYPE_TRAITS = frozenset({"type", "ink", "box", "item", "movable"})


def _no_texts(_node: object) -> Mapping[str, TextMode]:
    return {}


def one_text(_node: object) -> Mapping[str, TextMode]:
    """The texts of a kind whose `words` are one text."""
    return {"words": "one"}


def lines_text(_node: object) -> Mapping[str, TextMode]:
    """The texts of a kind whose `words` are lines of text."""
    return {"words": "lines"}


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """A value of the node itself, apart from its look, as the tray edits it.

    Attributes:
        name: The attribute of the node.
        editor: "line", "code", "number", "choice", "style", "medium" (a picture), "film" (a
            video), "icon", "form", "pages" (those left out), "actions", "colour", "entries",
            "table", or "column" (of the node's table).
        new_entry: Makes a fresh entry, for "entries".
        parts: What of an entry is not typed in place, for "entries".
        choices: Value and label, for "choice".
        low, high: The limits of a number; the kind takes them from the value's type.
        required: Left empty, it is a snag.
        column: The title of the tray's column it stands in; empty for the kind's own.
        check: Returns what is wrong with a value in words, or an empty text.
    """

    name: str
    label: str
    editor: Literal["line", "code", "number", "choice", "style", "medium", "film", "icon", "form",
                    "pages", "actions", "colour", "entries", "table", "column"]
    choices: Mapping[Any, str] = field(default_factory=dict)
    low: float = 0
    high: float = 0
    required: bool = False
    check: Callable[[object], Message | None] | None = None
    new_entry: Callable[[], object] | None = None
    parts: tuple["Field", ...] = ()
    column: str = ""


def _limited(field: Field, kind: type[Node]) -> Field:
    """Return a field with the limits that its value's type declares.

    Raises:
        TypeError: A number has none, or the choices are others than the type takes.
    """
    limit = limit_of(kind, field.name)
    if field.editor == "number":
        if not isinstance(limit, Span):
            raise TypeError(f"{kind.__name__}.{field.name} is a number without limits")
        return replace(field, low=limit.low, high=limit.high)
    if field.editor == "choice" and isinstance(limit, OneOf) and (
            set(limit.values) != set(field.choices)):
        raise TypeError(f"{kind.__name__}.{field.name} offers other choices than it takes")
    return field


@dataclass(frozen=True, slots=True)
class Wishes:
    """What a site has and wants that a fresh item can show from the start.

    Attributes:
        call: The call to action of the brief, or empty.
        deadline: The date of the brief, "2026-08-12", or empty.
        pages: Those that a menu is for: none that only follow after sending, no fine print.
        form: The one form of the site; empty if there is none or a choice.
        table: The table that was made last; `None` if there is none.
    """

    call: str = ""
    deadline: str = ""
    pages: tuple[Id, ...] = ()
    form: Id = ""
    table: Table | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """One kind of node.

    Attributes:
        type: The value type; its tag is the kind's key in project files.
        mark: The icon in the Script, a name from the shipped icon set.
        purpose: What one puts it on a page for; kinds are offered together by it.
        about: What it is, in a line; in brackets what else people call it.
        traits: Which rows of the style table it takes.
        texts: Its texts by path in the node ("words", "entries.2.question"), in reading order,
            and how each is typed.
        new: Makes a fresh one with sensible content.
        suit: Returns a fresh one with what the site has for it, if it has any use for that.
        render: Its markup for visitors (and for the editor, by the context).
        summary: Its row in the Script when it has no words.
        css: The rules it always needs, sent only to pages that have one.
        runtime: The part of the visitor's script it needs, if any; or what says which parts one
            of it needs where it stands.
        reads: The areas of the site that its markup and its summary draw on. Links, files and
            what a click does need no word here.
        needs: Keys of kinds whose rules (and text style, if it has their name) it uses too.
        cuts: Face ("heading" or "body") and weight that its own rules set words in.
    """

    type: type[Node]
    label: str
    mark: str
    purpose: Purpose
    about: str
    traits: frozenset[str]
    new: Callable[[Id], Node]
    render: Callable[[Any, Surroundings], Markup]
    suit: Callable[[Any, Wishes], Node] | None = None
    fields: tuple[Field, ...] = ()
    texts: Callable[[Any], Mapping[str, TextMode]] = _no_texts
    summary: Callable[[Any, Surroundings], str] | None = None
    css: str = ""
    runtime: str | Callable[[Any, Surroundings], Sequence[str]] = ""
    reads: frozenset[Area] = frozenset()
    needs: frozenset[str] = frozenset()
    cuts: frozenset[tuple[str, int]] = frozenset()

    def __post_init__(self) -> None:
        """Give the fields the limits of their values' types, which hold wherever one is built."""
        object.__setattr__(self, "fields", tuple(
            _limited(field, self.type) for field in self.fields))

    def runtime_of(self, node: Node, context: Surroundings) -> Sequence[str]:
        """Return the parts of the visitor's script that one of it needs."""
        if callable(self.runtime):
            return self.runtime(node, context)
        return (self.runtime,) if self.runtime else ()

    @property
    def key(self) -> str:
        """The tag in project files."""
        return str(self.type.__struct_config__.tag)
