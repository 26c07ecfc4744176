"""Asking how much of an order is paid back, and whom its invoice names."""

import secrets
from decimal import Decimal, InvalidOperation

from PyQt6.QtWidgets import QDialog, QFormLayout, QPlainTextEdit, QWidget

from needle.store.results.ordered import Order
from needle.ui.cards import button, foot, label
from needle.ui.editors import WordsEdit
from needle.ui.language import tr

__all__ = ["BackDialog", "BilledDialog"]


class BackDialog(QDialog):
    """How much of an order is paid back.

    Attributes:
        key: What tells this wish from others, so that it is done once.
    """

    def __init__(self, order: Order, most: Decimal, told: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Pay back"))
        self.key = secrets.token_urlsafe(18)
        self.edit = WordsEdit(tr("Amount"), f"{most:.2f}")
        form = QFormLayout(self)
        form.addRow(tr("Amount"), self.edit)
        through = tr("It goes back the way it came. ") if order.pay.kind == "service" else tr(
            "It is noted here; transfer it yourself. ")
        form.addRow(label(through + tr("Up to {amount} can be paid back. What is in stock does "
                                       "not change by it.", amount=told), "small", wrap=True))
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Pay it back"), self.accept, main=True)))
        self.resize(380, 10)

    def amount(self) -> Decimal:
        """Return what was typed; nothing for what is no amount."""
        try:
            amount = Decimal(self.edit.text().strip().replace(",", "."))
            return amount.quantize(Decimal("0.01")) if amount.is_finite() else Decimal(0)
        except InvalidOperation:
            return Decimal(0)


class BilledDialog(QDialog):
    """Whom an invoice names."""

    def __init__(self, words: str, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Invoice"))
        self.edit = QPlainTextEdit(words)
        self.edit.setAccessibleName(tr("To"))
        self.edit.setTabChangesFocus(True)
        form = QFormLayout(self)
        form.addRow(tr("To"), self.edit)
        form.addRow(label(tr("Name and address, as the invoice says them. It has a number from "
                             "now on, and stays as it is; erasing the person leaves it."),
                          "small", wrap=True))
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Write it"), self.accept, main=True)))
        self.resize(420, 240)

    def words(self) -> str:
        """Return what stands there."""
        return self.edit.toPlainText().strip()
