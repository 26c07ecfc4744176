"""Measure: pages, split tests, the lead book."""

from PyQt6.QtWidgets import QStackedWidget, QVBoxLayout, QWidget

from needle.ui.cards import TabBar
from needle.ui.commands import Command
from needle.ui.measure.leads import LeadBook
from needle.ui.measure.pages import PageResults
from needle.ui.measure.splits import SplitTests
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["MeasureStage"]


class MeasureStage(QWidget):
    """What the site has brought.

    Attributes:
        leads: The lead book.
        splits: The split tests.
        pages: Visitors and conversions by page.
    """

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self.pages = PageResults(session, outcomes)
        self.splits = SplitTests(session, outcomes)
        self.leads = LeadBook(session, outcomes)
        self._parts = {"Split tests": self.splits, "Pages": self.pages, "Leads": self.leads}
        self._stack = QStackedWidget()
        for part in self._parts.values():
            self._stack.addWidget(part)
        self._bar = TabBar(list(self._parts), self._show)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.setSpacing(0)
        column.addWidget(self._bar)
        column.addWidget(self._stack, 1)
        self._bar.choose("Split tests")

    def _show(self, name: str) -> None:
        self._stack.setCurrentWidget(self._parts[name])
        self.refresh()

    def show_part(self, name: str) -> None:
        """Show "Split tests", "Pages" or "Leads"."""
        self._bar.choose(name)

    def refresh(self) -> None:
        """Show the results as they are now."""
        self._stack.currentWidget().refresh()  # type: ignore[union-attr]

    def commands(self) -> list[Command]:
        """Return what can be done in Measure."""
        return [Command(id="measure.export", menu="Measure", title="Export the leads as CSV…",
                        run=self.leads.ask_export, keywords="csv spreadsheet"),
                *(Command(id=f"measure.{name.split()[0].lower()}", menu="Measure",
                          title=f"Show {name.lower()}",
                          run=lambda n=name: self.show_part(n))  # type: ignore[misc]
                  for name in self._parts)]
