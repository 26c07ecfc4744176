"""What a kind of item declares about itself."""

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import TYPE_CHECKING, Any, Literal

from markupsafe import Markup

from needle.core.site.ids import Id
from needle.core.site.node import Node

if TYPE_CHECKING:
    from needle.core.render.context import Context

__all__ = ["TYPE_TRAITS", "Field", "Kind"]

TYPE_TRAITS = frozenset({"type", "box", "item", "movable"})


@dataclass(frozen=True, slots=True, kw_only=True)
class Field:
    """A value of the node itself, apart from its look, as the tray edits it.

    Attributes:
        name: The attribute of the node.
        editor: "line", "code", "number", "choice", "style", "medium", "form", "pages" (those
            left out), "actions" or "colour".
        choices: Value and label, for "choice".
        check: Returns what is wrong with a value in words, or an empty text.
    """

    name: str
    label: str
    editor: Literal["line", "code", "number", "choice", "style", "medium", "form", "pages",
                    "actions", "colour"]
    choices: Mapping[Any, str] = field(default_factory=dict)
    low: float = 0
    high: float = 0
    check: Callable[[object], str] | None = None


@dataclass(frozen=True, slots=True, kw_only=True)
class Kind:
    """One kind of node.

    Attributes:
        type: The value type; its tag is the kind's key in project files.
        mark: The icon in the Script, a name from the shipped icon set.
        traits: Which rows of the style table it takes.
        words: How its attribute `words` is typed in place: "one" text, "lines" of text,
            or not at all.
        new: Makes a fresh one with sensible content.
        render: Its markup for visitors (and for the editor, by the context).
        summary: Its row in the Script when it has no words.
        css: The rules it always needs, sent only to pages that have one.
        runtime: The part of the visitor's script it needs, if any.
    """

    type: type[Node]
    label: str
    mark: str
    traits: frozenset[str]
    new: Callable[[Id], Node]
    render: Callable[[Any, "Context"], Markup]
    fields: tuple[Field, ...] = ()
    words: Literal["", "one", "lines"] = ""
    summary: Callable[[Any, "Context"], str] | None = None
    css: str = ""
    runtime: str = ""

    @property
    def key(self) -> str:
        """The tag in project files."""
        return str(self.type.__struct_config__.tag)
