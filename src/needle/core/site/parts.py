"""Short ways to write pages: the ready-made sections and the demo are written with them."""

from typing import Any

from needle.core.kinds.button import Button
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.heading import Heading
from needle.core.kinds.icon import Icon
from needle.core.kinds.kind import Kind
from needle.core.kinds.listing import Listing
from needle.core.kinds.passage import Passage
from needle.core.kinds.picture import Picture
from needle.core.site.tree import Column, Row, Section, SectionRole
from needle.core.values.actions import Action
from needle.core.values.ids import Id, IdSource
from needle.core.values.look import Look, Value
from needle.core.values.node import Item
from needle.core.values.words import Run, Text, text

__all__ = ["Parts", "Values"]

# Anything: what is passed on as keywords is not always a look.
Values = dict[str, Any]


class Parts:
    """Makes nodes, with ids from one source."""

    def __init__(self, ids: IdSource, invented: bool = False) -> None:
        """Make nodes with ids from `ids`.

        Args:
            invented: Every text counts as made up until somebody confirms it.
        """
        self.ids = ids
        self.invented = invented

    def text(self, words: str) -> Text:
        """Return words as text, marked as invented if these parts are."""
        return text(words, self.invented)

    def heading(self, words: str | Text, rank: int = 2, style: str = "heading",
                **look: Value) -> Heading:
        """Return a heading."""
        said = self.text(words) if isinstance(words, str) else words
        return Heading(id=self.ids(), words=said, rank=rank, style=style,
                       look=Look(base=look))

    def passage(self, *lines: str | tuple[Run, ...], style: str = "body",
                **look: Value) -> Passage:
        """Return paragraphs."""
        words = tuple(self.text(line) if isinstance(line, str) else line for line in lines)
        return Passage(id=self.ids(), words=words, style=style, look=Look(base=look))

    def listing(self, *lines: str, mark: str = "tick", **look: Value) -> Listing:
        """Return a list."""
        return Listing(id=self.ids(), words=tuple(self.text(line) for line in lines), mark=mark,
                       look=Look(base=look))

    def button(self, words: str, *actions: Action, looks: str = "main", drawing: str = "",
               icon_side: str = "before", phone: Values | None = None, **look: Value) -> Button:
        """Return a button."""
        return Button(id=self.ids(), words=self.text(words), actions=actions, looks=looks,
                      drawing=drawing, icon_side=icon_side,
                      look=Look(base=look, phone=phone or {}))

    def picture(self, medium: Id, *actions: Action, phone: Values | None = None,
                **look: Value) -> Picture:
        """Return a picture."""
        return Picture(id=self.ids(), medium=medium, actions=actions,
                       look=Look(base=look, phone=phone or {}))

    def fresh(self, kind: Kind) -> Any:
        """Return an item of any kind with what a new one holds."""
        return kind.new(self.ids())

    def icon(self, drawing: str, **look: Value) -> Icon:
        """Return an icon."""
        return Icon(id=self.ids(), drawing=drawing, look=Look(base=look))

    def form(self, form: Id) -> FormBox:
        """Return the place of a form."""
        return FormBox(id=self.ids(), form=form)

    def column(self, *items: Item, phone: Values | None = None, **look: Value) -> Column:
        """Return a column."""
        return Column(id=self.ids(), children=items, look=Look(base=look, phone=phone or {}))

    def row(self, *columns: Column | Item, phone: Values | None = None, **look: Value) -> Row:
        """Return a row; loose items share its one column."""
        if all(isinstance(part, Item) for part in columns):
            columns = (self.column(*columns),)  # type: ignore[arg-type]
        return Row(id=self.ids(), children=columns,  # type: ignore[arg-type]
                   look=Look(base=look, phone=phone or {}))

    def section(self, name: str, *rows: Row, phone: Values | None = None, picture: Id = "",
                shade: int = 0, focus: str = "center", role: SectionRole = "section",
                **look: Value) -> Section:
        """Return a section."""
        return Section(id=self.ids(), name=name, children=rows, picture=picture, shade=shade,
                       focus=focus, role=role, look=Look(base=look, phone=phone or {}))
