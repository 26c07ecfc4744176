"""The text styles of the site, edited in the tray."""

from functools import partial

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from needle.core.edit.looks import set_style_look
from needle.core.values.look import Look
from needle.core.values.styletable import Property, properties_for
from needle.core.values.widths import Width
from needle.ui.builder.properties import (
    WIDTH_WORDS,
    PropertyEditor,
    property_editor,
    show_property,
)
from needle.ui.builder.traycolumn import TrayColumn, dim_label
from needle.ui.editors import ChoiceEdit, DragLabel, Knot, NumberEdit, Segments
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["StyleColumns"]

class StyleColumns(QWidget):
    """Which text style, for which width, and its type.

    Attributes:
        choice: The style that is edited.
        editors: One for each property, by its name.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.choice = ChoiceEdit(tr("Text style"), {s.key: s.name for s in session.site.styles},
                                 inherit=False)
        self.choice.chosen.connect(lambda _: self.refresh())
        self._scope = Segments(tr("For"), WIDTH_WORDS)
        self._scope.chosen.connect(self._take_scope)
        self.editors: dict[str, PropertyEditor] = {}
        self._knots: dict[str, Knot] = {}
        which = TrayColumn(tr("Text styles of the site"))
        which.add_line(dim_label(tr("Style")), self.choice)
        which.add_line(dim_label(tr("For")), self._scope)
        rows = properties_for(frozenset({"type", "ink"}))
        type_column, more = TrayColumn(tr("Type")), TrayColumn(tr("Colour and place"))
        for number, prop in enumerate(rows):
            self._add(type_column if number < 4 else more, prop)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        for column in (which, type_column, more):
            row.addWidget(column, 1)

    def _add(self, column: TrayColumn, prop: Property) -> None:
        editor = property_editor(prop, self._session)
        editor.chosen.connect(partial(self._take, prop.name))
        self.editors[prop.name] = editor
        knot = Knot(tr(prop.label))
        knot.clicked.connect(partial(self._put_back, prop.name))
        self._knots[prop.name] = knot
        label = DragLabel(tr(prop.label), editor) if isinstance(editor, NumberEdit) else dim_label(
            tr(prop.label))
        column.add_line(label, editor, knot)

    def _take_scope(self, width: Width | None) -> None:
        self._session.set_scope(width)
        self.refresh()

    def _look(self) -> Look:
        return self._session.site.style_map()[str(self.choice.currentData())].look

    def _take(self, name: str, value: object) -> None:
        key, scope = str(self.choice.currentData()), self._session.scope
        self._session.edit(tr("text style {style}",
                              style=self.choice.currentText().lower()),
                           lambda site: set_style_look(
                               site, key, name, value, scope),  # type: ignore[arg-type]
                           group=f"style:{key}:{name}:{scope}")
        self.refresh()

    def _put_back(self, name: str) -> None:
        key, widths = str(self.choice.currentData()), self._look().differs(name)

        def how(site):  # type: ignore[no-untyped-def]
            for width in widths:
                site = set_style_look(site, key, name, None, width)
            return site

        self._session.edit(tr("put back text style"), how)
        self.refresh()

    def refresh(self) -> None:
        """Show the chosen style as it is now."""
        look, scope = self._look(), self._session.scope
        self._scope.show_values([scope])
        for name, editor in self.editors.items():
            own, wider = look.at(scope).get(name), look.base.get(name)
            show_property(editor, own, wider, self._session.site.brand)
            widths = look.differs(name)
            values = ", ".join(f"{look.at(width)[name]}" for width in widths)
            self._knots[name].show_difference([w.value for w in widths], f" ({values})")
