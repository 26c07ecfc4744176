"""The order book: what was ordered, by whom, and what became of it."""

import time
from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime
from decimal import Decimal
from functools import partial
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from needle.core.shop.selling import with_sales
from needle.core.tables.cells import amount_words
from needle.core.tables.csvfile import written
from needle.core.values.counting import counted
from needle.publish.orderpapers import billed_to, invoice_pdf, packing_pdf
from needle.store.files import write_atomically
from needle.store.refusing import StoreError
from needle.store.results.ordered import Order
from needle.store.results.orders import STATES, list_orders, set_state, write_invoice
from needle.store.results.payments import ask_refund, payments_of, refundable, refunds_of
from needle.ui.cards import Card, Table, button, label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.measure.orderdialogs import BackDialog, BilledDialog
from needle.ui.measure.sums import Sums
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.words import set_tip

__all__ = ["OrderBook"]

_STATES = {"aside": tr("looks automatic"), "new": tr("new"), "paid": tr("paid"),
           "sent": tr("sent"), "done": tr("done"), "cancelled": tr("cancelled"),
           "lapsed": tr("not paid in time")}
_BECOMES = {"new": tr("It is a person's"), "paid": tr("It is paid"), "sent": tr("It is sent"),
            "done": tr("It is done"), "cancelled": tr("Cancel it")}
# Why something was put into the cart.
_BY = {"o": tr(" · offered beside"), "w": tr(" · goes with it")}
_NOBODY = tr("Nobody has ordered yet. What is sold, and how, stands in Connect, Shop.")
_PAYMENTS = {"asked": tr("begun"), "open": tr("waits to be paid"), "paid": tr("paid"),
             "failed": tr("declined"), "odd": tr("another amount was paid")}
_REFUNDS = {"waiting": tr("is being paid back"), "done": tr("paid back"),
            "failed": tr("could not be paid back")}
