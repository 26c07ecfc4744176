"""Paints what the demo's shop sells, each on a plain ground with its shadow.

Run `python -m needle.demo.paintgoods FOLDER` to paint them afresh.
"""

import math
import sys
from collections.abc import Callable, Mapping
from pathlib import Path

import numpy as np
from PIL import Image, ImageDraw, ImageFilter

__all__ = ["GOODS", "paint_goods"]

Rgb = tuple[int, int, int]
# Drawn larger and made smaller, so that edges are smooth.
_WIDE, _HIGH, _LARGER = 1000, 750, 2
_INK, _PAPER, _AMBER, _RED = (16, 20, 38), (240, 237, 228), (242, 184, 75), (196, 62, 48)


class _Sheet:
    """A ground and what lies on it; places are in pixels of the finished picture."""

    def __init__(self, top: Rgb, bottom: Rgb) -> None:
        shades = np.linspace(np.array(top), np.array(bottom), _HIGH * _LARGER)
        ground = np.repeat(shades[:, None, :], _WIDE * _LARGER, axis=1)
        self.image = Image.fromarray(ground.astype(np.uint8))
        self.draw = ImageDraw.Draw(self.image)

    def shadow(self, box: tuple[int, int, int, int], strength: int = 90) -> None:
        """Lay a soft shadow into a box."""
        mask = Image.new("L", self.image.size, 0)
        ImageDraw.Draw(mask).ellipse(self._box(box), fill=strength)
        mask = mask.filter(ImageFilter.GaussianBlur(22 * _LARGER))
        self.image.paste((0, 0, 0), (0, 0), mask)

    @staticmethod
    def _box(box: tuple[int, ...]) -> tuple[int, ...]:
        return tuple(side * _LARGER for side in box)

    def round(self, box: tuple[int, int, int, int], radius: int, fill: Rgb) -> None:
        """Draw a box with round corners."""
        self.draw.rounded_rectangle(self._box(box), radius * _LARGER, fill=fill)

    def oval(self, box: tuple[int, int, int, int], fill: Rgb) -> None:
        """Draw an ellipse into a box."""
        self.draw.ellipse(self._box(box), fill=fill)

    def ring(self, box: tuple[int, int, int, int], colour: Rgb, width: int) -> None:
        """Draw the edge of an ellipse."""
        self.draw.ellipse(self._box(box), outline=colour, width=width * _LARGER)

    def shape(self, points: list[tuple[int, int]], fill: Rgb) -> None:
        """Fill a polygon."""
        self.draw.polygon([(x * _LARGER, y * _LARGER) for x, y in points], fill=fill)

    def line(self, points: list[tuple[int, int]], colour: Rgb, width: int) -> None:
        """Draw a line."""
        self.draw.line([(x * _LARGER, y * _LARGER) for x, y in points], fill=colour,
                       width=width * _LARGER, joint="curve")

    def stars(self, box: tuple[int, int, int, int], count: int, seed: int,
              colour: Rgb = _PAPER) -> None:
        """Scatter stars over the ellipse in a box."""
        rng = np.random.default_rng(seed)
        left, top, right, bottom = box
        for _ in range(count):
            turn, far = rng.random() * 2 * math.pi, math.sqrt(rng.random()) * 0.9
            x = (left + right) / 2 + math.cos(turn) * far * (right - left) / 2
            y = (top + bottom) / 2 + math.sin(turn) * far * (bottom - top) / 2
            size = 1 + rng.pareto(2.4)
            size = min(size, 5)
            self.draw.ellipse([side * _LARGER for side in (
                x - size, y - size, x + size, y + size)], fill=colour)

    def done(self) -> Image.Image:
        """Return the picture."""
        return self.image.resize((_WIDE, _HIGH), Image.Resampling.LANCZOS)


