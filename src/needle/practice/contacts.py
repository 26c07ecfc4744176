"""The practice address book: as much CardDAV (RFC 6352) as keeping contacts takes.

    PROPFIND /dav/             the address books
    PROPFIND /dav/BOOK/        the contacts in one
    PUT, GET, DELETE /dav/BOOK/ID.vcf
"""

import base64
import hashlib
import re
from pathlib import Path
from xml.sax.saxutils import escape

from starlette.applications import Starlette
from starlette.requests import Request
from starlette.responses import JSONResponse, PlainTextResponse, Response
from starlette.routing import Route

from needle.practice.faults import broken_after, broken_before, read_fault
from needle.practice.running import run_practice
from needle.store.files import write_atomically

__all__ = ["BOOKS", "USER", "make_app"]

USER = "desk"
BOOKS = {"guests": "Guests", "schools": "Schools and groups"}
_NAME = re.compile(r"[\w-]{1,80}\.vcf\Z")


def make_app(folder: Path, key: str) -> Starlette:
    """Return the service over a folder that holds its books."""
    shown = "Basic " + base64.b64encode(f"{USER}:{key}".encode()).decode()

    async def refusal(request: Request) -> Response | None:
        if broken := await broken_before(folder, request):
            return broken
        if request.headers.get("authorization") != shown:
            return PlainTextResponse("Log in", 401, {"WWW-Authenticate": 'Basic realm="book"'})
        book = request.path_params.get("book")
        name = request.path_params.get("name")
        if (book is not None and book not in BOOKS) or (name and not _NAME.match(name)):
            return PlainTextResponse("Not found", 404)
        return None

    async def books(request: Request) -> Response:
        if refused := await refusal(request):
            return refused
        if request.method == "OPTIONS":
            return Response(headers={"DAV": "1, 3, addressbook"})
        return _multistatus([(f"/dav/{key}/", name, True) for key, name in BOOKS.items()])

    async def contacts(request: Request) -> Response:
        if refused := await refusal(request):
            return refused
        book = request.path_params["book"]
        found = sorted((folder / book).glob("*.vcf"))
        return _multistatus([(f"/dav/{book}/", BOOKS[book], True),
                             *((f"/dav/{book}/{file.name}", file.stem, False) for file in found)])

    async def contact(request: Request) -> Response:
        if refused := await refusal(request):
            return refused
        file = folder / request.path_params["book"] / request.path_params["name"]
        if request.method == "PUT":
            return broken_after(folder, await _put(request, file))
        if not file.is_file():
            return PlainTextResponse("Not found", 404)
        if request.method == "DELETE":
            file.unlink()
            return Response(status_code=204)
        return Response(file.read_bytes(), media_type="text/vcard")

    async def _put(request: Request, file: Path) -> Response:
        body = await request.body()
        words = body.decode("utf-8", "replace")
        if "BEGIN:VCARD" not in words or read_fault(folder) == "field":
            return JSONResponse({"error": "a field of this card is not taken"}, 422)
        there = file.exists()
        write_atomically(file, body)
        tag = hashlib.sha256(body).hexdigest()[:16]
        return Response(status_code=204 if there else 201, headers={"ETag": f'"{tag}"'})

    return Starlette(routes=[
        Route("/dav/", books, methods=["PROPFIND", "OPTIONS"]),
        Route("/dav/{book}/", contacts, methods=["PROPFIND"]),
        Route("/dav/{book}/{name}", contact, methods=["PUT", "GET", "DELETE"])])


def _multistatus(parts: list[tuple[str, str, bool]]) -> Response:
    kind = "<D:collection/><C:addressbook/>"
    body = "".join(
        f"<D:response><D:href>{escape(href)}</D:href><D:propstat><D:prop>"
        f"<D:displayname>{escape(name)}</D:displayname>"
        f"<D:resourcetype>{kind if book else ''}</D:resourcetype></D:prop>"
        "<D:status>HTTP/1.1 200 OK</D:status></D:propstat></D:response>"
        for href, name, book in parts)
    return Response('<?xml version="1.0"?><D:multistatus xmlns:D="DAV:" '
                    f'xmlns:C="urn:ietf:params:xml:ns:carddav">{body}</D:multistatus>', 207,
                    media_type="application/xml")


if __name__ == "__main__":
    run_practice("The practice address book.", make_app, "/dav/", user=USER)
