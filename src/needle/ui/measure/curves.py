"""The two charts of a split test."""

from collections.abc import Callable, Mapping, Sequence
from statistics import NormalDist

import numpy as np
import pyqtgraph as pg
from numpy.typing import NDArray
from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QFont

from needle.core.measure.split import Arm
from needle.ui.language import tr
from needle.ui.theme import tokens

__all__ = ["DifferenceChart", "RateChart", "arm_colour"]

Density = Callable[[Arm, NDArray[np.float64]], NDArray[np.float64]]
_Z = float(NormalDist().inv_cdf(0.975))


def arm_colour(number: int) -> QColor:
    """Return the colour of the n-th variant; there are four, and a dash tells who shares one."""
    look = tokens()
    return QColor((look.sky, look.thread, look.bottle, look.amber)[number % 4])


def _dashed(number: int) -> bool:
    return (number + number // 4) % 2 == 1


class _Chart(pg.PlotWidget):  # type: ignore[misc]
    """A plot without frame, menu or mouse play."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setMinimumHeight(120)
        self.setMouseEnabled(False, False)
        self.hideButtons()
        self.setMenuEnabled(False)
        self._plain()

    def _plain(self) -> None:
        look = tokens()
        self.setBackground(look.paper)
        small = QFont("IBM Plex Sans")
        small.setPixelSize(11)
        for side in ("bottom", "left"):
            axis = self.getAxis(side)
            axis.setPen(pg.mkPen(look.edge))
            axis.setTextPen(pg.mkPen(look.ink_second))
            axis.setTickFont(small)
            axis.setStyle(tickLength=0)


class RateChart(_Chart):
    """How likely each true rate is, a curve for each variant; the second one is dashed."""

    def __init__(self) -> None:
        super().__init__(tr("Where the true rate of each variant may lie"))
        self.hideAxis("left")

    def show_arms(self, arms: Sequence[Arm], density: Density) -> None:
        """Draw the curves."""
        self.clear()
        self._plain()
        seen = [arm for arm in arms if arm.visitors]
        if not seen:
            return
        spread = [(arm.rate * (1 - arm.rate) / arm.visitors + 1e-9) ** 0.5 for arm in seen]
        low = max(0.0, min(a.rate - 4 * s for a, s in zip(seen, spread, strict=True)))
        high = min(1.0, max(a.rate + 4 * s for a, s in zip(seen, spread, strict=True)))
        rates = np.linspace(low, high, 400)
        top = max(float(density(arm, rates).max()) for arm in seen)
        self.setYRange(0, top * (1.18 if len(seen) < 4 else 1.3), padding=0)
        self.setXRange(low * 100, high * 100, padding=0)
        for number, arm in enumerate(seen):
            colour = arm_colour(number)
            heights = density(arm, rates)
            style = Qt.PenStyle.DashLine if _dashed(number) else Qt.PenStyle.SolidLine
            wash = QColor(colour)
            wash.setAlpha(38)
            self.plot(rates * 100, heights, pen=pg.mkPen(colour, width=2, style=style),
                      fillLevel=0, brush=wash)
            # Of many, the rates stand in the table; names of neighbours go at two heights.
            words = arm.key if len(seen) > 3 else f"{arm.key}  {arm.rate:.2%}".replace("%", " %")
            name = pg.TextItem(words, color=colour, anchor=(0.5, 1.0))
            name.setPos(arm.rate * 100, float(heights.max()) + (
                top * 0.09 * (number % 2) if len(seen) > 3 else 0))
            self.addItem(name)
        axis = self.getAxis("bottom")
        axis.setLabel("")
        ticks = _ticks(low * 100, high * 100)
        axis.setTicks([[(tick, f"{tick:g} %") for tick in ticks]])


def _ticks(low: float, high: float) -> list[float]:
    step = next(s for s in (0.1, 0.2, 0.5, 1, 2, 5, 10, 20, 50) if (high - low) / s <= 7)
    first = np.ceil(low / step) * step
    return [round(float(t), 3) for t in np.arange(first, high, step)]


class DifferenceChart(_Chart):
    """The difference of the first two variants day by day, with its 95 % range."""

    def __init__(self) -> None:
        super().__init__(tr("Difference of the rates as visitors arrived, in percentage points"))

    def show_days(self, days: Mapping[str, Sequence[tuple[int, int, int]]],
                  keys: Sequence[str]) -> None:
        """Draw the difference second minus first variant, in percentage points."""
        self.clear()
        self._plain()
        if len(keys) < 2 or any(not days.get(key) for key in keys[:2]):
            return
        every = sorted({day for key in keys[:2] for day, _, _ in days[key]})
        (n_a, c_a), (n_b, c_b) = (_running(days[key], every) for key in keys[:2])
        enough = (n_a > 0) & (n_b > 0)
        n_a, c_a, n_b, c_b = (part[enough] for part in (n_a, c_a, n_b, c_b))
        if not len(n_a):
            return
        p_a, p_b = c_a / n_a, c_b / n_b
        # Newcombe's hybrid would be narrower early on; Agresti-Caffo's added counts keep the
        # range honest when there are few conversions (American Statistician 54, 2000).
        q_a, q_b = (c_a + 1) / (n_a + 2), (c_b + 1) / (n_b + 2)
        error = _Z * np.sqrt(q_a * (1 - q_a) / (n_a + 2) + q_b * (1 - q_b) / (n_b + 2)) * 100
        shift, middle = (p_b - p_a) * 100, (q_b - q_a) * 100
        x = np.arange(1, len(shift) + 1, dtype=float)
        self._draw(x, shift, middle - error, middle + error)

    def _draw(self, x: NDArray[np.float64], shift: NDArray[np.float64],
              low: NDArray[np.float64], high: NDArray[np.float64]) -> None:
        look = tokens()
        wash = QColor(look.brass)
        wash.setAlpha(60)
        edges = [self.plot(x, edge, pen=pg.mkPen(wash)) for edge in (low, high)]
        self.addItem(pg.FillBetweenItem(*edges, brush=wash))
        self.addLine(y=0, pen=pg.mkPen(look.ink_second, style=Qt.PenStyle.DotLine))
        self.plot(x, shift, pen=pg.mkPen(look.amber, width=2))
        reach = float(np.max(np.abs([*low[len(low) // 4 :], *high[len(high) // 4 :], 1.0])))
        self.setYRange(-reach, reach, padding=0.05)
        step = max(1, len(x) // 6)
        self.getAxis("bottom").setTicks([[(int(d), tr("day {day}", day=int(d)))
                                          for d in x[step - 1 :: step]]])


def _running(days: Sequence[tuple[int, int, int]], every: Sequence[int],
             ) -> tuple[NDArray[np.float64], NDArray[np.float64]]:
    """Return visitors and conversions up to each day."""
    by_day = {day: (visitors, won) for day, visitors, won in days}
    counts = np.array([by_day.get(day, (0, 0)) for day in every], dtype=float).cumsum(axis=0)
    return counts[:, 0], counts[:, 1]
