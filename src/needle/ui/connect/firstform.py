"""The first form: what forms are for, each kind a button that makes one."""

from functools import partial

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QVBoxLayout, QWidget

from needle.core.readymade.forms import FORM_KINDS
from needle.ui.cards import Card, button, label
from needle.ui.language import tr

__all__ = ["FirstForm"]

_CARD_PX = 620


class FirstForm(QWidget):
    """Shown as long as a site has no form.

    Signals:
        wanted: The person took a kind (a key of `FORM_KINDS`; empty for a form of their own).
    """

    wanted = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("work")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        card = Card(tr("No form yet"))
        card.setMaximumWidth(_CARD_PX)
        card.body.addWidget(label(tr(
            "A form asks visitors for an address, and this is where its answers go: to the lead "
            "book always, and along threads to mailboxes and lists. Begin with one of these:"),
            "dim", wrap=True))
        grid = QGridLayout()
        grid.setColumnStretch(1, 1)
        grid.setVerticalSpacing(4)
        for row, (key, kind) in enumerate(FORM_KINDS.items()):
            asked = ", ".join(tr(words).rstrip("?") for _, words, _ in kind.fields)
            grid.addWidget(button(tr(kind.name), partial(self.wanted.emit, key), main=not row),
                           row, 0)
            grid.addWidget(label(tr("asks: {fields}", fields=asked), "dim"), row, 1)
        grid.addWidget(button(tr("A form of your own"), partial(self.wanted.emit, "")),
                       len(FORM_KINDS), 0)
        grid.addWidget(label(tr("asks for an e-mail address, and what you add"), "dim"),
                       len(FORM_KINDS), 1)
        card.body.addLayout(grid)
        column = QVBoxLayout(self)
        column.setContentsMargins(16, 14, 16, 14)
        column.addWidget(card)
        column.addStretch()
