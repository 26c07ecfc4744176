"""Measure: the way of visitors, split tests, pages, goals, the lead book, the order book."""

from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Tabbed
from needle.ui.measure.commands import PARTS
from needle.ui.measure.goals import GoalBook
from needle.ui.measure.journey import JourneyPart
from needle.ui.measure.leads import LeadBook
from needle.ui.measure.orders import OrderBook
from needle.ui.measure.pages import PageResults
from needle.ui.measure.practising import PracticeDialog
from needle.ui.measure.splits import SplitTests
from needle.ui.measure.touched import TouchDialog
from needle.ui.measure.weekreport import WeekDialog
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["MeasureStage"]


class MeasureStage(Tabbed):
    """What the site has brought.

    Attributes:
        journey: How people went through the site.
        leads: The lead book.
        orders: The order book.
        splits: The split tests.
        pages: Visitors and conversions by page.
        goals: What counts as a conversion, and how often it was reached.
    """

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine) -> None:
        super().__init__()
        self._session, self._outcomes, self._engine = session, outcomes, engine
        self.journey = JourneyPart(session, outcomes)
        self.pages = PageResults(session, outcomes, lambda: self.week_report().exec())
        self.splits = SplitTests(session, outcomes, engine)
        self.goals = GoalBook(session, outcomes, engine)
        self.leads = LeadBook(session, outcomes)
        self.orders = OrderBook(session, outcomes)
        self.pages.touches_asked.connect(self.show_touches)
        self.journey.practice_asked.connect(self.practise)
        self.lay_out(dict(zip(PARTS, (
            self.journey, self.splits, self.pages, self.goals, self.leads,
            self.orders), strict=True)))

    def week_report(self) -> WeekDialog:
        """Return the dialog of the week's report."""
        return WeekDialog(self._session, self._outcomes, self._engine, self)

    def practise(self) -> None:
        """Open the dialog that sends practice visitors."""
        self.practising = PracticeDialog(self._session, self._outcomes, self)
        self.practising.show()

    def show_touches(self) -> None:
        """Show where people click on a page, and how much of it they see."""
        self.touches = TouchDialog(self._session, self._outcomes, self._engine, self)
        self.touches.show()

    def end(self) -> None:
        """Wait for what is being read before the window goes."""
        self.journey.end()

    def new_call(self) -> None:
        """Add something that pages made elsewhere call in, and show it."""
        self.show_part("Goals")
        self.goals.add_call()
