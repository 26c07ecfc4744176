"""Measure: pages, split tests, the lead book."""

from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Tabbed
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.measure.goals import GoalBook
from needle.ui.measure.leads import LeadBook
from needle.ui.measure.pages import PageResults
from needle.ui.measure.splits import SplitTests
from needle.ui.measure.weekreport import WeekDialog
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["MeasureStage"]


class MeasureStage(Tabbed):
    """What the site has brought.

    Attributes:
        leads: The lead book.
        splits: The split tests.
        pages: Visitors and conversions by page.
        goals: What counts as a conversion, and how often it was reached.
    """

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine) -> None:
        super().__init__()
        self._session, self._outcomes, self._engine = session, outcomes, engine
        self.pages = PageResults(session, outcomes, lambda: self.week_report().exec())
        self.splits = SplitTests(session, outcomes)
        self.goals = GoalBook(session, outcomes)
        self.leads = LeadBook(session, outcomes)
        self.lay_out({"Split tests": self.splits, "Pages": self.pages, "Goals": self.goals,
                      "Leads": self.leads})

    def week_report(self) -> WeekDialog:
        """Return the dialog of the week's report."""
        return WeekDialog(self._session, self._outcomes, self._engine, self)

    def new_call(self) -> None:
        """Add something that pages made elsewhere call in, and show it."""
        self.show_part("Goals")
        self.goals.add_call()

    def commands(self) -> list[Command]:
        """Return what can be done in Measure."""
        return [Command(id="measure.export", menu="Measure", title=tr("Export the leads as CSV…"),
                        run=self.leads.ask_export, keywords="csv spreadsheet"),
                Command(id="measure.events", menu="Measure",
                        title=tr("Export visits and conversions as CSV…"),
                        run=self.pages.ask_export, keywords="csv raw events goals"),
                Command(id="measure.week", menu="Measure", title=tr("Report of the week…"),
                        run=lambda: self.week_report().exec(),
                        keywords="pdf png print weekly summary"),
                Command(id="measure.call", menu="Measure", title=tr("New outside call…"),
                        run=self.new_call, keywords="conversion elsewhere shop pixel goal"),
                Command(id="measure.plan", menu="Measure", title=tr("Plan a split test…"),
                        run=self.splits.plan, keywords="sample size days how long power"),
                *(Command(id=f"measure.{name.split()[0].lower()}", menu="Measure",
                          title=tr("Show {name}", name=tr(name).lower()),
                          run=lambda n=name: self.show_part(n))  # type: ignore[misc]
                  for name in self.parts)]
