"""What is set for a time: asking when, and the list of what is still to come."""

from datetime import UTC, datetime

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from needle.publish.refusing import PublishError
from needle.publish.release import Scheduled
from needle.publish.releases import LiveError, Releases
from needle.publish.schedule import cancel
from needle.ui.cards import Card, Table, button, label, repaint_role
from needle.ui.language import tr
from needle.ui.moments import MomentEdit, own_zone
from needle.ui.session import Session

__all__ = ["LaterCard", "LaterDialog"]

_SHOWN = 5


class LaterDialog(QDialog):
    """Asks what is done, and when.

    Attributes:
        moment: When, once it was answered.
    """

    def __init__(self, sends: str, takes_off: str, parent: QWidget | None) -> None:
        """Ask.

        Args:
            sends, takes_off: What can be done, in words; empty for what cannot.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("Later"))
        self.moment = datetime.now(UTC)
        self.send = QRadioButton(sends or tr("Send: every page is as it is live"))
        self.off = QRadioButton(takes_off or tr("Take off: the chosen page is not live"))
        self.send.setEnabled(bool(sends))
        self.off.setEnabled(bool(takes_off))
        (self.send if sends else self.off).setChecked(True)
        self.when = MomentEdit(tr("When"), 1)
        self.said = label("", "fault", wrap=True)
        self.keep = button(tr("Set it"), self._take, main=True)
        self.keep.setDefault(True)
        self.keep.setEnabled(bool(sends or takes_off))
        column = QVBoxLayout(self)
        column.setSpacing(8)
        for one in (self.send, self.off, self.when,
                    label(tr("By the clock of {zone}.", zone=own_zone().key), "small"), self.said):
            column.addWidget(one)
        foot = QHBoxLayout()
        foot.addStretch()
        foot.addWidget(button(tr("Cancel"), self.reject))
        foot.addWidget(self.keep)
        column.addLayout(foot)
        self.resize(420, 220)

    def _take(self) -> None:
        try:
            self.moment = self.when.moment()
        except PublishError as error:
            self.said.setText(str(error))
            return
        self.accept()


class LaterCard(Card):
    """What is still to come, the next first; there while there is any.

    Signals:
        done: Something that was set for a time was done meanwhile.
    """

    done = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__(tr("To come"))
        self._session = session
        self._store = Releases(session.folder)
        self._shown: list[Scheduled] | None = None
        self.table = Table(tr("To come"), (tr("When"), tr("What"), ""), 1)
        self.table.itemSelectionChanged.connect(self._show_actions)
        self._cancel = button(tr("Do it not"), self.cancel_chosen)
        self.head.addWidget(self._cancel)
        self.body.addWidget(self.table)
        self._words = label("", "small", wrap=True)
        self.body.addWidget(self._words)

    def refresh(self) -> None:
        """Show what there is."""
        try:
            found = self._store.scheduled()
        except LiveError as error:
            self.setVisible(True)
            self._words.setText(str(error))
            repaint_role(self._words, "fault")
            return
        if found == self._shown:
            return
        gone = self._shown is not None and len(found) < len(self._shown)
        self._shown = found
        self.setVisible(bool(found))
        self.table.show_rows([(_when(one), _what(one), one.fault and tr("not done"))
                              for one in found], [one.id for one in found])
        self.table.fit_height(_SHOWN)
        if found and self.table.currentRow() < 0:
            self.table.selectRow(0)
        self._show_actions()
        if gone:
            self.done.emit()

    def _show_actions(self) -> None:
        one = self._chosen()
        self._cancel.setEnabled(one is not None)
        self._words.setText(one.fault if one and one.fault else tr(
            "Done by the host, also with this window closed. Targets follow with the next send."))
        repaint_role(self._words, "fault" if one and one.fault else "small")

    def _chosen(self) -> Scheduled | None:
        key = self.table.chosen_key()
        return next((one for one in self._shown or () if one.id == key), None)

    def cancel_chosen(self) -> None:
        """Take the chosen one back."""
        one = self._chosen()
        if one is None:
            return
        try:
            cancel(self._session.folder, one.id)
        except PublishError as error:
            self._session.said.emit(str(error), True)
            return
        self._session.said.emit(tr("It is not done: {what}.", what=_what(one)), False)
        self._shown = None  # What was taken back is not taken for done.
        self.refresh()


def _when(one: Scheduled) -> str:
    return f"{datetime.fromisoformat(one.at).astimezone():%a %d %b %Y  %H:%M}"


def _what(one: Scheduled) -> str:
    names = ", ".join(one.names)
    return tr("Send {list}", list=names) if one.planned else tr("Take {list} off", list=names)
