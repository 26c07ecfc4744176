"""Paying orders through payment services: begun from the visitor's link, heard of by signed calls,
looked up where nobody calls, and paid back."""

import logging
import time
from collections.abc import Callable
from decimal import Decimal
from functools import partial
from pathlib import Path

import anyio
import anyio.to_thread
from markupsafe import Markup
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response
from starlette.routing import Route

from needle.core.messages.message import say
from needle.core.site.site import Service
from needle.core.values.ids import Id
from needle.core.values.language import ENGLISH
from needle.host.answers import word
from needle.host.clock import now_ms
from needle.host.orderpage import order_page
from needle.host.orderpaths import OrderPaths
from needle.publish.release import Live
from needle.services.adapter import ServiceError
from needle.services.payments import Asked, PaymentService, UnsignedError
from needle.services.registry import PAYMENT_KINDS, payment_service_for
from needle.store.refusing import StoreError
from needle.store.results.ordered import Order
from needle.store.results.orders import order_of
from needle.store.results.payments import (
    Payment,
    Refund,
    begin_payment,
    due_payments,
    due_refunds,
    lapse_orders,
    note_payment,
    note_refund,
    open_payment,
    payment_called,
    payments_of,
    settle_payment,
)

__all__ = ["PayDesk"]

_log = logging.getLogger(__name__)
_PAUSE_S = 1.0
_CLIENTS_KEPT_S = 5.0
# Whoever comes back waits no longer to be told how their payment stands.
_LOOK_S = 3.0
_LONGEST_CALL = 20_000


