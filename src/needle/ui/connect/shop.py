"""The shop: what is sold, with which form, and how it reaches people."""

from collections.abc import Callable, Mapping
from typing import Any

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QFormLayout,
    QHBoxLayout,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.shop import (
    add_coupon,
    add_way,
    change_coupon,
    change_shop,
    change_way,
    delete_coupon,
    delete_way,
)
from needle.core.kinds.cart import CartBox
from needle.core.kinds.goods import GoodsBox
from needle.core.site.site import Site
from needle.core.tables.goods import offers_prices
from needle.core.values.shop import WAY_KINDS, Coupon, Way
from needle.ui.cards import Card, Table, button, label, panel, scrolled
from needle.ui.connect.shopdialogs import CouponDialog, WayDialog
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Change, Session

__all__ = ["ShopPart"]

_WIDEST = 820


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
        self.coupons = Table(tr("Coupons"), (
            tr("Code"), tr("Takes off"), tr("Holds from"), tr("Days"), tr("How often")), 0)
        self.coupons.itemActivated.connect(lambda _: self.ask_coupon())
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
        reach.body.addLayout(_buttons((tr("Add a way…"), lambda: self.ask_way(fresh=True)),
                                      (tr("Change…"), self.ask_way),
                                      (tr("Take away"), self.drop_way)))
        off = Card(tr("Coupons"))
        off.body.addWidget(self.coupons)
        off.body.addLayout(_buttons((tr("Add a coupon…"), lambda: self.ask_coupon(fresh=True)),
                                    (tr("Change…"), self.ask_coupon),
                                    (tr("Take away"), self.drop_coupon)))
        inside = panel("work")
        column = QVBoxLayout(inside)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(12)
        for card in (sold, reach, off):
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
        self.coupons.show_rows([(one.code, _takes_off(one, site.shop.currency),
                                 one.from_sum or tr("any sum"), _days(one), _often(one))
                                for one in site.shop.coupons],
                               [one.id for one in site.shop.coupons])
        self.coupons.fit_height(6)
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
            "Visitors can buy. What changes here goes to them when the page with the cart is "
            "sent.")

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

    def ask_coupon(self, fresh: bool = False) -> None:
        """Ask for the chosen coupon anew, or for another one."""
        chosen = self.coupons.chosen_key()
        coupon = None if fresh else next(
            (one for one in self._session.site.shop.coupons if one.id == chosen), None)
        if coupon is None and not fresh:
            return
        asking = CouponDialog(coupon, self)
        while asking.exec():
            if self._keep_coupon(coupon, asking.fields()):
                break
        self.refresh()

    def _keep_coupon(self, coupon: Coupon | None, fields: Mapping[str, Any]) -> bool:
        def how(site: Site) -> Site:
            if coupon is None:
                return add_coupon(site, **fields)[0]
            return change_coupon(site, coupon.id, **fields)

        return self._session.edit(tr("coupon"), how)

    def drop_coupon(self) -> None:
        """Take the chosen coupon away."""
        coupon = self.coupons.chosen_key()
        if coupon:
            self._session.edit(tr("coupon"), lambda site: delete_coupon(site, coupon))
            self.refresh()

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


def _buttons(*made: tuple[str, Callable[[], object]]) -> QHBoxLayout:
    row = QHBoxLayout()
    for words, run in made:
        row.addWidget(button(words, run))
    row.addStretch()
    return row


def _takes_off(coupon: Coupon, currency: str) -> str:
    if coupon.kind == "carriage":
        return tr("the carriage")
    return f"{coupon.value} %" if coupon.kind == "percent" else f"{coupon.value} {currency}".strip()


def _days(coupon: Coupon) -> str:
    if not (coupon.starts or coupon.ends):
        return tr("any day")
    return f"{coupon.starts or '…'} – {coupon.ends or '…'}"


def _often(coupon: Coupon) -> str:
    told = [tr("{count} in all", count=coupon.most)] if coupon.most else []
    return ", ".join([*told, *([tr("once each")] if coupon.once else [])]) or tr("always")
