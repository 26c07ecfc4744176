"""How well pictures of pages in other designers' manners are read.

The pages in `bench/pages` are made by hand, unlike each other and unlike ours, with what is a
section (`data-s`), a button (`data-b`) and a picture (`data-p`) marked in them. Chromium draws
them; what it says of their places is held against what `read_structure` finds in the picture as
PNG, as PNG at 0.8 of the size, and as JPEG of quality 70. The odd ones are for working on the
reader, the even ones for judging alone.
"""

import base64
import io
import shutil
import sys
import tempfile
import time
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, field
from pathlib import Path
from typing import Any

import numpy as np
from PIL import Image
from selenium import webdriver
from tests.host.test_browser import chromium

from needle.core.seeing.lines import BOLD_STROKE
from needle.core.seeing.shapes import Found, Rect, TextBlock
from needle.core.seeing.structure import read_structure

__all__ = ["Judged", "Manner", "Truth", "pages_seen", "run"]

_WIDTH, _NEAR = 1280, 4
_PAGES = Path(__file__).parent / "pages"
_FONTS = Path(__file__).parents[1] / "src" / "needle" / "fonts"
_FAMILIES = {"WorkSans": "Work Sans", "SpaceGrotesk": "Space Grotesk", "Fraunces": "Fraunces",
             "CormorantGaramond": "Cormorant Garamond", "IBMPlexMono": "IBM Plex Mono",
             "DMSans": "DM Sans", "Nunito": "Nunito", "Karla": "Karla", "Bitter": "Bitter",
             "SourceSerif4": "Source Serif 4", "IBMPlexSans": "IBM Plex Sans",
             "ArchivoNarrow": "Archivo Narrow", "CourierPrime": "Courier Prime",
             "ZillaSlab": "Zilla Slab"}
_SORTS = ("sections", "texts", "pictures", "buttons")
_TRUTH = """
const box = (r) => [r.left, r.top + scrollY, r.right, r.bottom + scrollY].map(Math.round);
const rects = (s) => [...document.querySelectorAll(s)].map((e) => box(e.getBoundingClientRect()));
const texts = [], taken = new Set();
const inline = (n) => n.nodeType === 3
  || (n.nodeType === 1 && getComputedStyle(n).display === 'inline');
for (const e of document.body.querySelectorAll('*')) {
  if (e.closest('[data-b],script,style') || [...taken].some((t) => t.contains(e))) continue;
  const own = [...e.childNodes].filter(inline);
  if (!own.some((n) => n.nodeType === 3 && n.data.trim())) continue;
  if (own.length === e.childNodes.length) taken.add(e);
  // A block that a line break, a column or another block parts is several.
  const lines = [];
  for (const n of own) { const range = document.createRange(); range.selectNodeContents(n);
    for (const r of range.getClientRects()) if (r.width > 1) lines.push(r); }
  const parts = [];
  for (const r of lines) {
    const last = parts[parts.length - 1];
    const near = last && r.top - last.bottom < r.height && r.left < last.right + 60;
    if (near && r.top >= last.top - 3) {
      last.left = Math.min(last.left, r.left); last.right = Math.max(last.right, r.right);
      last.top = Math.min(last.top, r.top); last.bottom = Math.max(last.bottom, r.bottom);
    } else parts.push({ left: r.left, top: r.top, right: r.right, bottom: r.bottom });
  }
  const style = getComputedStyle(e);
  for (const p of parts) texts.push({ rect: box(p), size: parseFloat(style.fontSize),
                                      bold: +style.fontWeight >= 600 });
}
return { sections: rects('[data-s]'), buttons: rects('[data-b]'), pictures: rects('[data-p]'),
         texts };
"""
_CLEAR = ("const s = document.createElement('style'); s.textContent = '*,*::first-letter{color:"
          "transparent!important;text-shadow:none!important}'; document.head.append(s);")


@dataclass(frozen=True, slots=True)
class Truth:
    """What a browser says of a page.

    Attributes:
        texts: Around the ink, with size and whether it is bold.
    """

    name: str
    pixels: np.ndarray
    sections: tuple[Rect, ...]
    buttons: tuple[Rect, ...]
    pictures: tuple[Rect, ...]
    texts: tuple[tuple[Rect, float, bool], ...]

    def rects(self, sort: str) -> list[Rect]:
        """Return the places of one sort."""
        if sort == "texts":
            return [rect for rect, _, _ in self.texts]
        return list(getattr(self, sort))


