"""Edits of the shop."""

import re
from decimal import Decimal
from typing import Any

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.ids import Id, new_id
from needle.core.values.shop import MOST_WAYS, Coupon, Land, PayWay, Step, Way

__all__ = ["add_coupon", "add_pay", "add_way", "change_coupon", "change_pay", "change_shop",
           "change_way", "delete_coupon", "delete_land", "delete_pay", "delete_way", "put_land",
           "steps_from"]

_LONGEST = 80
_STEP = re.compile(r"([1-9][0-9]{0,7}) *(?:g|grams)? *[=:] *([0-9]{1,9}(?:\.[0-9]{1,2})?)")


def change_shop(site: Site, **fields: Any) -> Site:
    """Return the site with a shop that is otherwise in some fields."""
    shop = msgspec.structs.replace(site.shop, **fields)
    return site if shop == site.shop else msgspec.structs.replace(site, shop=shop)


def add_way(site: Site, name: str, **fields: Any) -> tuple[Site, Id]:
    """Return the site with one way more in which orders reach somebody, and its id.

    Raises:
        EditError: It has no name, or there are as many as there can be.
    """
    if len(site.shop.ways) >= MOST_WAYS:
        raise EditError("shop-ways", most=MOST_WAYS)
    way = Way(id=new_id(), name=_name(name), **fields)
    return change_shop(site, ways=(*site.shop.ways, way)), way.id


def change_way(site: Site, way_id: Id, name: str, **fields: Any) -> Site:
    """Return the site with a way that is otherwise.

    Raises:
        EditError: It has no name, or is gone.
    """
    way = site.shop.way(way_id)
    if way is None:
        raise EditError("shop-way-gone")
    made = msgspec.structs.replace(way, name=_name(name), **fields)
    return change_shop(site, ways=tuple(made if one is way else one for one in site.shop.ways))


def delete_way(site: Site, way_id: Id) -> Site:
    """Return the site without a way."""
    return change_shop(site, ways=tuple(one for one in site.shop.ways if one.id != way_id))


def add_coupon(site: Site, code: str, **fields: Any) -> tuple[Site, Id]:
    """Return the site with one coupon more, and its id.

    Raises:
        EditError: There is one of that code, or it says no value.
        StrictError: The code, the value or a day is none.
    """
    coupon = Coupon(id=new_id(), code=_code(site, code), **fields)
    _check(coupon)
    return change_shop(site, coupons=(*site.shop.coupons, coupon)), coupon.id


def change_coupon(site: Site, coupon_id: Id, code: str, **fields: Any) -> Site:
    """Return the site with a coupon that is otherwise.

    Raises:
        EditError: It is gone, there is another one of that code, or it says no value.
        StrictError: The code, the value or a day is none.
    """
    coupon = next((one for one in site.shop.coupons if one.id == coupon_id), None)
    if coupon is None:
        raise EditError("shop-coupon-gone")
    made = msgspec.structs.replace(coupon, code=_code(site, code, coupon_id), **fields)
    _check(made)
    return change_shop(site, coupons=tuple(
        made if one is coupon else one for one in site.shop.coupons))


def delete_coupon(site: Site, coupon_id: Id) -> Site:
    """Return the site without a coupon."""
    return change_shop(site, coupons=tuple(
        one for one in site.shop.coupons if one.id != coupon_id))


def _code(site: Site, code: str, own: Id = "") -> str:
    bare = "".join(code.split()).upper()
    known = site.shop.coupon(bare)
    if known is not None and known.id != own:
        raise EditError("shop-coupon-taken", code=bare)
    return bare


def _check(coupon: Coupon) -> None:
    value = Decimal(coupon.value or "0")
    if (coupon.kind != "carriage" and not value) or (coupon.kind == "percent" and value > 100):
        raise EditError("shop-coupon-value")
    if coupon.auto and (coupon.most or coupon.once):
        raise EditError("shop-coupon-auto")
    if coupon.kind == "nth" and (value < 2 or value != int(value)):
        raise EditError("shop-coupon-nth")


# Paying

def add_pay(site: Site, name: str, **fields: Any) -> tuple[Site, Id]:
    """Return the site with one way more in which orders are paid, and its id.

    Raises:
        EditError: It has no name, or needs a service and names none, or there are as many as there
            can be.
    """
    if len(site.shop.pays) >= MOST_WAYS:
        raise EditError("shop-ways", most=MOST_WAYS)
    pay = _pay(site, PayWay(id=new_id(), name=_name(name), **fields))
    return change_shop(site, pays=(*site.shop.pays, pay)), pay.id


def change_pay(site: Site, pay_id: Id, name: str, **fields: Any) -> Site:
    """Return the site with a way to pay that is otherwise.

    Raises:
        EditError: It is gone, has no name, or needs a service and names none.
    """
    pay = site.shop.pay(pay_id)
    if pay is None:
        raise EditError("shop-way-gone")
    made = _pay(site, msgspec.structs.replace(pay, name=_name(name), **fields))
    return change_shop(site, pays=tuple(made if one is pay else one for one in site.shop.pays))


def _pay(site: Site, pay: PayWay) -> PayWay:
    if pay.kind == "service" and site.service(pay.service) is None:
        raise EditError("shop-pay-service", name=pay.name)
    return pay


def delete_pay(site: Site, pay_id: Id) -> Site:
    """Return the site without a way to pay."""
    return change_shop(site, pays=tuple(one for one in site.shop.pays if one.id != pay_id))


# Countries

def put_land(site: Site, code: str, tax: str, old: str = "") -> Site:
    """Return the site with a country to which orders go, after all others; in the place of the one
    of its code, or of `old`, if there is one.

    Raises:
        StrictError: The code or the tax is none.
    """
    land = Land(code=code.strip().upper(), tax=tax)
    kept = [one for one in site.shop.lands if one.code != land.code or one.code == old]
    place = next((n for n, one in enumerate(kept) if one.code == (old or land.code)), len(kept))
    kept[place : place + 1] = [land]
    return change_shop(site, lands=tuple(kept))


def delete_land(site: Site, code: str) -> Site:
    """Return the site without a country.

    Raises:
        EditError: A way goes to no other country.
    """
    for way in site.shop.ways:
        if way.lands == (code,):
            raise EditError("shop-land-way", way=way.name)
    ways = tuple(msgspec.structs.replace(way, lands=tuple(one for one in way.lands if one != code))
                 for way in site.shop.ways)
    return change_shop(site, ways=ways, lands=tuple(
        one for one in site.shop.lands if one.code != code))


def steps_from(words: str) -> tuple[Step, ...]:
    """Return what carriage costs by weight, from lines as "500 = 3.90": up to so many grams.

    Raises:
        EditError: A line says something else.
    """
    steps = []
    for line in filter(None, map(str.strip, words.splitlines())):
        found = _STEP.fullmatch(line.replace(",", "."))
        if found is None:
            raise EditError("shop-step", line=line[:60])
        steps.append(Step(grams=int(found[1]), price=found[2]))
    return tuple(sorted(steps, key=lambda step: step.grams))


def _name(name: str) -> str:
    tidy = " ".join("".join(s if s.isprintable() else " " for s in name).split())
    if not tidy:
        raise EditError("shop-way-name")
    return tidy[:_LONGEST]
