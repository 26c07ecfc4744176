"""What is offered once something was ordered: one click, its own confirmation, an order of its own
that goes along with the first."""

import hashlib
import json
from collections.abc import Awaitable, Callable
from decimal import Decimal
from typing import Any, NamedTuple

import anyio.to_thread
import msgspec
from sqlalchemy import Engine, select

from needle.core.messages.message import say
from needle.core.shop.cart import Cart, CartLine
from needle.core.shop.cartmarkup import order_words
from needle.core.shop.pricing import Priced, Sold, priced
from needle.host.clock import day, now_ms
from needle.host.delivery import LETTER
from needle.publish.release import Live
from needle.store.results.ordered import Order, order_from
from needle.store.results.orders import order_of
from needle.store.results.stock import left_of
from needle.store.results.tables import leads
from needle.store.results.taking import ORDER, Kept, NewLead

__all__ = ["Extras", "Offer"]

# So long after an order something more goes along with it.
_GOES_ALONG_MS = 2 * 86_400_000


class Offer(NamedTuple):
    """What is offered beside an order.

    Attributes:
        whole: What it costs else.
        found: What it comes to, with taxes; nothing for its carriage.
    """

    sold: Sold
    price: Decimal
    whole: Decimal
    words: str
    found: Priced


class Extras:
    """Offers something beside an order, and takes it."""

    def __init__(self, engine: Engine, live: Callable[[], Live | None],
                 keep: Callable[[NewLead], Awaitable[Kept]]) -> None:
        """Prepare.

        Args:
            keep: Stores a lead with its order.
        """
        self._engine, self._live, self._keep = engine, live, keep

    async def offer(self, order: Order) -> Offer | None:
        """Return what is offered beside an order; `None` for nothing."""
        return await anyio.to_thread.run_sync(self._offer, order)

    def _offer(self, order: Order) -> Offer | None:
        live = self._live()
        extra = live.shop.extra if live is not None else None
        if live is None or extra is None or not extra.after or order.state not in ("new", "paid"):
            return None
        if order.at_ms + _GOES_ALONG_MS < now_ms() or any(
                line.key.partition(".")[0] == extra.row for line in order.lines):
            return None
        one = live.sold().get(extra.key)
        if one is None:
            return None
        counted = one.offer.stock
        left = left_of(self._engine, {extra.key: counted}) if counted is not None else {}
        cart = Cart((CartLine(extra.row, extra.option, 1, "", "o"),), pay=order.pay.id,
                    land=order.land, firm=order.firm)
        # It comes with the first order: nothing is to pay for its way.
        shop = msgspec.structs.replace(live.shop, ways=())
        found = priced(cart, live.sold(), left, shop, day(), beside=True)
        if not found.lines or found.troubles:
            return None
        whole = priced(Cart((CartLine(extra.row, extra.option, 1),)), live.sold(), {}, live.shop,
                       day())
        return Offer(one, found.lines[0].unit, whole.lines[0].unit, extra.words, found)

    async def take(self, order: Order, lead_key: str) -> str:
        """Order what is offered beside an order, once; return the key of its lead, or of the first
        one where nothing is offered.

        Raises:
            NotKeptError: It is sold out, or cannot be stored.
        """
        live, offer = self._live(), await self.offer(order)
        lead = await anyio.to_thread.run_sync(self._lead, lead_key)
        key = hashlib.sha256(f"{lead_key} and more".encode()).hexdigest()[:32]
        if await anyio.to_thread.run_sync(order_of, self._engine, key) is not None:
            return key
        if live is None or offer is None or lead is None:
            return lead_key
        await self._keep(_new_lead(lead, key, offer, live, order))
        return key

    def _lead(self, key: str) -> Any:
        with self._engine.connect() as connection:
            return connection.execute(select(leads).where(leads.c.key == key)).first()


def _new_lead(lead: Any, key: str, offer: Offer, live: Live, order: Order) -> NewLead:
    form = live.form(lead.form, lead.page)
    words = "\n".join((say("order-along", number=order.number).in_language(live.language),
                       order_words(offer.found, live.shop, live.language)))
    answers = [(field, label, told) for field, label, told in json.loads(lead.answers)
               if field != ORDER]
    return NewLead(
        key=key, at_ms=now_ms(), visitor=lead.visitor, form=lead.form, form_name=lead.form_name,
        page=lead.page, variant=lead.variant, email=lead.email, source=lead.source,
        answers=[*answers, (ORDER, say("cart-order").in_language(live.language), words)],
        order=order_from(offer.found, live.shop),
        routes=[route.id for route in form.routes] if form is not None else [],
        letters={LETTER: "waiting"} if form is not None and form.letter else {})
