"""Choosing one of the shipped icons by word or by eye."""

from functools import lru_cache

from PyQt6.QtCore import QByteArray, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QIcon, QPainter, QPixmap
from PyQt6.QtSvg import QSvgRenderer
from PyQt6.QtWidgets import (
    QDialog,
    QLineEdit,
    QListView,
    QListWidget,
    QListWidgetItem,
    QSizePolicy,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.icons.drawing import find_icons, icon_names, icon_svg
from needle.ui.language import tr
from needle.ui.theme import tokens
from needle.ui.words import Words

__all__ = ["IconButton", "IconDialog"]

_SIDE = 24


@lru_cache(maxsize=2048)
def _drawn(name: str, ink: str) -> QIcon:
    """Return an icon of the site's set as the window shows it."""
    svg = str(icon_svg(name)).replace("currentColor", ink).replace(
        "<svg ", '<svg xmlns="http://www.w3.org/2000/svg" ', 1)
    pixmap = QPixmap(_SIDE * 2, _SIDE * 2)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    QSvgRenderer(QByteArray(svg.encode())).render(painter)
    painter.end()
    pixmap.setDevicePixelRatio(2)
    return QIcon(pixmap)


class IconDialog(QDialog):
    """All icons, narrowed down by what is typed.

    Signals:
        chosen: The person took one (its name; empty for none).
    """

    chosen = pyqtSignal(str)

    def __init__(self, parent: QWidget, now: str) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Choose an icon"))
        self.line = QLineEdit()
        self.line.setPlaceholderText(tr("Find one of {count} icons: star, night, phone…",
                                        count=len(icon_names())))
        self.line.setAccessibleName(tr("Find an icon"))
        self.list = QListWidget()
        self.list.setViewMode(QListView.ViewMode.IconMode)
        self.list.setIconSize(QSize(_SIDE, _SIDE))
        self.list.setGridSize(QSize(84, 62))
        self.list.setResizeMode(QListView.ResizeMode.Adjust)
        self.list.setMovement(QListView.Movement.Static)
        self.list.setAccessibleName(tr("Icons"))
        self._note = Words()
        self._note.setProperty("role", "dim")
        column = QVBoxLayout(self)
        column.addWidget(self.line)
        column.addWidget(self.list)
        column.addWidget(self._note)
        self.resize(640, 460)
        self.line.textChanged.connect(self._show)
        self.line.returnPressed.connect(self._take)
        self.list.itemActivated.connect(lambda _: self._take())
        self.list.itemClicked.connect(lambda _: self._take())
        self._show("", now)

    def _show(self, words: str, now: str = "") -> None:
        names = find_icons(words)
        self.list.clear()
        ink = QColor(tokens().ink).name()
        for name in ([""] if not words else []) + names:
            item = QListWidgetItem(_drawn(name, ink) if name else QIcon(),
                                   name.replace("-", " ") or tr("no icon"))
            item.setData(Qt.ItemDataRole.UserRole, name)
            item.setTextAlignment(Qt.AlignmentFlag.AlignHCenter)
            self.list.addItem(item)
            if name == now:
                self.list.setCurrentItem(item)
        if self.list.currentRow() < 0 and self.list.count():
            self.list.setCurrentRow(0)
        self._note.setText(f"{len(names)} icons" if names else
                           tr("No icon is called “{words}”. Try another word.", words=words))

    def _take(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self.accept()
            self.chosen.emit(item.data(Qt.ItemDataRole.UserRole))


class IconButton(QToolButton):
    """The icon that is chosen; a click opens all of them.

    Signals:
        chosen: The person took another one (its name; empty for none).
    """

    chosen = pyqtSignal(str)

    def __init__(self, name: str) -> None:
        super().__init__()
        self._now = ""
        self.setAccessibleName(name)
        self.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self.setProperty("role", "segment")
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.clicked.connect(lambda _=False: self.ask())

    def show_icon(self, name: str) -> None:
        """Show which icon is chosen."""
        self._now = name
        self.setIcon(_drawn(name, QColor(tokens().ink).name()) if name else QIcon())
        self.setText(name.replace("-", " ") or tr("none"))

    def ask(self) -> None:
        """Let the person choose another one."""
        self.dialog = IconDialog(self, self._now)
        self.dialog.chosen.connect(self.chosen)
        self.dialog.open()
        self.dialog.line.setFocus()
