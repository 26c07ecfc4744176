"""The practice ledger: takes web hooks, checks their signature and keeps each lead once.

    POST /leads      a lead; `Idempotency-Key`, `X-Signature: t=SECONDS,v1=HEX`
    GET  /leads      what has come in, for tests and for looking
"""

import hashlib
import hmac
import json
import sqlite3
import threading
from pathlib import Path

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from needle.practice.faults import broken_after, broken_before, read_fault
from needle.practice.running import run_practice

__all__ = ["make_app"]


def _signed(secret: str, header: str, body: bytes) -> bool:
    parts = dict(part.partition("=")[::2] for part in header.split(","))
    wanted = hmac.new(secret.encode(), parts.get("t", "").encode() + b"." + body, hashlib.sha256)
    return hmac.compare_digest(wanted.hexdigest(), parts.get("v1", ""))


def make_app(folder: Path, key: str) -> Starlette:
    """Return the ledger over a folder that holds its entries."""
    lock = threading.Lock()
    store = sqlite3.connect(folder / "ledger.db", check_same_thread=False)
    store.executescript(
        "CREATE TABLE IF NOT EXISTS entries (number INTEGER PRIMARY KEY, key TEXT UNIQUE,"
        " body TEXT, posts INTEGER); PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL")

    async def take(request: Request) -> Response:
        if broken := await broken_before(folder, request):
            return broken
        body = await request.body()
        if not _signed(key, request.headers.get("x-signature", ""), body):
            return JSONResponse({"error": "the signature is wrong"}, 401)
        if read_fault(folder) == "field":
            return JSONResponse({"error": "unknown field"}, 422)
        with lock, store:
            store.execute(
                "INSERT INTO entries (key, body, posts) VALUES (?, ?, 1)"
                " ON CONFLICT (key) DO UPDATE SET posts = posts + 1",
                (request.headers.get("idempotency-key", ""), body.decode("utf-8", "replace")))
        return broken_after(folder, JSONResponse({"result": "written"}, 201))

    async def show(request: Request) -> Response:
        with lock:
            rows = store.execute("SELECT key, body, posts FROM entries ORDER BY number").fetchall()
        return JSONResponse([{"key": k, "body": json.loads(b) if b[:1] in "{[" else b, "posts": n}
                             for k, b, n in rows])

    return Starlette(routes=[Route("/leads", take, methods=["POST"]),
                             Route("/leads", show, methods=["GET"])])


if __name__ == "__main__":
    run_practice("The practice ledger.", make_app, "/leads", expects="written")
