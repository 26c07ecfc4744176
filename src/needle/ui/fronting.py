"""One window a site: whoever opens a site that is open brings its window to the front."""

import hashlib
from collections.abc import Callable
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtNetwork import QLocalServer, QLocalSocket

__all__ = ["Front", "bring_to_front"]

_WAIT_MS = 1500


def _name(folder: Path) -> str:
    return "needle-" + hashlib.sha256(str(folder.resolve()).encode()).hexdigest()[:32]


class Front(QObject):
    """Listens for others who want the window of a site; only this user's programs reach it."""

    def __init__(self, folder: Path, come: Callable[[], object], parent: QObject) -> None:
        super().__init__(parent)
        self._server = QLocalServer(self)
        self._server.setSocketOptions(QLocalServer.SocketOption.UserAccessOption)
        name = _name(folder)
        if not self._server.listen(name):
            QLocalServer.removeServer(name)  # Left by a window that ended without a word.
            self._server.listen(name)
        self._come = come
        self._server.newConnection.connect(self._answer)

    def _answer(self) -> None:
        socket = self._server.nextPendingConnection()
        if socket is not None:
            socket.disconnected.connect(socket.deleteLater)
            socket.disconnectFromServer()
            self._come()


def bring_to_front(folder: Path) -> bool:
    """Ask the window of a site to come to the front; return whether there is one."""
    socket = QLocalSocket()
    socket.connectToServer(_name(folder))
    there = socket.waitForConnected(_WAIT_MS)
    socket.abort()
    return bool(there)
