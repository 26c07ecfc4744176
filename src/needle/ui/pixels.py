"""Pictures of Qt as arrays."""

import numpy as np
from numpy.typing import NDArray
from PyQt6.QtGui import QImage

__all__ = ["pixels_of"]


def pixels_of(image: QImage) -> NDArray[np.uint8]:
    """Return the pixels of a picture: shape (height, width, 3); an empty one for a null picture."""
    if image.isNull():
        return np.empty((0, 0, 3), np.uint8)
    image = image.convertToFormat(QImage.Format.Format_RGB888)
    held = image.constBits()
    assert held is not None
    rows = np.frombuffer(bytes(held.asarray(image.sizeInBytes())), np.uint8)
    rows = rows.reshape(image.height(), image.bytesPerLine())
    pixels: NDArray[np.uint8] = rows[:, : image.width() * 3].reshape(
        image.height(), image.width(), 3)
    return pixels
