"""Editors for the values of a node itself, as its kind declares them."""

from collections.abc import Callable

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QWidget

from needle.core.kinds.kind import Field
from needle.core.values.node import Node
from needle.ui.builder.fields import CodeEdit, EntriesEdit, PagesEdit
from needle.ui.builder.icons import IconButton
from needle.ui.editors import ChoiceEdit, ColourEdit, NumberEdit, WordsEdit
from needle.ui.language import tr, tr_each
from needle.ui.session import Session

__all__ = ["FieldEditors"]


class FieldEditors(QObject):
    """Makes editors for fields.

    Signals:
        medium_asked: The person wants to add a picture or video (node id, path of the field).
        form_asked: The person wants a new form.
    """

    medium_asked = pyqtSignal(str, str)
    form_asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session

    def make(self, field: Field, take: Callable[[object], None],
             ) -> tuple[QWidget, Callable[[Node], None]]:
        """Return the editor of a field, and what shows a node's value in it.

        Args:
            take: Gets what the person chooses.
        """
        if field.editor == "line":
            line = WordsEdit(tr(field.label))
            line.kept.connect(take)
            return line, lambda node: line.show_words(str(getattr(node, field.name)))
        if field.editor == "code":
            code = CodeEdit(tr(field.label))
            code.kept.connect(take)
            return code, lambda node: code.show_code(str(getattr(node, field.name)))
        if field.editor == "entries":
            assert field.new_entry is not None
            entries = EntriesEdit(tr(field.label), field.new_entry, field.parts)
            entries.chosen.connect(take)
            entries.medium_asked.connect(lambda number, part: self.medium_asked.emit(
                self._session.selection, f"{field.name}.{number}.{part}"))
            return entries, lambda node: entries.show_entries(
                getattr(node, field.name), node, self._session.site.media)
        if field.editor == "icon":
            drawing = IconButton(tr(field.label))
            drawing.chosen.connect(take)
            return drawing, lambda node: drawing.show_icon(getattr(node, field.name))
        if field.editor == "pages":
            pages = PagesEdit(tr(field.label))
            pages.chosen.connect(take)
            return pages, lambda node: pages.show_pages(
                self._session.site.pages, getattr(node, field.name) or ())
        if field.editor == "number":
            number = NumberEdit(tr(field.label), field.low, field.high, 4)
            number.chosen.connect(lambda value: take(value if value is not None else field.low))
            number.refused.connect(lambda words: self._session.said.emit(words, True))
            return number, lambda node: number.show_value(getattr(node, field.name))
        if field.editor == "colour":
            colour = ColourEdit(tr(field.label))
            colour.chosen.connect(lambda value: take(value or "ink"))
            return colour, lambda node: colour.show_value(
                getattr(node, field.name), self._session.site.brand)
        return self._choice_field(field, take)

    def _choice_field(self, field: Field, take: Callable[[object], None],
                      ) -> tuple[QWidget, Callable[[Node], None]]:
        """A choice whose values come from the table or from the site."""
        choice = ChoiceEdit(tr(field.label), {}, inherit=False)
        asked = {"medium": self.medium_asked, "form": self.form_asked}.get(field.editor)

        def chosen(value: object) -> None:
            if value == "…" and field.editor in ("medium", "film"):
                self.medium_asked.emit(self._session.selection, field.name)
            elif value == "…" and asked is not None:
                self.form_asked.emit("")
            else:
                take(value)

        def refresh(node: Node) -> None:
            offered = self._offered(field, node)
            if [choice.itemData(i) for i in range(choice.count())] != list(offered) or [
                    choice.itemText(i) for i in range(choice.count())] != list(offered.values()):
                choice.clear()
                for value, words in offered.items():
                    choice.addItem(words, value)
            choice.show_value(getattr(node, field.name))

        choice.chosen.connect(chosen)
        return choice, refresh

    def _offered(self, field: Field, node: Node) -> dict[object, str]:
        site = self._session.site
        offered: dict[object, str] = tr_each(field.choices)
        if field.editor == "style":
            offered = {style.key: style.name for style in site.styles}
        elif field.editor == "medium":
            offered = {"": "none", **{m.id: m.name for m in site.media if not m.is_video},
                       "…": tr("Add a picture…")}
        elif field.editor == "film":
            offered = {"": "none", **{m.id: m.name for m in site.media if m.is_video},
                       "…": tr("Add a video…")}
        elif field.editor == "table":
            offered = {"": tr("none"), **{table.id: table.name for table in site.tables}}
        elif field.editor == "column":
            table = site.table(getattr(node, "table", ""))
            offered = {"": tr("none"), **{one.id: one.name
                                          for one in (table.columns if table else ())}}
        elif field.editor == "form":
            offered = {"": "none", **{f.id: f.name for f in site.forms},
                       "…": tr("Make a new form…")}
        return offered
