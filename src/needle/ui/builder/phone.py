"""The draft on a real phone in the same network: a picture to scan, and an end."""

from collections.abc import Callable
from typing import TYPE_CHECKING

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QCloseEvent, QPixmap
from PyQt6.QtNetwork import QAbstractSocket, QNetworkInterface
from PyQt6.QtWidgets import QApplication, QDialog, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.leads.campaigns import qr_picture
from needle.running.refusing import RunningError
from needle.ui.cards import button, label
from needle.ui.hearing import NamedCombo
from needle.ui.language import tr
from needle.ui.timers import every

if TYPE_CHECKING:
    from needle.running.phone import Answer, PhoneDoor

__all__ = ["PhoneDialog", "own_addresses"]

_LOOK_MS, _PICTURE_PX = 500, 260


def own_addresses() -> list[str]:
    """Return the IPv4 addresses under which others in the network may reach this machine."""
    found = []
    for interface in QNetworkInterface.allInterfaces():
        flags = interface.flags()
        if (flags & QNetworkInterface.InterfaceFlag.IsUp
                and not flags & QNetworkInterface.InterfaceFlag.IsLoopBack):
            found += [entry.ip().toString() for entry in interface.addressEntries()
                      if entry.ip().protocol() == QAbstractSocket.NetworkLayerProtocol.IPv4Protocol]
    return found


class PhoneDialog(QDialog):
    """Opens a door to the network when the person says so, and shuts it when it is closed."""

    def __init__(self, parent: QWidget, answer: "Answer", slug: Callable[[], str],
                 addresses: list[str]) -> None:
        """Ask first.

        Args:
            answer: Returns what stands at a path of the site.
            slug: Tells which page is looked at.
            addresses: Where this machine can be reached.
        """
        super().__init__(parent)
        self.setWindowTitle(tr("On a phone"))
        self.setMinimumWidth(420)
        self._answer, self._slug = answer, slug
        self.door: PhoneDoor | None = None
        self.address = NamedCombo(tr("Address of this machine"))
        for one in addresses:
            self.address.addItem(one, one)
        self._why = label(tr(
            "The phone has to be in the same network. Whoever scans the picture sees the draft "
            "until this window is closed; forms send nothing, and nothing is counted.") if addresses
            else tr("This machine is in no network just now. Connect it, and come back."),
            wrap=True)
        self._open = button(tr("Open to the network"), self.open, main=True)
        self._open.setEnabled(bool(addresses))
        self._picture = label("")
        self._picture.setAlignment(Qt.AlignmentFlag.AlignCenter)
        self._link = label("", "small", wrap=True)
        self._link.setTextInteractionFlags(Qt.TextInteractionFlag.TextSelectableByMouse
                                           | Qt.TextInteractionFlag.TextSelectableByKeyboard)
        self._copy = button(tr("Copy the address"), self._copy_link)
        self._state = label("", "dim", wrap=True)
        self._clock = every(self, _LOOK_MS)
        self._clock.timeout.connect(self._show_state)
        self._lay_out()

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        column.setSpacing(10)
        column.addWidget(self._why)
        column.addWidget(self.address)
        for widget in (self._picture, self._link, self._state):
            widget.hide()
            column.addWidget(widget)
        foot = QHBoxLayout()
        foot.addWidget(self._copy)
        foot.addStretch()
        foot.addWidget(self._open)
        foot.addWidget(button(tr("Close"), self.close))
        self._copy.hide()
        column.addLayout(foot)

    def open(self) -> None:
        """Let the network in, and show the way."""
        try:
            from needle.running.phone import PhoneDoor  # Heavy, and needed only here.

            self.door = PhoneDoor(self._answer, str(self.address.currentData()))
        except RunningError as error:
            self._state.setText(str(error))
            self._state.show()
            return
        self._link.setText(self.door.link(self._slug()))
        pixmap = QPixmap()
        pixmap.loadFromData(qr_picture(self._link.text()))
        self._picture.setPixmap(pixmap.scaled(
            _PICTURE_PX, _PICTURE_PX, Qt.AspectRatioMode.KeepAspectRatio))
        self._picture.setAccessibleName(tr("The address as a picture to scan"))
        for widget in (self._picture, self._link, self._state, self._copy):
            widget.show()
        self._open.hide()
        self.address.setEnabled(False)
        self._show_state()
        self._clock.start()
        self.adjustSize()

    def _show_state(self) -> None:
        if self.door is None:
            return
        said = tr("{count} files fetched so far.", count=self.door.seen) if self.door.seen else tr(
            "Waiting for the phone.")
        if self.door.refused:
            said += " " + tr("{count} were asked for without the key, and refused.",
                             count=self.door.refused)
        self._state.setText(said)

    def _copy_link(self) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(self._link.text())

    def shut(self) -> None:
        """Close the door, if it is open."""
        self._clock.stop()
        if self.door is not None:
            door, self.door = self.door, None
            door.close()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        super().closeEvent(event)
        self.shut()

    def done(self, result: int) -> None:
        """As every dialog: Esc comes here, too."""
        self.shut()
        super().done(result)
