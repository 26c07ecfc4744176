"""The way to the cart, with how many pieces are in it, and what they come to."""

from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, one_text
from needle.core.markup.markup import tag
from needle.core.markup.surroundings import Surroundings
from needle.core.markup.wording import words_html
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey
from needle.core.values.words import Text, text

__all__ = ["KIND", "CartLink"]


class CartLink(Item, frozen=True, tag="cartlink"):
    """A link to the page with the cart."""

    words: Text = ()
    style: StyleKey = "small"


def _new(node_id: Id) -> CartLink:
    return CartLink(id=node_id, words=text("Cart"))


def _render(node: CartLink, context: Surroundings) -> Markup:
    said = tag("span", context.typed("words", "one"), words_html(node.words, context))
    # How many are in it stands in a cookie; the page's script shows that.
    count = tag("span", {"class": "cart-pieces", "data-pieces": True, "hidden": True})
    total = tag("span", {"class": "cart-sum", "data-sum": True, "hidden": True})
    address = {"href": context.cart_address} if context.mode != "edit" else {}
    return tag("a", context.attributes(node, f"cart-link t-{node.style}") | address, said, count,
               total)


KIND = Kind(
    purpose="Finding the way",
    about="A link to the cart, with how many pieces are in it (basket)",
    type=CartLink, label="Way to the cart", mark="prices", new=_new, render=_render,
    traits=TYPE_TRAITS, texts=one_text, runtime="cart",
    reads=frozenset({Area.SHOP, Area.PAGES}),
    fields=(Field(name="style", label="Style", editor="style"),),
    css=(".cart-link{display:inline-flex;gap:8px;align-items:center;min-height:28px;"
         "color:inherit}.cart-pieces{min-width:1.6em;padding:0 .4em;border-radius:1em;"
         "text-align:center;color:#14161c;background:#fff;border:1px solid currentColor}"
         ".cart-pieces[hidden],.cart-sum[hidden]{display:none}"
         "@media (max-width:699.98px){.cart-sum{display:none}}"))
