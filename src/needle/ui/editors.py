"""Small editors: numbers, choices, colours, and the knot that marks a difference."""

from collections.abc import Callable, Mapping, Sequence
from typing import Any

from PyQt6.QtCore import QEvent, QPoint, QSignalBlocker, QSize, Qt, pyqtSignal
from PyQt6.QtGui import (
    QAction,
    QColor,
    QIcon,
    QKeyEvent,
    QKeySequence,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPixmap,
    QWheelEvent,
)
from PyQt6.QtWidgets import (
    QAbstractButton,
    QButtonGroup,
    QColorDialog,
    QComboBox,
    QHBoxLayout,
    QLineEdit,
    QMenu,
    QSizePolicy,
    QToolButton,
    QWidget,
)

from needle.core.site.site import Brand
from needle.ui.hearing import NamedCombo
from needle.ui.language import tr
from needle.ui.theme import tokens
from needle.ui.words import Words, set_tip

__all__ = ["ChoiceEdit", "ColourEdit", "DragLabel", "Knot", "NumberEdit", "Segments",
           "WordsEdit"]


class _Line(QLineEdit):
    """A line that leaves undo to the window once it has nothing of its own to take back."""

    def event(self, event: QEvent | None) -> bool:
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            undo = event.matches(QKeySequence.StandardKey.Undo) and not self.isUndoAvailable()
            redo = event.matches(QKeySequence.StandardKey.Redo) and not self.isRedoAvailable()
            if undo or redo:
                event.ignore()
                return False
        return super().event(event)


class NumberEdit(_Line):
    """A number that can be typed, stepped with the arrow keys, or left to be inherited.

    Signals:
        chosen: The person chose a number, or `None` to inherit.
        refused: What was typed is no number within the limits (in words).
    """

    chosen = pyqtSignal(object)
    refused = pyqtSignal(str)

    def __init__(self, name: str, low: float, high: float, step: float, unit: str = "") -> None:
        super().__init__()
        self._name = name
        self._low, self._high, self._step, self._unit = low, high, step, unit
        self._shown: float | None = None
        self._inherited: float | None = None
        self.setAccessibleName(name if not unit or name.endswith(f"in {unit}") else
                               tr("{name} in {unit}", name=name, unit=unit))
        set_tip(self, tr("{name}{value}: type a number, step with the arrow keys, empty to "
                         "inherit",
                         name=name, value=f", {unit}" if unit else ""))
        self.setMinimumWidth(30)
        self.editingFinished.connect(self._take)

    def show_value(self, value: float | None, inherited: float | None = None) -> None:
        """Show a number; with `None` the inherited one, dimmed."""
        self._shown, self._inherited = value, inherited
        with QSignalBlocker(self):
            self.setPlaceholderText("" if inherited is None else f"{inherited:g}")
            self.setText("" if value is None else f"{value:g}")

    def step(self, count: float) -> None:
        """Change the number by so many steps."""
        now = self._shown if self._shown is not None else (self._inherited or 0)
        self._choose(round(min(self._high, max(self._low, now + count * self._step)), 4))

    def _take(self) -> None:
        words = self.text().strip().replace(",", ".").removesuffix(self._unit).strip()
        if not words:
            if self._shown is not None:
                self._choose(None)
            return
        try:
            value = float(words)
        except ValueError:
            value = float("nan")
        if not self._low <= value <= self._high:
            self.refused.emit(tr("{name} takes {low:g} to {high:g} {unit}",
                                 name=self._name, low=self._low, high=self._high,
                                 unit=self._unit).rstrip() + tr(", not “{words}”.", words=words))
            self.show_value(self._shown, self._inherited)
        elif value != self._shown:
            self._choose(value)

    def _choose(self, value: float | None) -> None:
        if value is not None and float(value).is_integer():
            value = int(value)
        self.show_value(value, self._inherited)
        self.chosen.emit(value)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        steps = {Qt.Key.Key_Up: 1, Qt.Key.Key_Down: -1, Qt.Key.Key_PageUp: 10,
                 Qt.Key.Key_PageDown: -10}.get(Qt.Key(event.key()))
        if steps is None:
            super().keyPressEvent(event)
            return
        self._take()
        tenfold = event.modifiers() & Qt.KeyboardModifier.ShiftModifier
        self.step(steps * (10 if tenfold else 1))


