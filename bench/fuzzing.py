"""What our fuzzers try: inputs by hypothesis, and what must hold whatever comes.

Small in `./needle test` (`test_fuzz.py`), long by `./needle bench hostile`.
"""

import asyncio
import copy
import io
import json
import shutil
import tempfile
import time
import zipfile
from collections.abc import Callable
from functools import cache
from pathlib import Path
from typing import Any

import html5lib
import httpx
import msgspec
import tinycss2
from hypothesis import strategies as st
from lxml import etree
from PIL import Image
from tests.sites import EMAIL, FORM, NAME, PAGE, small_site

from needle.core.images.picturefile import PictureError, take_in
from needle.core.render.context import Context
from needle.core.render.document import Assets, live_body, live_page
from needle.core.render.ownrules import css_faults, sound_css
from needle.core.render.policy import page_policy
from needle.core.values.strict import StrictError
from needle.core.wording.pasted import items_from_html, items_from_words
from needle.demo.make import make_demo
from needle.host.app import make_app
from needle.publish.live import send_pages
from needle.publish.releases import LiveError, Releases
from needle.store.media import PublishedPictures
from needle.store.packages import PackageError, read_package, write_package
from needle.store.project import Project, ProjectError, read_site
from needle.store.results.book import Filter, list_leads
from needle.store.results.tables import open_results
from needle.store.trust import allowed_only

__all__ = ["FUZZERS", "Fuzzer", "Fuzzing", "executable"]

HANGS_S = 2.0
SCRIPT = "needleHacked"
CORPUS = (
    f'"><script>{SCRIPT}()</script>', f"'-{SCRIPT}()-'", f"</style><script>{SCRIPT}()</script>",
    f"javascript:{SCRIPT}()", "{{7*7}}", f"</title><img src=x onerror={SCRIPT}()>", "a\u2028b",
    "../../../etc/passwd", "/etc/passwd", "..\\..\\x", "CON", ".", "..", "", " ", "\0", "\ud800",
    "\ufeff", "\u202etxt", "x" * 70_000, "%00", "%2e%2e%2f", "=HYPERLINK(1)", 
    "a\r\nBcc: x@y.example",
    "{" * 500, "[" * 500, "<" * 500, "&#x" * 200, "#" * 300, "-1", "NaN", "1e999", "true", "null",
    f"<svg onload={SCRIPT}()>", f"\\3c script>{SCRIPT}()", "url(//evil.example)", "@import 'x'")
_LEADING = ("href", "src", "action", "data-frame", "data-file", "formaction", "srcdoc")

words = st.one_of(st.sampled_from(CORPUS), st.text(max_size=40),
                  st.tuples(st.sampled_from(CORPUS), st.sampled_from(CORPUS)).map("".join))
scalars = st.one_of(words, st.none(), st.booleans(), st.integers(), st.floats(allow_nan=False),
                    st.sampled_from((0, -1, 10**30, 1e308, [], {}, [[]], {"kind": "embed"})))


def executable(html: str) -> list[str]:
    """Return what of a page a browser would run or follow into a script, besides our own script
    by its address."""
    tree = html5lib.parse(html, treebuilder="etree", namespaceHTMLElements=False)
    found = []
    for node in tree.iter():
        if not isinstance(node.tag, str):
            continue
        source = str(node.get("src", ""))
        if node.tag == "script" and (node.text or not source.startswith(
                ("assets/", "../assets/"))):
            found.append(f"script {node.text or source}")
        for name, value in node.attrib.items():
            plain = "".join(str(value).split()).lower()
            if name.startswith("on") or (name in _LEADING and plain.startswith(
                    ("javascript:", "vbscript:", "data:text"))):
                found.append(f"{node.tag} {name}={value}")
    return found


class Fuzzing:
    """Everything that the fuzzers share: a project on a fast disk, a package, a host's app."""

    def __init__(self) -> None:
        fast = "/dev/shm" if Path("/dev/shm").is_dir() else None
        self.root = Path(tempfile.mkdtemp(prefix="needle-fuzz-", dir=fast))
        self.folder = self.root / "project"
        Project.create(self.folder, small_site()).close()
        make_demo(self.root / "demo").close()
        send_pages(small_site(), self.folder, [page.id for page in small_site().pages])
        self.package = self.root / "page.zip"
        write_package(small_site(), self.folder, PAGE, self.package)
        self.engine = open_results(self.root / "results.db")
        self.loop = asyncio.new_event_loop()
        self.known = self.everything()
        self._accepted = 0
        self._client: httpx.AsyncClient | None = None

    def everything(self) -> set[str]:
        """Return the names of what stands beside the project; a file more is one outside."""
        return {path.name for path in self.root.iterdir()}

    def client(self) -> httpx.AsyncClient:
        """Return a visitor of the host's app, begun on first use."""
        if self._client is None:
            app = make_app(self.folder, self.engine)
            self._lifespan = app.router.lifespan_context(app)
            self.loop.run_until_complete(self._lifespan.__aenter__())
            # Whatever fails inside is seen as it is, not as an answer 500.
            self._client = httpx.AsyncClient(
                transport=httpx.ASGITransport(app, raise_app_exceptions=True),
                base_url=f"http://{small_site().address}.localhost")
        return self._client

    def end(self) -> None:
        """Clear everything away."""
        if self._client is not None:
            self.loop.run_until_complete(self._client.aclose())
            self.loop.run_until_complete(self._lifespan.__aexit__(None, None, None))
        self.loop.close()
        self.engine.dispose()
        shutil.rmtree(self.root)


