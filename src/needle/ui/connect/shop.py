"""The shop: what is sold, with which form, and how it reaches people."""

from collections.abc import Mapping
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.shop import add_way, change_shop, change_way, delete_way
from needle.core.kinds.cart import CartBox
from needle.core.kinds.goods import GoodsBox
from needle.core.site.site import Site
from needle.core.tables.goods import offers_prices
from needle.core.values.shop import WAY_KINDS, Way
from needle.ui.cards import Card, Table, button, foot, label, panel, scrolled
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Change, Session

__all__ = ["ShopPart", "WayDialog"]

_WIDEST = 820


class WayDialog(QDialog):
    """One way in which an order reaches somebody."""

    def __init__(self, way: Way | None, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("How orders reach people"))
        self.name = WordsEdit(tr("Name"), way.name if way else "")
        self.name.setPlaceholderText(tr("By post, within the country"))
        self.kind = ChoiceEdit(tr("It"), {key: tr(words) for key, words in WAY_KINDS.items()},
                               inherit=False)
        self.kind.show_value(way.kind if way else "post")
        self.price = WordsEdit(tr("Costs"), way.price if way else "")
        self.free_from = WordsEdit(tr("Costs nothing from"), way.free_from if way else "")
        for edit, example in ((self.price, "3.90"), (self.free_from, "50")):
            edit.setPlaceholderText(example)
        form = QFormLayout(self)
        for row in (self.name, self.kind, self.price, self.free_from):
            form.addRow(row.accessibleName(), row)
        form.addRow(foot(button(tr("Cancel"), self.reject),
                         button(tr("Keep it") if way else tr("Add it"), self.accept, main=True)))
        self.resize(420, 10)

    def fields(self) -> dict[str, str]:
        """Return what was typed."""
        return {"name": self.name.text(), "kind": str(self.kind.currentData()),
                "price": self.price.text().strip().replace(",", "."),
                "free_from": self.free_from.text().strip().replace(",", ".")}


