"""Edits of the shop."""

from decimal import Decimal
from typing import Any

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.ids import Id, new_id
from needle.core.values.shop import MOST_WAYS, Coupon, Way

__all__ = ["add_coupon", "add_way", "change_coupon", "change_shop", "change_way",
           "delete_coupon", "delete_way"]

_LONGEST = 80


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


def _name(name: str) -> str:
    tidy = " ".join("".join(s if s.isprintable() else " " for s in name).split())
    if not tidy:
        raise EditError("shop-way-name")
    return tidy[:_LONGEST]
