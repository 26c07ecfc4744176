"""Some weeks of made-up orders in the demo's shop."""

from datetime import UTC, date, datetime, time, timedelta
from decimal import Decimal

import numpy as np
from sqlalchemy import Engine

from needle.core.shop.cart import EMPTY, CartLine
from needle.core.shop.cartmarkup import order_words
from needle.core.shop.pricing import Sold, priced
from needle.core.site.site import Page, Site
from needle.core.tables.expanding import expanded
from needle.store.results.ordered import order_from
from needle.store.results.orders import list_orders, set_state, write_invoice
from needle.store.results.payments import ask_refund
from needle.store.results.taking import ORDER, NewLead, take_lead

__all__ = ["fill_orders"]

_BUYERS = ("Ann Marsh", "Ben Quill", "Cora Vane", "Dai Thorne", "Edie Sloe", "Fynn Arkle",
           "Gwen Holt", "Hal Brook", "Iris Wren", "Joss Pell", "Kit Finch", "Lowri Lark",
           "Mab Sorrel", "Ned Thistle", "Olwen Cray", "Pip Harrow", "Quin Lea", "Rhys Tarn",
           "Sal Ember", "Tess Moor", "Una Byrd", "Val Crook", "Wyn Fold", "Yara Stile")
_STREET = "Sheep Lane 3, Fenwater"
_DAYS = 30


def fill_orders(engine: Engine, site: Site, today: date) -> None:
    """Have two dozen people order something, the first ones some weeks ago."""
    rng = np.random.default_rng(1687)
    things = [page for page in expanded(site).pages if page.row.table == site.shop.table]
    sold = {_key(page, offer.key): Sold(page.row.label, page.slug, offer)
            for page in things if page.row.goods for offer in page.row.goods.offers}
    wanted = [key for key, one in sold.items() if one.offer.price and not one.offer.sold_out]
    for number, name in enumerate(_BUYERS):
        day = today - timedelta(days=_DAYS - 1 - number * _DAYS // len(_BUYERS))
        at = datetime.combine(day, time(9 + number % 12, 7 * number % 60), UTC)
        _order(engine, site, sold, [str(key) for key in rng.choice(wanted, 1 + number % 3, False)],
               name, at, "FIRSTNIGHT" if number % 4 == 3 else "",
               Decimal(2 if number % 5 == 3 else 0))
    for order in list_orders(engine)[3:]:
        for days, step in enumerate(("paid", "sent", "done")[: 1 + order.number % 3], 1):
            set_state(engine, order.id, step, order.at_ms + days * 86_400_000 // 2)
    for order in list_orders(engine, "done")[-2:]:
        write_invoice(engine, order.id, f"{dict(order.answers)['Your name']}\n{_STREET}",
                      order.at_ms + 2 * 86_400_000)
    for order in list_orders(engine, "sent")[:1]:
        ask_refund(engine, order.id, Decimal("5.00"), "demo-back", order.at_ms + 3 * 86_400_000)


def _key(page: Page, option: str) -> str:
    return f"{page.row.row}.{option}" if option else page.row.row


def _order(engine: Engine, site: Site, sold: dict[str, Sold], keys: list[str], name: str,
           at: datetime, code: str, tip: Decimal) -> None:
    cart = EMPTY.sent_by(site.shop.ways[len(keys) % 2].id).paid_by("bybill").with_code(
        code).giving(tip)
    for key in keys:
        row, _, option = key.partition(".")
        cart = cart.plus(CartLine(row, option, 1))
    found = priced(cart, sold, {}, site.shop, f"{at:%Y-%m-%d}")

    email = f"{name.lower().replace(' ', '.')}@mail.example"
    cart_page = site.page(site.shop.cart)
    form = site.form(site.shop.form)
    assert cart_page is not None and form is not None and found.way is not None
    take_lead(engine, NewLead(
        key=f"order-{email}", at_ms=int(at.timestamp() * 1000), visitor=f"buyer-{name[:3]}",
        form=form.id, form_name=form.name, page=cart_page.id, variant="A", email=email,
        answers=[(form.fields[0].id, "Your name", name), (form.fields[1].id, "E-mail", email),
                 (form.fields[2].id, "Street and town", _STREET),
                 (ORDER, "Your order", order_words(found, site.shop, site.language))],
        source="direct", order=order_from(found, site.shop)))
