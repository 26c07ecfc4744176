"""What a kind of item declares about itself."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Literal

from markupsafe import Markup

from needle.core.site.ids import Id
from needle.core.site.node import Node

if TYPE_CHECKING:
    from needle.core.render.context import Context

__all__ = ["TYPE_TRAITS", "Field", "Kind", "TextMode", "lines_text", "one_text"]

# "one" text, in which Enter breaks the line, or "lines" of text, in which it begins another.
TextMode = Literal["one", "lines"]

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
            video), "icon", "form", "pages" (those left out), "actions", "colour" or "entries".
        new_entry: Makes a fresh entry, for "entries".
        parts: What of an entry is not typed in place, for "entries".
        choices: Value and label, for "choice".
        required: Left empty, it is a snag.
        column: The title of the tray's column it stands in; empty for the kind's own.
        check: Returns what is wrong with a value in words, or an empty text.
    """

    name: str
    label: str
    editor: Literal["line", "code", "number", "choice", "style", "medium", "film", "icon", "form",
                    "pages", "actions", "colour", "entries"]
    choices: Mapping[Any, str] = field(default_factory=dict)
    low: float = 0
    high: float = 0
    required: bool = False
    check: Callable[[object], str] | None = None
    new_entry: Callable[[], object] | None = None
    parts: tuple["Field", ...] = ()
    column: str = ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """One kind of node.

    Attributes:
        type: The value type; its tag is the kind's key in project files.
        mark: The icon in the Script, a name from the shipped icon set.
        traits: Which rows of the style table it takes.
        texts: Its texts by path in the node ("words", "entries.2.question"), in reading order,
            and how each is typed.
        new: Makes a fresh one with sensible content.
        render: Its markup for visitors (and for the editor, by the context).
        summary: Its row in the Script when it has no words.
        css: The rules it always needs, sent only to pages that have one.
        runtime: The part of the visitor's script it needs, if any.
        needs: Keys of kinds whose rules (and text style, if it has their name) it uses too.
        cuts: Face ("heading" or "body") and weight that its own rules set words in.
    """

    type: type[Node]
    label: str
    mark: str
    traits: frozenset[str]
    new: Callable[[Id], Node]
    render: Callable[[Any, "Context"], Markup]
    fields: tuple[Field, ...] = ()
    texts: Callable[[Any], Mapping[str, TextMode]] = _no_texts
    summary: Callable[[Any, "Context"], str] | None = None
    css: str = ""
    runtime: str = ""
    needs: frozenset[str] = frozenset()
    cuts: frozenset[tuple[str, int]] = frozenset()

    @property
    def key(self) -> str:
        """The tag in project files."""
        return str(self.type.__struct_config__.tag)
