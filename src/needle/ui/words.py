"""Words in the window, plain by construction.

Qt's labels, tooltips and message boxes take words that look like markup for markup: they would
load pictures that the words name and show what the words pretend. Much of what the window shows
comes from outside (answers, file names, services' words), so everything in `ui` goes through the
parts below; `gates/plainwords.py` is a gate that finds what does not.
"""

from html import escape

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QLabel, QMessageBox, QSizePolicy, QWidget

__all__ = ["MarkupLabel", "Words", "agreed", "asked", "plain_tip", "set_tip", "shrinking",
           "told"]


class Words(QLabel):
    """A label that shows its words as they are."""

    def __init__(self, words: str = "", parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self.setTextFormat(Qt.TextFormat.PlainText)
        self.setText(words)


class MarkupLabel(QLabel):
    """A label whose pattern is markup of our own; what is filled in is always escaped."""

    def __init__(self) -> None:
        super().__init__()
        self.setTextFormat(Qt.TextFormat.RichText)

    def fill(self, pattern: str, **words: str) -> None:
        """Show a pattern with words in its places."""
        self.setText(pattern.format(**{name: escape(word) for name, word in words.items()}))


def shrinking(label: Words, width: int, most: int, least: int = 180) -> None:
    """Let a label that holds a picture be less high than it where a screen has no room for all."""
    label.setFixedWidth(width)
    label.setMinimumHeight(least)
    label.setMaximumHeight(most)
    label.setSizePolicy(QSizePolicy.Policy.Fixed, QSizePolicy.Policy.Ignored)


def plain_tip(words: str) -> str:
    """Return words for a tooltip, which shows them as they are.

    Tooltips choose their format by the words alone, so words that Qt would take for markup are
    escaped; all others stay as they are, since screen readers read them too.
    """
    return f"<span>{escape(words)}</span>".replace("\n", "<br>") if _may_be_markup(words) else words


def _may_be_markup(words: str) -> bool:
    return "<" in words or "&" in words


def set_tip(widget: QWidget, words: str) -> None:
    """Give a widget a tooltip."""
    shown = plain_tip(words)
    widget.setToolTip(shown)
    if shown != words:  # Screen readers would be given the tooltip's escaped words.
        widget.setAccessibleDescription(words)


def _box(kind: QMessageBox.Icon, parent: QWidget | None, title: str, words: str) -> QMessageBox:
    box = QMessageBox(kind, title, "", parent=parent)
    box.setTextFormat(Qt.TextFormat.PlainText)
    box.setText(words)
    return box


def told(parent: QWidget | None, title: str, words: str) -> None:
    """Tell the person something that must be seen before anything else."""
    _box(QMessageBox.Icon.Warning, parent, title, words).exec()


def asked(parent: QWidget | None, title: str, words: str, yes: str, no: str) -> QMessageBox:
    """Return a question with two answers, `yes` being the one that changes something."""
    box = _box(QMessageBox.Icon.NoIcon, parent, title, words)
    box.addButton(yes, QMessageBox.ButtonRole.DestructiveRole)
    keep = box.addButton(no, QMessageBox.ButtonRole.RejectRole)
    box.setDefaultButton(keep)
    return box


def agreed(parent: QWidget | None, title: str, words: str, yes: str, no: str) -> bool:
    """Ask, and return whether the answer was `yes`."""
    box = asked(parent, title, words, yes, no)
    box.exec()
    clicked = box.clickedButton()
    return clicked is not None and clicked.text() == yes