def torch() -> Image.Image:
    """A short torch with a red light."""
    s = _Sheet((58, 64, 92), (24, 28, 48))
    s.shadow((170, 470, 830, 620))
    for step in range(26, 0, -1):
        glow = 1 - step / 26
        s.oval((730 - 4 * step, 375 - 7 * step, 830 + 9 * step, 375 + 7 * step),
               (int(58 + 120 * glow), int(60 - 10 * glow), int(86 - 40 * glow)))
    s.round((190, 320, 640, 430), 30, (40, 44, 52))
    for place in range(240, 520, 22):
        s.line([(place, 330), (place, 420)], (60, 66, 78), 6)
    s.shape([(620, 310), (760, 270), (760, 480), (620, 440)], (52, 56, 66))
    s.oval((730, 268, 800, 482), _RED)
    s.oval((748, 310, 786, 440), (244, 130, 104))
    s.round((400, 300, 450, 324), 10, _AMBER)
    return s.done()


def headlamp() -> Image.Image:
    """A lamp on a band."""
    s = _Sheet((226, 222, 210), (196, 190, 176))
    s.shadow((230, 560, 770, 690))
    s.ring((230, 150, 770, 640), (70, 92, 122), 44)
    s.ring((252, 172, 748, 618), (92, 118, 152), 10)
    s.round((400, 470, 600, 650), 34, _INK)
    s.oval((428, 486, 572, 630), (70, 76, 92))
    s.oval((448, 506, 552, 610), (246, 226, 168))
    s.oval((470, 528, 530, 588), (255, 248, 226))
    s.round((380, 520, 402, 600), 8, _RED)
    return s.done()


def wheel() -> Image.Image:
    """A round star chart that turns."""
    s = _Sheet((232, 216, 186), (208, 186, 148))
    s.shadow((220, 560, 800, 700))
    s.oval((215, 90, 785, 660), (34, 52, 96))
    s.oval((245, 120, 755, 630), (14, 22, 52))
    s.stars((245, 120, 755, 630), 260, 5)
    for turn in range(24):
        angle = turn / 24 * 2 * math.pi
        s.line([(round(500 + math.cos(angle) * 258), round(375 + math.sin(angle) * 258)),
                (round(500 + math.cos(angle) * 276), round(375 + math.sin(angle) * 276))],
               _PAPER, 3)
    s.ring((300, 200, 690, 590), _AMBER, 5)
    s.line([(500, 375), (640, 250)], _AMBER, 4)
    s.oval((488, 363, 512, 387), _AMBER)
    return s.done()


def book() -> Image.Image:
    """A bound book with a moon on it."""
    s = _Sheet((198, 208, 204), (164, 178, 174))
    s.shadow((260, 560, 800, 690))
    s.shape([(300, 120), (690, 96), (720, 620), (326, 650)], (236, 230, 214))
    s.shape([(286, 112), (676, 88), (702, 606), (308, 636)], (34, 62, 70))
    s.shape([(286, 112), (318, 110), (342, 634), (308, 636)], (22, 44, 52))
    s.oval((390, 190, 620, 420), _AMBER)
    s.oval((352, 172, 560, 390), (34, 62, 70))
    for place, width in ((480, 220), (516, 160)):
        s.round((400, place, 400 + width, place + 12), 6, _PAPER)
    return s.done()


def mug() -> Image.Image:
    """A mug with the dome on it."""
    s = _Sheet((52, 60, 90), (28, 32, 54))
    s.shadow((300, 570, 780, 690))
    s.ring((600, 270, 800, 500), _PAPER, 34)
    s.round((300, 180, 680, 640), 40, _PAPER)
    s.oval((300, 140, 680, 230), (224, 219, 206))
    s.oval((322, 152, 658, 218), (70, 44, 30))
    s.draw.pieslice([side * 2 for side in (410, 330, 570, 490)], 180, 360, fill=(34, 52, 96))
    s.round((398, 408, 582, 520), 4, (34, 52, 96))
    s.shape([(480, 334), (510, 332), (520, 410), (470, 410)], _AMBER)
    s.stars((380, 260, 600, 330), 16, 2, (34, 52, 96))
    return s.done()


def blanket() -> Image.Image:
    """A folded blanket."""
    s = _Sheet((234, 224, 206), (206, 194, 172))
    s.shadow((190, 560, 820, 690))
    for number, shade in enumerate(((124, 46, 42), (146, 56, 48), (164, 66, 54))):
        top = 480 - number * 120
        s.round((210, top, 790, top + 140), 56, shade)
        for place in range(290, 760, 96):
            s.line([(place, top + 6), (place, top + 134)], (222, 176, 120), 7)
        s.line([(230, top + 70), (770, top + 70)], (222, 176, 120), 5)
    return s.done()


