"""Asking where a service is: the practice one that ships, or one's own."""

from PyQt6.QtWidgets import (
    QDialog,
    QDialogButtonBox,
    QFormLayout,
    QLineEdit,
    QRadioButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.site.site import Service
from needle.ui.cards import label

__all__ = ["ServiceDialog"]

_ADDRESS = {"mail": ("Mail server", "mail.example:25"),
            "list": ("Base address", "https://lists.example/api")}


class ServiceDialog(QDialog):
    """Where a service is, and its key.

    Attributes:
        practice: Take the stand-in that ships with Needle.
        address: The address of one's own.
        key: A new key; empty leaves the one that is kept. Only for mailing lists.
    """

    def __init__(self, parent: QWidget, service: Service) -> None:
        super().__init__(parent)
        self.setWindowTitle(service.name)
        words, example = _ADDRESS[service.does]
        self.practice = QRadioButton("The practice one that ships with Needle")
        self.own = QRadioButton("My own")
        (self.practice if service.practice else self.own).setChecked(True)
        self.address = QLineEdit(service.address)
        self.address.setPlaceholderText(example)
        self.address.setAccessibleName(words)
        self.key = QLineEdit()
        self.key.setEchoMode(QLineEdit.EchoMode.Password)
        self.key.setPlaceholderText("unchanged")
        self.key.setAccessibleName("Key")
        self.address.textEdited.connect(lambda _: self.own.setChecked(True))
        form = QFormLayout()
        form.addRow(words, self.address)
        if service.does == "list":
            form.addRow("Key", self.key)
        buttons = QDialogButtonBox()
        take = buttons.addButton("Use this", QDialogButtonBox.ButtonRole.AcceptRole)
        leave = buttons.addButton("Leave as it is", QDialogButtonBox.ButtonRole.RejectRole)
        assert take is not None
        assert leave is not None
        take.setProperty("role", "main")
        buttons.accepted.connect(self.accept)
        buttons.rejected.connect(self.reject)
        column = QVBoxLayout(self)
        column.addWidget(label(f"Where is {service.name}?", "title"))
        column.addWidget(self.practice)
        column.addWidget(self.own)
        column.addLayout(form)
        if service.does == "list":
            column.addWidget(label("The key is kept in a private file of yours, never in the "
                                   "project.", "small", wrap=True))
        column.addWidget(buttons)
        self.setMinimumWidth(380)
