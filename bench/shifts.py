"""How much pages move while they load on a slow line, and what they weigh.

Twenty of our own pages (the demo, templates, drafts) come to a phone over 400 kbit/s with a delay
of 150 ms; Chromium tells each shift of its layout. CLS is the worst session window of shifts, as
web.dev defines it: windows of at most five seconds, parted by a second without a shift.
"""

import contextlib
import gzip
import http.server
import re
import tempfile
import threading
import time
from collections.abc import Iterator
from functools import partial
from pathlib import Path

import numpy as np
from selenium import webdriver
from tests.host.test_browser import chromium

from bench.pictures import published

__all__ = ["cls_of", "run", "twin_ratio", "weight_of"]

_SPEED, _DELAY_MS = 400_000 / 8, 150
_PHONE = {"width": 390, "height": 844, "deviceScaleFactor": 2, "mobile": True}
_WATCH = """window.moved = []; new PerformanceObserver((list) => {
  for (const e of list.getEntries()) if (!e.hadRecentInput) moved.push([e.startTime, e.value]); })
  .observe({ type: 'layout-shift', buffered: true });"""
_LONGEST_S = 60
_TWIN = Path(__file__).parent / "twins"


class _Quiet(http.server.SimpleHTTPRequestHandler):
    def log_message(self, *_: object) -> None:
        """Say nothing of each request."""


@contextlib.contextmanager
def _served(folder: Path) -> Iterator[str]:
    server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), partial(
        _Quiet, directory=str(folder)))
    threading.Thread(target=server.serve_forever, daemon=True).start()
    try:
        yield f"http://127.0.0.1:{server.server_address[1]}"
    finally:
        server.shutdown()
        server.server_close()


def cls_of(shifts: list[tuple[float, float]]) -> float:
    """Return the largest sum of shifts in a session window.

    Args:
        shifts: Moment in milliseconds and value of each, in order.
    """
    worst = total = begun = last = 0.0
    for at, value in shifts:
        if not total or at - last > 1000 or at - begun > 5000:
            total, begun = 0.0, at
        total, last = total + value, at
        worst = max(worst, total)
    return worst


def weight_of(page: Path) -> tuple[int, int]:
    """Return bytes of a page's markup, styles and scripts, plain and packed by gzip."""
    html = page.read_bytes()
    parts = [html, *((page.parent / name.decode()).read_bytes() for name in re.findall(
        rb"(?:src|href)=\"?([^\" >]+\.(?:js|css))", html))]
    return sum(map(len, parts)), sum(len(gzip.compress(part, 9)) for part in parts)


def twin_ratio(page: Path) -> float:
    """Return how much more the demo's home weighs, packed, than what a person wrote by hand to
    look, say and do the same (`twins/`)."""
    by_hand = sum(len(gzip.compress(part.read_bytes(), 9)) for part in _TWIN.glob("home.*"))
    return weight_of(page)[1] / by_hand


def _measured(browser: webdriver.Chrome, address: str) -> float:
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", _PHONE)
    browser.execute_cdp_cmd("Network.enable", {})
    browser.execute_cdp_cmd("Network.setCacheDisabled", {"cacheDisabled": True})
    browser.execute_cdp_cmd("Network.emulateNetworkConditions", {
        "offline": False, "latency": _DELAY_MS, "downloadThroughput": _SPEED,
        "uploadThroughput": _SPEED})
    browser.get(address)
    end = time.monotonic() + _LONGEST_S
    while time.monotonic() < end and not browser.execute_script(
            "return document.fonts.status == 'loaded' && document.readyState == 'complete'"):
        time.sleep(0.1)
    time.sleep(1.5)
    return cls_of([(float(at), float(value)) for at, value in browser.execute_script(
        "return window.moved")])


def run() -> str:
    """Measure twenty pages and return the figures in words."""
    lines, found = [], []
    with tempfile.TemporaryDirectory() as held:
        folders = published(Path(held))
        browser = chromium(f"{held}/profile", 390)
        try:
            browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": _WATCH})
            for site, pages in folders:
                root = min((page.parent for page in pages), key=lambda path: len(path.parts))
                root = root if (root / "assets").exists() else root.parent
                with _served(root) as address:
                    for page in pages:
                        place = page.relative_to(root).as_posix().removesuffix("index.html")
                        found.append(_measured(browser, f"{address}/{place}"))
                        plain, packed = weight_of(page)
                        lines.append(f"{site.name}, /{place}: CLS {found[-1]:.3f}; markup, styles "
                                     f"and scripts {plain / 1000:.1f} kB, packed "
                                     f"{packed / 1000:.1f} kB")
                        if root.name == "out-demo" and not place:
                            lines.append(f"{twin_ratio(page):.2f} × its twin by hand, packed")
        finally:
            browser.quit()
    calm = float(np.mean(np.array(found) < 0.005))
    return "\n".join([*lines, f"CLS at most {max(found):.3f}, {calm:.0%} of pages below 0.005"])


if __name__ == "__main__":
    print(run())