def kit() -> Image.Image:
    """A box with a mirror, a tube and screws in it."""
    s = _Sheet((176, 190, 196), (138, 154, 162))
    s.shadow((150, 570, 860, 700))
    s.shape([(150, 220), (850, 220), (900, 640), (100, 640)], (168, 130, 88))
    s.shape([(190, 250), (810, 250), (850, 606), (150, 606)], (112, 82, 54))
    for step in range(20, 0, -1):
        shade = 110 + step * 6
        s.oval((390 - 7 * step, 440 - 7 * step, 390 + 7 * step, 440 + 7 * step),
               (shade - 20, shade, min(255, shade + 24)))
    s.round((570, 300, 660, 570), 16, _INK)
    s.oval((576, 290, 654, 330), (60, 66, 84))
    for x, y in ((720, 330), (760, 380), (720, 430), (770, 480), (725, 530)):
        s.oval((x - 16, y - 16, x + 16, y + 16), (206, 200, 186))
        s.line([(x - 9, y), (x + 9, y)], (120, 114, 100), 4)
    return s.done()


def voucher() -> Image.Image:
    """A card in an envelope."""
    s = _Sheet((60, 72, 66), (34, 44, 40))
    s.shadow((220, 560, 800, 690))
    s.round((300, 110, 720, 480), 14, _PAPER)
    s.round((316, 126, 704, 464), 10, (14, 22, 52))
    s.stars((330, 130, 690, 350), 90, 8)
    s.round((440, 360, 580, 374), 6, _AMBER)
    s.round((400, 396, 620, 406), 5, _PAPER)
    s.round((220, 330, 800, 640), 18, (214, 190, 146))
    s.shape([(220, 344), (510, 520), (800, 344), (800, 640), (220, 640)], (228, 206, 166))
    s.oval((470, 476, 550, 556), _RED)
    return s.done()


def poster() -> Image.Image:
    """A sheet on a wall: the Milky Way above a hill."""
    s = _Sheet((222, 226, 230), (196, 202, 210))
    s.shadow((300, 600, 740, 700), 60)
    s.round((310, 50, 690, 660), 4, _PAPER)
    s.round((332, 72, 668, 580), 2, (20, 28, 66))
    s.stars((320, 40, 680, 560), 320, 11)
    s.shape([(332, 540), (430, 470), (520, 510), (600, 450), (668, 500), (668, 580), (332, 580)],
            (8, 12, 26))
    s.round((400, 606, 600, 620), 6, _INK)
    return s.done()


def postcards() -> Image.Image:
    """Three cards, one upon another."""
    s = _Sheet((240, 214, 170), (220, 186, 134))
    s.shadow((190, 560, 830, 690))
    for number, (shift, colour) in enumerate(((0, (120, 60, 70)), (70, (40, 84, 110)),
                                              (150, (20, 28, 66)))):
        left, top = 190 + shift, 150 + shift
        s.shape([(left, top + 30), (left + 430, top - 10), (left + 460, top + 280),
                 (left + 30, top + 320)], _PAPER)
        s.shape([(left + 18, top + 44), (left + 416, top + 8), (left + 440, top + 266),
                 (left + 44, top + 304)], colour)
        if number == 2:
            s.stars((left + 60, top + 40, left + 400, top + 270), 80, 4)
            s.oval((left + 250, top + 70, left + 350, top + 170), _AMBER)
    return s.done()


GOODS: Mapping[str, Callable[[], Image.Image]] = {
    "torch": torch, "headlamp": headlamp, "wheel": wheel, "book": book, "mug": mug,
    "blanket": blanket, "kit": kit, "voucher": voucher, "poster": poster, "postcards": postcards}


def paint_goods(folder: Path) -> None:
    """Paint every picture into `folder` as WebP."""
    folder.mkdir(parents=True, exist_ok=True)
    for name, paint in GOODS.items():
        paint().save(folder / f"{name}.webp", "WEBP", quality=84, method=6)


if __name__ == "__main__":
    paint_goods(Path(sys.argv[1]))
