"""Paints the demo's pictures: skies, hills, a dome, a moon, a planet, a chart.

Run `python -m needle.demo.paint FOLDER` to paint them afresh.
"""

import sys
from collections.abc import Callable, Mapping
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageDraw, ImageFilter

__all__ = ["PICTURES", "paint_all"]

Pixels = NDArray[np.float64]
Rgb = tuple[int, int, int]


def _noise(rng: np.random.Generator, height: int, width: int, coarse: int, octaves: int) -> Pixels:
    """Return fractal noise in 0…1: octaves of smoothed random grids, each half as strong."""
    total = np.zeros((height, width))
    for octave in range(octaves):
        cells = coarse * 2**octave
        grid = rng.random((max(2, cells * height // width + 1), cells + 1))
        layer = Image.fromarray((grid * 255).astype(np.uint8)).resize(
            (width, height), Image.Resampling.BICUBIC)
        total += np.asarray(layer, dtype=float) / 255 * 0.5**octave
    noise: Pixels = (total - total.min()) / (total.max() - total.min())
    return noise


def _gradient(height: int, width: int, stops: list[tuple[float, Rgb]]) -> Pixels:
    places = np.linspace(0, 1, height)
    columns = [np.interp(places, [s for s, _ in stops], [c[i] for _, c in stops])
               for i in range(3)]
    return np.repeat(np.stack(columns, axis=1)[:, None, :], width, axis=1)


def _stars(rng: np.random.Generator, pixels: Pixels, count: int, lowest: float) -> None:
    height, width, _ = pixels.shape
    glow = np.zeros((height, width))
    strength = rng.pareto(2.2, count) * 70 + 34
    xs = rng.integers(1, width - 2, count)
    ys = (rng.random(count) ** 1.25 * height * lowest).astype(int)
    np.add.at(glow, (ys, xs), np.minimum(strength, 255))
    bright = strength > 190
    for dy, dx in ((0, 1), (1, 0), (0, -1), (-1, 0)):
        np.add.at(glow, (np.clip(ys[bright] + dy, 0, height - 1), xs[bright] + dx), 120)
    halo = Image.fromarray(np.clip(glow * (glow > 180), 0, 255).astype(np.uint8))
    soft = np.asarray(halo.filter(ImageFilter.GaussianBlur(3)), dtype=float) * 2.2
    tint = np.array([0.94, 0.96, 1.0])
    pixels += (glow[..., None] + soft[..., None]) * tint


def _milky_way(rng: np.random.Generator, pixels: Pixels, slope: float, centre: float,
               colour: Rgb = (66, 68, 124)) -> None:
    height, width, _ = pixels.shape
    y, x = np.mgrid[0:height, 0:width]
    distance = (y / height - centre) - slope * (x / width - 0.5)
    cloud = _noise(rng, height, width, 7, 6)
    lanes = _noise(rng, height, width, 11, 6)
    band = np.exp(-((distance / 0.17) ** 2)) * (0.3 + 0.9 * cloud)
    band *= 1 - 0.5 * np.exp(-(((distance + (lanes - 0.5) * 0.2) / 0.035) ** 2))
    pixels += band[..., None] * np.array(colour)
    dust = rng.random((height, width)) < 0.012 * band
    pixels[dust] += 70


def _hill(rng: np.random.Generator, width: int, base: float, rise: float, bumps: int) -> Pixels:
    """Return the height of a ridge at each column, in parts of the picture from the top."""
    x = np.linspace(0, 1, width)
    ridge = np.zeros(width)
    for n in range(1, bumps + 1):
        ridge += np.sin(2 * np.pi * (x * n * 0.62 + rng.random())) / n
    fine = np.interp(x, np.linspace(0, 1, 160), rng.random(160)) * 0.006
    height: Pixels = base - rise * (ridge - ridge.min()) / (ridge.max() - ridge.min()) - fine
    return height


def _fill_below(pixels: Pixels, ridge: Pixels, colour: Rgb) -> None:
    height = pixels.shape[0]
    rows = np.arange(height)[:, None] / height
    mask = np.clip((rows - ridge[None, :]) * height, 0, 1)[..., None]
    pixels *= 1 - mask
    pixels += mask * np.array(colour, dtype=float)


def _image(pixels: Pixels) -> Image.Image:
    return Image.fromarray(np.clip(pixels, 0, 255).astype(np.uint8), "RGB")


_NIGHT = [(0.0, (9, 13, 34)), (0.45, (22, 30, 72)), (0.74, (48, 52, 104)), (0.9, (118, 82, 112)),
          (1.0, (196, 122, 96))]


def _night_sky(seed: int, height: int, width: int, *, slope: float = -0.55,
               centre: float = 0.3) -> tuple[np.random.Generator, Pixels]:
    rng = np.random.default_rng(seed)
    pixels = _gradient(height, width, _NIGHT)
    _milky_way(rng, pixels, slope, centre)
    _stars(rng, pixels, height * width // 750, 0.85)
    return rng, pixels


def _dome(draw: ImageDraw.ImageDraw, x: int, y: int, r: int, body: Rgb, light: Rgb) -> None:
    """Draw an observatory: a drum, a dome above it, and the open slit with light in it."""
    draw.rectangle((x - r, y, x + r, y + int(r * 0.9)), fill=body)
    draw.pieslice((x - r - r // 12, y - r, x + r + r // 12, y + r), 180, 360, fill=body)
    slit = [(x + r * 0.1, y - r * 0.96), (x + r * 0.42, y - r * 0.86),
            (x + r * 0.5, y - 2), (x + r * 0.1, y - 2)]
    draw.polygon(slit, fill=light)
    draw.line((x - r * 1.1, y, x + r * 1.1, y), fill=tuple(min(255, c + 22) for c in body),
              width=max(2, r // 26))


def sky() -> Image.Image:
    """The Milky Way over the hill, a small dome on its back."""
    rng, pixels = _night_sky(11, 1350, 2400)
    _fill_below(pixels, _hill(rng, 2400, 0.93, 0.07, 4), (23, 24, 52))
    ridge = _hill(rng, 2400, 0.985, 0.13, 3)
    image = _image(pixels)
    x = 1890
    top = int(ridge[x] * 1350)
    _dome(ImageDraw.Draw(image), x, top - 46, 58, (10, 12, 26), (244, 190, 108))
    pixels = np.asarray(image, dtype=float).copy()
    _fill_below(pixels, ridge, (8, 10, 22))
    return _image(pixels)


def meteors() -> Image.Image:
    """Shooting stars from one point of the sky."""
    _, pixels = _night_sky(23, 1200, 1600, slope=0.5, centre=0.42)
    streaks = Image.new("L", (1600, 1200))
    draw = ImageDraw.Draw(streaks)
    rng = np.random.default_rng(5)
    radiant = np.array([520.0, 300.0])
    for _ in range(17):
        angle = rng.random() * 2 * np.pi
        way = np.array([np.cos(angle), np.sin(angle)])
        start = radiant + way * (120 + rng.random() * 420)
        length = 80 + rng.random() * 240
        for step in np.linspace(0, 1, 60):
            point = start + way * length * step
            size = 0.7 + 2.2 * step * (1 - 0.6 * step)
            draw.ellipse((*(point - size), *(point + size)), fill=int(40 + 215 * step))
    soft = np.asarray(streaks.filter(ImageFilter.GaussianBlur(1.2)), dtype=float)
    pixels += soft[..., None] * np.array([0.95, 1.0, 0.96])
    _fill_below(pixels, _hill(np.random.default_rng(9), 1600, 0.99, 0.16, 3), (8, 10, 22))
    return _image(pixels)


def dome() -> Image.Image:
    """The dome at dusk, its slit open."""
    rng = np.random.default_rng(31)
    pixels = _gradient(1200, 1600, [(0, (20, 30, 74)), (0.5, (74, 78, 138)),
                                    (0.8, (206, 134, 118)), (1, (250, 196, 128))])
    _stars(rng, pixels, 420, 0.55)
    _fill_below(pixels, _hill(rng, 1600, 0.86, 0.1, 3), (58, 52, 86))
    image = _image(pixels)
    _dome(ImageDraw.Draw(image), 860, 800, 300, (26, 28, 52), (250, 206, 124))
    pixels = np.asarray(image, dtype=float).copy()
    _fill_below(pixels, _hill(rng, 1600, 0.95, 0.04, 4), (14, 16, 32))
    return _image(pixels)


def moon() -> Image.Image:
    """The moon a little past half, with craters along the edge of the light."""
    rng = np.random.default_rng(41)
    size = 1200
    y, x = np.mgrid[0:size, 0:1600]
    cx, cy, r = 860.0, 600.0, 430.0
    nx, ny = (x - cx) / r, (y - cy) / r
    inside = nx**2 + ny**2 < 1
    nz = np.sqrt(np.clip(1 - nx**2 - ny**2, 0, 1))
    relief = _noise(rng, size, 1600, 9, 6) * 0.6
    for _ in range(260):
        a, b, c = rng.random() * 2 - 1, rng.random() * 2 - 1, rng.pareto(2.2) * 0.012 + 0.008
        d = np.sqrt((nx - a) ** 2 + (ny - b) ** 2) / min(c, 0.09)
        relief += np.where(d < 1, (d**2 - 1) * 0.12, np.exp(-((d - 1) * 5) ** 2) * 0.07)
    gy, gx = np.gradient(relief)
    light = np.array([0.74, -0.2, 0.36])
    shade = np.clip((nx - gx * 26) * light[0] + (ny - gy * 26) * light[1] + nz * light[2], 0, 1)
    seas = np.clip((_noise(rng, size, 1600, 4, 4) - 0.45) * 2.4, 0, 1) * 0.35
    bright = shade ** 0.8 * (1 - seas) * 255
    pixels = _gradient(size, 1600, [(0, (8, 11, 28)), (1, (17, 22, 52))])
    _stars(rng, pixels, 500, 1.0)
    warm = bright[..., None] * np.array([1.0, 0.97, 0.9])
    return _image(np.where(inside[..., None], warm + 6, pixels)).filter(
        ImageFilter.GaussianBlur(0.8))


def saturn() -> Image.Image:
    """A ringed planet as the 16-inch shows it."""
    rng = np.random.default_rng(53)
    height, width = 1200, 1600
    pixels = _gradient(height, width, [(0, (7, 9, 24)), (1, (15, 19, 46))])
    _stars(rng, pixels, 260, 1.0)
    y, x = np.mgrid[0:height, 0:width]
    turn = np.radians(-14)
    u = (x - 800) * np.cos(turn) + (y - 600) * np.sin(turn)
    v = -(x - 800) * np.sin(turn) + (y - 600) * np.cos(turn)
    ball = np.hypot(u, v * 1.08) / 250
    globe = ball < 1
    bands = 0.86 + 0.08 * np.sin(v / 21) + 0.05 * np.sin(v / 9 + 1)
    lit = np.clip(np.sqrt(np.clip(1 - ball**2, 0, 1)) * 0.95 + 0.16 + u / 1400, 0, 1)
    planet = (bands * lit)[..., None] * np.array([244, 214, 160])
    ring = np.hypot(u, v / 0.3) / 250
    seen = (ring > 1.28) & (ring < 2.25) & ~((ring > 1.9) & (ring < 1.97))
    grain = 0.62 + 0.2 * np.sin(ring * 46) + 0.1 * np.sin(ring * 131)
    rings = np.clip(grain, 0, 1)[..., None] * np.array([230, 206, 164])
    behind = seen & (v < 0) & ~globe
    shadowed = behind & (u < -40) & (np.abs(v) < 90) & (ring < 1.55)
    pixels = np.where(behind[..., None], rings * np.where(shadowed, 0.3, 1)[..., None], pixels)
    pixels = np.where(globe[..., None], planet, pixels)
    pixels = np.where((seen & (v >= 0))[..., None], rings, pixels)
    return _image(pixels).filter(ImageFilter.GaussianBlur(1.1))


def barn() -> Image.Image:
    """The warm barn on the hill, small under the stars."""
    rng, pixels = _night_sky(67, 1200, 1600, slope=-0.25, centre=0.2)
    _fill_below(pixels, _hill(rng, 1600, 0.86, 0.07, 3), (22, 24, 52))
    image = _image(pixels)
    draw = ImageDraw.Draw(image)
    wall, roof, warm = (20, 18, 30), (34, 30, 44), (240, 178, 92)
    left, right, eaves, ridge = 1130, 1370, 880, 812
    middle = (left + right) // 2
    draw.polygon([(left, 1120), (left, eaves), (middle, ridge), (right, eaves), (right, 1120)],
                 fill=wall)
    draw.polygon([(left - 18, eaves + 6), (middle, ridge - 8), (right + 18, eaves + 6),
                  (right + 10, eaves + 14), (middle, ridge + 4), (left - 10, eaves + 14)],
                 fill=roof)
    for x in (left + 34, right - 74):
        draw.rectangle((x, 900, x + 40, 934), fill=warm)
        draw.line((x + 20, 900, x + 20, 934), fill=wall, width=3)
        draw.line((x, 917, x + 40, 917), fill=wall, width=3)
    draw.rectangle((middle - 22, 896, middle + 22, 1040), fill=(246, 192, 112))
    glow = Image.new("RGB", image.size)
    ImageDraw.Draw(glow).ellipse((left - 60, 850, right + 60, 1080), fill=(96, 58, 20))
    soft = np.asarray(glow.filter(ImageFilter.GaussianBlur(70)), dtype=float)
    pixels = np.asarray(image, dtype=float) + soft * 0.35
    front = _hill(rng, 1600, 0.9, 0.08, 2)
    front = np.maximum(front, 0.8)
    _fill_below(pixels, front, (9, 11, 24))
    return _image(pixels + soft * 0.12)


def chart() -> Image.Image:
    """A leaf of the printable sky calendar: a round chart with figures of stars."""
    size, rng = 1200, np.random.default_rng(71)
    image = Image.new("RGB", (1600, size), (238, 241, 248))
    draw = ImageDraw.Draw(image)
    draw.rectangle((420, 70, 1180, 1130), fill=(255, 255, 255), outline=(203, 210, 226), width=3)
    cx, cy, r = 800, 520, 330
    draw.ellipse((cx - r, cy - r, cx + r, cy + r), fill=(11, 17, 38))
    for part in (0.33, 0.66):
        d = r * part
        draw.ellipse((cx - d, cy - d, cx + d, cy + d), outline=(58, 72, 128), width=2)
    for angle in np.linspace(0, 2 * np.pi, 12, endpoint=False):
        draw.line((cx, cy, cx + r * np.cos(angle), cy + r * np.sin(angle)), fill=(36, 46, 88))
    _figures(draw, rng, cx, cy, r)
    for row in range(3):
        for column in range(7):
            left, top = 470 + column * 96, 900 + row * 66
            draw.rectangle((left, top, left + 84, top + 52), outline=(203, 210, 226), width=2)
            _phase(draw, left + 42, top + 26, 15, (row * 7 + column) / 21)
    return image


def _figures(draw: ImageDraw.ImageDraw, rng: np.random.Generator, cx: int, cy: int, r: int) -> None:
    for _ in range(9):
        angle, far = rng.random() * 2 * np.pi, r * (0.2 + 0.62 * rng.random())
        x, y = cx + far * np.cos(angle), cy + far * np.sin(angle)
        points = []
        for _ in range(rng.integers(4, 7)):
            x, y = x + rng.normal(0, 42), y + rng.normal(0, 42)
            if np.hypot(x - cx, y - cy) < r - 16:
                points.append((x, y))
        draw.line(points, fill=(242, 184, 75), width=3)
        for px, py in points:
            s = rng.random() * 4 + 4
            draw.ellipse((px - s, py - s, px + s, py + s), fill=(255, 255, 255))


def _phase(draw: ImageDraw.ImageDraw, x: int, y: int, r: int, part: float) -> None:
    draw.ellipse((x - r, y - r, x + r, y + r), fill=(11, 17, 38))
    width = int(r * abs(np.cos(2 * np.pi * part)))
    lit = (242, 184, 75)
    if part < 0.5:
        draw.pieslice((x - r, y - r, x + r, y + r), 270, 90, fill=lit)
    else:
        draw.pieslice((x - r, y - r, x + r, y + r), 90, 270, fill=lit)
    inner = lit if 0.25 < part < 0.75 else (11, 17, 38)
    draw.ellipse((x - width, y - r, x + width, y + r), fill=inner)


def mirror() -> Image.Image:
    """A round mirror on a workbench, half of it polished."""
    pixels = _gradient(900, 1200, [(0, (58, 44, 36)), (0.55, (92, 68, 50)), (1, (44, 32, 26))])
    pixels += (_noise(np.random.default_rng(7), 900, 1200, 3, 4)[..., None] - 0.5) * 26
    image = _image(pixels)
    draw = ImageDraw.Draw(image)
    for ring in range(250, 0, -2):
        shade = ring / 250
        tone = (int(86 + 96 * shade), int(112 + 84 * shade), int(140 + 84 * shade))
        draw.ellipse((600 - ring * 1.15, 430 - ring, 600 + ring * 1.15, 430 + ring), fill=tone)
    draw.pieslice((312, 180, 888, 680), 200, 290, fill=(226, 236, 246))
    for turn in range(7):
        draw.arc((350 + turn * 26, 220 + turn * 20, 850 - turn * 26, 640 - turn * 20), 20, 150,
                 fill=(120, 140, 168), width=3)
    draw.rectangle((120, 720, 1080, 756), fill=(120, 88, 58))
    draw.ellipse((880, 620, 1010, 730), fill=(214, 120, 72))
    return image


def tube() -> Image.Image:
    """A telescope on its mount against the last light."""
    pixels = _gradient(900, 1200, [(0, (22, 30, 74)), (0.6, (120, 84, 112)), (1, (236, 160, 110))])
    _stars(np.random.default_rng(3), pixels, 240, 0.5)
    image = _image(pixels)
    draw = ImageDraw.Draw(image)
    dark = (14, 14, 26)
    draw.polygon([(360, 640), (800, 180), (880, 250), (440, 716)], fill=dark)
    draw.polygon([(780, 160), (830, 130), (930, 220), (890, 268)], fill=(30, 30, 48))
    draw.polygon([(560, 470), (700, 470), (760, 860), (500, 860)], fill=dark)
    draw.ellipse((470, 560, 540, 630), fill=(242, 184, 75))
    draw.rectangle((0, 840, 1200, 900), fill=(10, 12, 20))
    return image


PICTURES: Mapping[str, Callable[[], Image.Image]] = {
    "sky": sky, "meteors": meteors, "dome": dome, "moon": moon, "saturn": saturn,
    "barn": barn, "calendar": chart, "mirror": mirror, "tube": tube,
}


def paint_all(folder: Path) -> None:
    """Paint every picture into `folder` as WebP."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, paint in PICTURES.items():
        paint().save(folder / f"{name}.webp", "WEBP", quality=86, method=6)


if __name__ == "__main__":
    paint_all(Path(sys.argv[1]))