@cache
def _places(raw: str) -> tuple[tuple[Any, ...], ...]:
    """Return the way to everything in a JSON text."""
    found: list[tuple[Any, ...]] = []

    def walk(value: Any, path: tuple[Any, ...]) -> None:
        if path:
            found.append(path)
        inside = value.items() if isinstance(value, dict) else enumerate(value) if isinstance(
            value, list) else ()
        for key, inner in inside:
            walk(inner, (*path, key))

    walk(json.loads(raw), ())
    return tuple(found)


def _changed(raw: str, changes: list[tuple[int, str, Any]]) -> str:
    held = json.loads(raw)
    places = _places(raw)
    for number, how, value in changes:
        path = places[number % len(places)]
        try:
            at = held
            for step in path[:-1]:
                at = at[step]
            _change(at, path[-1], how, copy.deepcopy(value))
        except (KeyError, IndexError, TypeError):
            continue  # An earlier change took the place away.
    return json.dumps(held)


def _change(at: Any, key: Any, how: str, value: Any) -> None:
    if how == "set":
        at[key] = value
    elif how == "drop":
        del at[key]
    elif how == "double" and isinstance(at, list):
        at.append(at[key])
    elif how == "key" and isinstance(at, dict):
        at[str(value)[:300]] = at.pop(key)
    elif how == "nest":
        at[key] = [at[key]] if isinstance(value, bool) else {"kind": at[key]}


changes = st.lists(st.tuples(st.integers(0, 10**6), st.sampled_from(
    ("set", "set", "set", "drop", "double", "key", "nest")), scalars), min_size=1, max_size=4)


def _check_pages(site: Any) -> None:
    """Render every page as it is published, but for fonts, which are made anew for new letters."""
    site = allowed_only(site)
    for page in site.pages:
        for variant in page.variants:
            context = Context(site, page, variant, "live", PublishedPictures("../"), "../")
            html = live_page(context, Assets(policy=page_policy(context)), live_body(context))
            assert not executable(html), f"script in {page.id}: {executable(html)}"


def try_project(fuzz: Fuzzing, data: Any) -> None:
    """A project with anything in it is refused in words, or is harmless."""
    which, edits, whole = data
    folder = fuzz.root / ("demo" if which % 4 == 0 else "project")
    files = [folder / "site.json", *sorted((folder / "pages").glob("*.json"))]
    file = files[which % len(files)]
    original = file.read_text("utf-8")
    try:
        raw = _changed(original, edits)
        file.write_bytes(raw.encode("utf-8", "surrogatepass")[:whole] if whole else raw.encode(
            "utf-8", "surrogatepass"))
        site = read_site(folder)
        if folder.name == "project":
            _check_pages(site)
    except ProjectError as error:
        assert str(error)
    finally:
        file.write_text(original, "utf-8")
    assert fuzz.everything() == fuzz.known, "a file stands outside the project"


def try_package(fuzz: Fuzzing, data: Any) -> None:
    """A package with anything in it is refused in words, or is harmless."""
    edits, name, extra, cut = data
    with zipfile.ZipFile(fuzz.package) as packed:
        files = {entry: packed.read(entry) for entry in packed.namelist()}
    files["package.json"] = _changed(files["package.json"].decode(), edits).encode(
        "utf-8", "surrogatepass")
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w") as packed:
        for entry, raw in files.items():
            packed.writestr(entry, raw)
        # The library cuts a name at its first NUL.
        if entry := name.encode("utf-8", "replace").decode()[:60_000].partition("\0")[0]:
            packed.writestr(entry, extra)
    made = fuzz.root / "project" / "made.zip"
    raw = out.getvalue()
    made.write_bytes(raw[:len(raw) - cut % len(raw)] if cut else raw)
    try:
        package, kept = read_package(made)
        assert all("/" not in one and ".." not in one for one in kept)
        site = msgspec.structs.replace(small_site(), pages=(package.page,))
        _check_pages(site)
    except (PackageError, StrictError) as error:
        assert str(error)
    assert fuzz.everything() == fuzz.known, "a file stands outside the project"