@dataclass(frozen=True, slots=True)
class Manner:
    """How a picture of a page came to us; `seen` returns it with one pixel for each CSS pixel."""

    name: str
    seen: Callable[[Image.Image], Image.Image]


def _jpeg(image: Image.Image) -> Image.Image:
    out = io.BytesIO()
    image.save(out, "JPEG", quality=70)
    return Image.open(out).convert("RGB")


def _smaller(image: Image.Image) -> Image.Image:
    """Return a picture as it is after somebody made it smaller, at the width of the page again."""
    small = image.resize((round(image.width * 0.8), round(image.height * 0.8)),
                         Image.Resampling.LANCZOS)
    return small.resize((_WIDTH, round(small.height / 0.8)), Image.Resampling.BICUBIC)


MANNERS = (Manner("PNG", lambda image: image), Manner("PNG at 0.8", _smaller),
           Manner("JPEG 70", _jpeg))


@dataclass
class Judged:
    """Found, there and claimed by sort, over some pages."""

    found: dict[str, int] = field(default_factory=lambda: dict.fromkeys(_SORTS, 0))
    there: dict[str, int] = field(default_factory=lambda: dict.fromkeys(_SORTS, 0))
    wrong: int = 0
    pages: int = 0
    sizes: list[float] = field(default_factory=list)
    weights: list[bool] = field(default_factory=list)
    seconds: list[float] = field(default_factory=list)

    def note(self, truth: Truth, found: Found) -> dict[str, tuple[list[Rect], list[Rect]]]:
        """Count a page; return what was missed and what was claimed wrongly, by sort."""
        seen: dict[str, Sequence[Rect]] = {
            "sections": [band.rect for band in found.bands],
            "texts": [text.rect for text in found.texts()],
            "pictures": found.pictures(), "buttons": [box.rect for box in found.buttons()]}
        self.pages += 1
        told = {}
        for sort, rects in seen.items():
            there = truth.rects(sort)
            missed = [rect for rect in there if not any(rect.off_by(one) <= _NEAR
                                                        for one in rects)]
            wrong = [one for one in rects if not any(rect.off_by(one) <= _NEAR for rect in there)]
            self.there[sort] += len(there)
            self.found[sort] += len(there) - len(missed)
            self.wrong += len(wrong)
            told[sort] = (missed, wrong)
        for rect, size, bold in truth.texts:
            near = [text for text in found.texts() if text.rect.off_by(rect) <= _NEAR]
            self._note_type(near, size, bold)
        return told

    def _note_type(self, near: Sequence[TextBlock], size: float, bold: bool) -> None:
        if near:
            self.sizes.append(near[0].size / size - 1)
            self.weights.append((near[0].weight >= BOLD_STROKE) == bold)

    def words(self) -> str:
        """Return the figures in a line."""
        shares = ", ".join(f"{sort} {self.found[sort]}/{self.there[sort]} "
                           f"({self.found[sort] / max(1, self.there[sort]):.0%})"
                           for sort in _SORTS)
        sizes = np.abs(self.sizes) if self.sizes else np.zeros(1)
        return (f"{shares}; {self.wrong / max(1, self.pages):.1f} false a page; size off by "
                f"{np.median(sizes):.1%} at the median, {np.mean(sizes <= 0.03):.0%} within 3 %; "
                f"weight right {np.mean(self.weights or [0]):.0%}; "
                f"{np.median(self.seconds or [0]):.2f} s")


def pages_seen(names: Sequence[str] = ()) -> Iterator[Truth]:
    """Draw the pages (all, or those whose names begin so) and return each with what is true."""
    with tempfile.TemporaryDirectory() as held:
        folder = Path(held)
        _prepare(folder)
        browser = chromium(f"{held}/profile", _WIDTH)
        try:
            for path in sorted(_PAGES.glob("*.html")):
                if not names or path.name.startswith(tuple(names)):
                    shutil.copy(path, folder / path.name)
                    yield _truth(browser, folder / path.name)
        finally:
            browser.quit()


