"""Makes the demo's film: a night on the hill, the stars turning round the pole.

Run `python -m needle.demo.film FILE.webm` to make it afresh.
"""

import sys
from fractions import Fraction
from pathlib import Path

import av
import numpy as np
from PIL import Image, ImageDraw

__all__ = ["make_film"]

_WIDE, _HIGH = 640, 360
_RATE, _SECONDS = 15, 8
_POLE = (410, 150)
_STARS = 320


def make_film(path: Path) -> None:
    """Write the film as WebM (VP9, no sound)."""
    rng = np.random.default_rng(1961)
    radii, starts = rng.uniform(6, 560, _STARS), rng.uniform(0, 2 * np.pi, _STARS)
    light = rng.pareto(2.4, _STARS) * 60 + 60
    sky = _sky()
    trails = np.zeros((_HIGH, _WIDE))
    with av.open(str(path), "w") as out:
        stream = out.add_stream("libvpx-vp9", rate=_RATE)
        stream.width, stream.height, stream.pix_fmt = _WIDE, _HIGH, "yuv420p"
        stream.options = {"crf": "38", "b": "0", "row-mt": "1", "cpu-used": "4"}
        stream.time_base = Fraction(1, _RATE)
        for number in range(_RATE * _SECONDS):
            angle = number / (_RATE * _SECONDS) * 0.9
            _turn(trails, radii, starts + angle, light)
            pixels = np.clip(sky + trails[..., None] * (0.95, 0.97, 1.0), 0, 255)
            image = _hill(Image.fromarray(pixels.astype(np.uint8)))
            for packet in stream.encode(av.VideoFrame.from_image(image)):  # type: ignore[no-untyped-call]
                out.mux(packet)
        for packet in stream.encode():
            out.mux(packet)


def _sky() -> np.ndarray:
    places = np.linspace(0, 1, _HIGH)
    columns = [np.interp(places, (0, 0.6, 1), channel)
               for channel in ((7, 22, 66), (11, 24, 54), (34, 44, 82))]
    return np.repeat(np.stack(columns, axis=1)[:, None, :], _WIDE, axis=1)


def _turn(trails: np.ndarray, radii: np.ndarray, angles: np.ndarray, light: np.ndarray) -> None:
    """Draw every star at its angle; what was drawn before fades a little."""
    trails *= 0.985
    xs = np.rint(_POLE[0] + radii * np.cos(angles)).astype(int)
    ys = np.rint(_POLE[1] + radii * np.sin(angles)).astype(int)
    seen = (xs >= 0) & (xs < _WIDE) & (ys >= 0) & (ys < _HIGH)
    np.maximum.at(trails, (ys[seen], xs[seen]), np.minimum(light[seen], 255))


def _hill(image: Image.Image) -> Image.Image:
    draw = ImageDraw.Draw(image)
    ridge = [(x, 292 + 14 * np.sin(x / 90) - 20 * np.exp(-((x - 170) / 120) ** 2))
             for x in range(0, _WIDE + 20, 20)]
    draw.polygon([(0, _HIGH), *ridge, (_WIDE, _HIGH)], fill=(6, 8, 18))
    draw.pieslice((140, 236, 204, 300), 180, 360, fill=(16, 18, 34))
    draw.polygon([(168, 238), (178, 236), (184, 268), (172, 268)], fill=(242, 184, 75))
    return image


if __name__ == "__main__":
    make_film(Path(sys.argv[1]))
