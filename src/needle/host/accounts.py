"""All orders of a person at one address, which a letter to them leads to: no password is kept."""

from collections.abc import Callable
from datetime import datetime

import anyio.to_thread
from markupsafe import Markup
from sqlalchemy import Engine
from starlette.requests import Request
from starlette.responses import Response
from starlette.routing import Route

from needle.core.messages.message import say
from needle.core.tables.cells import amount_words
from needle.core.values.language import ENGLISH, Language
from needle.host.answers import word
from needle.host.clock import now_ms
from needle.host.delivery import ACCOUNT, Deliverer
from needle.host.extras import Extras
from needle.host.orderlinks import STATE_WORDS, offered
from needle.host.orderpage import order_page
from needle.host.orderpaths import OrderPaths
from needle.host.postbody import read_fields
from needle.host.ranges import Ranges
from needle.host.visitors import address_of
from needle.publish.release import Live
from needle.store.results.accounts import ask_account, orders_beside
from needle.store.results.ordered import Order

__all__ = ["AccountDesk"]

# So many letters a range of addresses may ask for in ten minutes.
_MOST_A_RANGE = 10
_ASK = Markup(
    '<p>{}</p><form method="post"><p><label>{} <input class="line" type="email" name="email" '
    'required maxlength="254" autocomplete="email"></label></p>'
    '<button class="do main">{}</button></form>')


class AccountDesk:
    """The part of the host at which a person sees all that they ordered."""

    def __init__(self, engine: Engine, live: Callable[[], Live | None], paths: OrderPaths,
                 extras: Extras, deliverer: Deliverer) -> None:
        self._engine, self._live, self._paths = engine, live, paths
        self._extras, self._deliverer = extras, deliverer
        self._asked = Ranges()

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/orders", self.ask, methods=["GET", "POST"]),
                Route("/_needle/orders/{lead}/{seal}", self.show)]

    def ranges(self) -> dict[str, Ranges]:
        """Return what is counted by range, for other hosts to know of."""
        return {"accounts": self._asked}

    async def ask(self, request: Request) -> Response:
        """Ask for an address, and write there. Whether anything was ordered from it is not told:
        nobody is to find out who buys here."""
        live = self._live()
        language = live.language if live is not None else ENGLISH
        form = live.form(live.shop.form) if live is not None else None
        if form is None or form.letter is None:
            return word(404, say("account-none"), language)
        title = say("account").in_language(language)
        if request.method != "POST":
            return order_page(200, live, title, _ASK.format(
                *(say(words).in_language(language)
                  for words in ("account-how", "account-email", "account-send"))))
        sent = await read_fields(request) or {}
        if self._asked.count(address_of(request), now_ms()) > _MOST_A_RANGE:
            return word(429, say("account-many"), language)
        await anyio.to_thread.run_sync(
            ask_account, self._engine, sent.get("email", "")[:254], ACCOUNT, now_ms())
        self._deliverer.wake()
        return order_page(200, live, title, Markup("<p>{}</p>").format(
            say("account-sent").in_language(language)))

    async def show(self, request: Request) -> Response:
        """Show all orders of whoever has the letter."""
        live = self._live()
        language = live.language if live is not None else ENGLISH
        key, seal = request.path_params["lead"], request.path_params["seal"]
        found = await anyio.to_thread.run_sync(orders_beside, self._engine, key) \
            if self._paths.opens_all(key, seal) else []
        if not found:
            return word(410, say("account-dead"), language,
                        Markup('<p><a href="/_needle/orders">{}</a></p>').format(
                            say("account").in_language(language)))
        paths = {order.id: f"/{self._paths.shown(lead, now_ms())}" for order, lead in found}
        newest = found[0][0]
        more = offered(await self._extras.offer(newest), newest, language, paths[newest.id])
        return order_page(200, live, say("account").in_language(language),
                          _list([order for order, _ in found], paths, language) + more)


def _list(orders: list[Order], paths: dict[int, str], language: Language) -> Markup:
    rows = Markup("").join(Markup(
        '<tr><td><a href="{}">{}</a><br>{:%Y-%m-%d} · {}</td><td>{}</td></tr>').format(
            paths[order.id], say("order-words", number=order.number).in_language(language),
            datetime.fromtimestamp(order.at_ms / 1000),
            STATE_WORDS[order.state].in_language(language),
            amount_words(f"{order.total} {order.currency}".strip(), language))
        for order in orders)
    return Markup('<table class="all"><tbody>{}</tbody></table>').format(rows)
