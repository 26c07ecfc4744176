"""The lists of the shop: ways in which orders reach people and are paid, countries, coupons."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any, Generic, Protocol, TypeVar

from PyQt6.QtWidgets import QHBoxLayout, QWidget

from needle.core.edit.place import EditError
from needle.core.edit.shop import (
    add_coupon,
    add_pay,
    add_way,
    change_coupon,
    change_pay,
    change_way,
    delete_coupon,
    delete_land,
    delete_pay,
    delete_way,
    put_land,
)
from needle.core.site.site import Site
from needle.core.tables.cells import land_name
from needle.core.values.shop import PAY_KINDS, WAY_KINDS, Coupon, Land, PayWay, Way
from needle.services.registry import PAYMENT_KINDS
from needle.ui.cards import Card, Table, button
from needle.ui.connect.shopdialogs import CouponDialog, LandDialog, PayDialog, WayDialog
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["COUPONS", "LANDS", "PAYS", "WAYS", "ShopList"]

Thing = TypeVar("Thing")


class _Asking(Protocol):
    """A dialog about one thing."""

    def exec(self) -> int: ...

    def fields(self) -> Mapping[str, Any]: ...


@dataclass(frozen=True)
class Listing(Generic[Thing]):
    """What a list holds, and how that is asked about and edited.

    Attributes:
        edit: What an edit of it is called.
        things: Returns them, by key, in their order.
        cells: Returns what a row says of one.
        ask: Makes the dialog about one, or about a new one.
        put: Returns the site with one that was asked about: a new one for an empty key.
    """

    title: str
    heads: tuple[str, ...]
    add: str
    edit: str
    things: Callable[[Site], Mapping[str, Thing]]
    cells: Callable[[Site, Thing], Sequence[str]]
    ask: Callable[[Site, Thing | None, QWidget], _Asking]
    put: Callable[[Site, str, Mapping[str, Any]], Site]
    drop: Callable[[Site, str], Site]
    right: tuple[int, ...] = ()


class ShopList(Card, Generic[Thing]):
    """A list, with what is done to it below."""

    def __init__(self, session: Session, listing: Listing[Thing]) -> None:
        super().__init__(listing.title)
        self._session, self._listing = session, listing
        self.table = Table(listing.title, listing.heads, 0, right=listing.right)
        self.table.itemActivated.connect(lambda _: self.ask())
        self.body.addWidget(self.table)
        row = QHBoxLayout()
        for words, run in ((listing.add, lambda: self.ask(fresh=True)), (tr("Change…"), self.ask),
                           (tr("Take away"), self.drop)):
            row.addWidget(button(words, run))
        row.addStretch()
        self.body.addLayout(row)

    def refresh(self) -> None:
        """Show what there is."""
        site = self._session.site
        things = self._listing.things(site)
        self.table.show_rows([tuple(self._listing.cells(site, one)) for one in things.values()],
                             list(things))
        self.table.fit_height(6)

    def ask(self, fresh: bool = False) -> None:
        """Ask about the chosen one, or about another one; what does not fit is asked again."""
        site, key = self._session.site, "" if fresh else self.table.chosen_key()
        thing = self._listing.things(site).get(key)
        if thing is None and not fresh:
            return
        asking = self._listing.ask(site, thing, self)
        while asking.exec():
            if self._keep(key, asking):
                break
        self.refresh()

    def _keep(self, key: str, asking: _Asking) -> bool:
        try:
            fields = asking.fields()
        except EditError as error:
            self._session.said.emit(str(error), True)
            return False
        return self._session.edit(self._listing.edit,
                                  lambda site: self._listing.put(site, key, fields))

    def drop(self) -> None:
        """Take the chosen one away."""
        key = self.table.chosen_key()
        if key:
            self._session.edit(self._listing.edit, lambda site: self._listing.drop(site, key))
            self.refresh()


def _put_way(site: Site, key: str, fields: Mapping[str, Any]) -> Site:
    return change_way(site, key, **fields) if key else add_way(site, **fields)[0]


def _put_pay(site: Site, key: str, fields: Mapping[str, Any]) -> Site:
    return change_pay(site, key, **fields) if key else add_pay(site, **fields)[0]


def _put_land(site: Site, key: str, fields: Mapping[str, Any]) -> Site:
    return put_land(site, fields["code"], fields["tax"], key)


def _put_coupon(site: Site, key: str, fields: Mapping[str, Any]) -> Site:
    return change_coupon(site, key, **fields) if key else add_coupon(site, **fields)[0]


def _ask_way(_: Site, way: Way | None, parent: QWidget) -> WayDialog:
    return WayDialog(way, parent)


def _ask_pay(site: Site, pay: PayWay | None, parent: QWidget) -> PayDialog:
    return PayDialog(pay, {one.id: one.name for one in site.services
                           if one.does in PAYMENT_KINDS}, parent)


def _ask_land(site: Site, land: Land | None, parent: QWidget) -> LandDialog:
    return LandDialog(land, site.language, parent)


def _ask_coupon(_: Site, coupon: Coupon | None, parent: QWidget) -> CouponDialog:
    return CouponDialog(coupon, parent)


def _costs(way: Way) -> str:
    if not way.steps:
        return way.price or "0"
    prices = [step.price or "0" for step in way.steps]
    return f"{prices[0]} – {prices[-1]}" if len(prices) > 1 else prices[0]


def _paid_at(site: Site, pay: PayWay) -> str:
    if pay.kind != "service":
        return pay.words.partition("\n")[0] or "–"
    service = site.service(pay.service)
    return service.name if service is not None else tr("its service is gone")


def _takes_off(coupon: Coupon, currency: str) -> str:
    if coupon.kind == "carriage":
        return tr("the carriage")
    if coupon.kind == "nth":
        told = tr("one of {n}", n=coupon.value)
    else:
        told = f"{coupon.value} %" if coupon.kind == "percent" else (
            f"{coupon.value} {currency}".strip())
    return tr("{what}, {things}", what=told, things=coupon.only) if coupon.only else told


def _days(coupon: Coupon) -> str:
    if not (coupon.starts or coupon.ends):
        return tr("any day")
    return f"{coupon.starts or '…'} – {coupon.ends or '…'}"


def _often(coupon: Coupon) -> str:
    told = [tr("{count} in all", count=coupon.most)] if coupon.most else []
    told += [tr("once each")] if coupon.once else []
    told += [tr("by itself")] if coupon.auto else []
    return ", ".join(told) or tr("always")


WAYS = Listing[Way](
    title=tr("How orders reach people"), add=tr("Add a way…"), edit=tr("how orders reach people"),
    heads=(tr("Way"), tr("It"), tr("Countries"), tr("Costs"), tr("Nothing from")), right=(3, 4),
    things=lambda site: {way.id: way for way in site.shop.ways},
    cells=lambda _, way: (way.name, tr(WAY_KINDS[way.kind]), ", ".join(way.lands) or tr("all"),
                          _costs(way), way.free_from or "–"),
    ask=_ask_way, put=_put_way, drop=delete_way)
PAYS = Listing[PayWay](
    title=tr("How orders are paid"), add=tr("Add a way to pay…"), edit=tr("how orders are paid"),
    heads=(tr("Way"), tr("It"), tr("Where")),
    things=lambda site: {pay.id: pay for pay in site.shop.pays},
    cells=lambda site, pay: (pay.name, tr(PAY_KINDS[pay.kind]), _paid_at(site, pay)),
    ask=_ask_pay, put=_put_pay, drop=delete_pay)
LANDS = Listing[Land](
    title=tr("Countries and their taxes"), add=tr("Add a country…"), edit=tr("countries"),
    heads=(tr("Country"), tr("Code"), tr("Tax in percent")), right=(2,),
    things=lambda site: {land.code: land for land in site.shop.lands},
    cells=lambda site, land: (land_name(land.code, site.language), land.code,
                              land.tax or tr("none")),
    ask=_ask_land, put=_put_land, drop=delete_land)
COUPONS = Listing[Coupon](
    title=tr("Coupons"), add=tr("Add a coupon…"), edit=tr("coupon"),
    heads=(tr("Code"), tr("Takes off"), tr("Holds from"), tr("Days"), tr("How often")),
    things=lambda site: {one.id: one for one in site.shop.coupons},
    cells=lambda site, one: (one.code, _takes_off(one, site.shop.currency),
                             one.from_sum or tr("any sum"), _days(one), _often(one)),
    ask=_ask_coupon, put=_put_coupon, drop=delete_coupon)
