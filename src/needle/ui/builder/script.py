"""The Script: where one finds, orders, hides, renames, and also writes."""

from PyQt6.QtCore import (
    QEvent,
    QItemSelectionModel,
    QModelIndex,
    QObject,
    QRect,
    QSize,
    Qt,
    pyqtSignal,
)
from PyQt6.QtGui import QColor, QFont, QKeyEvent, QPainter, QPen
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QHBoxLayout,
    QLineEdit,
    QPlainTextEdit,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QTreeView,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.grouping import move_all
from needle.core.edit.nodes import node_rank, rename, set_words
from needle.core.edit.outline import OutlineRow
from needle.core.render.holders import kind_of
from needle.core.render.texts import plain_lines, read_lines, texts_of
from needle.core.values.ids import Id
from needle.core.values.language import ENGLISH
from needle.core.values.node import Node
from needle.core.values.words import Text, respell
from needle.core.values.words import text as plain_text
from needle.core.wording.finding import reading_minutes, word_count
from needle.ui.builder.scriptmodel import ScriptModel
from needle.ui.builder.spelling import Spelling
from needle.ui.language import tr
from needle.ui.session import Change, Session
from needle.ui.theme import icon, tokens
from needle.ui.timers import once
from needle.ui.words import Words, set_tip

__all__ = ["Script"]

_TOP_HEIGHT = 30
_ROW_HEIGHT = 24
_BREAK = "⏎"
_FOLLOW_MS = 100
_ONLY = QItemSelectionModel.SelectionFlag.ClearAndSelect
_AND = QItemSelectionModel.SelectionFlag.Select


