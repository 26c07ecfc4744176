"""What those hear who cannot see the window, and how the keys go round its parts."""

from collections.abc import Sequence

from PyQt6.QtCore import QEvent, Qt
from PyQt6.QtWidgets import QApplication, QComboBox, QWidget

from needle.ui.words import Words

__all__ = ["NamedCombo", "first_focus", "go_round"]


_MOST_SHOWN = 14


class NamedCombo(QComboBox):
    """A combo box that a screen reader calls by its name.

    On X11 and Wayland Qt calls a combo box by its value and leaves it to a label to name it, so
    this one brings a label that nobody sees.
    """

    def __init__(self, name: str) -> None:
        super().__init__()
        self.setAccessibleName(name)
        self.setMaxVisibleItems(_MOST_SHOWN)
        self._named_by = Words(name)
        self._named_by.hide()
        self._named_by.setBuddy(self)

    def event(self, event: QEvent | None) -> bool:
        if event is not None and event.type() == QEvent.Type.ParentChange:
            self._named_by.setParent(self.parentWidget())
            self._named_by.hide()
        return super().event(event)


def first_focus(part: QWidget) -> QWidget | None:
    """Return the first thing in a part of the window that the keys can go to."""
    takes = Qt.FocusPolicy.TabFocus
    if part.focusPolicy() & takes == takes and part.isVisible() and part.isEnabled():
        return part
    at = part.nextInFocusChain()
    while at is not None and at is not part:
        if part.isAncestorOf(at) and at.isVisible() and at.isEnabled() and (
                at.focusPolicy() & takes == takes) and not at.inherits("QLabel"):
            return at
        at = at.nextInFocusChain()
    return None


def go_round(parts: Sequence[QWidget], steps: int) -> bool:
    """Give the keys to the next part of a stage, or the one before; return whether there is one.

    Args:
        parts: In their order on the screen; hidden ones are passed over.
        steps: 1 or -1.
    """
    there = [part for part in parts if part.isVisible() and first_focus(part) is not None]
    if not there:
        return False
    now = QApplication.focusWidget()
    at = next((number for number, part in enumerate(there)
               if now is not None and (part is now or part.isAncestorOf(now))), -1)
    part = there[(at + steps) % len(there)] if at >= 0 else there[0]
    target = first_focus(part)
    assert target is not None
    target.setFocus(Qt.FocusReason.ShortcutFocusReason)
    return True
