"""The cart: what somebody is about to buy, what it comes to, how it reaches them.

The host fills it in at each visit; what stands here is said where nothing is in it.
"""

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey

__all__ = ["CART_BEGINS", "CART_ENDS", "KIND", "CartBox"]

# Between these the host puts what is in the visitor's cart.
CART_BEGINS, CART_ENDS = "<!--cart-->", "<!--/cart-->"


class CartBox(Item, frozen=True, tag="cart"):
    """What is in the visitor's cart."""

    style: StyleKey = "body"


def _new(node_id: Id) -> CartBox:
    return CartBox(id=node_id)


def _render(node: CartBox, context: Surroundings) -> Markup:
    # The hidden ones have the rules stay of what the host puts there.
    return tag("div", context.attributes(node, f"cart t-{node.style}"), Markup(CART_BEGINS),
               tag("p", {}, context.words("cart-empty")),
               tag("span", {"class": "button t-button b-second", "hidden": True}),
               tag("span", {"class": "cart-more cart-offer", "hidden": True}),
               Markup(CART_ENDS))


KIND = Kind(
    purpose="To act on",
    about="What the visitor is about to buy, and what it comes to (basket, checkout)",
    type=CartBox, label="Cart", mark="prices", new=_new, render=_render, traits=TYPE_TRAITS,
    reads=frozenset({Area.LANGUAGE}), needs=frozenset({"button"}),
    summary=lambda node, context: "filled in for each visitor",
    fields=(Field(name="style", label="Style", editor="style"),),
    css=(".cart table{width:100%;border-collapse:collapse}"
         ".cart th,.cart td{padding:10px 8px 10px 0;text-align:left;vertical-align:middle;"
         "border-bottom:1px solid color-mix(in srgb,currentColor 22%,transparent)}"
         ".cart td+td{width:100%}.cart td+td+td{width:auto;padding:10px 0 10px 16px;"
         "text-align:right;white-space:nowrap}"
         ".cart input[type=text],.cart input[type=number]{font:inherit;width:4.5em;"
         "min-height:44px;padding:0 8px;"
         "color:#14161c;background:#fff;border:1px solid #767b87;"
         "border-radius:var(--corner-small,5px)}"
         ".cart input[type=text],.cart select{display:block;width:100%;max-width:22rem}"
         ".cart fieldset{border:0;margin:16px 0 0;padding:0}.cart legend{padding:0}"
         ".cart label{display:flex;gap:10px 14px;align-items:center;min-height:44px}"
         ".cart form>label{display:block;margin-top:16px}"
         ".cart output,.cart dl{display:block;margin:16px 0 0}"
         ".cart dl{display:grid;grid-template-columns:1fr auto;gap:6px 20px}"
         ".cart dd{margin:0;text-align:right}.cart [role=alert]{font-weight:600;margin:0 0 12px;"
         "padding:10px 14px;border-left:4px solid currentColor}"
         ".cart select{font:inherit;min-height:44px;color:#14161c;background:#fff;"
         "border:1px solid #767b87;border-radius:var(--corner-small,5px)}"
         ".cart-more{margin:32px 0 4px}.cart-offer{padding:10px 0;display:flex;"
         "gap:12px 20px;flex-wrap:wrap;"
         "align-items:center;justify-content:space-between}.cart-offer p{margin:8px 0}"
         ".cart button{margin-top:20px}.cart .cart-offer button{margin-top:0}"
         ".cart details{margin-top:24px}.cart summary{min-height:28px;cursor:pointer}"
         ".cart details a{overflow-wrap:anywhere}"))
