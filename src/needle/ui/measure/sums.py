"""What an order comes to, line by line, amounts below each other."""

from collections.abc import Callable
from decimal import Decimal

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QGridLayout, QWidget

from needle.store.results.ordered import Order
from needle.ui.cards import label
from needle.ui.language import tr

__all__ = ["Sums", "sums_of"]

_RIGHT = Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter


def sums_of(order: Order) -> tuple[list[tuple[str, str]], int]:
    """Return what an order comes to besides its things: what, and how much; and the place of the
    total among them."""
    rows = [(tr("Coupon {code}", code=order.coupon.code), order.off)] \
        if order.coupon is not None else []
    rows += [(order.way, order.carriage)] if order.way else []
    rows += [order.tip] if order.tip is not None else []
    taxes = [(percent, tax) for percent, _, tax in order.taxes if Decimal(tax)]
    total = (tr("Total"), order.total)
    # Tax that the prices hold is told below the total, other tax above it.
    if not order.taxed_on_top:
        return [*rows, total, *((tr("of which tax, {percent} %", percent=percent), tax)
                                for percent, tax in taxes)], len(rows)
    return [*rows, *((tr("Tax, {percent} %", percent=percent), tax)
                     for percent, tax in taxes), total], len(rows) + len(taxes)


class Sums(QWidget):
    """Two columns: names at the left, amounts at the right."""

    def __init__(self) -> None:
        super().__init__()
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(11, 2, 11, 2)
        self._grid.setVerticalSpacing(3)
        self._grid.setColumnStretch(0, 1)

    def show_order(self, order: Order, worded: Callable[[str], str]) -> None:
        """Show what an order comes to.

        Args:
            worded: An amount as people read it.
        """
        while (item := self._grid.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.hide()  # It goes a turn later.
                widget.deleteLater()
        rows, last = sums_of(order)
        for place, (name, amount) in enumerate(rows):
            role = "title" if place == last else ""
            self._grid.addWidget(label(name, role, wrap=True), place, 0)
            self._grid.addWidget(label(worded(amount), role), place, 1, _RIGHT)