def _prepare(folder: Path) -> None:
    """Write the pictures and the faces that the pages show."""
    for number in range(1, 9):
        _photo(number).save(folder / f"photo-{number}.jpg", quality=88)
    grain = np.random.default_rng(4).normal(0, 7, (180, 180, 1)).clip(-20, 20)
    Image.fromarray((np.array([217, 199, 163]) + grain).clip(0, 255).astype(np.uint8)).save(
        folder / "grain.png")
    css = [f"@font-face{{font-family:'{family}';font-weight:{weight};"
           f"src:url('{(_FONTS / f'{stem}-{weight}.ttf').as_uri()}')}}"
           for stem, family in _FAMILIES.items() for weight in (400, 600, 700)
           if (_FONTS / f"{stem}-{weight}.ttf").exists()]
    (folder / "faces.css").write_text("".join(css))


def _photo(number: int) -> Image.Image:
    """Return a made-up photograph: clouds of 1/f noise in two colours, over a lighter top."""
    dice = np.random.default_rng(number)
    high, wide = 900, 1400
    across, down = np.meshgrid(np.fft.fftfreq(wide), np.fft.fftfreq(high))
    falls = np.maximum(np.hypot(across, down), 1 / wide) ** -1.25
    noise = np.fft.ifft2(np.fft.fft2(dice.normal(size=(high, wide))) * falls).real
    noise = (noise - noise.min()) / np.ptp(noise)
    light = np.linspace(1.15, 0.75, high)[:, None]
    low, top = dice.integers(10, 110, 3), dice.integers(120, 245, 3)
    pixels = (low + (top - low) * noise[:, :, None]) * light[:, :, None]
    pixels += dice.normal(0, 3, (high, wide, 1))
    return Image.fromarray(pixels.clip(0, 255).astype(np.uint8))


def _truth(browser: webdriver.Chrome, page: Path) -> Truth:
    browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride", {
        "width": _WIDTH, "height": 900, "deviceScaleFactor": 1, "mobile": False})
    browser.get(page.as_uri())
    browser.execute_script("document.documentElement.style.scrollbarWidth = 'none';")
    browser.execute_async_script(
        "const done = arguments[0]; Promise.all([document.fonts.ready, ...[...document.images]"
        ".map((i) => i.decode().catch(() => 0))]).then(() => done());")
    said: dict[str, Any] = browser.execute_script(_TRUTH)
    pixels = _shot(browser)
    browser.execute_script(_CLEAR)
    ink = np.abs(pixels.astype(np.int16) - _shot(browser).astype(np.int16)).max(axis=2) >= 12
    texts = [(found, text["size"], text["bold"]) for text in said["texts"]
             if (found := _ink_in(ink, Rect(*text["rect"]))) is not None]
    # A section is a band: how wide the room for its words is, no picture can tell.
    sections = tuple(Rect(0, top, _WIDTH, bottom) for _, top, _, bottom in said["sections"])
    ends = max(rect.bottom for rect in sections)
    return Truth(page.name, pixels[:ends], sections, *(tuple(Rect(*rect) for rect in said[sort])
                                                for sort in ("buttons", "pictures")),
                 tuple(texts))


def _shot(browser: webdriver.Chrome) -> np.ndarray:
    shot = browser.execute_cdp_cmd("Page.captureScreenshot", {
        "format": "png", "captureBeyondViewport": True})
    return np.asarray(Image.open(io.BytesIO(base64.b64decode(shot["data"]))).convert("RGB"))


def _ink_in(ink: np.ndarray, rect: Rect) -> Rect | None:
    left, top = max(0, rect.left - 2), max(0, rect.top - 2)
    part = ink[top: rect.bottom + 2, left: rect.right + 2]
    rows, columns = np.flatnonzero(part.any(axis=1)), np.flatnonzero(part.any(axis=0))
    if not len(rows):
        return None
    return Rect(left + int(columns[0]), top + int(rows[0]), left + int(columns[-1]) + 1,
                top + int(rows[-1]) + 1)


def run(names: Sequence[str] = ()) -> str:
    """Measure the pages and return the figures in words, those for judging last."""
    judged = {(manner.name, half): Judged() for half in (1, 0) for manner in MANNERS}
    for truth in pages_seen(names):
        for manner in MANNERS:
            pixels = np.asarray(manner.seen(Image.fromarray(truth.pixels)))
            one = judged[manner.name, int(truth.name[:2]) % 2]
            begun = time.process_time()
            found = read_structure(pixels)
            one.seconds.append(time.process_time() - begun)
            one.note(truth, found)
    return "\n".join(f"{'worked on' if half else 'judging'}, {name}: {one.words()}"
                     for (name, half), one in judged.items() if one.pages)


if __name__ == "__main__":
    print(run(sys.argv[1:]))
