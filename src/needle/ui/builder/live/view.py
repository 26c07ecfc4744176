"""One live view: a width of the page, scaled to the room there is."""

import json
from collections.abc import Callable, Sequence
from importlib.resources import files
from typing import Any

import msgspec
from PyQt6 import sip
from PyQt6.QtCore import (
    QEvent,
    QFile,
    QIODevice,
    QMimeData,
    QObject,
    Qt,
    QUrl,
    pyqtSignal,
    pyqtSlot,
)
from PyQt6.QtGui import (
    QContextMenuEvent,
    QDragEnterEvent,
    QDragLeaveEvent,
    QDragMoveEvent,
    QDropEvent,
    QKeyEvent,
    QKeySequence,
    QResizeEvent,
)
from PyQt6.QtWebChannel import QWebChannel
from PyQt6.QtWebEngineCore import QWebEngineScript, QWebEngineSettings
from PyQt6.QtWebEngineWidgets import QWebEngineView

from needle.core.edit.patches import Patch
from needle.core.values.ids import Id
from needle.ui.builder.live.engine import HOST, GuardedPage, LiveEngine

__all__ = ["KIND_MIME", "NODE_MIME", "LiveView"]

NODE_MIME = "application/x-needle-node"
KIND_MIME = "application/x-needle-kind"
_WORLD = QWebEngineScript.ScriptWorldId.ApplicationWorld.value


class _Bridge(QObject):
    """What the view's script can call."""

    said = pyqtSignal(dict)

    @pyqtSlot(str)
    def msg(self, text: str) -> None:
        self.said.emit(json.loads(text))


def _web_channel_source() -> str:
    file = QFile(":/qtwebchannel/qwebchannel.js")
    file.open(QIODevice.OpenModeFlag.ReadOnly)
    return bytes(file.readAll().data()).decode()