def try_live(fuzz: Fuzzing, data: Any) -> None:
    """A list of live pages with anything in it is refused in words, or leads nowhere outside."""
    edits, cut = data
    store = Releases(fuzz.folder)
    file = store.folder / "releases" / f"{store.ids()[0]}.json"
    original = file.read_text("utf-8")
    try:
        raw = _changed(original, edits).encode("utf-8", "surrogatepass")
        file.write_bytes(raw[:cut] if cut else raw)
        release = store.current()
        for path, held in release.files.items() if release else ():
            for place in (path, store.path_of(held.digest)):
                assert (store.folder / place).resolve().is_relative_to(store.folder.resolve())
    except LiveError as error:
        assert str(error)
    finally:
        file.write_text(original, "utf-8")


def try_pasted(fuzz: Fuzzing, html: str) -> None:
    """Pasted markup leaves words, and nothing that runs."""
    for items in (items_from_html(html), items_from_words(html)):
        msgspec.json.encode(items)
        for run in (run for item in items for run in _runs(item)):
            scheme = "".join(sign for sign in run.link if sign > " ").partition(":")[0].lower()
            assert scheme not in ("javascript", "vbscript", "data"), "script in a link"


def _runs(item: Any) -> list[Any]:
    held = item.words
    return list(held) if held and hasattr(held[0], "words") else [
        run for line in held for run in line]


def try_css(fuzz: Fuzzing, css: str) -> None:
    """Own CSS is kept inside its style element, whatever stands in it."""
    css_faults(css)
    assert "</style" not in sound_css(css).lower()


def _png() -> bytes:
    out = io.BytesIO()
    Image.effect_noise((60, 40), 60).save(out, "PNG")
    return out.getvalue()


_PICTURES = (_png(), b'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9"><style>a{fill:red}'
             b'</style><rect width="9" height="9" style="fill:#123456"/></svg>')


def fetching(drawing: bytes) -> list[str]:
    """Return what of a drawing would run, or fetch something, when it is opened by itself."""
    found = []
    for part in etree.fromstring(drawing).iter():
        name = etree.QName(part).localname if isinstance(part.tag, str) else "?"
        if name in ("script", "?", "foreignObject", "animate", "set", "handler"):
            found.append(name)
        sheets = [part.text or ""] if name == "style" else []
        for attribute, value in part.attrib.items():
            plain = etree.QName(attribute).localname.lower()
            if plain.startswith("on") or (plain == "href" and not value.startswith(
                    ("#", "data:image/"))):
                found.append(f"{plain}={value}")
            elif plain not in ("d", "points", "id", "class", "viewbox", "transform"):
                sheets.append(value)
        found += [sheet for sheet in sheets if _fetches(sheet)]
    return found


def _fetches(css: str) -> bool:
    waiting = tinycss2.parse_component_value_list(css)
    while waiting:
        token = waiting.pop()
        waiting += getattr(token, "content", None) or getattr(token, "arguments", None) or []
        if token.type == "at-keyword" or (token.type == "url" and token.value[:1] != "#"):
            return True
        if token.type == "function" and token.lower_name in ("url", "image-set", "image", "src"):
            inside = [one for one in token.arguments if one.type == "string"]
            if not inside or any(one.value[:1] != "#" for one in inside):
                return True
    return False


def try_picture(fuzz: Fuzzing, data: Any) -> None:
    """A picture file with anything in it is refused in words, or holds nothing that runs."""
    which, spots, more = data
    raw = bytearray(_PICTURES[which])
    for place, value in spots:
        raw[place % len(raw)] = value
    place = spots[0][0] % len(raw) if spots else 0
    raw[place:place] = more
    try:
        taken = take_in(bytes(raw), "x.png")
    except PictureError as error:
        assert str(error)
        return
    if taken.ending == "svg":
        found = fetching(taken.data)
        assert not found, f"script or fetching in a drawing: {found}"


_PATHS = ("/", "/night", "/_needle/visit", "/_needle/goal", f"/_needle/lead/{FORM}",
          f"/_needle/part/{FORM}", f"/_needle/token/{FORM}", "/_needle/confirm/x/y",
          "/_needle/file/x/y", "/_needle/health", "/assets/x.webp", "/_needle/lead/none")