class WordsEdit(_Line):
    """A line of words that is taken when the person leaves it or presses Enter.

    Signals:
        kept: The words are others than those shown before.
    """

    kept = pyqtSignal(str)

    def __init__(self, name: str, words: str = "") -> None:
        super().__init__(words)
        self._before = words
        self.setAccessibleName(name)
        self.setCursorPosition(0)
        self.editingFinished.connect(self._take)

    def show_words(self, words: str) -> None:
        """Show other words, unless the person is changing these."""
        if not self.changing:
            self._before = words
            self.setText(words)
            self.setCursorPosition(0)

    @property
    def changing(self) -> bool:
        """Whether something is typed here that has not been taken yet."""
        return self.hasFocus() and self.text() != self._before

    def _take(self) -> None:
        if self.text() != self._before:
            self._before = self.text()
            self.setText(self._before)  # From here on, undo is the window's.
            self.kept.emit(self._before)


class DragLabel(Words):
    """The label of a number: dragging it sideways changes the number."""

    def __init__(self, words: str, target: NumberEdit | None = None) -> None:
        super().__init__(words)
        self.setProperty("role", "dim")
        self._target = target
        self._from: QPoint | None = None
        if target is not None:
            self.setCursor(Qt.CursorShape.SizeHorCursor)
            self.setBuddy(target)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        if event and self._target:
            self._from = event.position().toPoint()

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        if event is None or self._from is None or self._target is None:
            return
        steps = (event.position().toPoint().x() - self._from.x()) // 4
        if steps:
            self._from = self._from + QPoint(steps * 4, 0)
            self._target.step(steps)

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        self._from = None


class ChoiceEdit(NamedCombo):
    """One of a few values.

    Signals:
        chosen: The person chose a value, or `None` to inherit.
    """

    chosen = pyqtSignal(object)

    def __init__(self, name: str, choices: Mapping[Any, str], inherit: bool = True) -> None:
        super().__init__(name)
        self._inherit = inherit
        set_tip(self, tr("{name}; in brackets: inherited", name=name) if inherit else name)
        self.setMinimumContentsLength(3)
        self.setSizeAdjustPolicy(
            QComboBox.SizeAdjustPolicy.AdjustToMinimumContentsLengthWithIcon)
        if inherit:
            self.addItem("–", None)
        for value, words in choices.items():
            self.addItem(words, value)
        self.activated.connect(lambda _: self.chosen.emit(self.currentData()))

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Leave the wheel to what scrolls, so that nobody changes a value in passing."""
        if event is not None:
            event.ignore()

    def show_value(self, value: object, inherited: object = None) -> None:
        """Show a value; with `None` the inherited one, marked as such."""
        with QSignalBlocker(self):
            if self._inherit:
                at = self.findData(inherited) if inherited is not None else -1
                self.setItemText(0, f"({self.itemText(at)})" if at > 0 else "–")
            self.setCurrentIndex(max(0, self.findData(value)) if value is not None else 0)


class FaceEdit(ChoiceEdit):
    """A face of type: one of the brand's two, or any family that the site can use."""

    def __init__(self, name: str, choices: Mapping[Any, str],
                 families: Callable[[], Sequence[str]]) -> None:
        """Make the editor.

        Args:
            families: Returns what there is; asked again at each showing.
        """
        super().__init__(name, choices)
        self._families = families

    def show_value(self, value: object, inherited: object = None) -> None:
        """Show a face; families that have come since are offered from now on."""
        known = {self.itemData(at) for at in range(self.count())}
        with QSignalBlocker(self):
            for family in self._families():
                if family not in known:
                    self.addItem(family, family)
            if isinstance(value, str) and value and self.findData(value) < 0:
                self.addItem(tr("{value} (not here)", value=value), value)
        super().show_value(value, inherited)


