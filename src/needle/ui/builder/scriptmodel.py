"""The Script as a Qt model that follows the page by differences."""

from __future__ import annotations

import json
from collections import deque
from collections.abc import Callable, Iterable, Sequence

from PyQt6.QtCore import QAbstractItemModel, QMimeData, QModelIndex, Qt, pyqtSignal

from needle.core.edit.linked import linked_uses
from needle.core.edit.outline import OutlineRow, outline_top
from needle.core.render.context import Context
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.ui.builder.live.view import NODE_MIME
from needle.ui.words import plain_tip

__all__ = ["ScriptModel"]

class _Entry:
    """A row with its place; the tree view points at it."""

    __slots__ = ("_at", "children", "parent", "row")

    def __init__(self, row: OutlineRow, parent: _Entry | None) -> None:
        self._at = 0
        self.row = row
        self.parent = parent
        self.children = [_Entry(child, self) for child in row.children]


    @property
    def place(self) -> int:
        """Its place among its neighbours; where it was last is looked at first."""
        assert self.parent is not None
        there = self.parent.children
        if not (self._at < len(there) and there[self._at] is self):
            self._at = there.index(self)
        return self._at


_KEPT_ENTRIES = 4000
_ROOT = OutlineRow("", "", "", "", False, "", (), "")


