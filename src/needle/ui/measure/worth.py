"""What a goal is worth, whether it counts every time, and whether it is what the site is for."""

from PyQt6.QtWidgets import QCheckBox, QHBoxLayout

from needle.core.edit.testing import set_worth
from needle.core.measure.goals import Goal, GoalKind
from needle.core.site.site import Site
from needle.core.values.testplan import GoalWorth
from needle.store.results.counting import Reached
from needle.ui.cards import Card, label
from needle.ui.editors import NumberEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["WorthCard", "worth_of", "worth_words"]

_MOST = 10_000_000


def worth_of(site: Site, key: str) -> GoalWorth:
    """Return what a goal is worth; nothing if nobody said so."""
    return next((one for one in site.worths if one.goal == key), GoalWorth(key))


def worth_words(worth: GoalWorth, reached: Reached | None, takings: float | None = None) -> str:
    """Return what all of it was worth; empty where nobody said what it is.

    Args:
        takings: What was ordered with it, which is what it was worth then.
    """
    if takings is not None:
        return f"{takings:,.2f}"
    if not worth.cents:
        return ""
    times = (reached.times if worth.every else reached.visitors) if reached else 0
    return f"{worth.cents * times / 100:,.2f}"


class WorthCard(Card):
    """Asks it of the chosen goal."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("What it is worth"))
        self._session = session
        self._goal = ""
        self.each = NumberEdit(tr("Worth each time"), 0, _MOST, 1)
        self.each.chosen.connect(lambda value: self._set(cents=round(100 * float(value or 0))))
        self.each.refused.connect(lambda words: session.said.emit(words, True))
        self.every = QCheckBox(tr("Counts every time, not each visitor once"))
        self.every.clicked.connect(lambda on: self._set(every=on))
        self.main = QCheckBox(tr("What the site is for: new split tests are about it"))
        self.main.clicked.connect(lambda on: self._set(main=on))
        line = QHBoxLayout()
        line.addWidget(label(tr("Worth each time, in your money"), "small"))
        line.addWidget(self.each, 1)
        self.body.addLayout(line)
        self.body.addWidget(self.every)
        self.body.addWidget(self.main)

    def _set(self, **values: object) -> None:
        goal = self._goal
        self._session.edit(tr("what a goal is worth"), lambda site: set_worth(
            site, goal, **values))

    def show_goal(self, goal: Goal | None) -> None:
        """Show what a goal is worth; nothing where none is chosen or none counts it any more."""
        self.setVisible(goal is not None and goal.kind is not GoalKind.GONE)
        self._goal = goal.key if goal else ""
        site = self._session.site
        worth, ordered = worth_of(site, self._goal), bool(
            site.shop.table) and self._goal == site.shop.form
        # What orders come to is known.
        self.each.setEnabled(not ordered)
        self.each.show_value(None if ordered else worth.cents / 100)
        self.each.setPlaceholderText(tr("what is ordered") if ordered else "")
        self.every.setChecked(worth.every)
        # An outside call counts once for each visitor, whatever they call.
        self.every.setEnabled(goal is not None and goal.kind is not GoalKind.CALL)
        self.main.setChecked(worth.main)