class ColourEdit(QToolButton):
    """A colour: of the brand, of one's own, or inherited.

    Signals:
        chosen: The person chose a role, a hex colour, or `None` to inherit.
    """

    chosen = pyqtSignal(object)

    def __init__(self, name: str, compact: bool = False) -> None:
        """Make the editor; a compact one shows the colour without its name."""
        super().__init__()
        self._name = name
        self._compact = compact
        self._brand: Brand | None = None
        self._value = ""
        self.setAccessibleName(name)
        self.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonIconOnly if compact else
                                Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self.setIconSize(QSize(16, 16))
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Fixed)
        self.setProperty("role", "left")
        self._menu = QMenu(self)
        self._menu.aboutToShow.connect(self._fill)
        self.setMenu(self._menu)

    def show_value(self, value: str | None, brand: Brand, inherited: str | None = None) -> None:
        """Show a colour; with `None` the inherited one."""
        self._brand, self._value = brand, value or ""
        shown = value or inherited
        swatch = brand.swatch(shown or "")
        hex_value = swatch.value if swatch else (shown if shown and shown[0] == "#" else "")
        name = swatch.name if swatch else (shown or "none")
        self.setIcon(_dot(hex_value))
        words = name if value else f"({name})" if inherited else "none"
        self.setText(words)
        set_tip(self, f"{self._name}: {words}")

    def _fill(self) -> None:
        self._menu.clear()
        assert self._brand is not None
        for swatch in self._brand.palette:
            action = QAction(_dot(swatch.value), swatch.name, self._menu)
            action.triggered.connect(lambda _=False, r=swatch.role: self.chosen.emit(r))
            self._menu.addAction(action)
        self._menu.addSeparator()
        other = QAction(tr("Another colour…"), self._menu)
        other.triggered.connect(self._ask)
        inherit = QAction(tr("Leave it to the style"), self._menu)
        inherit.triggered.connect(lambda: self.chosen.emit(None))
        self._menu.addActions([other, inherit])

    def _ask(self) -> None:
        start = QColor(self._value if self._value.startswith("#") else "#ffffff")
        colour = QColorDialog.getColor(start, self, self._name)
        if colour.isValid():
            self.chosen.emit(colour.name())


def _dot(value: str) -> QIcon:
    pixmap = QPixmap(32, 32)
    pixmap.fill(Qt.GlobalColor.transparent)
    painter = QPainter(pixmap)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.setPen(QColor(tokens().edge))
    if value:
        painter.setBrush(QColor(value))
    painter.drawEllipse(1, 1, 29, 29)
    painter.end()
    pixmap.setDevicePixelRatio(2)
    return QIcon(pixmap)


class Knot(QAbstractButton):
    """The blue knot beside a value that differs at a width; a click puts it back."""

    def __init__(self, name: str) -> None:
        super().__init__()
        self._name = name
        self.setFixedSize(14, 18)
        self.setCursor(Qt.CursorShape.PointingHandCursor)
        kept = self.sizePolicy()
        kept.setRetainSizeWhenHidden(True)
        self.setSizePolicy(kept)
        self.hide()

    def show_difference(self, widths: Sequence[str], values: str = "") -> None:
        """Show the knot if there are such widths."""
        self.setVisible(bool(widths))
        words = tr("{name} differs on {list}{values}. Click to put it back.",
                   name=self._name, list=" and ".join(widths), values=values)
        set_tip(self, words)
        self.setAccessibleName(words)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(tokens().sky))
        painter.drawEllipse(3, 5, 8, 8)
        if self.hasFocus():
            painter.setPen(QColor(tokens().bottle))
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawRect(0, 1, 13, 15)


class Segments(QWidget):
    """A few choices side by side, one of them taken.

    Signals:
        chosen: The person took one (its value).
    """

    chosen = pyqtSignal(object)

    def __init__(self, name: str, choices: Mapping[Any, str], exclusive: bool = True) -> None:
        super().__init__()
        self._group = QButtonGroup(self)
        self._group.setExclusive(exclusive)
        self._buttons: dict[Any, QToolButton] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        for value, words in choices.items():
            button = QToolButton()
            button.setText(words)
            button.setCheckable(True)
            button.setProperty("role", "segment")
            button.setAccessibleName(f"{name}: {words}")
            button.clicked.connect(lambda _=False, v=value: self.chosen.emit(v))
            self._group.addButton(button)
            self._buttons[value] = button
            row.addWidget(button)
        row.addStretch()

    def show_values(self, values: Sequence[object]) -> None:
        """Mark the values that are taken."""
        for value, button in self._buttons.items():
            with QSignalBlocker(button):
                button.setChecked(value in values)

    def show_words(self, value: object, words: str) -> None:
        """Change the words of one choice."""
        self._buttons[value].setText(words)

    def button(self, value: object) -> QToolButton:
        """Return the button of a choice."""
        return self._buttons[value]