class PayDesk:
    """The part of the host at which orders are paid, and its work beside that."""

    def __init__(self, project: Path, engine: Engine, live: Callable[[], Live | None],
                 paths: OrderPaths) -> None:
        self._project, self._engine, self._live, self._paths = project, engine, live, paths
        self._clients: dict[Id, tuple[float, Service, PaymentService | None]] = {}

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/_needle/pay/{lead}/{seal}", self.pay),
                Route("/_needle/paid/{service}", self.called, methods=["POST"])]

    # The visitor

    async def pay(self, request: Request) -> Response:
        """Lead a visitor to where their order is paid."""
        live = self._live()
        language = live.language if live is not None else ENGLISH
        key = request.path_params["lead"]
        order = await anyio.to_thread.run_sync(order_of, self._engine, key) if (
            self._paths.holds(key, request.path_params["seal"])) else None
        if order is None:
            return word(410, say("order-dead"), language)
        shown = request.url.path.replace("/_needle/pay/", "/_needle/order/", 1)
        if live is None or not order.open:
            return RedirectResponse(shown, 303, {"Cache-Control": "no-store"})
        try:
            payment = await anyio.to_thread.run_sync(self._begun, order, live, shown)
        except StoreError:  # It was paid, or lapsed, meanwhile.
            return RedirectResponse(shown, 303, {"Cache-Control": "no-store"})
        pay = say("order-pay").in_language(language)
        if payment is None:
            return order_page(
                503, live, say("order-pay-down", number=order.number).in_language(language),
                Markup('<p><a class="do main" href="{}">{}</a></p>').format(
                    request.url.path, pay))
        # A form's own policy holds for all that it leads to, so this is a page of its own.
        return order_page(
            200, live, say("order-words", number=order.number).in_language(language),
            Markup('<p><a class="do main" href="{}">{}</a></p>').format(payment.go, pay),
            payment.go)

    def _begun(self, order: Order, live: Live, shown: str) -> Payment | None:
        """Return an order's payment once its service has begun it; `None` if it did not.

        Raises:
            StoreError: The order does not wait to be paid.
        """
        payment = begin_payment(self._engine, order.id, order.pay.service, now_ms())
        if payment.state == "open":
            self._look(payment)
            payment = begin_payment(self._engine, order.id, order.pay.service, now_ms())
        if payment.state == "open":
            return payment
        client = self._client(payment.service)
        try:
            if client is None:
                return None
            begun = client.begin(Asked(
                payment.key, payment.amount, payment.currency,
                say("order-words", number=order.number).in_language(live.language),
                self._paths.whole(live, shown.lstrip("/")),
                self._paths.whole(live, f"_needle/paid/{payment.service}"), live.language))
        except ServiceError as error:
            note_payment(self._engine, payment.id, str(error))
            return None
        open_payment(self._engine, payment.id, begun.reference, begun.go)
        return payment._replace(state="open", reference=begun.reference, go=begun.go)

    async def look_for(self, order: Order) -> None:
        """Ask how an order's payment stands, for somebody who comes back from paying it.

        What cannot be stored now is asked again later.
        """
        try:
            with anyio.move_on_after(_LOOK_S):
                await anyio.to_thread.run_sync(partial(self._look_all, order.id),
                                               abandon_on_cancel=True)
        except SQLAlchemyError as error:
            _log.error("how a payment stands was not stored (%s)", type(error).__name__)

    def _look_all(self, order_id: int) -> None:
        for payment in payments_of(self._engine, order_id):
            if payment.state == "open":
                self._look(payment)

    # The service

    async def called(self, request: Request) -> Response:
        """Take a service's signed call, however often and late it comes."""
        service = request.path_params["service"]
        client = await anyio.to_thread.run_sync(self._client, service)
        body = await request.body()
        if client is None or len(body) > _LONGEST_CALL:
            return word(404, "There is no such service.")
        try:
            told = client.called(request.headers, body, int(time.time()))
        except UnsignedError:
            _log.warning("a call about a payment was not signed as it should be")
            return word(401, "The signature is wrong.")
        payment = await anyio.to_thread.run_sync(
            payment_called, self._engine, service, told.id)
        if payment is None:
            return word(404, "There is no such payment yet.")
        await anyio.to_thread.run_sync(settle_payment, self._engine, payment.id, told.state,
                                       told.amount, told.currency, now_ms())
        return Response(status_code=204)

    def _client(self, service_id: Id) -> PaymentService | None:
        """Return a service's client; keys and addresses are read again every few seconds."""
        live = self._live()
        service = next((one for one in (live.services if live is not None else ())
                        if one.id == service_id and one.does in PAYMENT_KINDS), None)
        if service is None:
            return None
        made, known, client = self._clients.get(service_id, (0.0, None, None))
        if known != service or time.monotonic() - made > _CLIENTS_KEPT_S:
            client = payment_service_for(self._project, service)
            self._clients[service_id] = (time.monotonic(), service, client)
        return client

    # Beside that

    async def run(self) -> None:
        """Look payments up, give back what was not paid in time, and pay back; until cancelled."""
        while True:
            await anyio.to_thread.run_sync(self._work)
            await anyio.sleep(_PAUSE_S)

    def _work(self) -> None:
        for payment in due_payments(self._engine, now_ms()):
            if payment.state == "open":
                self._look(payment)
        lapse_orders(self._engine, now_ms())
        for refund, payment in due_refunds(self._engine, now_ms()):
            self._pay_back(refund, payment)

    def _look(self, payment: Payment) -> None:
        client = self._client(payment.service)
        if client is None:
            return
        try:
            told = client.look_up(payment.reference)
        except ServiceError as error:
            note_payment(self._engine, payment.id, str(error))
            return
        if told.id == payment.reference:
            settle_payment(self._engine, payment.id, told.state, told.amount, told.currency,
                           now_ms())

    def _pay_back(self, refund: Refund, payment: Payment) -> None:
        client = self._client(payment.service)
        if client is None:
            note_refund(self._engine, refund.id, "waiting", "the service is no longer set up")
            return
        try:
            client.pay_back(payment.reference, Decimal(refund.amount), refund.key)
        except ServiceError as error:
            # Refused for good is what the service does not take; all else is tried again.
            state = "waiting" if error.down or not error.answer else "failed"
            note_refund(self._engine, refund.id, state, str(error))
        else:
            note_refund(self._engine, refund.id, "done")