class _Delegate(QStyledItemDelegate):
    """Paints a row as the look asks, and edits its words letter by letter.

    Signals:
        typed: The words in an editor changed (node id, lines).
    """

    typed = pyqtSignal(str, list)

    def __init__(self, model: ScriptModel, session: Session, parent: QObject) -> None:
        super().__init__(parent)
        self._model = model
        self._session = session
        self.spelling = Spelling(self)

    def sizeHint(self, option: QStyleOptionViewItem, index: QModelIndex) -> QSize:
        return QSize(100, _TOP_HEIGHT if self._model.row_at(index).top else _ROW_HEIGHT)

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem,
              index: QModelIndex) -> None:
        assert painter is not None
        look, row = tokens(), self._model.row_at(index)
        painter.save()
        whole = QRect(0, option.rect.top(), option.rect.right() + 1, option.rect.height())
        chosen = bool(option.state & QStyle.StateFlag.State_Selected)
        if chosen:
            painter.fillRect(whole, QColor(look.thread_wash))
            painter.fillRect(QRect(0, whole.top(), 3, whole.height()), QColor(look.thread))
        elif row.mark == "popup" and row.top:
            painter.fillRect(whole, QColor(look.plate))
        if row.top:
            painter.setPen(QColor(look.pewter))
            painter.drawLine(whole.topLeft(), whole.topRight())
        font = QFont(option.font)
        font.setPixelSize(13)
        font.setWeight(QFont.Weight.DemiBold if row.top else QFont.Weight.Normal)
        inner = option.rect.adjusted(0, 0, -10, 0)
        note_width = self._paint_note(painter, row.note, inner, font)
        inner.setRight(inner.right() - note_width)
        self._paint_words(painter, index, inner, font)
        painter.restore()

    def _paint_note(self, painter: QPainter, note: str, inner: QRect, font: QFont) -> int:
        if not note:
            return 0
        small = QFont(font)
        small.setPixelSize(11)
        small.setWeight(QFont.Weight.Normal)
        painter.setFont(small)
        words = painter.fontMetrics().elidedText(note, Qt.TextElideMode.ElideRight,
                                                 inner.width() * 45 // 100)
        painter.setPen(QColor(tokens().ink_second))
        painter.drawText(inner, Qt.AlignmentFlag.AlignRight | Qt.AlignmentFlag.AlignVCenter, words)
        return painter.fontMetrics().horizontalAdvance(words) + 8

    def _paint_words(self, painter: QPainter, index: QModelIndex, inner: QRect, font: QFont,
                     ) -> None:
        look, row = tokens(), self._model.row_at(index)
        left = inner.left()
        painter.setFont(font)
        if row.top and row.mark != "popup":
            painter.setPen(QColor(look.ink_second))
            light = QFont(font)
            light.setWeight(QFont.Weight.Normal)
            painter.setFont(light)
            painter.drawText(QRect(10, inner.top(), 22, inner.height()),
                             Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter,
                             str(index.row() + 1))
            painter.setFont(font)
            left = 34
        else:
            side = 14
            box = QRect(10 if row.top else left + 2, inner.center().y() - side // 2 + 1, side, side)
            icon(row.mark).paint(painter, box)
            left = 34 if row.top else box.right() + 8
        painter.setPen(QColor(look.ink))
        words = painter.fontMetrics().elidedText(
            row.words, Qt.TextElideMode.ElideRight, max(20, inner.right() - left))
        painter.drawText(QRect(left, inner.top(), inner.right() - left, inner.height()),
                         Qt.AlignmentFlag.AlignLeft | Qt.AlignmentFlag.AlignVCenter, words)
        if row.text:
            self._mark_misspelt(painter, words.rstrip("…"), left, inner.bottom() - 3)

    def _mark_misspelt(self, painter: QPainter, words: str, left: int, y: int) -> None:
        """Underline what the dictionary does not know, as a dotted line."""
        measure = painter.fontMetrics()
        painter.setPen(QPen(QColor(tokens().thread), 1, Qt.PenStyle.DotLine))
        if not self._session.site.language.startswith(ENGLISH):
            return  # The dictionary is English.
        for start, stop in self.spelling.misspelt(words):
            from_x = left + measure.horizontalAdvance(words[:start])
            painter.drawLine(from_x, y, from_x + measure.horizontalAdvance(words[start:stop]), y)

    def createEditor(self, parent: QWidget | None, option: QStyleOptionViewItem,
                     index: QModelIndex) -> QWidget | None:
        row = self._model.row_at(index)
        node = self._session.node(row.node)
        if node is None:
            return None
        if row.editing == "words" and texts_of(node).get(row.text) == "lines":
            several = QPlainTextEdit(parent)
            several.setTabChangesFocus(True)
            several.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAsNeeded)
            several.setPlainText("\n".join(plain_lines(node, row.text)))
            several.textChanged.connect(
                lambda: self.typed.emit(row.id, several.toPlainText().split("\n")))
            return several
        line = QLineEdit(parent)
        line.setText(plain_lines(node, row.text)[0].replace("\n", _BREAK) if row.editing == "words"
                     else node.name)
        line.textEdited.connect(
            lambda words: self.typed.emit(row.id, [words.replace(_BREAK, "\n")]))
        return line

    def setEditorData(self, editor: QWidget | None, index: QModelIndex) -> None:
        """Leave the editor alone: it is filled once, then the person's words are the truth."""

    def setModelData(self, editor: QWidget | None, model: object, index: QModelIndex) -> None:
        """Every letter has been taken over already."""

    def updateEditorGeometry(self, editor: QWidget | None, option: QStyleOptionViewItem,
                             index: QModelIndex) -> None:
        assert editor is not None
        box = option.rect.adjusted(16, 0, -4, 0)
        if isinstance(editor, QPlainTextEdit):
            box.setHeight(min(150, max(64, 22 * (editor.blockCount() + 2))))
            parent = editor.parentWidget()
            if parent is not None and box.bottom() > parent.height():
                box.moveBottom(parent.height() - 2)
        editor.setGeometry(box)

    def eventFilter(self, editor: QObject | None, event: QEvent | None) -> bool:
        """Keep Enter for new lines where there are several; Ctrl+Enter and Esc end."""
        if isinstance(editor, QPlainTextEdit) and isinstance(event, QKeyEvent) and (
                event.type() == QEvent.Type.KeyPress
                and event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter)
                and not event.modifiers() & Qt.KeyboardModifier.ControlModifier):
            return False
        return super().eventFilter(editor, event)


