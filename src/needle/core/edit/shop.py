"""Edits of the shop."""

from typing import Any

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Site
from needle.core.values.ids import Id, new_id
from needle.core.values.shop import MOST_WAYS, Way

__all__ = ["add_way", "change_shop", "change_way", "delete_way"]

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


def _name(name: str) -> str:
    tidy = " ".join("".join(s if s.isprintable() else " " for s in name).split())
    if not tidy:
        raise EditError("shop-way-name")
    return tidy[:_LONGEST]
