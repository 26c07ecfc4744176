"""Cards, tables and labels that the stages share."""

import contextlib
from collections.abc import Callable, Iterator, Mapping, Sequence

from PyQt6.QtCore import QBuffer, QIODevice, QSize, Qt
from PyQt6.QtGui import QIcon, QImage, QKeyEvent, QPixmap
from PyQt6.QtWidgets import (
    QAbstractItemView,
    QApplication,
    QFrame,
    QHBoxLayout,
    QHeaderView,
    QListWidget,
    QPushButton,
    QScrollArea,
    QSizePolicy,
    QStackedWidget,
    QTableWidget,
    QTableWidgetItem,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.ui.language import tr
from needle.ui.words import Words, plain_tip

__all__ = ["FILM_ENDINGS", "FILM_FILTER", "PACKAGES", "PICTURE_FILTER", "Card", "TabBar",
           "Tabbed", "Table", "button", "foot", "label", "panel", "pasted_picture",
           "picture_grid", "picture_icon", "repaint", "repaint_role", "scrolled", "side_list"]

# A column is as wide as so many rows need; to measure hundreds takes longer than a key may wait.
_MEASURED_ROWS = 60

FILM_ENDINGS = frozenset({".mp4", ".m4v", ".webm", ".mov", ".mkv", ".avi", ".ogv"})
PACKAGES = tr("Page packages (*.zip)")
FILM_FILTER = tr("Videos (*.mp4 *.m4v *.webm)")
PICTURE_FILTER = tr("Pictures (*.png *.jpg *.jpeg *.webp *.gif *.svg)")


def label(words: str, role: str = "", wrap: bool = False) -> Words:
    """Return a label with a role of the style sheet ("dim", "title", "good", …)."""
    made = Words(words)
    made.setWordWrap(wrap)
    if role:
        made.setProperty("role", role)
    return made


def button(words: str, run: Callable[[], object], main: bool = False) -> QPushButton:
    """Return a push button; `main` for the one that the screen is for."""
    made = QPushButton(words)
    if main:
        made.setProperty("role", "main")
    made.clicked.connect(lambda _=False: run())
    return made


def foot(*right: QPushButton, left: Sequence[QPushButton] = ()) -> QHBoxLayout:
    """Return the row of buttons at the foot of a dialog; Enter presses the last one."""
    row = QHBoxLayout()
    for made in left:
        row.addWidget(made)
    row.addStretch()
    for made in right:
        row.addWidget(made)
    right[-1].setDefault(True)
    return row


def picture_grid(name: str, picture: QSize, words: int = 36) -> QListWidget:
    """Return a list that shows pictures in a grid, each with a line of words below.

    Args:
        picture: How large each is.
        words: How much room is left for the words, in pixels.
    """
    made = QListWidget()
    made.setAccessibleName(name)
    made.setViewMode(QListWidget.ViewMode.IconMode)
    made.setIconSize(picture)
    made.setGridSize(QSize(picture.width() + 18, picture.height() + words))
    made.setResizeMode(QListWidget.ResizeMode.Adjust)
    made.setMovement(QListWidget.Movement.Static)
    made.setUniformItemSizes(True)
    return made


def pasted_picture() -> bytes:
    """Return the picture on the clipboard as PNG, or nothing."""
    clipboard = QApplication.clipboard()
    image = clipboard.image() if clipboard else QImage()
    if image.isNull():
        return b""
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return bytes(buffer.data().data())


def picture_icon(pixmap: QPixmap) -> QIcon:
    """Return an icon that keeps its colours when its row is chosen."""
    icon = QIcon(pixmap)
    icon.addPixmap(pixmap, QIcon.Mode.Selected)
    return icon


def repaint_role(widget: QWidget, role: str) -> None:
    """Give a widget another role of the style sheet."""
    widget.setProperty("role", role)
    repaint(widget)


def repaint(widget: QWidget) -> None:
    """Have the style sheet look at a widget and all in it again."""
    for one in (widget, *widget.findChildren(QWidget)):
        style = one.style()
        assert style is not None
        style.unpolish(one)
        style.polish(one)


def panel(name: str, width: int = 0) -> QWidget:
    """Return an empty part of a screen: "side" at the left, "work" for the cards."""
    made = QWidget()
    made.setObjectName(name)
    made.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
    if width:
        made.setFixedWidth(width)
    return made


def side_list(title: str, of: QListWidget, *below: QWidget) -> QWidget:
    """Return the panel at the left of a part: a title, a list, and buttons below it."""
    side = panel("side", 220)
    column = QVBoxLayout(side)
    column.setContentsMargins(0, 10, 1, 10)
    head = label(title, "title")
    head.setContentsMargins(14, 0, 0, 0)
    column.addWidget(head)
    of.setWordWrap(True)
    of.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
    column.addWidget(of, 1)
    line = QHBoxLayout()
    line.setContentsMargins(10, 0, 10, 0)
    for one in below:
        line.addWidget(one)
    line.addStretch()
    column.addLayout(line)
    return side


def scrolled(widget: QWidget) -> QScrollArea:
    """Return a scroll area around a widget."""
    area = QScrollArea()
    area.setWidgetResizable(True)
    area.setFrameShape(QFrame.Shape.NoFrame)
    # It follows the keys to whatever they reach in it.
    area.setFocusPolicy(Qt.FocusPolicy.NoFocus)
    area.setWidget(widget)
    return area


class Card(QWidget):
    """A white card with a title line and room below.

    Attributes:
        head: The line of the title; things at its right are added here.
        body: What stands below.
    """

    def __init__(self, title: str, note: str = "", grows: bool = False) -> None:
        """Make a card; one that grows takes the room that is left."""
        super().__init__()
        self.setObjectName("card")
        if not grows:
            self.setSizePolicy(QSizePolicy.Policy.Preferred, QSizePolicy.Policy.Maximum)
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.title = label(title, "title")
        self.note = label(note, "small")
        self.head = QHBoxLayout()
        self.head.addWidget(self.title)
        self.head.addStretch()
        self.head.addWidget(self.note)
        self.body = QVBoxLayout()
        self.body.setSpacing(6)
        column = QVBoxLayout(self)
        column.setContentsMargins(14, 10, 14, 12)
        column.setSpacing(8)
        column.addLayout(self.head)
        column.addLayout(self.body)


class Table(QTableWidget):
    """A quiet table: rows are chosen whole, cells are not edited in place."""

    def __init__(self, name: str, columns: Sequence[str], *stretch: int,
                 right: Sequence[int] = ()) -> None:
        super().__init__(0, len(columns))
        self._right = set(right)
        self.setAccessibleName(name)
        self.setHorizontalHeaderLabels(list(columns))
        self.setSelectionBehavior(QAbstractItemView.SelectionBehavior.SelectRows)
        self.setEditTriggers(QAbstractItemView.EditTrigger.NoEditTriggers)
        self.setShowGrid(False)
        self.setWordWrap(False)
        self.setTabKeyNavigation(False)  # Tab leaves it; the arrows go from row to row.
        rows, header = self.verticalHeader(), self.horizontalHeader()
        assert rows is not None and header is not None
        rows.hide()
        rows.setDefaultSectionSize(30)
        header.setHighlightSections(False)
        header.setResizeContentsPrecision(_MEASURED_ROWS)
        header.setSectionResizeMode(QHeaderView.ResizeMode.ResizeToContents)
        for column in stretch:
            header.setSectionResizeMode(column, QHeaderView.ResizeMode.Stretch)
        for column in range(len(columns)):
            item = self.horizontalHeaderItem(column)
            if item is not None:
                item.setTextAlignment(self._alignment(column))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc leaves the table, as Tab does."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.focusNextPrevChild(True)
            return
        super().keyPressEvent(event)

    def _alignment(self, column: int) -> Qt.AlignmentFlag:
        side = Qt.AlignmentFlag.AlignRight if column in self._right else Qt.AlignmentFlag.AlignLeft
        return side | Qt.AlignmentFlag.AlignVCenter

    def show_rows(self, rows: Sequence[Sequence[str]], keys: Sequence[str] = ()) -> None:
        """Show these cells; `keys` are kept with the rows to tell which one is meant."""
        kept = self.chosen_key()
        with self.columns_held():
            self.setRowCount(len(rows))
            for number, cells in enumerate(rows):
                for column, words in enumerate(cells):
                    item = self._cell(number, column, words)
                    if column == 0 and keys:
                        item.setData(Qt.ItemDataRole.UserRole, keys[number])
        if kept in keys:
            self.selectRow(list(keys).index(kept))

    @contextlib.contextmanager
    def columns_held(self) -> Iterator[None]:
        """Measure the columns once after many cells were set, not after each, over all rows."""
        header = self.horizontalHeader()
        assert header is not None
        modes = [header.sectionResizeMode(column) for column in range(self.columnCount())]
        header.setSectionResizeMode(QHeaderView.ResizeMode.Fixed)
        try:
            yield
        finally:
            for column, mode in enumerate(modes):
                header.setSectionResizeMode(column, mode)

    def show_row(self, number: int, cells: Sequence[str]) -> None:
        """Show other cells in a row that is there."""
        for column, words in enumerate(cells):
            self._cell(number, column, words)

    def _cell(self, row: int, column: int, words: str) -> QTableWidgetItem:
        """Return the item of a cell with these words; one that has them already stays."""
        item = self.item(row, column)
        if item is None:
            item = QTableWidgetItem()
            item.setTextAlignment(self._alignment(column))
            self.setItem(row, column, item)
        if item.text() != words or not item.toolTip():
            item.setText(words)
            item.setToolTip(plain_tip(words))
        if item.data(Qt.ItemDataRole.ForegroundRole) is not None:
            item.setData(Qt.ItemDataRole.ForegroundRole, None)
        return item

    def chosen_key(self) -> str:
        """Return the key of the chosen row, or an empty text."""
        item = self.item(self.currentRow(), 0) if self.currentRow() >= 0 else None
        return str(item.data(Qt.ItemDataRole.UserRole) or "") if item else ""

    def fit_height(self, most: int = 12) -> None:
        """Be as high as the rows need, up to so many."""
        header = self.horizontalHeader()
        assert header is not None
        rows = min(most, max(1, self.rowCount()))
        self.setFixedHeight(header.sizeHint().height() + 30 * rows + 4)


class TabBar(QWidget):
    """The bar under the seam: the parts of a stage, and commands at the right.

    Attributes:
        right: Where commands are added.
    """

    def __init__(self, names: Sequence[str], show: Callable[[str], None]) -> None:
        super().__init__()
        self.setObjectName("bar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(36)
        self._show = show
        self._tabs: dict[str, QToolButton] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(6, 0, 10, 0)
        row.setSpacing(2)
        for name in names:
            tab = QToolButton()
            tab.setText(tr(name))
            tab.setCheckable(True)
            tab.setAutoExclusive(True)
            tab.clicked.connect(lambda _=False, n=name: self.choose(n))
            self._tabs[name] = tab
            row.addWidget(tab)
        row.addStretch()
        self.right = QHBoxLayout()
        self.right.setSpacing(8)
        row.addLayout(self.right)

    def choose(self, name: str) -> None:
        """Show a part."""
        self._tabs[name].setChecked(True)
        self._show(name)


class Tabbed(QWidget):
    """A stage whose parts stand under one bar, one of them shown.

    Attributes:
        parts: By name.
    """

    def __init__(self) -> None:
        super().__init__()
        self.parts: Mapping[str, QWidget] = {}
        self._stack = QStackedWidget()

    def lay_out(self, parts: Mapping[str, QWidget]) -> None:
        """Put the parts under the bar and show the first."""
        self.parts = parts
        for part in parts.values():
            self._stack.addWidget(part)
        self._bar = TabBar(list(parts), self._turn)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._bar)
        column.addWidget(self._stack, 1)
        self._bar.choose(next(iter(parts)))

    def _turn(self, name: str) -> None:
        self._stack.setCurrentWidget(self.parts[name])
        if self.isVisible():  # Else whoever shows the stage has it brought up to date then.
            self.refresh()

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round: the bar, and what the shown part says of itself."""
        shown = self._stack.currentWidget()
        inside = getattr(shown, "ring", None)
        return [self._bar, *(inside() if inside else [shown] if shown else [])]

    def show_part(self, name: str) -> None:
        """Show a part by its name."""
        self._bar.choose(name)

    def refresh(self) -> None:
        """Bring the part that is shown up to date."""
        self._stack.currentWidget().refresh()  # type: ignore[union-attr]
