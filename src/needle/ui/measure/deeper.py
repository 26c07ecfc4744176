"""One step deeper into a split test: every goal by itself, and how all of it is computed."""

import math
from collections.abc import Mapping, Sequence

from PyQt6.QtWidgets import QDialog, QVBoxLayout, QWidget

from needle.core.measure.period import SplitPeriod
from needle.core.measure.sequential import ALPHA
from needle.core.measure.split import Arm, GoalReading, read_goals
from needle.ui.cards import Table, button, foot, label
from needle.ui.language import tr
from needle.ui.measure.meaning import goal_name
from needle.ui.session import Session

__all__ = ["DeeperDialog"]

_HOW = tr(
    "Every visitor who converts was given a variant by the shares. If all variants convert alike, "
    "conversions fall on them as the shares do, whatever the rate, the day or the season. With n "
    "conversions of variant i, shares s and a weight of {weight} a variant, the evidence against "
    "that is\n\n"
    "    E = B(a + n) / B(a) · ∏ s ^ −n,      a = {weight} · k · s\n\n"
    "with B the multivariate beta function (a Dirichlet-multinomial mixture). If all are alike its "
    "mean is 1 at every look, so it ever reaches 1/α in at most α of such tests (Ville 1939; "
    "Robbins 1970; Lindon and Malek 2022). A variant is called better once E of each pair it "
    "leads reaches (k − 1)/α, α = {alpha:.0f} %. The range of the ratio are the multiples θ that "
    "are not excluded in the same way. The curves and the chance to be best are the posterior "
    "from a uniform prior (Beta); they tell, and never stop a test.")


class DeeperDialog(QDialog):
    """By goal: how the variants differ, all ranges holding together; then the formula."""

    def __init__(self, session: Session, test: SplitPeriod, arms: Sequence[Arm],
                 counts: Mapping[str, Mapping[str, int]], parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("By each goal, and how it is computed"))
        self.resize(760, 440)
        found = read_goals(test.arms, counts)
        self.table = Table(tr("By each goal"), (
            tr("Goal"), tr("Variant"), tr("Reached"), tr("Beside the first"),
            tr("Times as often")), 0, right=(2, 3, 4))
        self.table.show_rows([self._cells(session, one) for one in found])
        self.table.fit_height(9)
        first = arms[0].key if arms else ""
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addWidget(label(tr(
            "How many visitors of {first} and of each other variant reached each goal, and how "
            "many times as often the other's did. The ranges hold all together at every look, at "
            "{alpha:.0f} % shared out over {n}: who looks for one goal of many that differs is no "
            "more often fooled than with one.", first=first, alpha=100 * ALPHA,
            n=max(1, len(found)))
            if found else tr("No goal was reached in this test yet."), "", wrap=True))
        column.addWidget(self.table)
        self.table.setVisible(bool(found))
        column.addWidget(label(tr("How it is computed"), "title"))
        column.addWidget(label(_HOW.format(weight=100, alpha=100 * ALPHA), "small", wrap=True))
        column.addStretch()
        column.addLayout(foot(button(tr("Close"), self.accept)))

    @staticmethod
    def _cells(session: Session, one: GoalReading) -> tuple[str, ...]:
        if one.low == 0 and math.isinf(one.high):
            times = tr("cannot be told yet")
        elif math.isinf(one.high):
            times = tr("at least {low:.2f}", low=one.low)
        else:
            times = f"{one.low:.2f} – {one.high:.2f}"
        return (goal_name(session, one.goal), one.key, f"{one.conversions:,}", f"{one.first:,}",
                f"{times} ●" if one.differs else times)