def try_request(fuzz: Fuzzing, data: Any) -> None:
    """Whatever is asked is answered, without a fault; a lead that is thanked for is kept."""
    number, method, query, headers, body, kind = data
    path = _PATHS[number % len(_PATHS)]
    sent = {name.encode("latin-1", "replace"): value.encode("latin-1", "replace").replace(
        b"\r", b" ").replace(b"\n", b" ").replace(b"\0", b" ") for name, value in headers}
    if kind:
        sent[b"content-type"] = kind.encode("latin-1", "replace")
    if isinstance(body, dict):
        fuzz._accepted += 1
        body = {NAME: "Ro", EMAIL: f"f{fuzz._accepted}@mail.example", "_page": PAGE,
                "_key": f"{fuzz._accepted:032d}"} | body
        raw = "&".join(f"{_quoted(name)}={_quoted(value)}" for name, value in body.items()).encode()
        sent.setdefault(b"content-type", b"application/x-www-form-urlencoded")
    else:
        raw = body.encode("utf-8", "replace")
    address = path + "?" + _quoted(query)[:9000]
    request = fuzz.client().build_request(method, address, content=raw, headers=sent)
    answer = fuzz.loop.run_until_complete(fuzz.client().send(request))
    assert answer.status_code in range(200, 500) or answer.status_code in (503, 507)
    thanked = isinstance(body, dict) and "lead" in path and answer.status_code in (200, 303)
    if thanked and method == "POST":
        found = list_leads(fuzz.engine, Filter(robots="with"), limit=1)
        assert found and found[0].key == body.get("_key"), "an accepted lead is not there"


def _quoted(value: str) -> str:
    return "".join(f"%{byte:02X}" for byte in value.encode("utf-8", "surrogatepass"))


names = st.sampled_from(("origin", "referer", "user-agent", "accept", "accept-language", "cookie",
                         "x-forwarded-for", "x-needle-reach", "x-needle-seal", "range",
                         "if-modified-since", "accept-encoding", "host", "transfer-coding"))
requests = st.tuples(
    st.integers(0, 10**6), st.sampled_from(("GET", "POST", "POST", "POST", "HEAD", "PUT")), words,
    st.lists(st.tuples(names, words.map(lambda text: text[:6000])), max_size=4),
    st.one_of(words, st.dictionaries(st.one_of(st.sampled_from(
        (NAME, "src1", "_took", "_felt", "_token", "_query", "_referrer", "_variant", "_page",
         "_trial", "_work", "_proof")), words), words, max_size=4)),
    st.one_of(st.just(""), st.sampled_from((
        "application/json", "multipart/form-data; boundary=x", "multipart/form-data",
        "application/x-www-form-urlencoded; charset=punycode", "text/plain")), words.map(
            lambda text: text[:200].replace("\n", " ").replace("\r", " ").replace("\0", " "))))
markup = st.lists(st.one_of(words, st.sampled_from((
    "<p>", "</p>", "<b>", "<li>", "<ul>", "<h2>", "<a href='", "'>", "<table>", "<!--", "-->",
    "<![CDATA[", "<svg>", "<style>", "</style>", "<script>", "</script>", "&amp;", "&#0;",
    "<iframe src=", "<br>", "<math><mtext>", "<noscript>", "<template>"))),
    max_size=14).map("".join)
sheets = st.lists(st.one_of(words, st.sampled_from((
    "a{", "}", "color:red;", "@media x{", "@import ", "url(", ")", "/*", "*/", "</style>",
    "</STYLE >", "\\", "'", '"', "expression(", "<!--", "-->"))), max_size=14).map("".join)


class Fuzzer:
    """One thing that is tried.

    Attributes:
        inputs: Where its inputs come from.
        attempt: Raises if something does not hold.
    """

    def __init__(self, name: str, inputs: st.SearchStrategy[Any],
                 attempt: Callable[[Fuzzing, Any], None]) -> None:
        self.name = name
        self.inputs = inputs
        self._attempt = attempt

    def __call__(self, fuzz: Fuzzing, data: Any) -> None:
        """Try one input."""
        began = time.process_time()
        self._attempt(fuzz, data)
        took = time.process_time() - began
        assert took < HANGS_S, f"it took {took:.1f} s"


FUZZERS = (
    Fuzzer("projects", st.tuples(st.integers(0, 10**6), changes, st.one_of(
        st.just(0), st.just(0), st.integers(1, 4000))), try_project),
    Fuzzer("packages", st.tuples(changes, st.one_of(st.just(""), words), st.binary(max_size=40),
                                 st.one_of(st.just(0), st.just(0), st.integers(1, 10**6))),
           try_package),
    Fuzzer("live", st.tuples(changes, st.one_of(st.just(0), st.integers(1, 4000))), try_live),
    Fuzzer("pasted", markup, try_pasted),
    Fuzzer("css", sheets, try_css),
    Fuzzer("pictures", st.tuples(st.integers(0, 1), st.lists(
        st.tuples(st.integers(0, 10**6), st.integers(0, 255)), max_size=5), st.one_of(
            st.just(b""), words.map(lambda text: text.encode("utf-8", "replace")[:2000]),
            sheets.map(lambda text: text.encode("utf-8", "replace")))), try_picture),
    Fuzzer("requests", requests, try_request),
)
