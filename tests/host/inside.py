"""Asking the host in this process, without a net: requests, seals, a lead."""

import asyncio
import contextlib
from collections.abc import Coroutine, Mapping
from pathlib import Path
from typing import Any
from unittest import mock

import httpx
from starlette.requests import Request

from needle.core.values.form import Form
from needle.store.results.taking import NewLead
from needle.store.seals import Seals
from tests.sites import FORM

__all__ = ["FILE", "LEAD", "PLAIN", "SEALS", "ask", "request", "run"]

with mock.patch("needle.store.seals._secret", return_value=b"k" * 32):
    SEALS = Seals(Path("."))
FILE = "night/index.html"
PLAIN = Form(id=FORM, name="F", fields=())
LEAD = NewLead(key="k" * 20, at_ms=1, visitor="v", form="f", form_name="F", page="p", variant="A",
               email="", answers=[])


def run(work: Coroutine[Any, Any, Any]) -> Any:
    """Do a piece of work in a loop of its own, and return what came of it."""
    return asyncio.run(work)


def request(path: str = "/", body: bytes = b"", method: str = "POST", scheme: str = "http",
            query: bytes = b"", **headers: str) -> Request:
    """Return a request as a server would hand it on; "_" in a header's name stands for "-"."""
    async def receive() -> Mapping[str, Any]:
        return {"type": "http.request", "body": body, "more_body": False}

    return Request({
        "type": "http", "method": method, "path": path, "raw_path": path.encode(),
        "scheme": scheme, "query_string": query, "server": ("127.0.0.1", 8000),
        "client": ("203.0.113.5", 4000), "path_params": {"form": FORM},
        "headers": [(name.replace("_", "-").encode(), value.encode())
                    for name, value in headers.items()]}, receive)  # type: ignore[arg-type]


def ask(app: Any, path: str = "/", method: str = "GET", content: bytes | None = None,
        base: str = "http://hill.example", alive: bool = False, **headers: str) -> httpx.Response:
    """Ask an app for something, and return its answer.

    Args:
        alive: The app's own work runs beside the asking; else what waits for it waits for ever.
    """
    async def go() -> httpx.Response:
        transport = httpx.ASGITransport(app=app)
        around = app.router.lifespan_context(app) if alive else contextlib.nullcontext()
        async with around, httpx.AsyncClient(transport=transport, base_url=base) as client:
            return await client.request(method, path, content=content, headers={
                name.replace("_", "-"): value for name, value in headers.items()})

    answer: httpx.Response = run(go())
    return answer
