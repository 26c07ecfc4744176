"""An order as its person sees it, by the link in their letter: look it up, take it back, order the
same again."""

from collections.abc import Callable
from datetime import datetime
from decimal import Decimal

import anyio.to_thread
from markupsafe import Markup
from sqlalchemy import Engine
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response
from starlette.routing import Route

from needle.core.messages.message import Message, say
from needle.core.shop.cart import EMPTY, CartLine
from needle.core.tables.cells import amount_words
from needle.core.values.language import ENGLISH, Language
from needle.host.answers import word
from needle.host.carts import CartDesk
from needle.host.clock import now_ms
from needle.host.extras import Extras, Offer
from needle.host.keeping import NotKeptError
from needle.host.orderpage import buttons, order_page, sums_table
from needle.host.orderpaths import OrderPaths
from needle.host.paying import PayDesk
from needle.host.postbody import read_fields
from needle.publish.release import Live
from needle.store.refusing import StoreError
from needle.store.results.ordered import Order
from needle.store.results.orders import order_of, set_state
from needle.store.results.payments import payments_of, refunds_of

__all__ = ["STATE_WORDS", "OrderLinks", "offered"]

# What its person may still take back.
_OPEN = ("new", "aside")
STATE_WORDS = {"aside": say("order-new"), "new": say("order-new"), "paid": say("order-paid"),
           "sent": say("order-sent"), "done": say("order-done"),
           "cancelled": say("order-cancelled"), "lapsed": say("order-lapsed")}


class OrderLinks:
    """The part of the host at which orders are looked up."""

    def __init__(self, engine: Engine, live: Callable[[], Live | None], paths: OrderPaths,
                 carts: CartDesk, paying: PayDesk, extras: Extras) -> None:
        self._engine, self._live, self._paths = engine, live, paths
        self._carts, self._paying, self._extras = carts, paying, extras

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/order/{lead}/{seal}", self.order, methods=["GET", "POST"])]

    async def order(self, request: Request) -> Response:
        """Show an order, or do to it what its person asks."""
        live = self._live()
        language = live.language if live is not None else ENGLISH
        key, seal = request.path_params["lead"], request.path_params["seal"]
        if not self._paths.holds(key, seal):
            return word(410, say("order-dead"), language)
        found = await anyio.to_thread.run_sync(order_of, self._engine, key)
        if found is None:
            return word(410, say("order-dead"), language)
        if request.method == "POST":
            sent = await read_fields(request) or {}
            if sent.get("do") == "again" and live is not None:
                return self._again(request, live, found)
            if sent.get("do") in ("more", "more-yes"):
                return await self._more(request, found, sent["do"] == "more-yes", language)
            if sent.get("do") == "cancel" and found.state in _OPEN:
                await anyio.to_thread.run_sync(self._take_back, found)
            return RedirectResponse(request.url.path, 303, {"Cache-Control": "no-store"})
        if found.open:
            await self._paying.look_for(found)
            found = await anyio.to_thread.run_sync(order_of, self._engine, key) or found
        money = await anyio.to_thread.run_sync(self._money, found)
        pay = request.url.path.replace("/_needle/order/", "/_needle/pay/", 1) \
            if found.open and live is not None and live.shop.pay(found.pay.id) else ""
        offer = await self._extras.offer(found)
        return _shown(found, live, money, pay, offer)

    async def _more(self, request: Request, order: Order, sure: bool, language: Language,
                    ) -> Response:
        """Order what is offered beside an order, once its person has confirmed that."""
        here = request.url.path
        offer = await self._extras.offer(order)
        if not sure and offer is not None:
            return order_page(
                200, self._live(), say("order-more-sure", thing=offer.sold.name).in_language(
                    language), _offer_sums(offer, order, language) + buttons(
                        ("more-yes", say("order-more-yes").in_language(language)))
                + Markup('<p><a href="{}">{}</a></p>').format(
                    here, say("order-more-no").in_language(language)))
        try:
            key = await self._extras.take(order, request.path_params["lead"])
        except NotKeptError as error:
            return order_page(409, self._live(), error.message.in_language(language), Markup(
                '<p><a href="{}">{}</a></p>').format(here, say("order-look").in_language(language)))
        made = await anyio.to_thread.run_sync(order_of, self._engine, key) or order
        path = self._paths.paid(key, now_ms()) if made.open else self._paths.shown(key, now_ms())
        return RedirectResponse(f"/{path}", 303, {"Cache-Control": "no-store"})

    def _money(self, order: Order) -> list[Message]:
        """Return what is to be said of what was paid, and paid back."""
        told = [say("order-odd")] if any(
            one.state == "odd" for one in payments_of(self._engine, order.id)) else []
        if order.open and not told:
            told.append(say("order-waits"))
            if order.due_ms > now_ms():
                until = datetime.fromtimestamp(order.due_ms / 1000).astimezone()
                told.append(say("order-until", until=f"{until:%H:%M}"))
        for refund in refunds_of(self._engine, order.id):
            told.append(say("order-back" if refund.state == "done" else "order-back-waits",
                            amount=f"{refund.amount} {order.currency}".strip()))
        return told

    def _take_back(self, order: Order) -> None:
        try:
            set_state(self._engine, order.id, "cancelled", now_ms())
        except StoreError:
            return  # It was sent meanwhile: its page says so.

    def _again(self, request: Request, live: Live, order: Order) -> Response:
        cart = EMPTY
        for line in order.lines:
            row, _, option = line.key.partition(".")
            if line.key in live.sold():
                cart = cart.plus(CartLine(row, option, line.pieces))
        page = live.page(live.shop.cart)
        answer = RedirectResponse(f"/{page.slug}" if page is not None else "/", 303,
                                  {"Cache-Control": "no-store"})
        self._carts.keep(request, answer, cart)
        return answer