class ScriptModel(QAbstractItemModel):
    """The outline of the shown page, popups last.

    Signals:
        moved: Rows were dropped (their nodes' ids, target id, side).
    """

    moved = pyqtSignal(list, str, str)

    def __init__(self, rank_of: Callable[[Id], int]) -> None:
        """Make an empty model.

        Args:
            rank_of: Returns how far out a node stands, for drops (see `node_rank`).
        """
        super().__init__()
        self._rank_of = rank_of
        self._root = _Entry(_ROOT, None)
        self._made: dict[Id, tuple[Node, OutlineRow]] = {}
        self._surroundings: tuple[object, ...] = ()
        # An index holds a bare pointer to its entry. One that somebody still has a moment
        # after its row went must not point at nothing.
        self._gone: deque[_Entry] = deque(maxlen=_KEPT_ENTRIES)

    def show(self, context: Context) -> None:
        """Follow the page; only sections that are other objects are outlined again."""
        variant = context.variant
        surroundings = (context.site.forms, context.site.media,
                        [(p.id, p.name) for p in context.site.pages],
                        [(t.id, t.name) for t in (*variant.children, *variant.popups)],
                        [len(linked_uses(context.site, kept.id)) for kept in context.site.kept])
        if surroundings != self._surroundings:
            self._made.clear()
            self._surroundings = surroundings
        made: dict[Id, tuple[Node, OutlineRow]] = {}
        rows = []
        for top in (*variant.children, *variant.popups):
            known = self._made.get(top.id)
            row = known[1] if known and known[0] is top else outline_top(top, context)
            made[top.id] = (top, row)
            rows.append(row)
        self._made = made
        self._follow(self._root, QModelIndex(), rows)

    def _follow(self, entry: _Entry, index: QModelIndex, rows: Sequence[OutlineRow]) -> None:
        if [child.row.id for child in entry.children] != [row.id for row in rows]:
            self._reorder(entry, index, rows)
        for number, (child, row) in enumerate(zip(entry.children, rows, strict=True)):
            if child.row is row:
                continue
            child.row = row
            here = self.createIndex(number, 0, child)
            self._follow(child, here, row.children)
            self.dataChanged.emit(here, here)

    def _reorder(self, entry: _Entry, index: QModelIndex, rows: Sequence[OutlineRow]) -> None:
        """Remove what is gone, then bring in and move what is left, row by row."""
        wanted = {row.id for row in rows}
        for number in range(len(entry.children) - 1, -1, -1):
            if entry.children[number].row.id not in wanted:
                self.beginRemoveRows(index, number, number)
                self._gone.append(entry.children.pop(number))
                self.endRemoveRows()
        for number, row in enumerate(rows):
            at = next((i for i, child in enumerate(entry.children) if child.row.id == row.id), -1)
            if at == number:
                continue
            if at < 0:
                self.beginInsertRows(index, number, number)
                entry.children.insert(number, _Entry(row, entry))
                self.endInsertRows()
            else:
                self.beginMoveRows(index, at, at, index, number)
                entry.children.insert(number, entry.children.pop(at))
                self.endMoveRows()

    def index_of(self, row_id: str) -> QModelIndex:
        """Return the index of a row by its id (a node's own row has the node's), or none."""
        stack = list(self._root.children)
        while stack:
            entry = stack.pop()
            if entry.row.id == row_id:
                assert entry.parent is not None
                return self.createIndex(entry.place, 0, entry)
            stack.extend(entry.children)
        return QModelIndex()

    def row_at(self, index: QModelIndex) -> OutlineRow:
        """Return the outline row behind an index."""
        entry: _Entry = index.internalPointer()
        return entry.row

    # Qt

    def index(self, row: int, column: int, parent: QModelIndex = QModelIndex()) -> QModelIndex:
        entry: _Entry = parent.internalPointer() if parent.isValid() else self._root
        if column == 0 and 0 <= row < len(entry.children):
            return self.createIndex(row, 0, entry.children[row])
        return QModelIndex()

    def parent(self, index: QModelIndex) -> QModelIndex:  # type: ignore[override]
        entry: _Entry = index.internalPointer()
        above = entry.parent if entry else None
        if above is None or above.parent is None:
            return QModelIndex()
        return self.createIndex(above.place, 0, above)

    def rowCount(self, parent: QModelIndex = QModelIndex()) -> int:
        entry: _Entry = parent.internalPointer() if parent.isValid() else self._root
        return len(entry.children)

    def columnCount(self, parent: QModelIndex = QModelIndex()) -> int:
        return 1

    def data(self, index: QModelIndex, role: int = Qt.ItemDataRole.DisplayRole) -> object:
        row = self.row_at(index)
        if role == Qt.ItemDataRole.DisplayRole:
            return row.words
        if role == Qt.ItemDataRole.AccessibleTextRole:  # What is painted at the right, too.
            return f"{row.words}, {row.note}" if row.note else row.words
        if role == Qt.ItemDataRole.ToolTipRole:
            return plain_tip(f"{row.words}\n{row.note}".strip())
        return None

    def flags(self, index: QModelIndex) -> Qt.ItemFlag:
        if not index.isValid():
            return Qt.ItemFlag.ItemIsDropEnabled
        flags = (Qt.ItemFlag.ItemIsEnabled | Qt.ItemFlag.ItemIsSelectable
                 | Qt.ItemFlag.ItemIsDragEnabled | Qt.ItemFlag.ItemIsDropEnabled)
        return flags | Qt.ItemFlag.ItemIsEditable if self.row_at(index).editing else flags

    def mimeTypes(self) -> list[str]:
        return [NODE_MIME]

    def mimeData(self, indexes: Iterable[QModelIndex]) -> QMimeData:
        rows = [self.row_at(index) for index in indexes]
        ids = list(dict.fromkeys(row.node for row in rows))
        mime = QMimeData()
        held = json.dumps({"ids": ids, "rank": max(self._rank_of(node) for node in ids)})
        mime.setData(NODE_MIME, held.encode())
        mime.setText("\n".join(row.words for row in rows))
        return mime

    def supportedDropActions(self) -> Qt.DropAction:
        return Qt.DropAction.MoveAction | Qt.DropAction.CopyAction

    def dropMimeData(self, data: QMimeData | None, action: Qt.DropAction, row: int, column: int,
                     parent: QModelIndex) -> bool:
        if data is None or not data.hasFormat(NODE_MIME):
            return False
        moved = json.loads(bytes(data.data(NODE_MIME).data()))["ids"]
        entry: _Entry = parent.internalPointer() if parent.isValid() else self._root
        if row >= 0 and entry.children:
            before = row < len(entry.children)
            target = entry.children[row if before else -1].row.node
            self.moved.emit(moved, target, "before" if before else "after")
        elif parent.isValid():
            holder = entry.row.top or entry.row.mark in ("row", "column")
            self.moved.emit(moved, entry.row.node, "inside" if holder else "after")
        return False
