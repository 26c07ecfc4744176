"""Code that came from elsewhere: seen before it may go to visitors."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.outsidecode import OutsideCode
from needle.store.trust import allow, waiting_codes
from needle.ui.cards import button, label
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import Words

__all__ = ["ForeignCodeDialog", "waiting_words"]


def waiting_words(session: Session) -> str:
    """Return what to say of the code that waits to be allowed; nothing if none does."""
    count = len(waiting_codes(session.site))
    if not count:
        return ""
    pieces = tr("a piece of code") if count == 1 else tr("{count} pieces of code", count=count)
    return (tr("This site brings {pieces} from elsewhere. Visitors do not get it until you allow "
               "it: Site, Code from elsewhere…",
               pieces=pieces))


class ForeignCodeDialog(QDialog):
    """Every piece of code that waits, where it stands and what it says."""

    def __init__(self, session: Session, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Code from elsewhere"))
        self._session = session
        self._codes: list[OutsideCode] = []
        self._note = Words()
        self._note.setWordWrap(True)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Code that waits"))
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setTextElideMode(Qt.TextElideMode.ElideRight)
        self.list.currentRowChanged.connect(self._show)
        self.code = QPlainTextEdit()
        self.code.setReadOnly(True)
        self.code.setAccessibleName(tr("What it says"))
        self._allow = button(tr("Allow what is ticked"), self.allow_ticked, main=True)
        foot = QHBoxLayout()
        self._runs = label(tr("It runs in your visitors' browsers once you send the pages."), "dim")
        foot.addWidget(self._runs)
        foot.addStretch()
        foot.addWidget(button(tr("Close"), self.close))
        foot.addWidget(self._allow)
        column = QVBoxLayout(self)
        column.addWidget(self._note)
        column.addWidget(self.list, 1)
        column.addWidget(self.code, 1)
        column.addLayout(foot)
        self.refresh()
        self.resize(680, 480 if self._codes else 120)

    def refresh(self) -> None:
        """List what waits now."""
        self._codes = waiting_codes(self._session.site)
        self._note.setText(
            tr("This code came with a project or a page from elsewhere. It is off until you "
               "allow it. Allow only what you know.") if self._codes else
            tr("Nothing waits here. Code that comes with a project or a page from elsewhere is "
               "listed here before it may go to visitors."))
        for part in (self.list, self.code, self._allow, self._runs):
            part.setVisible(bool(self._codes))
        self.list.clear()
        for code in self._codes:
            item = QListWidgetItem(f"{code.where}: {' '.join(code.code.split())[:90]}")
            item.setFlags(item.flags() | Qt.ItemFlag.ItemIsUserCheckable)
            item.setCheckState(Qt.CheckState.Unchecked)
            self.list.addItem(item)
        self.list.setCurrentRow(0 if self._codes else -1)
        self._show(self.list.currentRow())

    def _show(self, row: int) -> None:
        self.code.setPlainText(self._codes[row].code if 0 <= row < len(self._codes) else "")

    def allow_ticked(self) -> None:
        """Let the ticked code go to visitors from now on."""
        ticked = [code for number, code in enumerate(self._codes)
                  if (item := self.list.item(number)) is not None
                  and item.checkState() == Qt.CheckState.Checked]
        try:
            allow(ticked)
        except OSError as error:
            self._session.said.emit(tr("This could not be kept: {strerror}.",
                                       strerror=error.strerror or error), True)
            return
        self.refresh()
        if ticked:
            self._session.said.emit(tr("Allowed. It goes to visitors when you send the pages."),
                                    False)
