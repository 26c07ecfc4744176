"""The visitor's cart: put into it, counted again, shown, and ordered with a form."""

import secrets
from collections.abc import Callable, Mapping, Sequence
from decimal import Decimal
from urllib.parse import quote, urlencode

import anyio.to_thread
from markupsafe import Markup
from sqlalchemy import Engine
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response
from starlette.routing import Route

from needle.core.messages.message import Message, say
from needle.core.shop.cart import EMPTY, Cart, CartLine, cart_from, words_of
from needle.core.shop.cartmarkup import Suggested, cart_markup, order_words
from needle.core.shop.pricing import (
    Priced,
    line_price,
    offered_price,
    priced,
    unit_price,
)
from needle.core.tables.cells import amount_words, decimal_of
from needle.core.values.form import Form
from needle.core.values.shop import MOST_PIECES
from needle.host.answers import said, word
from needle.host.clock import day
from needle.host.orderpage import order_page, sums_table
from needle.host.postbody import read_fields
from needle.publish.release import Live
from needle.store.results.ordered import NewOrder, Order, order_from
from needle.store.results.orders import order_of
from needle.store.results.stock import left_of

__all__ = ["CART_COOKIE", "PIECES_COOKIE", "CartDesk", "Ordered"]

CART_COOKIE, PIECES_COOKIE, SUM_COOKIE = "needle_cart", "needle_pieces", "needle_sum"
_KEPT_S = 30 * 86_400
_LINE = "line."
_SUGGESTED = 3


class Ordered:
    """What a visitor orders with a form.

    Attributes:
        trouble: Why that cannot be done as it is; `None` if it can.
        order: As it is stored; `None` if it cannot be done.
        words: As letters say it.
    """

    def __init__(self, trouble: Message | None, order: NewOrder | None = None, words: str = "",
                 ) -> None:
        self.trouble, self.order, self.words = trouble, order, words


