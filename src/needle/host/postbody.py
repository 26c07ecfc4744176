"""Reading what a form posted: bounded in size and count, in UTF-8 alone, off the event loop."""

import asyncio
import re
from collections.abc import AsyncIterator
from dataclasses import dataclass, field

import anyio.to_thread
from python_multipart.exceptions import FormParserError
from starlette.datastructures import Headers, UploadFile
from starlette.formparsers import MultiPartException, MultiPartParser
from starlette.requests import ClientDisconnect, Request

from needle.core.leads.attachments import LARGEST_KB, SentFile
from needle.core.leads.storable import storable
from needle.core.messages.message import Message, say
from needle.core.values.form import Form, Role
from needle.host.oddities import fields_of, first_values

__all__ = ["LONGEST_BODY", "LONGEST_WITH_FILES", "Posted", "read_fields", "read_post"]

LONGEST_BODY = 200_000
LONGEST_WITH_FILES = 25_000_000
_MOST_FILES = 20
_MOST_PARTS = 500
# RFC 2046, section 5.1.1.
_BOUNDARY = re.compile(r"""[0-9A-Za-z'()+_,./:=? -]{0,69}[0-9A-Za-z'()+_,./:=?-]""")
_PARAMETER = re.compile(r';\s*([a-z0-9-]+)\s*=\s*(?:"([^"\\]*)"|([^;"\s]+))', re.IGNORECASE)
_BROKEN = say("host-form-broken")


@dataclass
class Posted:
    """What came in a form's post.

    Attributes:
        sent: The first value of each field.
        many: All values of each field.
        fault: What is wrong with the post as a whole.
    """

    sent: dict[str, str] = field(default_factory=dict)
    many: dict[str, list[str]] = field(default_factory=dict)
    files: dict[str, SentFile] = field(default_factory=dict)
    fault: Message | None = None


async def read_post(request: Request, form: Form) -> Posted:
    """Return the fields of a posted form, or what is wrong with it."""
    kind, _, rest = request.headers.get("content-type", "").partition(";")
    kind = kind.strip().lower()
    told = {name.lower(): quoted or bare for name, quoted, bare in _PARAMETER.findall(f";{rest}")}
    takes_files = any(field.role is Role.FILE for field in form.fields)
    if told.get("charset", "utf-8").lower() not in ("utf-8", "utf8", "us-ascii"):
        return Posted(fault=say("host-form-utf8"))
    if kind == "multipart/form-data" and takes_files:
        boundary = told.get("boundary", "")
        if _BOUNDARY.fullmatch(boundary) is None:
            return Posted(fault=_BROKEN)
        return await _read_parts(request, boundary)
    if kind == "application/x-www-form-urlencoded":
        return await _read_fields(request)
    return Posted(fault=say("host-form-odd"))


async def read_fields(request: Request) -> dict[str, str] | None:
    """Return the fields of a post that brings no file, the first value of each; `None` for what is
    no such post."""
    kind = request.headers.get("content-type", "").partition(";")[0].strip().lower()
    if kind != "application/x-www-form-urlencoded":
        return None
    posted = await _read_fields(request)
    return None if posted.fault else posted.sent


async def _body(request: Request, longest: int) -> bytes | None:
    parts, size = [], 0
    try:
        async for chunk in request.stream():
            parts.append(chunk)
            size += len(chunk)
            if size > longest:
                return None
    except ClientDisconnect:
        return None
    return b"".join(parts)


async def _read_fields(request: Request) -> Posted:
    body = await _body(request, LONGEST_BODY)
    if body is None:
        return Posted(fault=say("host-form-large"))
    fields = fields_of(body.decode("utf-8", "replace"))
    return Posted(first_values(fields), fields)


async def _read_parts(request: Request, boundary: str) -> Posted:
    body = await _body(request, LONGEST_WITH_FILES)
    if body is None:
        return Posted(fault=say("host-form-large-file", most=LARGEST_KB))
    return await anyio.to_thread.run_sync(lambda: asyncio.run(_parted(body, boundary)))


async def _parted(body: bytes, boundary: str) -> Posted:
    async def stream() -> AsyncIterator[bytes]:
        yield body

    # Only what was checked of the header: a charset of the sender's choosing may cost minutes.
    headers = Headers({"content-type": f'multipart/form-data; boundary="{boundary}"'})
    parser = MultiPartParser(headers, stream(), max_files=_MOST_FILES,  # type: ignore[arg-type]
                             max_fields=_MOST_PARTS, max_part_size=LONGEST_BODY)
    posted = Posted()
    try:
        parts = (await parser.parse()).multi_items()
    except (MultiPartException, FormParserError, UnicodeError, KeyError, ValueError):
        return Posted(fault=_BROKEN)
    for name, value in parts:
        if isinstance(value, UploadFile):
            if value.filename:
                posted.files.setdefault(storable(name), SentFile(storable(value.filename, 1000),
                                                              await value.read()))
            await value.close()
        else:
            posted.many.setdefault(storable(name), []).append(storable(value))
    posted.sent = first_values(posted.many)
    return posted
