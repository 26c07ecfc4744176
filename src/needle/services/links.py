"""Asking outside addresses whether anything is there, as a visitor's browser would meet it."""

import socket
import ssl
from collections.abc import Callable, Sequence
from concurrent.futures import ThreadPoolExecutor, as_completed

import httpx

from needle.core.snags.beyond import LinkAnswer, LinkFault

__all__ = ["ask_link", "ask_links"]

_TIMEOUT_S, _HOPS, _AT_ONCE = 10.0, 6, 8
# Of RFC 9110, 15.4: from now on somewhere else.
_PERMANENT = frozenset({301, 308})
# Servers that know no HEAD, or will not answer it.
_ASK_AGAIN = frozenset({400, 403, 404, 405, 500, 501})
_HEADERS = {"User-Agent": "Needle, asking whether a link still leads somewhere", "Accept": "*/*"}


def ask_link(client: httpx.Client, address: str) -> LinkAnswer:
    """Follow an address to where it ends; nothing of what stands there is read.

    Args:
        client: One that follows no redirects by itself.
    """
    here, moved, lasting = address, "", True
    if not _onward(address, ""):
        return LinkAnswer(fault="name")
    try:
        for _ in range(_HOPS):
            answer = _head(client, here)
            if not answer.is_redirect:
                return LinkAnswer(answer.status_code, moved)
            onward = _onward(here, answer.headers["Location"])
            if not onward:
                return LinkAnswer(answer.status_code, moved)
            here, lasting = onward, lasting and answer.status_code in _PERMANENT
            moved = here if lasting else moved
    except (httpx.HTTPError, httpx.InvalidURL, ValueError) as error:
        return LinkAnswer(fault=_why(error))
    return LinkAnswer(fault="silent")  # It goes round in a circle.


def _onward(here: str, location: str) -> str:
    """Return where a redirect leads; empty where no browser would follow it."""
    try:
        onward = httpx.URL(here).join(location)
    except httpx.InvalidURL:
        return ""
    return str(onward) if onward.scheme in ("http", "https") and onward.host else ""


def _head(client: httpx.Client, address: str) -> httpx.Response:
    answer = client.head(address)
    if answer.status_code in _ASK_AGAIN:
        with client.stream("GET", address) as answer:
            return answer
    return answer


def _why(error: Exception) -> LinkFault:
    seen: BaseException | None = error
    while seen is not None:
        if isinstance(seen, socket.gaierror):
            return "name"
        if isinstance(seen, ssl.SSLError):
            return "unsafe"
        seen = seen.__cause__ or seen.__context__
    return "silent"


def ask_links(addresses: Sequence[str], told: Callable[[str, LinkAnswer], bool],
              trust: ssl.SSLContext | bool = True) -> None:
    """Ask addresses, a few at a time.

    Args:
        told: Called with each answer as it comes; returns whether to go on.
        trust: Which certificates are trusted; those that the system trusts by default.
    """
    with httpx.Client(timeout=_TIMEOUT_S, trust_env=False, follow_redirects=False,
                      headers=_HEADERS, verify=trust) as client, \
            ThreadPoolExecutor(_AT_ONCE) as pool:
        asked = {pool.submit(ask_link, client, address): address for address in addresses}
        for done in as_completed(asked):
            if not told(asked[done], done.result()):
                pool.shutdown(wait=False, cancel_futures=True)
                return