class LiveView(QWebEngineView):
    """The page at one width.

    Signals:
        said: The view's script reports something the person did.
        dropped: Nodes were dropped from elsewhere (their ids, target id, side).
        files_dropped: Files were dropped from elsewhere (their paths, target id, side).
        kind_dropped: What is to be put in was dropped (the kind's key, target id, side).
        scaled: The scale changed.
    """

    said = pyqtSignal(dict)
    dropped = pyqtSignal(list, str, str)
    files_dropped = pyqtSignal(list, str, str)
    kind_dropped = pyqtSignal(str, str, str)
    scaled = pyqtSignal(float)

    def __init__(self, engine: LiveEngine, width: int) -> None:
        super().__init__()
        self._width = width
        self._ready = False
        self.scale = 1.0
        self._bridge = _Bridge()
        self._bridge.said.connect(self._hear)
        self._channel = QWebChannel()
        self._channel.registerObject("bridge", self._bridge)
        self._page = GuardedPage(engine.profile, None)
        self._page.setWebChannel(self._channel, _WORLD)
        self._add_script()
        self.setPage(self._page)
        settings = self._page.settings()
        assert settings is not None
        settings.setAttribute(QWebEngineSettings.WebAttribute.ShowScrollBars, False)
        self.setAcceptDrops(True)
        self.setMinimumSize(180, 160)
        self.load(QUrl(f"{HOST}/shell"))

    def _add_script(self) -> None:
        source = (files(__package__) / "editor.js").read_text("utf-8")
        script = QWebEngineScript()
        script.setSourceCode(_web_channel_source() + "\n" + source
                             + "\nglobalThis.needle = needle;")
        script.setInjectionPoint(QWebEngineScript.InjectionPoint.DocumentReady)
        script.setWorldId(_WORLD)
        self._page.scripts().insert(script)

    def _hear(self, message: dict[str, Any]) -> None:
        if message["t"] == "ready":
            self._ready = True
            self._fit()
        self.said.emit(message)

    # What the window asks of it

    @property
    def css_width(self) -> int:
        """The width of the page, in CSS pixels."""
        return self._width

    def set_css_width(self, width: int) -> None:
        """Show the page at another width."""
        self._width = width
        self._fit()

    def apply(self, patches: Sequence[Patch]) -> None:
        """Show what changed."""
        if patches:
            self.call("patch", msgspec.to_builtins(list(patches)))

    def call(self, name: str, *arguments: object, then: Callable[[Any], None] | None = None,
             ) -> None:
        """Call a function of the view's script."""
        code = f"needle.{name}({','.join(json.dumps(a) for a in arguments)})"
        if not self._ready and name != "load":
            return
        if then is None:
            self._page.runJavaScript(code, _WORLD)
        else:
            self._page.runJavaScript(code, _WORLD, then)

    def end(self) -> None:
        """Let go of the engine: the page must be gone before its profile."""
        self._ready = False
        self.blockSignals(True)
        self._bridge.blockSignals(True)
        self._channel.deregisterObject(self._bridge)
        self._page.setWebChannel(None)
        self.setPage(None)
        sip.delete(self._page)

    def _fit(self) -> None:
        self.scale = min(1.0, self.width() / self._width)
        self.call("size", self._width, self.height() / self.scale, self.scale)
        self.scaled.emit(self.scale)

    # Qt

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        super().resizeEvent(event)
        self._fit()

    def childEvent(self, event: Any) -> None:
        super().childEvent(event)
        proxy = self.focusProxy()
        if proxy is not None:
            proxy.removeEventFilter(self)
            proxy.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Let undo and redo reach the window, also while words are typed; Tab leaves the view."""
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and (
                event.key() in (Qt.Key.Key_Tab, Qt.Key.Key_Backtab)
                and not event.modifiers() & Qt.KeyboardModifier.ControlModifier):
            # What is in the page is reached by the arrows of the Script.
            self.focusNextPrevChild(event.key() == Qt.Key.Key_Tab)
            return True
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.ShortcutOverride:
            keys = event.keyCombination()
            undo = event.matches(QKeySequence.StandardKey.Undo)
            redo = event.matches(QKeySequence.StandardKey.Redo)
            control = Qt.KeyboardModifier.ControlModifier
            marks = keys.keyboardModifiers() == control and keys.key() in (
                Qt.Key.Key_B, Qt.Key.Key_I, Qt.Key.Key_K, Qt.Key.Key_L)
            if undo or redo or marks:
                event.ignore()
                return True
        return super().eventFilter(watched, event)

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        if event:
            event.accept()

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        mime = event.mimeData() if event else None
        if event and mime and (mime.hasFormat(NODE_MIME) or mime.hasFormat(KIND_MIME)
                               or _files_of(mime)):
            event.acceptProposedAction()

    def dragMoveEvent(self, event: QDragMoveEvent | None) -> None:
        assert event is not None
        ids, rank = self._dragged(event)
        at = event.position()
        self.call("hover", at.x(), at.y(), rank, ids[0])
        event.acceptProposedAction()

    def dragLeaveEvent(self, event: QDragLeaveEvent | None) -> None:
        self.call("clearMark")

    def dropEvent(self, event: QDropEvent | None) -> None:
        assert event is not None
        ids, rank = self._dragged(event)
        mime = event.mimeData()
        assert mime is not None
        files, kind = _files_of(mime), _kind_of(mime)
        event.acceptProposedAction()
        at = event.position()

        def drop(found: Any) -> None:
            self.call("clearMark")
            target, side = (found["target"], found["side"]) if found else ("", "after")
            if files:
                self.files_dropped.emit(files, target, side)
            elif kind:
                self.kind_dropped.emit(kind, target, side)
            elif found:
                self.dropped.emit(ids, target, side)

        self.call("hover", at.x(), at.y(), rank, ids[0], then=drop)

    @staticmethod
    def _dragged(event: QDropEvent) -> tuple[list[Id], int]:
        mime = event.mimeData()
        assert mime is not None
        if mime.hasFormat(KIND_MIME):
            return [""], json.loads(bytes(mime.data(KIND_MIME).data()))["rank"]
        if not mime.hasFormat(NODE_MIME):
            return [""], 0
        held = json.loads(bytes(mime.data(NODE_MIME).data()))
        return held["ids"], held["rank"]


def _kind_of(mime: QMimeData) -> str:
    """Return the key of the kind that is to be put in; empty if something else is dragged."""
    if not mime.hasFormat(KIND_MIME):
        return ""
    return str(json.loads(bytes(mime.data(KIND_MIME).data()))["kind"])


def _files_of(mime: QMimeData) -> list[str]:
    """Return the paths of the files that are dragged."""
    return [url.toLocalFile() for url in mime.urls() if url.isLocalFile()]