class ShopPart(QWidget):
    """What the site sells.

    Signals:
        table_asked: The person wants to read a table of products.
        form_asked: The person wants to see the form that orders are made with.
    """

    table_asked = pyqtSignal()
    form_asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.table = ChoiceEdit(tr("What is sold"), {}, inherit=False)
        self.form = ChoiceEdit(tr("Ordered with the form"), {}, inherit=False)
        self.cart = ChoiceEdit(tr("Page with the cart"), {}, inherit=False)
        self.currency = WordsEdit(tr("Currency"))
        self.currency.setPlaceholderText("GBP")
        self.tax = WordsEdit(tr("Tax in percent"))
        self.included = ChoiceEdit(tr("Prices"), {
            True: tr("hold the tax"), False: tr("are without it; it comes on top")}, inherit=False)
        for field, choice in (("table", self.table), ("form", self.form), ("cart", self.cart),
                              ("included", self.included)):
            choice.chosen.connect(lambda value, f=field: self._take(f, value))
        self.currency.kept.connect(lambda words: self._take("currency", words.strip().upper()))
        self.tax.kept.connect(lambda words: self._take("tax", words.strip().replace(",", ".")))
        self.ways = Table(tr("Ways in which orders reach people"), (
            tr("Way"), tr("It"), tr("Costs"), tr("Nothing from")), 0, right=(2, 3))
        self.ways.itemActivated.connect(lambda _: self.ask_way())
        self.left = label("", "small", wrap=True)
        self._lay_out()
        session.changed.connect(self._on_change)

    def _lay_out(self) -> None:
        sold = Card(tr("What is sold"))
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        for edit in (self.table, self.form, self.cart, self.currency, self.tax, self.included):
            form.addRow(edit.accessibleName(), edit)
        sold.body.addLayout(form)
        sold.body.addWidget(self.left)
        line = QHBoxLayout()
        line.addWidget(button(tr("Read a table of products…"), self.table_asked.emit))
        line.addWidget(button(tr("Show the form"), lambda: self.form_asked.emit(
            self._session.site.shop.form)))
        line.addStretch()
        sold.body.addLayout(line)
        reach = Card(tr("How orders reach people"))
        reach.body.addWidget(self.ways)
        below = QHBoxLayout()
        below.addWidget(button(tr("Add a way…"), lambda: self.ask_way(fresh=True), main=True))
        below.addWidget(button(tr("Change…"), self.ask_way))
        below.addWidget(button(tr("Take away"), self.drop_way))
        below.addStretch()
        reach.body.addLayout(below)
        inside = panel("work")
        column = QVBoxLayout(inside)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(12)
        for card in (sold, reach):
            card.setMaximumWidth(_WIDEST)
            column.addWidget(card)
        column.addStretch()
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scrolled(inside))
        self.refresh()

    def _on_change(self, _: Change) -> None:
        if self.isVisible():
            self.refresh()

    def refresh(self) -> None:
        """Show the shop as it is."""
        site = self._session.site
        _offer(self.table, site.shop.table, {
            table.id: table.name for table in site.tables if offers_prices(site, table)})
        _offer(self.form, site.shop.form, {form.id: form.name for form in site.forms})
        _offer(self.cart, site.shop.cart, {page.id: page.name for page in site.pages})
        self.currency.show_words(site.shop.currency)
        self.tax.show_words(site.shop.tax)
        self.included.show_value(site.shop.included)
        self.ways.show_rows([(way.name, tr(WAY_KINDS[way.kind]), way.price or "0",
                              way.free_from or "–") for way in site.shop.ways],
                            [way.id for way in site.shop.ways])
        self.ways.fit_height(6)
        self.left.setText(self._lacking(site))

    def _lacking(self, site: Site) -> str:
        """Return what is left to do before anybody can buy."""
        shop = site.shop
        if not any(offers_prices(site, table) for table in site.tables):
            return tr("To sell something, read a table of products with a column that means the "
                      "price.")
        nodes = [(page, node) for page in site.pages for variant in page.variants
                 for node in variant.nodes()]
        found = [words for lacks, words in (
            (not shop.table, tr("choose what is sold")),
            (not shop.form, tr("choose the form that orders are made with")),
            (not shop.currency, tr("say the currency")),
            (not any(isinstance(node, CartBox) and page.id == shop.cart for page, node in nodes),
             tr("put a cart (Ins, Cart) and the form on the page with the cart")),
            (not any(isinstance(node, GoodsBox) and node.buys for _, node in nodes),
             tr("have visitors put things into the cart (Price and stock, in the tray)")),
            ) if lacks]
        return tr("Left to do: {what}.", what="; ".join(found)) if found else tr(
            "Visitors can buy. What changes here goes to them when a page is sent.")

    def _take(self, field: str, value: object) -> None:
        fields: Mapping[str, Any] = {field: value}
        self._session.edit(tr("shop"), lambda site: change_shop(site, **fields))
        self.refresh()

    def _way(self) -> Way | None:
        return self._session.site.shop.way(self.ways.chosen_key())

    def ask_way(self, fresh: bool = False) -> None:
        """Ask for the chosen way anew, or for another one."""
        way = None if fresh else self._way()
        if way is None and not fresh:
            return
        asking = WayDialog(way, self)
        while asking.exec():
            if self._keep_way(way, asking.fields()):
                break
        self.refresh()

    def _keep_way(self, way: Way | None, fields: Mapping[str, Any]) -> bool:
        def how(site: Site) -> Site:
            if way is None:
                return add_way(site, **fields)[0]
            return change_way(site, way.id, **fields)

        return self._session.edit(tr("how orders reach people"), how)

    def drop_way(self) -> None:
        """Take the chosen way away."""
        way = self._way()
        if way is not None:
            self._session.edit(tr("how orders reach people"),
                               lambda site: delete_way(site, way.id))
            self.refresh()


def _offer(edit: ChoiceEdit, chosen: str, offered: Mapping[str, str]) -> None:
    edit.clear()
    for key, words in ({"": tr("not chosen yet")} | dict(offered)).items():
        edit.addItem(words, key)
    edit.show_value(chosen)
