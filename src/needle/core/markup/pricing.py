"""Prices, stock and ratings as HTML.

A sale with days is marked with them and stands hidden beside the price; the visitor's browser shows
what holds on the day (`runtime/sale.js`). Where no scripts run the price itself stands there.
"""

from markupsafe import Markup

from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.rows import Goods, Offered

__all__ = ["PRICING_CSS", "has_days", "price_html", "rating_html", "stock_html"]

PRICING_CSS = (
    ".price{display:inline-flex;flex-wrap:wrap;gap:0 10px;align-items:baseline;font-weight:600}"
    ".price [hidden]{display:none}.price small{font-weight:400;font-size:.8em}"
    ".stock-out{opacity:.75}.rating{font-size:.9em}")


def has_days(goods: Goods | None) -> bool:
    """Whether a price of it changes on a day."""
    return goods is not None and any(one.sale and (one.starts or one.ends) for one in goods.offers)


def price_html(offer: Offered, context: Surroundings, begins: bool = False) -> Markup:
    """Return what an offer costs, with its sale.

    Args:
        begins: Others of the same thing cost more.
    """
    if offer.price is None:
        return Markup("")
    plain = offer.price.words
    words = context.words("goods-from", price=plain) if begins else plain
    if offer.sale is None:
        return tag("span", {"class": "price"}, words)
    sale = _sale(offer.sale.words, plain, offer.ends, context)
    if not (offer.starts or offer.ends):
        return tag("span", {"class": "price"}, sale)
    return tag("span", {"class": "price", "data-sale-from": offer.starts or None,
                        "data-sale-until": offer.ends or None},
               tag("span", {}, words), tag("span", {"hidden": context.mode != "edit"}, sale))


def _sale(sale: str, price: str, ends: str, context: Surroundings) -> Markup:
    # The price before stands struck through within a sentence of the visitor's language.
    before, _, after = context.words("goods-instead", price="\x00").partition("\x00")
    until = [" ", context.words("goods-until", day=context.day(ends))] if ends else []
    return join([tag("b", {}, sale), " ",
                 tag("small", {}, before, tag("s", {}, price), after, *until)])


def stock_html(offer: Offered, context: Surroundings, few: int) -> Markup:
    """Return what is left of an offer: nothing where nobody counts, or plenty is there.

    Args:
        few: So many pieces or fewer are said; 0 says only what is sold out.
    """
    if offer.sold_out:
        return tag("span", {"class": "stock-out"}, context.words("goods-sold-out"))
    if offer.stock is not None and offer.stock <= few:
        return tag("span", {"class": "stock-few"}, context.words("goods-left", count=offer.stock))
    return Markup("")


def rating_html(goods: Goods, context: Surroundings) -> Markup:
    """Return what people gave; nothing if nobody did."""
    if not goods.rating:
        return Markup("")
    return tag("span", {"class": "rating"}, context.words(
        "goods-rated", rating=context.number(goods.rating), count=goods.ratings))
