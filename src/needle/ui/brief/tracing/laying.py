"""Where a page that is laid over a picture departs from it."""

import numpy as np
from PyQt6.QtCore import QPointF, Qt
from PyQt6.QtGui import QImage, QPainter

__all__ = ["difference"]

# In steps of a colour's channel, 0 to 255: less is not seen, or is the edge of a letter.
_SEEN = 26


def difference(pixels: np.ndarray, page: QImage, scale: float, shift: QPointF,
               ) -> tuple[QImage, float]:
    """Return the picture in pale grey with red where the page departs, and how much does.

    Args:
        pixels: The picture, shape (height, width, 3).
        scale: How much the page is enlarged to be as wide as the picture.
        shift: How far it is moved, in pixels of the picture.

    Returns:
        The picture, and the share of its pixels that differ, 0 to 1.
    """
    away = np.abs(_laid(pixels, page, scale, shift).astype(np.int16)
                  - pixels).max(axis=2) >= _SEEN
    shown = np.repeat((200 + pixels.mean(axis=2) / 255 * 55).astype(np.uint8)[:, :, None], 3,
                      axis=2)
    shown[away] = (216, 58, 34)
    held = np.ascontiguousarray(shown)
    high, wide = pixels.shape[:2]
    image = QImage(held.tobytes(), wide, high, wide * 3, QImage.Format.Format_RGB888).copy()
    return image, float(away.mean())


def _laid(pixels: np.ndarray, page: QImage, scale: float, shift: QPointF) -> np.ndarray:
    """Return the page as it lies on the picture, with a pixel for each of the picture's."""
    high, wide = pixels.shape[:2]
    laid = QImage(wide, high, QImage.Format.Format_RGB888)
    laid.fill(Qt.GlobalColor.white)
    painter = QPainter(laid)
    painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
    painter.translate(shift)
    painter.scale(scale, scale)
    painter.drawImage(0, 0, page)
    painter.end()
    bits = laid.constBits()
    assert bits is not None
    return np.frombuffer(bits.asstring(laid.sizeInBytes()), np.uint8).reshape(
        high, laid.bytesPerLine())[:, : wide * 3].reshape(high, wide, 3)
