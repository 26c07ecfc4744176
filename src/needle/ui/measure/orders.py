"""The order book: what was ordered, by whom, and what became of it."""

import time
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime
from decimal import Decimal
from functools import partial
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, Qt
from PyQt6.QtGui import QPageSize, QPdfWriter, QTextDocument
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.shop.selling import with_sales
from needle.core.tables.cells import amount_words
from needle.core.tables.csvfile import written
from needle.core.values.counting import counted
from needle.store.files import write_atomically
from needle.store.refusing import StoreError
from needle.store.results.orders import STATES, Order, list_orders, set_state
from needle.ui.cards import Card, Table, button, label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.words import set_tip

__all__ = ["OrderBook", "packing_list"]

_STATES = {"aside": tr("looks automatic"), "new": tr("new"), "paid": tr("paid"),
           "sent": tr("sent"), "done": tr("done"), "cancelled": tr("cancelled")}
_BECOMES = {"new": tr("It is a person's"), "paid": tr("It is paid"), "sent": tr("It is sent"),
            "done": tr("It is done"), "cancelled": tr("Cancel it")}
# So many are in the list; sums and files are of all.
_LISTED = 500
_COLUMNS = ("number", "when", "state", "e-mail", "thing", "item number", "pieces", "price",
            "sum", "coupon", "discount", "way", "carriage", "tax", "total", "currency")


class OrderBook(QWidget):
    """Orders at the left, the chosen one at the right."""

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self.setObjectName("work")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session, self._outcomes = session, outcomes
        self.orders: list[Order] = []
        self.state = ChoiceEdit(tr("State"), {"": tr("any state")} | _STATES, inherit=False)
        self.state.chosen.connect(lambda _: self.refresh())
        self.state.setMinimumContentsLength(9)
        self.table = Table(tr("Orders"), (tr("No."), tr("When"), tr("Who"), tr("Total"),
                                          tr("State")), 2, right=(0, 3))
        self.table.itemSelectionChanged.connect(self._show)
        self._empty = label(tr("Nobody has ordered yet. What is sold, and how, stands in Connect, "
                               "Shop."), "dim", wrap=True)
        self.about = label("", wrap=True)
        self.lines = Table(tr("What is ordered"), (tr("Thing"), tr("Pieces"), tr("Sum")), 0,
                           right=(1, 2))
        self.sums = label("", wrap=True)
        self.becomes = {state: button(words, partial(self.become, state))
                        for state, words in _BECOMES.items()}
        self._lay_out()
        outcomes.changed.connect(self._on_change)

    def _lay_out(self) -> None:
        book = Card(tr("Orders"), grows=True)
        self._note = book.note
        book.head.addWidget(self.state)
        book.head.addWidget(button(tr("Write to a CSV file…"), self.ask_export))
        tell = button(tr("Tell the lists"), self.tell_lists)
        set_tip(tell, tr("Writes into the table how many of each thing were ordered, and what is "
                         "often bought with it: lists of what sells best and of what is like a "
                         "thing go by that."))
        book.head.addWidget(tell)
        book.body.addWidget(self.table, 1)
        book.body.addWidget(self._empty)
        one = self._one = Card(tr("The order"))
        one.head.addWidget(button(tr("Packing list…"), self.ask_list))
        for widget in (self.about, self.lines, self.sums):
            one.body.addWidget(widget)
        line = QHBoxLayout()
        for made in self.becomes.values():
            line.addWidget(made)
        line.addStretch()
        one.body.addLayout(line)
        right = QVBoxLayout()
        right.addWidget(one)
        right.addStretch()
        row = QHBoxLayout(self)
        row.setContentsMargins(18, 14, 18, 14)
        row.setSpacing(12)
        row.addWidget(book, 6)
        row.addLayout(right, 5)

    def _on_change(self) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the orders as they are now."""
        chosen = self.table.chosen_key()
        orders = self._all()
        self.orders = orders[:_LISTED]
        self.table.show_rows([
            (f"{order.number}", _when(order.at_ms), order.email or tr("erased"),
             self._amount(order, order.total), _STATES[order.state]) for order in self.orders],
            [str(order.id) for order in self.orders])
        place = next((n for n, order in enumerate(self.orders) if str(order.id) == chosen), 0)
        if self.orders:
            self.table.selectRow(place)
        self.table.setVisible(bool(self.orders))
        self._empty.setVisible(not self.orders)
        self._note.setText(self._summary(orders))
        self._show()

    def _all(self) -> list[Order]:
        """Return every order in the state that is looked at, the newest first."""
        return list_orders(self._outcomes.engine, str(self.state.currentData() or ""))

    def _summary(self, orders: Sequence[Order]) -> str:
        real = list(filter(_counts, orders))
        if not real:
            return ""
        sums: dict[str, Decimal] = {}
        for order in real:
            sums[order.currency] = sums.get(order.currency, Decimal(0)) + Decimal(order.total)
        told = ", ".join(amount_words(f"{amount:.2f} {currency}".strip(),
                                      self._session.site.language)
                         for currency, amount in sums.items())
        summary = tr("{orders}, {sum}", orders=counted(len(real), "order"), sum=told)
        return summary if len(orders) <= _LISTED else tr(
            "{summary}; the newest {listed} are listed", summary=summary, listed=str(_LISTED))

    def _amount(self, order: Order, amount: str) -> str:
        return amount_words(f"{amount} {order.currency}".strip(), self._session.site.language)

    @property
    def chosen(self) -> Order | None:
        """The order that is chosen."""
        key = self.table.chosen_key()
        return next((order for order in self.orders if str(order.id) == key), None)

    def _show(self) -> None:
        order = self.chosen
        self._one.setVisible(order is not None)
        if order is None:
            return
        steps = ", ".join(f"{_STATES[state]} {_when(at)}" for state, at in order.states)
        told = "\n".join(f"{name}: {words}" for name, words in order.answers
                         if "\n" not in words)
        self.about.setText(tr("No. {number}: {steps}", number=order.number, steps=steps)
                           + (f"\n\n{told}" if told else ""))
        self.lines.show_rows([(line.thing, f"{line.pieces}", self._amount(order, line.total))
                              for line in order.lines])
        self.lines.fit_height(8)
        sums = [(tr("Coupon {code}", code=order.coupon.code), f"-{order.discount}")] \
            if order.coupon is not None else []
        sums += [(order.way, order.carriage)] if order.way else []
        self.sums.setText("\n".join([
            *(f"{name}: {self._amount(order, amount)}" for name, amount in sums),
            tr("To pay: {total}", total=self._amount(order, order.total)),
            *(tr("Tax, {percent} %: {tax}", percent=percent, tax=self._amount(order, tax))
              for percent, _, tax in order.taxes if Decimal(tax))]))
        for state, made in self.becomes.items():
            made.setVisible(state in STATES[order.state])

    def become(self, state: str) -> None:
        """Have the chosen order be something else."""
        order = self.chosen
        if order is None:
            return
        try:
            set_state(self._outcomes.engine, order.id, state, int(time.time() * 1000))
        except StoreError as error:
            self._session.said.emit(str(error), True)
        self.refresh()

    def tell_lists(self) -> None:
        """Write into the table of things what orders tell of them."""
        told: list[Mapping[str, int]] = []
        for order in filter(_counts, list_orders(self._outcomes.engine)):
            pieces: Counter[str] = Counter()
            for line in order.lines:
                pieces[line.key.partition(".")[0]] += line.pieces
            told.append(pieces)
        if self._session.edit(tr("what sells"), lambda site: with_sales(site, told)):
            self._session.said.emit(tr("The table says what {orders} tell. Send the pages that "
                                       "change by it.", orders=counted(len(told), "order")), False)

    # Out

    def ask_export(self) -> None:
        """Ask for a file, and write all orders into it, a line for each thing."""
        path, _ = QFileDialog.getSaveFileName(self, tr("Write the orders"), "orders.csv",
                                              tr("CSV (*.csv)"))
        if path:
            orders = self._all()
            self.write(Path(path), written(_COLUMNS, (
                row for order in orders for row in _rows(order))),
                tr("{orders} are in {path}.", path=path, orders=counted(len(orders), "order")))

    def ask_list(self) -> None:
        """Ask for a file, and write the chosen order's packing list into it."""
        order = self.chosen
        if order is None:
            return
        path, _ = QFileDialog.getSaveFileName(self, tr("Packing list"),
                                              f"packing-{order.number}.pdf", tr("PDF (*.pdf)"))
        if path:
            self.write(Path(path), packing_list(order, self._session.site.name),
                       tr("The packing list is {path}.", path=path))

    def write(self, path: Path, data: bytes, done: str) -> None:
        """Write a file, and say so once it is there."""
        try:
            write_atomically(path, data)
        except OSError as error:
            self._session.said.emit(f"{path.name}: {error.strerror}", True)
        else:
            self._session.said.emit(done, False)


