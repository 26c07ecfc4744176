"""Where a window stands and how large it is: as it was left, and never larger than the screen."""

from PyQt6.QtCore import QByteArray, QRect
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QMainWindow

from needle.store.settings import read_setting, write_setting

__all__ = ["give_room", "keep_room"]

_USUAL = (1280, 800)
# What a window's frame takes, where the system does not say.
_FRAME = (8, 36)


def give_room(window: QMainWindow, name: str) -> None:
    """Put a window where it was left; a first one is as large as usual, or as the screen lets it.

    Args:
        name: Of the kind of window.
    """
    held = QByteArray.fromBase64(read_setting(f"room-{name}").encode("ascii", "ignore"))
    restored = bool(held.size()) and window.restoreGeometry(held)
    screen = QGuiApplication.primaryScreen()
    room = screen.availableGeometry() if screen is not None else QRect(0, 0, *_USUAL)
    most = room.width() - _FRAME[0], room.height() - _FRAME[1]
    if not restored:
        window.resize(min(_USUAL[0], most[0]), min(_USUAL[1], most[1]))
    elif window.width() > most[0] or window.height() > most[1]:
        # It was left on a larger screen.
        window.resize(min(window.width(), most[0]), min(window.height(), most[1]))


def keep_room(window: QMainWindow, name: str) -> None:
    """Remember where a window is."""
    told = bytes(window.saveGeometry().toBase64().data()).decode("ascii")
    write_setting(f"room-{name}", told)
