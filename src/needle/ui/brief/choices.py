"""Proposals side by side: words, pictures or faces, one of them taken."""

from collections.abc import Callable

from PyQt6.QtCore import QSize, pyqtSignal
from PyQt6.QtGui import QFont, QIcon, QPixmap
from PyQt6.QtWidgets import QHBoxLayout, QPushButton, QToolButton, QVBoxLayout, QWidget

from needle.ui.cards import label
from needle.ui.words import set_tip

__all__ = ["Choices"]


class Choices(QWidget):
    """Proposals side by side, one of them taken.

    Signals:
        chosen: The person took one (its place).
    """

    chosen = pyqtSignal(int)

    def __init__(self, words: str, across: int) -> None:
        super().__init__()
        self._words = words
        self._across = across
        self._buttons: list[QToolButton | QPushButton] = []
        self._column = QVBoxLayout(self)
        self._column.setContentsMargins(0, 2, 0, 0)
        self._column.setSpacing(3)
        self._column.addWidget(label(words, "small"))

    def _show(self, count: int, taken: int, dress: Callable[[QToolButton, int], None]) -> None:
        if len(self._buttons) != count:
            self._remake(count)
        for number, choice in enumerate(self._buttons):
            assert isinstance(choice, QToolButton)
            dress(choice, number)
            choice.setChecked(number == taken)

    def _remake(self, count: int) -> None:
        while self._column.count() > 1:
            item = self._column.takeAt(1)
            if item is not None and item.widget() is not None:
                item.widget().deleteLater()  # type: ignore[union-attr]
        self._buttons = []
        for start in range(0, count, self._across):
            holder = QWidget()
            row = QHBoxLayout(holder)
            row.setContentsMargins(0, 0, 0, 0)
            row.setSpacing(3)
            for number in range(start, min(count, start + self._across)):
                choice = QToolButton()
                choice.setCheckable(True)
                choice.setProperty("role", "segment")
                choice.setSizePolicy(choice.sizePolicy().Policy.Ignored if self._across < 3
                                     else choice.sizePolicy().Policy.Preferred,
                                     choice.sizePolicy().Policy.Fixed)
                choice.clicked.connect(lambda _=False, n=number: self.chosen.emit(n))
                self._buttons.append(choice)
                row.addWidget(choice, 1 if self._across < 3 else 0)
            if self._across >= 3:
                row.addStretch()
            self._column.addWidget(holder)

    def show_words(self, words: list[str] | tuple[str, ...], taken: int) -> None:
        """Show proposals of words."""
        def dress(choice: QToolButton, number: int) -> None:
            shown = words[number] if len(words[number]) <= 56 else words[number][:55] + "…"
            choice.setText(shown.replace("&", "&&"))
            set_tip(choice, words[number])
            choice.setAccessibleName(f"{self._words}: {words[number]}")

        self._show(len(words), taken, dress)

    def show_pictures(self, pictures: list[tuple[QPixmap, str]], taken: int) -> None:
        """Show proposals that are seen."""
        def dress(choice: QToolButton, number: int) -> None:
            pixmap, words = pictures[number]
            choice.setIcon(QIcon(pixmap))
            choice.setIconSize(QSize(pixmap.width() // 2, pixmap.height() // 2))
            set_tip(choice, words)
            choice.setAccessibleName(f"{self._words}: {words}")

        self._show(len(pictures), taken, dress)

    def show_faces(self, faces: list[tuple[str, str]], taken: int) -> None:
        """Show proposals of type in their own faces."""
        def dress(choice: QToolButton, number: int) -> None:
            family, words = faces[number]
            font = QFont(family)
            font.setPixelSize(15)
            choice.setFont(font)
            choice.setStyleSheet(f"font-family: '{family}'; font-size: 15px")
            choice.setText(family.split(" ", maxsplit=1)[0])
            set_tip(choice, words)
            choice.setAccessibleName(f"{self._words}: {words}")

        self._show(len(faces), taken, dress)
