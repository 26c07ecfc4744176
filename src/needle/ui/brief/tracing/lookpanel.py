"""What stands at a place of a saved page, exactly as it is laid out, and its look to take."""

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QVBoxLayout, QWidget

from needle.core.edit.looks import put_look, set_style_looks
from needle.core.render.holders import kind_of
from needle.core.seeing.laidout import LaidOut, told
from needle.core.seeing.takenlook import taken_look
from needle.core.site.site import Site
from needle.core.values.ids import Id
from needle.core.values.look import Look
from needle.ui.cards import button, label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["LookPanel"]


class LookPanel(QWidget):
    """Names and values of one element, and where its look can go.

    Attributes:
        number: The element's place among the nodes of its page; `None` for none.
    """

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._laid: LaidOut | None = None
        self.number: int | None = None
        self.values = label("", "small", wrap=True)
        self.values.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse
                                            | Qt.TextInteractionFlag.TextSelectableByKeyboard)
        self._chosen = label("", "dim", wrap=True)
        self._give = button(tr("Give this look to it"), self.give, main=True)
        self._styles = ChoiceEdit(tr("Or to a text style"), {}, inherit=False)
        self._styles.chosen.connect(lambda key: self.give_style(str(key)))
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(5)
        for widget in (self.values, self._chosen, self._give, self._styles):
            column.addWidget(widget)
        session.selected.connect(lambda _: self._show_chosen())
        self.tell(None, None)

    def tell(self, laid: LaidOut | None, number: int | None) -> None:
        """Show an element, or nothing."""
        self._laid, self.number = laid, number
        self.setVisible(laid is not None and number is not None)
        if laid is None or number is None:
            return
        self.values.setText("\n".join(f"{name}: {value}" for name, value in told(laid, number)))
        self._styles.clear()
        self._styles.addItem(tr("Or to a text style…"), "")
        for style in self._session.site.styles:
            self._styles.addItem(style.name, style.key)
        self._show_chosen()

    def _show_chosen(self) -> None:
        node = self._session.node()
        self._give.setEnabled(node is not None)
        self._chosen.setText(tr("Chosen in Build: {label}", label=tr(kind_of(node).label).lower())
                             if node is not None else
                             tr("Choose an item in Build to give it this look."))

    def look(self) -> Look | None:
        """Return the look of what is shown."""
        if self._laid is None or self.number is None:
            return None
        site = self._session.site
        return taken_look(self._laid, self.number, site.brand, site)

    def give(self) -> None:
        """Give the look to what is chosen, as one step of undo."""
        chosen = self._session.chosen
        self._put(tr("look from a saved page"), lambda look, site: put_look(site, chosen, look))

    def give_style(self, key: Id) -> None:
        """Give the type of the look to a text style of the site."""
        if key:
            self._put(tr("text style from a saved page"),
                      lambda look, site: set_style_looks(site, key, look))
        self._styles.setCurrentIndex(0)

    def _put(self, label: str, how: Callable[[Look, Site], Site]) -> None:
        look = self.look()
        if look is not None and self._session.edit(label, lambda site: how(look, site)):
            self._session.said.emit(tr("It has the look now. Ctrl+Z takes it back."), False)
