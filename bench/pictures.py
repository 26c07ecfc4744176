"""How much of our own pages is found again in pictures of them.

Twenty published pages are rendered by Chromium; what the browser says about sections, texts,
pictures and buttons is held against what `read_structure` finds.
"""

import base64
import io
import tempfile
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from selenium import webdriver
from tests.host.test_browser import chromium

from bench.drafts import draft_all
from needle.core.colour.oklch import difference
from needle.core.draft.drafter import Drafter
from needle.core.edit.pages import add_whole_page, free_name
from needle.core.readymade.templates import TEMPLATES, page_of
from needle.core.seeing.shapes import Found, Rect
from needle.core.seeing.structure import read_structure
from needle.core.site.site import Site
from needle.core.values.ids import new_id
from needle.demo.make import make_demo
from needle.publish.folder import publish_folder
from needle.store.media import keep_made

__all__ = ["Score", "measure_page", "published", "run"]

_WIDTH = 1280
_NEAR = 4
_IDEAS = ("Harbour tours in an old tug, every Saturday in Port Ellin",
          "A tool that helps allotment clubs share water and tools",
          "Leather satchels for cyclists, sewn in Grindle", "Spanish lessons for gardeners",
          "A box of odd buttons every month", "A shelter for hedgehogs in Marl",
          "Roof repairs for old farmhouses")
_TRUTH = """
const shown = (e) => { const r = e.getBoundingClientRect(), s = getComputedStyle(e);
  return r.width > 1 && r.height > 1 && s.visibility !== 'hidden' && s.opacity !== '0'; };
const box = (r) => [r.left, r.top + scrollY, r.right, r.bottom + scrollY].map(Math.round);
const sections = [...document.querySelectorAll('main>section,body>header,body>footer')]
  .filter(shown).map((e) => box(e.getBoundingClientRect()));
const buttons = [...document.querySelectorAll('.button')].filter(shown)
  .map((e) => box(e.getBoundingClientRect()));
const pictures = [...document.querySelectorAll('img')].filter((e) => shown(e)
  && !e.closest('.behind') && e.getBoundingClientRect().width >= 60
  && e.getBoundingClientRect().height >= 45).map((e) => box(e.getBoundingClientRect()));
const texts = [], taken = new Set();
for (const e of document.body.querySelectorAll('*')) {
  if (e.closest('.button,script,style,select,dialog,noscript') || !shown(e)) continue;
  let up = e.parentElement, inside = false;
  while (up) { if (taken.has(up)) { inside = true; break; } up = up.parentElement; }
  if (inside || ![...e.childNodes].some((n) => n.nodeType === 3 && n.data.trim())) continue;
  taken.add(e);
  const range = document.createRange(); range.selectNodeContents(e);
  const r = range.getBoundingClientRect();
  if (r.width < 2 || r.height < 6 || r.left < 0) continue;
  texts.push({ rect: box(r), colour: getComputedStyle(e).color,
               size: parseFloat(getComputedStyle(e).fontSize),
               behind: !!e.closest('.backed') });
}
return { sections, buttons, pictures, texts };
"""


@dataclass
class Score:
    """Found and there, by sort; and how far colours and sizes are off."""

    found: dict[str, int] = field(default_factory=dict)
    there: dict[str, int] = field(default_factory=dict)
    claimed: dict[str, int] = field(default_factory=dict)
    colours: list[float] = field(default_factory=list)
    sizes: list[float] = field(default_factory=list)

    def note(self, sort: str, truth: list[Rect], seen: list[Rect]) -> list[Rect]:
        """Count one sort of one page and return what was not found."""
        missed = [rect for rect in truth if not any(rect.off_by(s) <= _NEAR for s in seen)]
        self.there[sort] = self.there.get(sort, 0) + len(truth)
        self.found[sort] = self.found.get(sort, 0) + len(truth) - len(missed)
        self.claimed[sort] = self.claimed.get(sort, 0) + len(seen)
        return missed


def run() -> str:
    """Measure twenty pages and return the figures in words."""
    score = Score()
    with tempfile.TemporaryDirectory() as folder:
        browser = chromium(f"{folder}/profile", _WIDTH)
        try:
            for site, pages in published(Path(folder)):
                for page in pages:
                    measure_page(browser, site, page, score)
        finally:
            browser.quit()
    return _words(score)


def _words(score: Score) -> str:
    lines = [f"{sort:9} {score.found[sort]:4} of {score.there[sort]:4} within {_NEAR} px "
             f"({score.found[sort] / max(1, score.there[sort]):.0%}), {score.claimed[sort]} claimed"
             for sort in score.there]
    sizes, colours = np.array(score.sizes), np.array(score.colours)
    return "\n".join([
        *lines, f"palette   ΔE OK at the median {np.median(colours):.2f}, "
        f"at worst {colours.max():.2f} (2 is just seen), {len(colours)} colours",
        f"type size off by {np.median(np.abs(sizes)):.1%} at the median, by "
        f"{np.percentile(np.abs(sizes), 90):.1%} for nine in ten"])


