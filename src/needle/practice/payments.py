"""The practice payment service: begins payments, has pages of its own on which they are paid, and
calls back. Nothing is paid in truth; no card is asked for.

    GET    /v1/account                  whose it is
    POST   /v1/payments                 begins one; `Idempotency-Key`, `Authorization: Bearer KEY`
    GET    /v1/payments/ID              what became of it
    POST   /v1/payments/ID/refunds      pays back; `Idempotency-Key`
    GET    /v1/refunds                  all that was paid back, for tests and for looking
    GET    /pay/ID                      where a payer pays; POST does it
"""

import asyncio
import contextlib
import json
import secrets
import sqlite3
import threading
import time
from collections.abc import Mapping
from decimal import Decimal
from html import escape
from pathlib import Path
from typing import Any
from urllib.parse import urlsplit

import httpx
from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import HTMLResponse, JSONResponse, RedirectResponse, Response
from starlette.routing import Route

from needle.practice.faults import broken_before, read_fault
from needle.practice.running import run_practice
from needle.running.signing import signature

__all__ = ["PAY_FAULTS", "make_app"]

PAY_FAULTS: Mapping[str, str] = {
    "none": "works", "down": "is down (503)", "slow": "answers after 8 s",
    "key": "refuses the key (401)", "nonsense": "answers nonsense",
    "declines": "declines each payment", "second": "asks for a code as a second step",
    "twice": "calls twice", "early": "calls before the payer is back",
    "signature": "calls with a wrong signature", "never": "never calls",
    "other": "has less paid than was asked"}
# A call that is not taken is made again after these pauses.
_CALL_PAUSES_S = (0.3, 1.0, 3.0, 10.0)
_CODE = "123456"
_PAGE = """<!doctype html><html lang="en"><meta charset="utf-8">
<meta name="viewport" content="width=device-width,initial-scale=1"><title>Practice payment</title>
<style>body{{font:17px/1.5 system-ui,sans-serif;max-width:30rem;margin:12vh auto;padding:0 20px;
color:#14213d;background:#fff}}button{{font:inherit;min-height:48px;padding:0 22px;margin:0 10px
10px 0}}input{{font:inherit;min-height:44px;width:8em}}</style><main><h1>Practice payment</h1>
<p>{words}</p><p><b>{amount} {currency}</b></p><p>Nothing is paid in truth. {more}</p>
<form method="post">{inside}</form></main></html>"""


class _Book:
    """What was begun, paid and paid back, in a database in the service's folder."""

    def __init__(self, folder: Path) -> None:
        self._lock = threading.Lock()
        self._store = sqlite3.connect(folder / "payments.db", check_same_thread=False)
        self._store.row_factory = sqlite3.Row
        self._store.executescript(
            "CREATE TABLE IF NOT EXISTS payments (id TEXT PRIMARY KEY, key TEXT UNIQUE,"
            " state TEXT, amount TEXT, paid TEXT, currency TEXT, words TEXT, back TEXT,"
            " notify TEXT);"
            "CREATE TABLE IF NOT EXISTS refunds (key TEXT PRIMARY KEY, payment TEXT, amount TEXT);"
            "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL")

    def begin(self, key: str, told: Mapping[str, str]) -> sqlite3.Row:
        """Return the payment of a key, begun once."""
        with self._lock, self._store:
            self._store.execute(
                "INSERT INTO payments VALUES (?, ?, 'open', ?, '', ?, ?, ?, ?)"
                " ON CONFLICT (key) DO NOTHING",
                (f"p_{secrets.token_hex(8)}", key, told["amount"], told["currency"],
                 told["words"], told["back"], told["notify"]))
            return self._one("key", key)

    def payment(self, payment_id: str) -> sqlite3.Row | None:
        """Return a payment."""
        with self._lock:
            row: sqlite3.Row | None = self._store.execute(
                "SELECT * FROM payments WHERE id = ?", (payment_id,)).fetchone()
            return row

    def _one(self, column: str, value: str) -> sqlite3.Row:
        row: sqlite3.Row = self._store.execute(
            f"SELECT * FROM payments WHERE {column} = ?", (value,)).fetchone()
        return row

    def end(self, payment_id: str, state: str, paid: str) -> None:
        """Have a payment be paid or failed; what is, stays so."""
        with self._lock, self._store:
            self._store.execute("UPDATE payments SET state = ?, paid = ? WHERE id = ?"
                                " AND state = 'open'", (state, paid, payment_id))

    def pay_back(self, payment: sqlite3.Row, amount: Decimal, key: str) -> bool:
        """Pay back, once for each key; return `False` for more than was paid."""
        with self._lock, self._store:
            if self._store.execute("SELECT 1 FROM refunds WHERE key = ?", (key,)).fetchone():
                return True
            given = sum((Decimal(row["amount"]) for row in self._store.execute(
                "SELECT amount FROM refunds WHERE payment = ?", (payment["id"],))), Decimal(0))
            if payment["state"] != "paid" or given + amount > Decimal(payment["paid"]):
                return False
            self._store.execute("INSERT INTO refunds VALUES (?, ?, ?)",
                                (key, payment["id"], f"{amount:.2f}"))
            return True

    def refunds(self) -> list[dict[str, str]]:
        """Return all that was paid back."""
        with self._lock:
            return [dict(row) for row in self._store.execute("SELECT * FROM refunds")]

    def payments(self) -> list[dict[str, str]]:
        """Return all payments."""
        with self._lock:
            return [dict(row) for row in self._store.execute("SELECT * FROM payments")]


