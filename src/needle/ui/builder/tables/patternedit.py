"""A line of words in which a column's value stands as one piece: a title, a description, an
address."""

from collections.abc import Callable, Mapping
from typing import Any

from PyQt6.QtCore import QObject, QPointF, QRectF, QSizeF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QFocusEvent,
    QFont,
    QFontMetricsF,
    QKeyEvent,
    QPainter,
    QTextCharFormat,
    QTextCursor,
    QTextDocument,
    QTextFormat,
    QTextObjectInterface,
)
from PyQt6.QtWidgets import QMenu, QPlainTextEdit, QWidget

from needle.core.values.tables import ColumnPath
from needle.core.values.words import Run, Text, tidy
from needle.ui.language import tr
from needle.ui.words import set_tip

__all__ = ["PatternEdit"]

_OBJECT = QTextFormat.ObjectTypes.UserObject + 1
_COLUMN, _WORDS, _SHAPE, _NAME = (QTextFormat.Property.UserProperty + n for n in range(1, 5))
_SIGN = "\ufffc"
_PAD = 5.0


class _Chip(QObject, QTextObjectInterface):
    """Draws a column in a line of words."""

    def intrinsicSize(self, doc: QTextDocument | None, place: int, format: QTextFormat) -> QSizeF:
        metrics = QFontMetricsF(self._font(doc))
        # What stands below the line of the letters hangs out of it, as with letters.
        return QSizeF(metrics.horizontalAdvance(str(format.property(_NAME))) + 2 * _PAD,
                      metrics.ascent())

    def drawObject(self, painter: QPainter | None, rect: QRectF, doc: QTextDocument | None,
                   place: int, format: QTextFormat) -> None:
        assert painter is not None
        painter.save()
        painter.setFont(self._font(doc))
        box = rect.adjusted(1, 0, -1, QFontMetricsF(painter.font()).descent())
        painter.fillRect(box, QColor("#dfe9f7"))
        painter.fillRect(QRectF(box.left(), box.bottom() - 2, box.width(), 2), QColor("#2f5fb3"))
        painter.setPen(QColor("#14213d"))
        painter.drawText(QPointF(rect.left() + _PAD, rect.bottom()), str(format.property(_NAME)))
        painter.restore()

    @staticmethod
    def _font(doc: QTextDocument | None) -> QFont:
        return doc.defaultFont() if doc is not None else QFont()


class PatternEdit(QPlainTextEdit):
    """The line; a column is put in from its menu or with Ctrl+Shift+U.

    Signals:
        done: Other words stand there, and the caret left them (the `Text`).
    """

    done = pyqtSignal(object)

    def __init__(self, name: str, lines: int = 1) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setTabChangesFocus(True)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff if lines == 1
                                        else Qt.ScrollBarPolicy.ScrollBarAsNeeded)
        self.setLineWrapMode(QPlainTextEdit.LineWrapMode.NoWrap if lines == 1
                             else QPlainTextEdit.LineWrapMode.WidgetWidth)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        set_tip(self, tr("Ctrl+Shift+U puts a column of the table in."))
        self._chip = _Chip(self)
        layout = self._doc().documentLayout()
        assert layout is not None
        layout.registerHandler(_OBJECT, self._chip)
        self.setFixedHeight(self.fontMetrics().lineSpacing() * lines + 18)
        self._columns: Mapping[ColumnPath, str] = {}
        self._sample: Callable[[ColumnPath], str] = lambda _: ""
        self._shown: Text = ()

    def _doc(self) -> QTextDocument:
        doc = self.document()
        assert doc is not None
        return doc

    def show_words(self, words: Text, columns: Mapping[ColumnPath, str],
                   sample: Callable[[ColumnPath], str]) -> None:
        """Show words with their columns.

        Args:
            columns: Those that can stand there, and how they are called.
            sample: Returns what a row has in one.
        """
        self._columns, self._sample = columns, sample
        if self.hasFocus() and self.words() != self._shown:
            return  # What is being typed stays.
        self._shown = words
        self.clear()
        cursor = self.textCursor()
        for run in words:
            if run.column:
                self._insert(cursor, run)
            else:
                cursor.insertText(run.words, QTextCharFormat())
        self._shown = self.words()

    def _insert(self, cursor: QTextCursor, run: Run) -> None:
        shape = QTextCharFormat()
        shape.setObjectType(_OBJECT)
        shape.setProperty(_COLUMN, run.column)
        shape.setProperty(_WORDS, run.words)
        shape.setProperty(_SHAPE, run.shape)
        shape.setProperty(_NAME, self._columns.get(run.column, run.words))
        cursor.insertText(_SIGN, shape)

    def words(self) -> Text:
        """Return what stands there."""
        runs: list[Run] = []
        block = self._doc().begin()
        while block.isValid():
            fragments: Any = block.begin()
            while not fragments.atEnd():
                fragment = fragments.fragment()
                shape = fragment.charFormat()
                for sign in fragment.text():
                    if sign == _SIGN and shape.objectType() == _OBJECT:
                        runs.append(Run(str(shape.property(_WORDS)) or "–",
                                        column=str(shape.property(_COLUMN)),
                                        shape=str(shape.property(_SHAPE) or "")))
                    elif sign != _SIGN:
                        runs.append(Run(" " if sign in "\u2028\u2029\n" else sign))
                fragments += 1
            block = block.next()
            if block.isValid():
                runs.append(Run(" "))
        return _joined(runs)

    def put(self, column: ColumnPath) -> None:
        """Put a column where the caret is."""
        self._insert(self.textCursor(), Run(self._sample(column)[:60] or "–", column=column))
        self.setFocus()

    def column_menu(self, parent: QWidget) -> QMenu:
        """Return a menu of the columns."""
        menu = QMenu(parent)
        for column, name in self._columns.items():
            action = menu.addAction(name.replace("&", "&&"))
            assert action is not None
            action.triggered.connect(lambda _=False, c=column: self.put(c))
        return menu

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._tell()
            return
        both = Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier
        if event.key() == Qt.Key.Key_U and event.modifiers() == both:
            self.column_menu(self).exec(self.mapToGlobal(self.cursorRect().bottomLeft()))
            return
        super().keyPressEvent(event)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        super().focusOutEvent(event)
        if event is not None and event.reason() != Qt.FocusReason.PopupFocusReason:
            self._tell()

    def _tell(self) -> None:
        words = self.words()
        if words != self._shown:
            self._shown = words
            self.done.emit(words)


def _joined(runs: list[Run]) -> Text:
    """Return runs with neighbours joined that stand for no column."""
    found: list[Run] = []
    for run in runs:
        if found and not run.column and not found[-1].column:
            found[-1] = Run(found[-1].words + run.words)
        else:
            found.append(run)
    return tidy(found)