def _offer_sums(offer: Offer, order: Order, language: Language) -> Markup:
    """Return what an offer comes to."""
    def amount(value: Decimal) -> str:
        return amount_words(f"{value:.2f} {order.currency}".strip(), language)

    rows = [(offer.sold.name, amount(offer.price))]
    rows += [(say("cart-tax-on", percent=tax.percent).in_language(language), amount(tax.tax))
             for tax in offer.found.taxes if tax.tax and offer.found.total > offer.price]
    rows.append((say("cart-total").in_language(language), amount(offer.found.total)))
    return sums_table(rows)


def offered(offer: Offer | None, order: Order, language: Language, at: str = "") -> Markup:
    """Return what is offered beside an order, with its button.

    Args:
        at: Where the order is looked up; empty for here.
    """
    if offer is None:
        return Markup("")
    whole = amount_words(f"{offer.whole:.2f} {order.currency}".strip(), language)
    less = Markup("<s>{}</s> ").format(whole) if offer.whole != offer.price else Markup("")
    price = amount_words(f"{offer.price:.2f} {order.currency}".strip(), language)
    words = Markup("<br>{}").format(offer.words) if offer.words else Markup("")
    return Markup('<div class="offer"><p><b>{}</b> {}{}{}</p>{}</div>').format(
        offer.sold.name, less, price, words,
        buttons(("more", say("order-more").in_language(language)), at=at))


def _shown(order: Order, live: Live | None, money: list[Message], pay: str,
           offer: Offer | None) -> Response:
    language = live.language if live is not None else ENGLISH
    def amount(words: str) -> str:
        return amount_words(f"{words} {order.currency}".strip(), language)

    rows = [(f"{line.pieces} × {line.thing}", amount(line.total)) for line in order.lines]
    if order.coupon is not None:
        rows.append((say("coupon-off", code=order.coupon.code).in_language(language),
                     amount(order.off)))
    if order.way:
        rows.append((order.way, amount(order.carriage)))
    if order.tip is not None:
        rows.append((order.tip.name, amount(order.tip.amount)))
    rows += [(say("cart-tax-on", percent=percent).in_language(language), amount(tax))
             for percent, _, tax in order.taxes if Decimal(tax) and order.taxed_on_top]
    rows.append((say("cart-total" if order.open else "paper-total").in_language(language),
                 amount(order.total)))
    made = [("again", say("order-again").in_language(language))] \
        if live is not None and live.shop.table else []
    if order.state in _OPEN:
        made.append(("cancel", say("order-take-back").in_language(language)))
    told = say("order-is", number=order.number,
               state=STATE_WORDS[order.state].in_language(language)).in_language(language)
    said = Markup("").join(Markup("<p>{}</p>").format(one.in_language(language)) for one in money)
    now = Markup('<p><a class="do main" href="{}">{}</a></p>').format(
        pay, say("order-pay").in_language(language)) if pay else Markup("")
    form = live.form(live.shop.form) if live is not None else None
    account = Markup('<p><a href="/_needle/orders">{}</a></p>').format(
        say("account").in_language(language)) if form is not None and form.letter else Markup("")
    return order_page(200, live, told, said + now + sums_table(rows) + offered(
        offer, order, language) + buttons(*made) + account)