def published(root: Path) -> list[tuple[Site, list[Path]]]:
    """Publish twenty pages: the demo's five, eight templates, seven drafts."""
    project = make_demo(root / "demo")
    site = project.saved
    publish_folder(site, project.folder, root / "out-demo")
    made = [(site, [root / "out-demo" / page.slug / "index.html" for page in site.pages])]
    for template in TEMPLATES[::2][:8]:
        arrived = page_of(template, site, new_id, True)
        keep_made(project.folder, arrived.files)
        site, _ = add_whole_page(arrived.site, arrived.part,
                                 free_name(site, template.name))
    publish_folder(site, project.folder, root / "out-templates")
    made.append((site, [root / "out-templates" / page.slug / "index.html"
                        for page in site.pages[5:13]]))
    project.close()
    drafter = Drafter()
    for number, idea in enumerate(_IDEAS):
        draft = draft_all(drafter, [("", idea)])[0]
        folder = root / f"draft{number}"
        (folder / "media").mkdir(parents=True)
        keep_made(folder, draft.files)
        publish_folder(draft.site, folder, root / f"out-draft{number}")
        made.append((draft.site, [root / f"out-draft{number}" / "index.html"]))
    return made


def measure_page(browser: webdriver.Chrome, site: Site, page: Path, score: Score,
                 ) -> dict[str, list[Rect]]:
    """Hold one page against its picture; return what was not found."""
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {
        "width": _WIDTH, "height": 900, "deviceScaleFactor": 1, "mobile": False})
    browser.get(page.as_uri())
    browser.execute_script(
        "document.documentElement.style.scrollbarWidth = 'none';"
        "for (const i of document.images) { i.loading = 'eager'; i.decoding = 'sync'; }"
        "for (const e of document.querySelectorAll('.section')) e.style.position = 'relative';"
        "for (const e of document.querySelectorAll('.consent')) e.remove();")
    browser.execute_async_script(
        "const done = arguments[0]; Promise.all([document.fonts.ready, ...[...document.images]"
        ".map((i) => i.decode().catch(() => 0))]).then(() => done());")
    truth = browser.execute_script(_TRUTH)
    shot = browser.execute_cdp_cmd("Page.captureScreenshot", {
        "format": "png", "captureBeyondViewport": True})
    pixels = np.asarray(Image.open(io.BytesIO(base64.b64decode(shot["data"]))).convert("RGB"))
    found = read_structure(pixels)
    missed = {
        "sections": score.note("sections", _rects(truth["sections"]),
                               [band.rect for band in found.bands]),
        "texts": _note_texts(truth["texts"], found, pixels, score),
        "pictures": score.note("pictures", _rects(truth["pictures"]), found.pictures()),
        "buttons": score.note("buttons", _rects(truth["buttons"]),
                              [box.rect for box in found.buttons()])}
    _note_palette(site, found, pixels, score)
    return missed


def _rects(raw: list[list[int]]) -> list[Rect]:
    return [Rect(*rect) for rect in raw]


def _note_texts(truth: list[dict[str, Any]], found: Found, pixels: np.ndarray, score: Score,
                ) -> list[Rect]:
    seen = found.texts()
    rects = []
    for text in truth:
        ink = _ink_rect(Rect(*text["rect"]), pixels, text)
        if ink is None:
            continue
        rects.append(ink)
        near = [block for block in seen if block.rect.off_by(ink) <= _NEAR]
        if near:
            score.sizes.append(near[0].size / text["size"] - 1)
    return score.note("texts", rects, [block.rect for block in seen])


def _ink_rect(rect: Rect, pixels: np.ndarray, text: dict[str, Any]) -> Rect | None:
    """Return the ink in the room of a text: all that is not ground there."""
    left, top = max(0, rect.left), max(0, rect.top)
    part = pixels[top: rect.bottom, left: rect.right].astype(int)
    if not part.size:
        return None
    if text["behind"]:
        parts = text["colour"].removeprefix("rgba(").removeprefix("rgb(").rstrip(")").split(",")
        ink = np.abs(part - [int(float(value)) for value in parts[:3]]).max(axis=2) < 70
    else:
        flat = part.reshape(-1, 3)
        values, counts = np.unique(flat, axis=0, return_counts=True)
        ink = np.abs(part - values[int(np.argmax(counts))]).max(axis=2) >= 9
    rows, columns = np.flatnonzero(ink.any(axis=1)), np.flatnonzero(ink.any(axis=0))
    if not len(rows) or rows[-1] - rows[0] < 4:
        return None
    return Rect(left + int(columns[0]), top + int(rows[0]), left + int(columns[-1]) + 1,
                top + int(rows[-1]) + 1)


def _note_palette(site: Site, found: Found, pixels: np.ndarray, score: Score) -> None:
    """Note how far the nearest found colour is from each brand colour that covers a hundredth."""
    codes = pixels.reshape(-1, 3).astype(np.int64) @ (65536, 256, 1)
    for value in site.brand.colours().values():
        share = float((codes == int(value[1:], 16)).mean())
        if share >= 0.01:
            score.colours.append(min(difference(value, colour) for colour, _ in found.palette))


if __name__ == "__main__":
    print(run())
