"""A shop in which nobody can buy: no cart, no form, no way."""

from collections.abc import Iterator

from needle.core.kinds.cart import CartBox
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.goods import GoodsBox
from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Spot
from needle.core.tables.goods import linking_to
from needle.core.values.areas import Area
from needle.core.values.counting import counted
from needle.core.values.tables import Table

__all__ = ["RULES"]

_READS = frozenset({Area.SHOP, Area.TABLES, Area.PAGES, Area.FORMS})


def _buys(page: Page) -> bool:
    return any(isinstance(node, GoodsBox) and node.buys
               for variant in page.variants for node in variant.nodes())


def _selling(page: Page, site: Site) -> Iterator[Spot]:
    """Yield what is lacking on a page from which something is put into the cart."""
    if not _buys(page):
        return
    shop = site.shop
    if page.master.table != shop.table or not shop.table:
        yield Spot("What this page puts into the cart is not what the shop sells")
    elif site.page(shop.cart) is None:
        yield Spot("No page has the cart")


def _cart(page: Page, site: Site) -> Iterator[Spot]:
    """Yield what is lacking on the page with the cart."""
    if page.id != site.shop.cart or not site.shop.table:
        return
    nodes = [node for variant in page.variants for node in variant.nodes()]
    if not any(isinstance(node, CartBox) for node in nodes):
        yield Spot("The cart does not stand on the page that is chosen for it")
    if not any(isinstance(node, FormBox) and node.form == site.shop.form and node.form
               for node in nodes):
        yield Spot("The form of orders does not stand beside the cart")
    if not site.shop.currency:
        yield Spot("The shop does not say its currency")
        return
    table = site.table(site.shop.table)
    if table is not None:
        options = (one.table for one in linking_to(site, table) if one.options)
        yield from (spot for one in (table, *options) for spot in _others(one, site.shop.currency))


def _others(table: Table, currency: str) -> Iterator[Spot]:
    """Yield that a table has prices which the shop cannot add to the rest, and does not sell."""
    columns = [column.id for column in table.columns if column.means in ("price", "sale")]
    rows = [row for row in table.rows
            if {table.cell(row, column).partition(" ")[2] for column in columns} - {"", currency}]
    if rows:
        yield Spot(f"{counted(len(rows), 'row')} of {table.name} with a price that is not in "
                   f"{currency}, as “{table.label(rows[0])}”: visitors cannot buy that")


RULES = (
    Rule(id="shop-selling", weight=1, scope="page", look=_selling, reads=_READS,
         source="trade practice", reason="Visitors press the button, and nothing comes of it."),
    Rule(id="shop-cart", weight=1, scope="page", look=_cart, reads=_READS,
         source="trade practice", reason="Visitors cannot order what is in their cart."),
)