class CartDesk:
    """Keeps carts, in the visitors' own browsers, and works out what they come to."""

    def __init__(self, engine: Engine, live: Callable[[], Live | None]) -> None:
        self._engine, self._live = engine, live

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/cart", self.change, methods=["POST"]),
                Route("/_needle/cart", self.brought, methods=["GET"])]

    async def change(self, request: Request) -> Response:
        """Put something into the cart, or count it again; then show it."""
        live = self._live()
        page = live.page(live.shop.cart) if live is not None else None
        if live is None or page is None:
            return word(404, say("cart-closed"), live.language if live is not None else "en")
        sent = await read_fields(request)
        if sent is None:
            return word(400, say("host-form-broken"), live.language)
        answer = RedirectResponse(f"/{page.slug}", 303, {"Cache-Control": "no-store"})
        self.keep(request, answer, self._changed(live, self._cart(request), sent))
        return answer

    async def brought(self, request: Request) -> Response:
        """Show a cart that a link brings from another device, to be taken here by a button."""
        live = self._live()
        if live is None or live.page(live.shop.cart) is None:
            return word(404, say("cart-closed"), live.language if live is not None else "en")
        cart = cart_from(request.query_params.get("c", ""))
        found = await self._priced(live, cart)
        if not found.lines:
            return order_page(404, live, say("cart-empty").in_language(live.language), Markup(""))
        rows = [(f"{one.line.pieces} × {one.sold.name}",
                 amount_words(f"{one.total:.2f} {live.shop.currency}".strip(), live.language))
                for one in found.lines]
        rows.append((say("cart-things").in_language(live.language), amount_words(
            f"{found.things:.2f} {live.shop.currency}".strip(), live.language)))
        form = Markup('<form method="post" action="/_needle/cart"><input type="hidden" name="c" '
                      'value="{}"><button class="do main">{}</button></form>').format(
            words_of(cart), say("cart-take").in_language(live.language))
        return order_page(200, live, say("cart-brought").in_language(live.language),
                          sums_table(rows) + form)

    def _changed(self, live: Live, cart: Cart, sent: Mapping[str, str]) -> Cart:
        """Return a cart after a post; what makes no sense in that changes nothing."""
        sold, today = live.sold(), day()
        if "c" in sent:  # It is ordered once, wherever it is.
            return cart_from(sent["c"])
        if "row" in sent:
            option = sent.get("option", "")
            key = f"{sent['row']}.{option}" if option else sent["row"]
            one, pieces = sold.get(key), _pieces(sent.get("count", "1"))
            by = sent.get("by", "") if sent.get("by") in ("o", "w") else ""
            if one is None or not pieces:
                return cart
            cart = cart.plus(CartLine(sent["row"], option, pieces, "", by))
            line = next((line for line in cart.lines if line.key == key), None)
            unit = line_price(line, cart, one.offer, live.shop, today) if line is not None else None
            if line is None or unit is None:
                return cart.with_line(CartLine(sent["row"], option, 0))
            return cart.with_line(line._replace(seen=_seen(unit)))
        # Whoever counts again has been told what is otherwise, and sees today's prices.
        for line in cart.lines:
            told = _pieces(sent.get(_LINE + line.key, ""))
            cart = cart.with_line(line._replace(pieces=line.pieces if told is None else told))
        for line in cart.lines:
            one = sold.get(line.key)
            unit = line_price(line, cart, one.offer, live.shop, today) if one is not None else None
            cart = cart.with_line(line._replace(
                pieces=0 if unit is None else line.pieces,
                seen=_seen(unit) if unit is not None else ""))
        if "code" in sent:
            cart = cart.with_code(sent["code"])
        if (tip := decimal_of(sent.get("tip", "") or "0", live.language)) is not None and (
                "tip" in sent):
            cart = cart.giving(tip)
        if "land" in sent:
            cart = cart.going_to(sent["land"])
        if "firm" in sent:
            cart = cart.ordered_by(sent["firm"])
        way, pay = sent.get("way", cart.way), sent.get("pay", cart.pay)
        cart = cart.sent_by(way) if live.shop.way(way) is not None else cart
        return cart.paid_by(pay) if live.shop.pay(pay) is not None else cart

    @staticmethod
    def _cart(request: Request) -> Cart:
        return cart_from(request.cookies.get(CART_COOKIE, ""))

    def kept_by(self, request: Request) -> str:
        """Return the cart of a browser as it keeps it, checked; empty for an empty one."""
        cart = self._cart(request)
        return words_of(cart) if cart.lines else ""

    def take_code(self, request: Request, answer: Response, live: Live) -> None:
        """Have a browser keep the code of a coupon that a link brings."""
        coupon = live.shop.coupon(request.query_params.get("code", "")[:40])
        if coupon is not None:
            self.keep(request, answer, self._cart(request).with_code(coupon.code))

    def keep(self, request: Request, answer: Response, cart: Cart) -> None:
        """Have a browser keep a cart."""
        if cart.lines and not cart.token:
            cart = cart.known_by(secrets.token_urlsafe(15))
        answer.set_cookie(CART_COOKIE, words_of(cart),
                          max_age=_KEPT_S if cart.lines or cart.code else 0,
                          httponly=True, samesite="lax", secure=request.url.scheme == "https")
        # A page's script may read these, and nothing else of the cart.
        for name, value in ((PIECES_COOKIE, str(cart.pieces)),
                            (SUM_COOKIE, quote(self._sum(cart), safe=""))):
            answer.set_cookie(name, value, max_age=_KEPT_S if cart.lines else 0, samesite="lax",
                              secure=request.url.scheme == "https")

    def _sum(self, cart: Cart) -> str:
        """Return what the things in a cart come to, as they were seen, in words."""
        live = self._live()
        if live is None or not cart.lines:
            return ""
        cents = sum(int(line.seen or "0") * line.pieces for line in cart.lines)
        amount = f"{Decimal(cents) / 100:.2f} {live.shop.currency}".strip()
        return amount_words(amount, live.language)

    def forget(self, request: Request, answer: Response) -> None:
        """Have a browser forget its cart, once that was ordered."""
        self.keep(request, answer, EMPTY)

    @staticmethod
    def refused(quiet: bool, live: Live, trouble: Message) -> Response:
        """Answer that an order cannot be taken as it is; without a script, with the way back."""
        page = live.page(live.shop.cart)
        link = Markup('<p><a href="/{}">{}</a></p>').format(
            page.slug, say("cart-show").in_language(live.language)) if page is not None else ""
        return said(True, 409, trouble, live.language) if quiet else word(
            409, trouble, live.language, link)

    async def markup(self, request: Request, live: Live) -> str:
        """Return what is in the visitor's cart, as it stands on a page."""
        found = await self._priced(live, self._cart(request))
        cart = self._cart(request)
        along = f"{request.url.scheme}://{request.url.netloc}/_needle/cart?" + urlencode(
            {"c": words_of(cart)})
        return cart_markup(found, live.shop, live.language, await self._suggested(live, found),
                           along)

    async def _suggested(self, live: Live, found: Priced) -> list[Suggested]:
        """Return what else is offered with a cart: what the shop offers, then what is often bought
        with what is in it; nothing that is in it, or sold out."""
        there, sold, today = {line.line.row for line in found.lines}, live.sold(), day()
        extra, told = live.shop.extra, list[Suggested]()
        if extra is not None and extra.before and there and extra.row not in there and (
                one := sold.get(extra.key)) is not None:
            price, whole = offered_price(one.offer, extra, today), unit_price(one.offer, today)
            if price is not None:
                told.append(Suggested(extra.row, extra.option, "o", one, price,
                                      whole if whole != price else None, extra.words))
        for row in dict.fromkeys(row for page in live.pages if page.row in there
                                 for row in page.goes_with):
            one = sold.get(row)
            price = unit_price(one.offer, today) if one is not None else None
            if one is not None and price is not None and row not in there and (
                    extra is None or row != extra.row):
                told.append(Suggested(row, "", "w", one, price))
        left = await self._left(live, [f"{one.row}.{one.option}" if one.option else one.row
                                       for one in told])
        return [one for one in told if left.get(
            f"{one.row}.{one.option}" if one.option else one.row, 1) > 0][:_SUGGESTED]

    async def _priced(self, live: Live, cart: Cart) -> Priced:
        left = await self._left(live, [line.key for line in cart.lines])
        return priced(cart, live.sold(), left, live.shop, day())

    async def _left(self, live: Live, keys: Sequence[str]) -> Mapping[str, int]:
        """Return how many pieces are left of what is counted."""
        sold = live.sold()
        written = {key: offer.stock for key in keys if (one := sold.get(key)) is not None
                   and (offer := one.offer).stock is not None}
        return await anyio.to_thread.run_sync(left_of, self._engine, written) if written else {}

    async def ordered(self, request: Request, live: Live, form: Form) -> Ordered | None:
        """Return what is ordered with a form; `None` for a form that orders nothing."""
        if form.id != live.shop.form:
            return None
        cart = self._cart(request)
        found = await self._priced(live, cart)
        if not found.lines:
            return Ordered(say("cart-empty"))
        if found.troubles:
            return Ordered(found.troubles[0])
        if live.shop.ways and found.way is None:
            return Ordered(say("cart-no-way"))
        if live.shop.pays and found.pay is None:
            return Ordered(say("cart-no-pay"))
        return Ordered(None, order_from(found, live.shop, cart.token),
                       order_words(found, live.shop, live.language))

    async def ordered_with(self, key: str) -> Order | None:
        """Return the order that the filling of a key came with already."""
        return await anyio.to_thread.run_sync(order_of, self._engine, key) if key else None


def _pieces(words: str) -> int | None:
    """Return a count that somebody sent; `None` for what is none."""
    bare = words.strip()
    return min(int(bare), MOST_PIECES) if bare.isdecimal() and len(bare) < 7 else None


def _seen(unit: Decimal) -> str:
    return str(int(unit * 100))
