"""What a page may load and run: its Content Security Policy (W3C, level 3).

Our own markup needs nothing but the site itself. What the marketer's codes need is worked out from
them: the hash of every script that stands in them, and the hosts that they name. What they reach by
other names can be added by hand (`Site.open_to`).
"""

import base64
import hashlib
import re
from collections.abc import Iterable, Iterator
from html import unescape
from urllib.parse import urlsplit

from needle.core.kinds.embed import Embed
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.video import Video, frame_address
from needle.core.render.adverts import advert_script
from needle.core.render.context import Context
from needle.core.site.site import Page, Site, Variant
from needle.core.values.form import ThankAddress

__all__ = ["named_hosts", "open_host", "page_policy", "reaching", "script_hash"]

_SCRIPT = re.compile(r"<script\b[^>]*>(.*?)</script", re.IGNORECASE | re.DOTALL)
_HANDLER = re.compile(r"""\son[a-z]+\s*=\s*(?:"([^"]*)"|'([^']*)'|([^\s"'>]+))""", re.IGNORECASE)
_ADDRESS = re.compile(
    r"""(?:(https?):)?//((?:[a-z0-9-]+\.)*[a-z0-9-]+(?::[0-9]{1,5})?)(?=[/"'?#\s\\)<`,;]|$)""",
    re.IGNORECASE)
_LOADED = frozenset({"script", "style", "img", "font", "media", "connect", "frame"})
_EVAL = re.compile(r"\beval\s*\(|\bnew\s+Function\s*\(")
_OPEN = re.compile(r"(?:https?://)?(?:\*\.)?(?:[a-z0-9-]+\.)*[a-z0-9-]+(?::[0-9]{1,5})?")


def open_host(words: str) -> str:
    """Return a host as policies name it ("tags.example", "*.tags.example"), or nothing."""
    host = words.strip().lower().rstrip("/")
    return host if _OPEN.fullmatch(host) else ""


def page_policy(context: Context) -> str:
    """Return the policy of a page in a variant, without `frame-ancestors`, so that it may stand in
    the page itself as well."""
    codes = list(_codes(context.site, context.page, context.variant))
    hosts = sorted({*named_hosts(codes), *filter(None, map(open_host, context.site.open_to))})
    advert = advert_script(context)
    scripts = ["'self'", *hosts, *([script_hash(advert)] if advert else []), *_hashes(codes)]
    if any(_EVAL.search(code) for code in codes):
        scripts.append("'unsafe-eval'")
    frames, files = _players(context.variant)
    told = {
        "default-src": ["'self'"], "script-src": scripts,
        # Looks of single parts stand in attributes, which no hash can allow one by one.
        "style-src": ["'self'", "'unsafe-inline'", *hosts],
        "img-src": ["'self'", "data:", *hosts], "font-src": ["'self'", *hosts],
        "media-src": ["'self'", *sorted({*hosts, *files})],
        "connect-src": ["'self'", *hosts],
        "frame-src": sorted({*hosts, *frames}) or ["'none'"],
        "form-action": ["'self'", *sorted({*hosts, *_thanks(context)})],
        "base-uri": ["'none'"], "object-src": ["'none'"]}
    return ";".join(f"{name} {' '.join(values)}" for name, values in told.items())


def reaching(policy: str, origin: str) -> str:
    """Return a policy that lets a page reach one more origin for whatever it loads."""
    parts = []
    for part in policy.split(";"):
        name = part.split(" ", 1)[0]
        more = name.removesuffix("-src") in _LOADED and name.endswith("-src")
        bare = part.replace(" 'none'", "")
        parts.append(f"{bare} {origin}" if more else part)
    return ";".join(parts)


def named_hosts(codes: Iterable[str]) -> list[str]:
    """Return the hosts that codes name, each as a policy does."""
    found = {f"{scheme.lower() + '://' if scheme else ''}{host.lower()}"
             for code in codes for scheme, host in _ADDRESS.findall(unescape(code))
             if "." in host or ":" in host}
    return sorted(found)


def _codes(site: Site, page: Page, variant: Variant) -> Iterator[str]:
    for code in site.codes(page):
        yield from filter(None, (code.head, code.body, code.css))
    yield from (code.html for code in site.tracking_on(page))
    yield from (node.code for node in variant.nodes() if isinstance(node, Embed))


def _hashes(codes: Iterable[str]) -> list[str]:
    scripts: dict[str, None] = {}
    handlers = False
    for code in codes:
        for source in _SCRIPT.findall(code):
            if source.strip():
                scripts[script_hash(source)] = None
        for quoted in _HANDLER.findall(code):
            scripts[script_hash(unescape("".join(quoted)))] = None
            handlers = True
    return [*scripts, *(["'unsafe-hashes'"] if handlers else [])]


def script_hash(source: str) -> str:
    """Return the hash by which a policy lets one script run."""
    # A browser's parser has made one sign of each line end before it hashes.
    tidy = source.replace("\r\n", "\n").replace("\r", "\n")
    digest = hashlib.sha256(tidy.encode("utf-8", "replace")).digest()
    return f"'sha256-{base64.b64encode(digest).decode()}'"


def _players(variant: Variant) -> tuple[set[str], set[str]]:
    """Return the hosts of videos that play in a frame, and of those that are files."""
    addresses = [frame_address(node.address) for node in variant.nodes()
                 if isinstance(node, Video) and not node.film]
    hosts = {host for address in addresses if (host := _origin(address))}
    return hosts, hosts


def _thanks(context: Context) -> set[str]:
    """Return where visitors are sent after a form without scripts has been taken."""
    shown = {node.form for node in context.variant.nodes() if isinstance(node, FormBox)}
    return {host for form in context.site.forms
            if form.id in shown and isinstance(form.after, ThankAddress)
            and (host := _origin(form.after.address))}


def _origin(address: str) -> str:
    try:
        parts = urlsplit(address)
        return f"{parts.scheme}://{parts.netloc.rpartition('@')[2].lower()}" if (
            parts.scheme in ("http", "https") and _OPEN.fullmatch(
                parts.netloc.rpartition("@")[2].lower())) else ""
    except ValueError:
        return ""