def _rows(order: Order) -> list[tuple[str, ...]]:
    return [(str(order.number), _when(order.at_ms), order.state, order.email, line.thing, line.sku,
             str(line.pieces), line.unit, line.total,
             order.coupon.code if order.coupon else "", order.discount, order.way,
             order.carriage, order.tax, order.total, order.currency) for line in order.lines]


def _counts(order: Order) -> bool:
    """Whether an order is one that somebody made and did not take back."""
    return order.state not in ("aside", "cancelled")


def _when(at_ms: int) -> str:
    return f"{datetime.fromtimestamp(at_ms / 1000):%Y-%m-%d %H:%M}"


def packing_list(order: Order, shop: str) -> bytes:
    """Return what goes into a parcel, as a page of PDF."""
    document = QTextDocument()
    lines = [f"{shop}", "", tr("Packing list, order no. {number}", number=order.number),
             _when(order.at_ms), "", order.email,
             *(words for _, words in order.answers if "\n" not in words), "",
             *(f"[  ]  {line.pieces} × {line.thing}" + (f"  ({line.sku})" if line.sku else "")
               for line in order.lines), "", order.way]
    document.setPlainText("\n".join(lines))
    held = QBuffer()
    held.open(QIODevice.OpenModeFlag.WriteOnly)
    writer = QPdfWriter(held)
    writer.setPageSize(QPageSize(QPageSize.PageSizeId.A4))
    writer.setTitle(tr("Packing list {number}", number=order.number))
    document.print(writer)
    return bytes(held.data().data())
