"""The shop: what is sold, with which form, and how it reaches people."""

from collections.abc import Mapping, Sequence
from typing import Any

from PyQt6.QtCore import QEvent, QObject, pyqtSignal
from PyQt6.QtWidgets import (
    QCheckBox,
    QFormLayout,
    QHBoxLayout,
    QPlainTextEdit,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.shop import change_shop
from needle.core.kinds.cart import CartBox
from needle.core.kinds.goods import GoodsBox
from needle.core.site.site import Site
from needle.core.tables.goods import offers_prices
from needle.ui.cards import Card, button, label, panel, scrolled
from needle.ui.connect.shopextra import ExtraCard
from needle.ui.connect.shopleft import LeftCard
from needle.ui.connect.shoplists import COUPONS, LANDS, PAYS, WAYS, ShopList
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
        self.tip = WordsEdit(tr("Given on top"))
        self.tip.setPlaceholderText(tr("What a sum is called that people may give: For the roof, "
                                       "say; empty for not asked"))
        self.tip.kept.connect(lambda words: self._take("tip", words.strip()))
        self.reverse = QCheckBox(tr("Businesses in other countries that tell their tax number owe "
                                    "the tax there (reverse charge)"))
        self.reverse.toggled.connect(lambda on: self._take("reverse", on))
        self.seller = QPlainTextEdit()
        self.seller.setAccessibleName(tr("Who sells"))
        self.seller.setPlaceholderText(tr("Name, address and tax number, as invoices say them"))
        self.seller.setFixedHeight(84)
        self.seller.setTabChangesFocus(True)
        self.seller.installEventFilter(self)
        self.ways, self.pays, self.lands, self.coupons = lists = (
            ShopList(session, WAYS), ShopList(session, PAYS), ShopList(session, LANDS),
            ShopList(session, COUPONS))
        self.extra, self.abandoned = ExtraCard(session), LeftCard(session)
        self._lists: Sequence[ShopList[Any]] = lists
        self.left = label("", "small", wrap=True)
        self._lay_out()
        session.changed.connect(self._on_change)

    def _lay_out(self) -> None:
        sold = Card(tr("What is sold"))
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        for edit in (self.table, self.form, self.cart, self.currency, self.tax, self.included,
                     self.tip, self.seller):
            form.addRow(edit.accessibleName(), edit)
        sold.body.addLayout(form)
        sold.body.addWidget(self.left)
        line = QHBoxLayout()
        line.addWidget(button(tr("Read a table of products…"), self.table_asked.emit))
        line.addWidget(button(tr("Show the form"), lambda: self.form_asked.emit(
            self._session.site.shop.form)))
        line.addStretch()
        sold.body.addLayout(line)
        self.lands.body.addWidget(self.reverse)
        inside, cards = panel("work"), QWidget()
        # The cards stand in a column of their own: how high wrapped words are goes by its width.
        cards.setMaximumWidth(_WIDEST)
        beside = QHBoxLayout(inside)
        beside.setContentsMargins(18, 14, 18, 14)
        beside.addWidget(cards, 100)
        beside.addStretch(1)
        column = QVBoxLayout(cards)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(12)
        for card in (sold, *self._lists, self.extra, self.abandoned):
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
        self.tip.show_words(site.shop.tip)
        self.included.show_value(site.shop.included)
        self.reverse.blockSignals(True)
        self.reverse.setChecked(site.shop.reverse)
        self.reverse.blockSignals(False)
        if not self.seller.hasFocus():
            self.seller.setPlainText(site.shop.seller)
        for one in self._lists:
            one.refresh()
        self.extra.refresh()
        self.abandoned.refresh()
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

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Keep who sells once the caret leaves it."""
        if watched is self.seller and event is not None and (
                event.type() == QEvent.Type.FocusOut):
            self._take("seller", self.seller.toPlainText().strip())
        return super().eventFilter(watched, event)

    def _take(self, field: str, value: object) -> None:
        fields: Mapping[str, Any] = {field: value}
        self._session.edit(tr("shop"), lambda site: change_shop(site, **fields))
        self.refresh()

def _offer(edit: ChoiceEdit, chosen: str, offered: Mapping[str, str]) -> None:
    edit.clear()
    for key, words in ({"": tr("not chosen yet")} | dict(offered)).items():
        edit.addItem(words, key)
    edit.show_value(chosen)
