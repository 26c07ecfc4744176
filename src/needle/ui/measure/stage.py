"""Measure: pages, split tests, the lead book."""

from needle.ui.cards import Tabbed
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.measure.leads import LeadBook
from needle.ui.measure.pages import PageResults
from needle.ui.measure.splits import SplitTests
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["MeasureStage"]


class MeasureStage(Tabbed):
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
        self.lay_out({"Split tests": self.splits, "Pages": self.pages, "Leads": self.leads})

    def commands(self) -> list[Command]:
        """Return what can be done in Measure."""
        return [Command(id="measure.export", menu="Measure", title=tr("Export the leads as CSV…"),
                        run=self.leads.ask_export, keywords="csv spreadsheet"),
                *(Command(id=f"measure.{name.split()[0].lower()}", menu="Measure",
                          title=tr("Show {name}", name=tr(name).lower()),
                          run=lambda n=name: self.show_part(n))  # type: ignore[misc]
                  for name in self.parts)]
