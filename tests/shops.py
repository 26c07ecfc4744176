"""A small shop, for tests."""

import msgspec

from needle.core.edit.nodes import insert
from needle.core.kinds.cart import CartBox
from needle.core.kinds.goods import GoodsBox
from needle.core.site.site import Site
from needle.core.tables.mastering import make_master
from needle.core.values.shop import Shop, Way
from tests.sites import FORM, PAGE, THANKS
from tests.tabled import read_table, tabled_site

__all__ = ["small_shop"]

_THINGS = ("Thing,Price,Sale price,Sale starts,Sale ends,Stock\n"
           "Torch,24.00 GBP,19.00 GBP,2001-01-01,2099-01-01,3\n"
           "Chart,12.50 GBP,,,,\nBlanket,58.00 GBP,,,,\nRare,5.00 GBP,,,,1\n")
_SIZES = "Name,Thing,Size,Price,Stock\nOne,Blanket,For one,,5\nTwo,Blanket,For two,84.00 GBP,0\n"
WAYS = (Way(id="post", name="By post", price="3.90", free_from="50"),
        Way(id="fetch", name="Fetched at the barn", kind="fetch"))


def small_shop(**changes: object) -> Site:
    """Return the small site with a page for each of four things, and the cart on another."""
    site = msgspec.structs.replace(tabled_site(), tables=())
    site = read_table(read_table(site, "Things", _THINGS, 3), "Sizes", _SIZES, 4)
    things = site.tables[0]
    site = make_master(site, PAGE, things.id)
    site = insert(site, GoodsBox(id="goods1", buys=True), "head1", "after")
    site = insert(site, CartBox(id="cart1"), "thead", "after")
    shop = Shop(table=things.id, form=FORM, cart=THANKS, currency="GBP", tax="20", ways=WAYS)
    return msgspec.structs.replace(site, shop=msgspec.structs.replace(shop, **changes))
