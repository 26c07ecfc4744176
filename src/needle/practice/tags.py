"""The practice tag receiver: takes what tracking codes on pages ask for and remembers it.

    any request with `?practice-for=ADDRESS`   what a page asked of ADDRESS; answered as a script,
                                               a picture or JSON, by what was asked for
    GET  /practice/seen                        what has come in
"""

import time
from collections import deque
from pathlib import Path
from urllib.parse import parse_qs, urlsplit

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, Response
from starlette.routing import Route

from needle.practice.faults import broken_before
from needle.practice.running import run_practice

__all__ = ["make_app"]

_DOT = bytes.fromhex("47494638396101000100800000000000ffffff21f90401000000002c0000000001000100"
                     "0002024401003b")
_METHODS = ["GET", "POST", "HEAD", "OPTIONS", "PUT"]
# An account that nobody has: what a mistyped code asks for.
_UNKNOWN = "unknown"


def make_app(folder: Path, key: str) -> Starlette:
    """Return the receiver."""
    seen: deque[dict[str, object]] = deque(maxlen=5000)

    async def take(request: Request) -> Response:
        address = request.query_params.get("practice-for", str(request.url))
        body = await request.body()
        answer = await broken_before(folder, request) or _answer(request.method, address)
        seen.append({"at": time.time(), "method": request.method, "address": address,
                     "body": body[:2000].decode("utf-8", "replace"),
                     "status": answer.status_code})
        return answer

    async def show(request: Request) -> Response:
        return JSONResponse(list(seen))

    return Starlette(routes=[Route("/practice/seen", show),
                             Route("/{path:path}", take, methods=_METHODS)])


def _answer(method: str, address: str) -> Response:
    """Return what such an address would answer: a script, a picture, or JSON."""
    open_to_all = {"Access-Control-Allow-Origin": "*", "Cache-Control": "no-store"}
    parts = urlsplit(address)
    if _UNKNOWN in [one for many in parse_qs(parts.query).values() for one in many]:
        return JSONResponse({"error": "nobody has this account"}, 404, open_to_all)
    if parts.path.endswith(".js"):
        return Response("/* practice */", media_type="text/javascript", headers=open_to_all)
    if method == "GET":
        return Response(_DOT, media_type="image/gif", headers=open_to_all)
    return JSONResponse({"ok": True}, headers=open_to_all)


if __name__ == "__main__":
    run_practice("The practice tag receiver.", make_app)
