"""A page of a PDF as a picture."""

from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QSize, Qt
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtPdf import QPdfDocument
from PyQt6.QtWidgets import QInputDialog, QWidget

from needle.core.images.picturefile import PictureError
from needle.ui.language import tr

__all__ = ["pdf_page"]

_WIDE_PX = 2560
_HIGHEST_PX = 9000


def pdf_page(path: Path, parent: QWidget) -> bytes:
    """Return one page of a PDF as PNG; which one is asked if there are several.

    Returns:
        Nothing if the person takes none.

    Raises:
        PictureError: It cannot be read, or is closed by a password.
    """
    document = QPdfDocument(parent)
    fault = document.load(str(path))
    if fault != QPdfDocument.Error.None_ or not document.pageCount():
        closed = fault == QPdfDocument.Error.IncorrectPassword
        raise PictureError("pdf-locked" if closed else "pdf-unreadable", name=path.name)
    number, taken = 1, True
    if document.pageCount() > 1:
        number, taken = QInputDialog.getInt(parent, tr("Pin a picture"), tr("Which page?"), 1, 1,
                                            document.pageCount())
    return _rendered(document, number - 1) if taken else b""


def _rendered(document: QPdfDocument, number: int) -> bytes:
    size = document.pagePointSize(number)
    high = round(_WIDE_PX * size.height() / max(1.0, size.width()))
    rendered = document.render(number, QSize(_WIDE_PX, min(high, _HIGHEST_PX)))
    image = QImage(rendered.size(), QImage.Format.Format_RGB32)
    image.fill(Qt.GlobalColor.white)
    painter = QPainter(image)
    painter.drawImage(0, 0, rendered)
    painter.end()
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())