# So many are in the list; sums and files are of all.
_LISTED = 500
_COLUMNS = ("number", "when", "state", "e-mail", "thing", "item number", "pieces", "price",
            "sum", "by", "coupon", "discount", "way", "carriage", "tip", "tax", "total", "currency")


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
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Search the orders…"))
        self.line.setAccessibleName(tr("Search the orders"))
        self.line.setClearButtonEnabled(True)
        self.line.textChanged.connect(lambda _: self.refresh())
        self.table = Table(tr("Orders"), (tr("No."), tr("When"), tr("Who"), tr("Total"),
                                          tr("State")), 2, right=(0, 3))
        self.table.itemSelectionChanged.connect(self._show)
        self._empty = label(_NOBODY, "dim", wrap=True)
        self.about = label("", wrap=True)
        self.lines = Table(tr("What is ordered"), (tr("Thing"), tr("Pieces"), tr("Sum")), 0,
                           right=(1, 2))
        self.sums = Sums()
        self.money = label("", wrap=True)
        self.back = button(tr("Pay back…"), self.ask_back)
        self.becomes = {state: button(words, partial(self.become, state))
                        for state, words in _BECOMES.items()}
        self._lay_out()
        outcomes.changed.connect(self._on_change)

    def _lay_out(self) -> None:
        book = Card(tr("Orders"), grows=True)
        self._note = book.note
        book.head.addWidget(self.state)
        line = QHBoxLayout()
        line.addWidget(self.line, 1)
        line.addWidget(button(tr("Write to a file…"), self.ask_export))
        tell = button(tr("Tell the lists"), self.tell_lists)
        set_tip(tell, tr("Writes into the table how many of each thing were ordered, and what is "
                         "often bought with it: lists of what sells best and of what is like a "
                         "thing go by that."))
        line.addWidget(tell)
        book.body.addLayout(line)
        book.body.addWidget(self.table, 1)
        book.body.addWidget(self._empty)
        one = self._one = Card(tr("The order"))
        one.head.addWidget(button(tr("Packing list…"), self.ask_list))
        one.head.addWidget(button(tr("Invoice…"), self.ask_invoice))
        for widget in (self.about, self.lines, self.sums, self.money):
            one.body.addWidget(widget)
        doing = QHBoxLayout()
        for made in self.becomes.values():
            doing.addWidget(made)
        doing.addWidget(self.back)
        doing.addStretch()
        one.body.addLayout(doing)
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
        self._empty.setText(tr("No order is like that.") if self._sought() else _NOBODY)
        self._note.setText(self._summary(orders))
        self._show()

    def _all(self) -> list[Order]:
        """Return every order that is looked for, the newest first."""
        sought = self.line.text().split()
        return [order for order in list_orders(
            self._outcomes.engine, str(self.state.currentData() or "")) if _has(order, sought)]

    def _sought(self) -> bool:
        return bool(self.line.text().strip() or self.state.currentData())

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
        brought = sum((Decimal(line.total) for order in real for line in order.lines if line.by),
                      Decimal(0))
        if brought:
            summary = tr("{summary}; by offers {amount}", summary=summary, amount=amount_words(
                f"{brought:.2f} {real[0].currency}".strip(), self._session.site.language))
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
        self.lines.show_rows([(f"{line.thing}{_BY.get(line.by, '')}", f"{line.pieces}",
                               self._amount(order, line.total)) for line in order.lines])
        self.lines.fit_height(8)
        self.sums.show_order(order, partial(self._amount, order))
        self.money.setText("\n".join(self._money(order)))
        self.money.setVisible(bool(self.money.text()))
        self.back.setVisible(refundable(self._outcomes.engine, order.id) > 0)
        for state, made in self.becomes.items():
            made.setVisible(state in STATES[order.state])

    def _money(self, order: Order) -> list[str]:
        """Return what is known of how an order was paid, and paid back."""
        told = [tr("Payment: {name}", name=order.pay.name)] if order.pay.name else []
        for payment in payments_of(self._outcomes.engine, order.id):
            told.append(f"{_when(payment.at_ms)} · {self._amount(order, payment.amount)} · "
                        f"{_PAYMENTS[payment.state]}"
                        + (f" ({payment.words})" if payment.words else ""))
        for refund in refunds_of(self._outcomes.engine, order.id):
            told.append(f"{_when(refund.at_ms)} · {self._amount(order, refund.amount)} · "
                        f"{_REFUNDS[refund.state]}" + (f" ({refund.words})" if refund.words
                                                       else ""))
        if order.open and order.due_ms:
            told.append(tr("Its things are kept until {when}.", when=_when(order.due_ms)))
        if order.invoice is not None:
            told.append(tr("Invoice {number} of {when}", number=order.invoice.number,
                           when=_when(order.invoice.at_ms)))
        return told

    def ask_back(self) -> None:
        """Ask how much of the chosen order is paid back, and have it be."""
        order = self.chosen
        if order is None:
            return
        most = refundable(self._outcomes.engine, order.id)
        asking = BackDialog(order, most, self._amount(order, f"{most:.2f}"), self)
        while asking.exec():
            try:
                ask_refund(self._outcomes.engine, order.id, asking.amount(), asking.key,
                           int(time.time() * 1000))
            except StoreError as error:
                self._session.said.emit(str(error), True)
            else:
                break
        self.refresh()

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
            self.write(Path(path), packing_pdf(order, self._session.site),
                       tr("The packing list is {path}.", path=path))

    def ask_invoice(self) -> None:
        """Ask whom the chosen order's invoice names, if none was written yet, and for a file."""
        order = self.chosen
        if order is None:
            return
        if not self._session.site.shop.seller:
            self._session.said.emit(tr("An invoice says who sells. Write that in Connect, Shop."),
                                    True)
            return
        to = ""
        if order.invoice is None:
            asking = BilledDialog(billed_to(order), self)
            if not asking.exec():
                return
            to = asking.words()
        path, _ = QFileDialog.getSaveFileName(self, tr("Invoice"), f"invoice-{order.number}.pdf",
                                              tr("PDF (*.pdf)"))
        if not path:
            return
        try:
            made = write_invoice(self._outcomes.engine, order.id, to, int(time.time() * 1000))
        except StoreError as error:
            self._session.said.emit(str(error), True)
            return
        self.write(Path(path), invoice_pdf(order, made, self._session.site),
                   tr("Invoice {number} is {path}.", number=made.number, path=path))
        self.refresh()

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
             str(line.pieces), line.unit, line.total, line.by,
             order.coupon.code if order.coupon else "", order.discount, order.way,
             order.carriage, order.tip.amount if order.tip is not None else "", order.tax,
             order.total, order.currency) for line in order.lines]


def _has(order: Order, sought: Sequence[str]) -> bool:
    """Whether an order has all of some words somewhere."""
    if not sought:
        return True
    words = " ".join((str(order.number), order.email, order.way, order.pay.name, order.total,
                      *(part for line in order.lines for part in (line.thing, line.sku)),
                      *(answer for _, answer in order.answers),
                      order.coupon.code if order.coupon is not None else "")).casefold()
    return all(one.casefold() in words for one in sought)


def _counts(order: Order) -> bool:
    """Whether an order is one that somebody made and did not take back."""
    return order.state not in ("aside", "cancelled", "lapsed")


def _when(at_ms: int) -> str:
    return f"{datetime.fromtimestamp(at_ms / 1000):%Y-%m-%d %H:%M}"