class _Desk:
    """The service over its book."""

    def __init__(self, folder: Path, key: str) -> None:
        self._folder, self._key, self._book = folder, key, _Book(folder)
        self._calls: set[asyncio.Task[None]] = set()

    def routes(self) -> list[Route]:
        """Return what is reached at which address."""
        return [Route("/v1/account", self.account),
                Route("/v1/payments", self.payments, methods=["GET", "POST"]),
                Route("/v1/payments/{id}", self.looked_up),
                Route("/v1/payments/{id}/refunds", self.pay_back, methods=["POST"]),
                Route("/v1/refunds", self.refunds),
                Route("/pay/{id}", self.pay, methods=["GET", "POST"])]

    def _fault(self) -> str:
        return read_fault(self._folder, PAY_FAULTS)

    async def _refusal(self, request: Request) -> Response | None:
        if broken := await broken_before(self._folder, request):
            return broken
        if request.headers.get("authorization") != f"Bearer {self._key}":
            return JSONResponse({"error": "unknown key"}, 401)
        return None

    def _shown(self, row: sqlite3.Row, request: Request | None = None) -> dict[str, str]:
        amount = row["paid"] if row["state"] == "paid" else row["amount"]
        told = {"id": row["id"], "state": row["state"], "amount": amount,
                "currency": row["currency"]}
        if request is not None:
            told["go"] = f"{request.url.scheme}://{request.url.netloc}/pay/{row['id']}"
        return told

    async def account(self, request: Request) -> Response:
        """Say whose it is."""
        return await self._refusal(request) or JSONResponse({"name": "Practice account"})

    async def payments(self, request: Request) -> Response:
        """Begin a payment, or list all of them."""
        if refused := await self._refusal(request):
            return refused
        if request.method == "GET":
            return JSONResponse(self._book.payments())
        key = request.headers.get("idempotency-key", "")
        try:
            told = {name: str(value) for name, value in (await request.json()).items()}
            fine = bool(key) and Decimal(told["amount"]) > 0 and all(
                name in told for name in ("currency", "words", "back", "notify"))
        except (ValueError, ArithmeticError, KeyError, AttributeError):
            fine = False
        if not fine:
            return JSONResponse({"error": "a payment needs a key, an amount and addresses"}, 422)
        return JSONResponse(self._shown(self._book.begin(key, told), request), 201)

    async def looked_up(self, request: Request) -> Response:
        """Say what became of a payment."""
        if refused := await self._refusal(request):
            return refused
        row = self._book.payment(request.path_params["id"])
        return JSONResponse(self._shown(row, request)) if row is not None else JSONResponse(
            {"error": "no such payment"}, 404)

    async def pay_back(self, request: Request) -> Response:
        """Pay back."""
        if refused := await self._refusal(request):
            return refused
        row = self._book.payment(request.path_params["id"])
        key = request.headers.get("idempotency-key", "")
        try:
            amount = Decimal(str((await request.json())["amount"]))
        except (ValueError, ArithmeticError, KeyError, TypeError):
            amount = Decimal(0)
        if row is None or not key or amount <= 0 or not self._book.pay_back(row, amount, key):
            return JSONResponse({"error": "that cannot be paid back"}, 422)
        return JSONResponse({"state": "done", "amount": f"{amount:.2f}"}, 201)

    async def refunds(self, request: Request) -> Response:
        """Say all that was paid back."""
        return JSONResponse(self._book.refunds())

    # The payer's side

    async def pay(self, request: Request) -> Response:
        """Show a payment to its payer, or have them pay it."""
        row = self._book.payment(request.path_params["id"])
        if row is None:
            return HTMLResponse("There is no such payment.", 404)
        if request.method == "GET":
            return HTMLResponse(_page(row, second=False))
        sent = await request.form()
        fault, wish = self._fault(), str(sent.get("do", ""))
        if wish == "pay" and fault == "second" and sent.get("code") != _CODE:
            return HTMLResponse(_page(row, second=True))
        if wish in ("pay", "no"):
            state = "paid" if wish == "pay" and fault != "declines" else "failed"
            paid = f"{Decimal(row['amount']) - Decimal('0.01'):.2f}" if fault == "other" else (
                row["amount"])
            self._book.end(row["id"], state, paid)
            await self._tell(row["id"], fault)
        return RedirectResponse(row["back"], 303)

    async def _tell(self, payment_id: str, fault: str) -> None:
        """Call whoever asked for the payment, after the payer went back as a rule."""
        row = self._book.payment(payment_id)
        if row is None or fault == "never":
            return
        if fault == "early":
            await self._call(row, fault)
            return
        for _ in range(2 if fault == "twice" else 1):
            task = asyncio.create_task(self._call(row, fault))
            self._calls.add(task)
            task.add_done_callback(self._calls.discard)

    async def _call(self, row: sqlite3.Row, fault: str) -> None:
        body = json.dumps(self._shown(row)).encode()
        parts = urlsplit(row["notify"])
        # Names below localhost are this machine's, whether its resolver knows them or not.
        address, host = row["notify"], parts.netloc
        if (parts.hostname or "").endswith(".localhost"):
            address = row["notify"].replace(
                parts.netloc, f"127.0.0.1:{parts.port or 80}", 1)
        async with httpx.AsyncClient(timeout=5, trust_env=False) as client:
            for pause in (0.0, *_CALL_PAUSES_S):
                await asyncio.sleep(pause)
                key = "wrong" if fault == "signature" else self._key
                with contextlib.suppress(httpx.HTTPError):
                    answer = await client.post(address, content=body, headers={
                        "Host": host, "Content-Type": "application/json",
                        "X-Signature": signature(key, int(time.time()), body)})
                    if answer.status_code < 300:
                        return


def _page(row: sqlite3.Row, second: bool) -> str:
    if row["state"] != "open":
        inside = "<button name=do value=back>Back to the shop</button>"
        more = "It is paid." if row["state"] == "paid" else "It was declined."
    elif second:
        inside = ("<p><label>Code <input name=code inputmode=numeric autocomplete=off></label></p>"
                  "<button name=do value=pay>Confirm</button>"
                  "<button name=do value=no>Decline</button>")
        more = f"A second step: the code is {_CODE}."
    else:
        inside = ("<button name=do value=pay>Pay</button>"
                  "<button name=do value=no>Decline</button>"
                  "<button name=do value=back>Back without paying</button>")
        more = ""
    values: dict[str, Any] = {name: escape(row[name]) for name in ("words", "amount", "currency")}
    return _PAGE.format(inside=inside, more=more, **values)


def make_app(folder: Path, key: str) -> Starlette:
    """Return the service over a folder that holds its book."""
    return Starlette(routes=_Desk(folder, key).routes())


if __name__ == "__main__":
    run_practice("The practice payment service.", make_app, "/v1")
