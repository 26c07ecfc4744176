"""Sending beside the window: the bar that shows how far it is, and the button that stops it."""

from collections.abc import Callable
from typing import TypeVar

from PyQt6.QtWidgets import QHBoxLayout, QProgressBar, QWidget

from needle.ui.cards import button, label
from needle.ui.language import tr
from needle.ui.waiting import watched

__all__ = ["SendingBar"]

T = TypeVar("T")


class SendingBar(QWidget):
    """Shows a job that sends, while it does; nothing else is sent meanwhile."""

    def __init__(self) -> None:
        super().__init__()
        self._stop = self.busy = False
        self._far = (0, 0)
        self._what = label("", "small")
        self.bar = QProgressBar()
        self.stop_button = button(tr("Stop"), self.ask_stop)
        line = QHBoxLayout(self)
        line.setContentsMargins(0, 0, 0, 0)
        line.addWidget(self._what)
        line.addWidget(self.bar, 1)
        line.addWidget(self.stop_button)
        self.hide()

    def run(self, what: str, job: Callable[[], T]) -> T:
        """Do a job in a thread.

        Args:
            what: What is shown meanwhile.

        Raises:
            Exception: What the job raised.
        """
        self._stop, self.busy, self._far = False, True, (0, 0)
        self._what.setText(what)
        self.show()
        self.stop_button.setFocus()
        try:
            return watched(job, self._show_far)
        finally:
            self.busy = False
            self.hide()

    def note(self, done: int, whole: int) -> bool:
        """Note how far it is and return whether to go on; called in the thread that sends."""
        self._far = (done, whole)
        return not self._stop

    def _show_far(self) -> None:
        done, whole = self._far
        self.bar.setMaximum(whole)
        self.bar.setValue(done)

    def ask_stop(self) -> None:
        """Stop at the next file."""
        self._stop = True
