"""What the row of a page offers: its price, its options, what is left of it, how it is rated."""

from typing import Annotated

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind
from needle.core.markup.markup import join, tag
from needle.core.markup.pricing import (
    PRICING_CSS,
    has_days,
    price_html,
    rating_html,
    stock_html,
)
from needle.core.markup.surroundings import Surroundings
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.rows import Goods, Offered
from needle.core.values.shop import MOST_PIECES
from needle.core.values.strict import StyleKey, whole

__all__ = ["KIND", "GoodsBox"]


class GoodsBox(Item, frozen=True, tag="goods"):
    """Price, options, stock and rating of the row whose page it stands on.

    Attributes:
        few: So many pieces or fewer are told; 0 tells only what is sold out.
        rated: The rating is shown.
        buys: Visitors may put it into their cart.
    """

    few: Annotated[int, whole(0, 99)] = 3
    rated: bool = True
    buys: bool = False
    style: StyleKey = "subtitle"


def _new(node_id: Id) -> GoodsBox:
    return GoodsBox(id=node_id)


def _render(node: GoodsBox, context: Surroundings) -> Markup:
    goods, attributes = context.goods, context.attributes(node, "goods")
    if goods is None or not (goods.offers or goods.rating):
        told = "This page's row has no price yet" if context.mode == "edit" else ""
        return tag("div", attributes, tag("p", {}, told)) if told else Markup("")
    if node.buys and any(one.price for one in goods.offers):
        return tag("div", attributes, _buying(node, goods, context))
    alike = len({(one.price, one.sale, one.starts, one.ends) for one in goods.offers}) == 1
    lines = []
    if goods.offers and (alike or not goods.offers[0].name):
        lines.append(_line(goods.offers[0], node, context, len(goods.offers) == 1))
    if len(goods.offers) > 1 or any(one.name for one in goods.offers):
        lines.append(tag("ul", {"class": "options"}, join(
            _option(one, node, context, priced=not alike) for one in goods.offers)))
    if node.rated and goods.rating:
        lines.append(tag("p", {}, rating_html(goods, context)))
    return tag("div", attributes, join(lines))


def _buying(node: GoodsBox, goods: Goods, context: Surroundings) -> Markup:
    """Return the form that puts it into the cart; it needs no script."""
    several = any(one.key for one in goods.offers)
    head = Markup("") if several else _line(goods.offers[0], node, context, stocked=True)
    which = tag("fieldset", {"class": "options"}, tag("legend", {}, context.words("cart-which")),
                join(_choice(one, number, node, context)
                     for number, one in enumerate(goods.offers))) if several else Markup("")
    count = tag("label", {"class": "buy-count"}, context.words("cart-count"), " ", tag("input", {
        "type": "number", "name": "count", "value": 1, "min": 1, "max": MOST_PIECES,
        "inputmode": "numeric"}))
    button = tag("button", {"type": "submit", "class": "button t-button b-main",
                            "disabled": goods.sold_out}, context.words("cart-add"))
    form = tag("form", {"method": "post", "action": f"{context.root}_needle/cart",
                        "class": "buy"},
               tag("input", {"type": "hidden", "name": "row", "value": context.row_id}),
               which, tag("p", {"class": "buy-end"}, count, button))
    rated = tag("p", {}, rating_html(goods, context)) if node.rated and goods.rating else ""
    return join([head, rated, form])


def _choice(offer: Offered, number: int, node: GoodsBox, context: Surroundings) -> Markup:
    mark = tag("input", {"type": "radio", "name": "option", "value": offer.key, "required": True,
                         "disabled": offer.sold_out})
    return tag("label", {}, mark, tag("span", {}, offer.name), price_html(offer, context),
               stock_html(offer, context, node.few))


def _line(offer: Offered, node: GoodsBox, context: Surroundings, stocked: bool) -> Markup:
    price = tag("span", {"class": f"t-{node.style}"}, price_html(offer, context))
    stock = stock_html(offer, context, node.few) if stocked else Markup("")
    return tag("p", {"class": "goods-price"}, price, stock)


def _option(offer: Offered, node: GoodsBox, context: Surroundings, priced: bool) -> Markup:
    return tag("li", {}, tag("span", {}, offer.name),
               price_html(offer, context) if priced else "", stock_html(offer, context, node.few))


def _summary(node: GoodsBox, context: Surroundings) -> str:
    goods = context.goods
    first = goods.offers[0] if goods is not None and goods.offers else None
    return first.price.words if first is not None and first.price else "no price yet"


KIND = Kind(
    purpose="To act on",
    about="What the row of the page costs, its options and what is left (product, stock, sale)",
    type=GoodsBox, label="Price and stock", mark="prices", new=_new, render=_render,
    traits=TYPE_TRAITS, summary=_summary, needs=frozenset({"button"}),
    reads=frozenset({Area.TABLES, Area.LANGUAGE}),
    runtime=lambda node, context: ("sale",) if has_days(context.goods) else (),
    fields=(
        Field(name="few", label="Say what is left from", editor="number"),
        Field(name="rated", label="Rating", editor="choice",
              choices={True: "shown", False: "not shown"}),
        Field(name="buys", label="Visitors", editor="choice",
              choices={False: "see it", True: "put it into the cart"}),
        Field(name="style", label="Style", editor="style")),
    css=(".goods{display:grid;gap:12px}.goods p{margin:0}"
         ".goods-price .stock-out,.goods-price .stock-few{margin-left:16px}"
         ".options{list-style:none;margin:0;padding:0}"
         ".options li{display:flex;flex-wrap:wrap;gap:2px 16px;justify-content:space-between;"
         "padding:9px 0;border-top:1px solid color-mix(in srgb,currentColor 22%,transparent)}"
         ".options span:first-of-type{flex:1 1 8em}"
         ".buy{display:grid;gap:14px}.buy fieldset{border:0;margin:0;padding:0}"
         ".buy label{display:flex;flex-wrap:wrap;gap:4px 12px;align-items:center;min-height:44px}"
         ".options label{border-top:1px solid color-mix(in srgb,currentColor 22%,transparent)}"
         ".buy-end{display:flex;flex-wrap:wrap;gap:12px 20px;align-items:center}"
         ".buy-count input{font:inherit;width:5em;min-height:44px;padding:0 8px;color:#14161c;"
         "background:#fff;border:1px solid #767b87;border-radius:var(--corner-small,5px)}"
         + PRICING_CSS))
