"""Planning a split test: how long it takes with the visitors that a page has."""

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QDialog, QFormLayout, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.measure.plan import LONGEST_DAYS, Plan, plan_test, smallest_gain
from needle.core.values.ids import Id
from needle.ui.cards import button, label, repaint_role
from needle.ui.editors import ChoiceEdit, NumberEdit
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["PlanDialog"]

_MOST_VARIANTS = 8


class PlanDialog(QDialog):
    """Rate, gain and visitors in; days out, at once.

    Signals:
        begun: The person wants to begin the test on a page.
    """

    begun = pyqtSignal(str)

    def __init__(self, session: Session, outcomes: Outcomes, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Plan a split test"))
        self.setMinimumWidth(520)
        self._session, self._outcomes = session, outcomes
        self.page = ChoiceEdit(tr("Page"), {page.id: page.name for page in session.site.pages},
                               inherit=False)
        self.page.chosen.connect(lambda page: self._take_page(str(page)))
        self._numbers: dict[str, float] = {}
        self._typed = False
        self._edits = {
            "rate": NumberEdit(tr("Converts now"), 0.01, 99, 0.1, "%"),
            "gain": NumberEdit(tr("Smallest gain worth having"), 1, 900, 1, "%"),
            "visitors": NumberEdit(tr("New visitors a day"), 1, 10_000_000, 10),
            "variants": NumberEdit(tr("Variants"), 2, _MOST_VARIANTS, 1)}
        self._from = label("", "small", wrap=True)
        self._days = label("", "title", wrap=True)
        self._words = label("", "", wrap=True)
        self._bolder = label("", "unsure", wrap=True)
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        form.addRow(tr("Page"), self.page)
        for name, value in (("rate", 5.0), ("gain", 20), ("visitors", 100), ("variants", 2)):
            self._set(name, value)
            edit = self._edits[name]
            edit.chosen.connect(lambda told, n=name: self._take(n, told))
            edit.refused.connect(lambda words: self._say(words, True))
            form.addRow(edit.accessibleName(), edit)
        self._lay_out(form)
        self.page.show_value(session.page.id)
        self._take_page(session.page.id)
        if not outcomes.figures.known:
            outcomes.changed.connect(self._on_counted)

    def _lay_out(self, form: QFormLayout) -> None:
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addLayout(form)
        for shown in (self._from, self._days, self._words, self._bolder):
            column.addWidget(shown)
        column.addStretch()
        foot = QHBoxLayout()
        foot.addStretch()
        foot.addWidget(button(tr("Close"), self.reject))
        self._begin = button(tr("Add a variant to the page"), self._on_begin, main=True)
        foot.addWidget(self._begin)
        column.addLayout(foot)

    def _on_counted(self) -> None:
        """Fill in what was counted meanwhile, unless the person has begun to type."""
        if self._outcomes.figures.known:
            self._outcomes.changed.disconnect(self._on_counted)
            if not self._typed:
                self._take_page(str(self.page.currentData()))

    def _set(self, name: str, value: float) -> None:
        self._numbers[name] = value
        self._edits[name].show_value(value)

    def _take(self, name: str, told: object) -> None:
        """Take a number; an emptied field is as it was."""
        self._typed = True
        self._set(name, float(told) if isinstance(told, int | float) else self._numbers[name])
        self._show()

    def _say(self, words: str, fault: bool) -> None:
        self._from.setText(words)
        repaint_role(self._from, "fault" if fault else "small")

    def _take_page(self, page: Id) -> None:
        """Fill in what the page had in the last four weeks, where it had enough."""
        lately = self._outcomes.figures.lately.get(page)
        if not self._outcomes.figures.known:
            self._say(tr("The figures of the page are still being counted."), False)
        elif lately is None or not lately.conversions:
            self._say(tr("Nothing has converted on this page in the last four weeks: these "
                         "figures are yours to guess."), False)
        else:
            self._set("rate", max(0.01, round(100 * lately.rate, 2)))
            self._set("visitors", max(1, round(lately.visitors_a_day)))
            self._say(tr("In the last {days} days {visitors:,} visitors came, and {won:,} of them "
                         "converted.", days=round(lately.days), visitors=lately.visitors,
                         won=lately.conversions), False)
        known = self._session.site.page(page)
        self._begin.setEnabled(known is not None and len(known.variants) < _MOST_VARIANTS)
        self._show()

    def plan(self) -> Plan | None:
        """Return what the test takes; `None` where there can be no such test."""
        try:
            told = self._numbers
            return plan_test(told["rate"] / 100, told["gain"] / 100, told["visitors"],
                             round(told["variants"]))
        except ValueError:
            return None

    def _show(self) -> None:
        plan = self.plan()
        if plan is None:
            self._days.setText(tr("There can be no such test."))
            self._words.setText(tr("With this gain more than everybody would convert."))
            self._bolder.hide()
            return
        gain = self._numbers["gain"]
        self._days.setText(_span(plan.days))
        self._words.setText(tr(
            "With {visitors:,} visitors in all, four of five tests of a variant that is {gain:g} % "
            "better are called by then, however often you look; of tests without a difference at "
            "most one in twenty ever is. If you look only once, at the end, {once:,} visitors do: "
            "{days}.", visitors=plan.visitors, gain=gain, once=plan.once_visitors,
            days=_span(plan.once_days).lower()))
        self._bolder.setVisible(not plan.ends)
        if not plan.ends:
            self._bolder.setText(self._bolder_words())

    def _bolder_words(self) -> str:
        found = smallest_gain(self._numbers["rate"] / 100, self._numbers["visitors"],
                              round(self._numbers["variants"]))
        if found is None:
            return tr("In three months, after which visitors and season are others, these visitors "
                      "show no gain at all. Bring more of them, or ask them what stops them.")
        return tr("That is longer than three months, after which visitors and season are others. "
                  "In {days} days these visitors show gains of {gain:.0f} % and more: try a "
                  "bolder change than this one.", days=LONGEST_DAYS, gain=100 * found)

    def _on_begin(self) -> None:
        self.begun.emit(str(self.page.currentData()))
        self.accept()


def _span(days: int) -> str:
    """Return a number of days as one says it."""
    if days == 1:
        return tr("1 day")
    if days <= 3 * LONGEST_DAYS:
        return tr("{days} days", days=days)
    return tr("{years:.1f} years", years=days / 365)
