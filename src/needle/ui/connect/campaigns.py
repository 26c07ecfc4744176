"""Making campaign links: an address that tells where a visitor came from, and its QR picture."""

from pathlib import Path

from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QFileDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from needle.core.leads.campaigns import UTM, campaign_link, qr_picture
from needle.store.files import write_atomically
from needle.ui.cards import button, label, repaint_role
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.words import Words

__all__ = ["LinkDialog"]


class LinkDialog(QDialog):
    """Page, source, medium and campaign in; a link and its picture out."""

    def __init__(self, parent: QWidget, session: Session, outcomes: Outcomes) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("A campaign link"))
        self._session = session
        self._outcomes = outcomes
        self.address = QLineEdit()
        self.address.setAccessibleName(tr("Address"))
        self.page = ChoiceEdit(tr("Page"), {page.id: page.name for page in session.site.pages},
                               inherit=False)
        self.page.chosen.connect(self._take_page)
        self.parts = {name: QLineEdit() for name, _, _ in UTM}
        form = QFormLayout()
        form.addRow(tr("Page"), self.page)
        form.addRow(tr("Address"), self.address)
        for name, words, example in UTM:
            self.parts[name].setPlaceholderText(example)
            self.parts[name].setAccessibleName(words)
            form.addRow(words, self.parts[name])
        self.link = QPlainTextEdit()
        self.link.setReadOnly(True)
        self.link.setAccessibleName(tr("The link"))
        self.link.setFixedHeight(64)
        self._note = label("", "small", wrap=True)
        self.picture = Words()
        self.picture.setFixedSize(220, 220)
        self.picture.setScaledContents(True)
        self.picture.setAccessibleName(tr("QR picture of the link"))
        self._lay_out(form)
        for edit in (self.address, *self.parts.values()):
            edit.textChanged.connect(lambda _: self._show())
        self._take_page(session.page.id)
        self.page.show_value(session.page.id)

    def _lay_out(self, form: QFormLayout) -> None:
        left = QVBoxLayout()
        left.addLayout(form)
        left.addWidget(self.link)
        left.addWidget(self._note)
        row = QHBoxLayout()
        row.addLayout(left, 1)
        row.addWidget(self.picture)
        foot = QHBoxLayout()
        foot.addStretch()
        foot.addWidget(button(tr("Copy the link"), self.copy, main=True))
        foot.addWidget(button(tr("Save the picture…"), self.ask_save))
        foot.addWidget(button(tr("Close"), self.accept))
        column = QVBoxLayout(self)
        column.addLayout(row)
        column.addLayout(foot)
        self.resize(760, 360)

    def _take_page(self, page_id: object) -> None:
        page = self._session.site.page(str(page_id))
        if page is not None:
            # Nobody knows the address yet where nothing serves the page.
            self.address.setText(self._outcomes.address(page))

    def _show(self) -> None:
        try:
            link = campaign_link(self.address.text(),
                                 {name: edit.text() for name, edit in self.parts.items()})
        except ValueError as error:
            self.link.setPlainText("")
            self.picture.clear()
            self._note.setText(str(error))
            repaint_role(self._note, "fault")
            return
        self.link.setPlainText(link)
        pixmap = QPixmap()
        pixmap.loadFromData(qr_picture(link))
        self.picture.setPixmap(pixmap)
        repaint_role(self._note, "small")
        told = self.parts["utm_source"].text().strip()
        self._note.setText(
            tr("Leads that come by it say this source in the lead book.") if told
            else tr("Say at least where the link stands."))

    def copy(self) -> None:
        """Put the link on the clipboard."""
        clipboard = QApplication.clipboard()
        if clipboard is not None and self.link.toPlainText():
            clipboard.setText(self.link.toPlainText())
            self._session.said.emit(tr("The link is on the clipboard."), False)

    def ask_save(self) -> None:
        """Ask for a file and save the QR picture to it."""
        path, _ = QFileDialog.getSaveFileName(self, tr("Save the QR picture"), "link.png",
                                              tr("Pictures (*.png *.svg)"))
        if path:
            self.save(Path(path))

    def save(self, path: Path) -> None:
        """Save the QR picture, as PNG or SVG by the file's ending."""
        link = self.link.toPlainText()
        if not link:
            self._session.said.emit(tr("There is no link yet."), True)
            return
        kind = "svg" if path.suffix.lower() == ".svg" else "png"
        try:
            write_atomically(path, qr_picture(link, kind))
        except OSError as error:
            self._session.said.emit(tr("{path} cannot be written: {strerror}.",
                                       path=path, strerror=error.strerror), True)
            return
        self._session.said.emit(tr("The picture is in {path}.", path=path), False)