class _Tree(QTreeView):
    """A tree that gives Delete and Enter to the page's commands."""

    edit_asked = pyqtSignal()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        assert event is not None
        if event.key() in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self.edit_asked.emit()
            return
        super().keyPressEvent(event)

    def drawBranches(self, painter: QPainter | None, rect: QRect, index: QModelIndex) -> None:
        """Draw none: the indent alone shows what belongs where."""


class Script(QWidget):
    """The Script with its head line.

    Signals:
        menu_asked: The person asked for the menu of the chosen node.
    """

    menu_asked = pyqtSignal()

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("side")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._following = self._stale = False
        self._typed: OutlineRow | None = None  # What is typed in just now.
        self._soon = once(self, _FOLLOW_MS)
        self._soon.timeout.connect(self.catch_up)
        self._model = ScriptModel(self._rank_of)
        self.tree = _Tree()
        self.tree.setAccessibleName(tr("Script"))
        self._set_up_tree()
        self._count = Words()
        self._count.setProperty("role", "small")
        title = Words(tr("Script"))
        title.setProperty("role", "title")
        head = QHBoxLayout()
        head.setContentsMargins(12, 8, 12, 6)
        head.addWidget(title)
        head.addStretch()
        head.addWidget(self._count)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 1, 0)
        column.setSpacing(0)
        column.addLayout(head)
        column.addWidget(self.tree)
        session.changed.connect(self._on_change)
        session.turned.connect(self.show_page)
        session.selected.connect(self._on_selected)
        self.show_page()

    def _set_up_tree(self) -> None:
        tree = self.tree
        delegate = _Delegate(self._model, self._session, tree)
        delegate.typed.connect(self._on_typed)
        delegate.spelling.ready.connect(lambda: tree.viewport().update())  # type: ignore[union-attr]
        delegate.closeEditor.connect(self._on_typing_ended)
        tree.setModel(self._model)
        tree.setItemDelegate(delegate)
        tree.setHeaderHidden(True)
        tree.setIndentation(16)
        tree.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        tree.setDragEnabled(True)
        tree.setAcceptDrops(True)
        tree.setDragDropMode(QAbstractItemView.DragDropMode.DragDrop)
        tree.setDropIndicatorShown(True)
        tree.setSelectionMode(QAbstractItemView.SelectionMode.ExtendedSelection)
        # A click on what is chosen chooses it again and takes no keys away from the page.
        tree.setEditTriggers(QAbstractItemView.EditTrigger.DoubleClicked)
        tree.setExpandsOnDoubleClick(False)
        tree.edit_asked.connect(self.edit_chosen)
        tree.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
        tree.customContextMenuRequested.connect(lambda _: self.menu_asked.emit())
        selection = tree.selectionModel()
        assert selection is not None
        selection.selectionChanged.connect(self._on_rows)
        self._model.moved.connect(self._on_moved)
        self._model.rowsInserted.connect(self._expand_new)

    def show_page(self) -> None:
        """Outline the page that is shown."""
        self._stale = False
        self._model.show(self._session.context())
        self.tree.expandAll()
        self._show_count()

    def _show_count(self) -> None:
        variant = self._session.variant
        words = word_count((*variant.children, *variant.popups))
        self._count.setText(f"{words:,} words · {reading_minutes(words)} min")
        set_tip(self._count, tr("Words on this page, and how long they take to read"))

    def edit_chosen(self) -> None:
        """Type in the chosen row."""
        self.catch_up()
        index = self.tree.currentIndex()
        if not index.isValid() or self._model.row_at(index).node != self._session.selection:
            index = self._model.index_of(self._session.selection)
        if index.isValid() and self.tree.state() != QAbstractItemView.State.EditingState:
            self.tree.edit(index)

    def _rank_of(self, node_id: Id) -> int:
        node = self._session.node(node_id)
        return node_rank(node) if node else 0

    def _expand_new(self, parent: QModelIndex, first: int, last: int) -> None:
        self.tree.expand(parent)
        for number in range(first, last + 1):
            self.tree.expandRecursively(self._model.index(number, 0, parent))

    def _on_change(self, change: Change) -> None:
        # The views go first: on a long page, rows that come or go cost the tree a while.
        self._stale = True
        self._soon.start()

    def catch_up(self) -> None:
        """Follow what has changed, if that is still to be done."""
        if self._stale:
            self._stale = False
            self._soon.stop()
            # Rows that go take their selection with them; that is nobody's choice.
            before, self._following = self._following, True
            self._model.show(self._session.context())
            self._following = before
            self._show_count()
            if not before:
                self._on_selected(self._session.selection)

    def _on_selected(self, node_id: Id) -> None:
        """Follow what was chosen elsewhere."""
        if node_id:
            self.catch_up()
        selection = self.tree.selectionModel()
        assert selection is not None
        self._following = True
        index = self._model.index_of(node_id)
        current = self.tree.currentIndex()
        if index.isValid():
            # The row of one of its texts stays the current one.
            if not current.isValid() or self._model.row_at(current).node != node_id or (
                    not selection.isSelected(current)):
                self.tree.setCurrentIndex(index)
            selection.select(self.tree.currentIndex(), _ONLY)
            for other in self._session.also:
                selection.select(self._model.index_of(other), _AND)
            self.tree.scrollTo(self.tree.currentIndex())
        else:
            selection.clear()
        self._following = False
        self._show_count()

    def _on_rows(self) -> None:
        """Choose what the person has chosen here."""
        if self._following:
            return
        chosen = [self._model.row_at(index).node for index in self.tree.selectedIndexes()]
        current = self.tree.currentIndex()
        main = self._model.row_at(current).node if current.isValid() else ""
        if chosen:
            main = main if main in chosen else chosen[-1]
            self._session.select(main, [node for node in chosen if node != main])

    def _on_typed(self, row_id: str, lines: list[str]) -> None:
        self.catch_up()
        index = self._model.index_of(row_id)
        if not index.isValid():
            return
        row = self._model.row_at(index)
        self._typed = row if row.editing == "words" else None
        node_id, group = row.node, f"type:{row_id}"
        if row.editing == "name":
            self._session.edit("name", lambda site: rename(site, node_id, lines[0]),
                               group=group, asker=self)
            return
        node = self._session.node(node_id)
        if node is None:
            return
        spelled = _respelled(node, row.text, lines)
        label = tr("words of {label}", label=tr(kind_of(node).label).lower())
        self._session.edit(label, lambda site: set_words(site, node_id, spelled, row.text),
                           group=group, asker=self)

    def _on_typing_ended(self, *_: object) -> None:
        """Take back empty lines that Enter has left at the end, within the step of the typing."""
        typed, self._typed = self._typed, None
        node = self._session.node(typed.node) if typed else None
        if typed is not None and node is not None and texts_of(node).get(typed.text) == "lines":
            lines = read_lines(node, typed.text)
            kept = _without_empty_end(lines)
            if kept != lines:
                self._session.edit("words", lambda site: set_words(
                    site, typed.node, kept, typed.text), group=f"type:{typed.id}")
        self._session.close_group()

    def _on_moved(self, ids: list[Id], target: Id, side: str) -> None:
        self._session.edit(tr("move"),
                           lambda site: move_all(site, ids, target, side))  # type: ignore[arg-type]
        self._session.select(ids[-1], ids)


def _without_empty_end(lines: tuple[Text, ...]) -> tuple[Text, ...]:
    """Return lines without empty ones at their end; the first stays."""
    count = len(lines)
    while count > 1 and not "".join(run.words for run in lines[count - 1]).strip():
        count -= 1
    return lines[:count]


def _respelled(node: Node, path: str, lines: list[str]) -> tuple[Text, ...]:
    """Return the lines as text; a line that was there keeps its marks."""
    old = read_lines(node, path)
    if len(old) == len(lines):
        return tuple(respell(text, line) for text, line in zip(old, lines, strict=True))
    known = {"".join(run.words for run in text): text for text in old}
    return tuple(known.get(line) or plain_text(line) for line in lines)
