"""Vector pictures as pixels."""

from PIL import Image
from PyQt6.QtCore import QByteArray, QRectF, Qt
from PyQt6.QtGui import QImage, QPainter, QPixmap
from PyQt6.QtSvg import QSvgRenderer

__all__ = ["vector_pixels", "vector_pixmap"]


def vector_pixmap(data: bytes, wide: int, high: int) -> QPixmap:
    """Return a drawing as large as fits a box, in its middle, on a clear ground."""
    renderer = QSvgRenderer(QByteArray(data))
    pixmap = QPixmap(wide, high)
    pixmap.fill(Qt.GlobalColor.transparent)
    size = renderer.defaultSize().scaled(wide, high, Qt.AspectRatioMode.KeepAspectRatio)
    painter = QPainter(pixmap)
    renderer.render(painter, QRectF((wide - size.width()) / 2, (high - size.height()) / 2,
                                    size.width(), size.height()))
    painter.end()
    return pixmap


def vector_pixels(data: bytes, side: int) -> Image.Image:
    """Return a drawing as an RGBA picture, `side` pixels wide and high."""
    image = vector_pixmap(data, side, side).toImage().convertToFormat(
        QImage.Format.Format_RGBA8888)
    bits = image.constBits()
    assert bits is not None
    return Image.frombytes("RGBA", (side, side), bits.asstring(image.sizeInBytes()))
