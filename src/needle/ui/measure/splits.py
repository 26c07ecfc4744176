"""Split tests: what the variants brought, and whether the difference is real."""

from collections.abc import Mapping
from datetime import UTC, datetime

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QMenu,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.pages import bring_back, keep_variant, set_share, set_shares, split_page
from needle.core.edit.testing import set_plan
from needle.core.measure.goals import goals_on
from needle.core.measure.period import SplitPeriod
from needle.core.measure.split import (
    Reading,
    arms_of,
    density,
    leaning_shares,
    read_split,
    shares_p_value,
    slower_by,
    verdict,
)
from needle.core.site.site import Page, Site
from needle.store.results.takings import NOTHING, Takings
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Card, Table, button, label, panel
from needle.ui.language import tr
from needle.ui.measure.curves import DifferenceChart, RateChart, arm_colour
from needle.ui.measure.deeper import DeeperDialog
from needle.ui.measure.diary import DiaryDialog
from needle.ui.measure.meaning import MeaningDialog
from needle.ui.measure.planning import PlanDialog
from needle.ui.measure.shares import ShareCard
from needle.ui.measure.takingwords import takings_words
from needle.ui.measure.testwords import (
    about_words,
    day_words,
    lacking_words,
    parted_words,
    time_words,
)
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.words import agreed

__all__ = ["SplitTests"]


class SplitTests(QWidget):
    """The list of tests at the left, the chosen one at the right."""

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine) -> None:
        super().__init__()
        self._session, self._engine = session, engine
        self._outcomes = outcomes
        self._test: SplitPeriod | None = None
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Split tests"))
        self.list.setWordWrap(True)
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.currentItemChanged.connect(lambda *_: self._on_chosen())
        side = panel("side", 176)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 10, 1, 0)
        head = label(tr("Running and finished"), "title")
        head.setContentsMargins(12, 0, 0, 0)
        column.addWidget(head)
        column.addWidget(self.list)
        plan = QHBoxLayout()
        plan.setContentsMargins(10, 4, 10, 4)
        plan.addWidget(button(tr("Plan a test…"), self.plan))
        column.addLayout(plan)
        diary = QHBoxLayout()
        diary.setContentsMargins(10, 0, 10, 10)
        diary.addWidget(button(tr("Diary…"), self.show_diary))
        column.addLayout(diary)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(side)
        row.addWidget(self._work(), 1)

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(12)
        column.addWidget(self._verdict_card())
        charts = QHBoxLayout()
        charts.setSpacing(12)
        self._rates, self._difference = RateChart(), DifferenceChart()
        self._charts: list[Card] = []
        for title, chart, stretch in ((tr("Where the true rate may lie"), self._rates, 5),
                                      (tr("Difference as visitors arrived"), self._difference, 4)):
            card = Card(title, grows=True)
            card.body.addWidget(chart)
            charts.addWidget(card, stretch)
            self._charts.append(card)
        self._of_a_test = QWidget()
        below = QVBoxLayout(self._of_a_test)
        below.setContentsMargins(0, 0, 0, 0)
        below.setSpacing(12)
        below.addLayout(charts, 1)
        below.addWidget(self._table_card())
        self.shares = ShareCard()
        self.shares.chosen.connect(self._take_share)
        self.shares.head.addWidget(button(tr("Lean to the better…"), self.lean))
        self.shares.refused.connect(lambda words: self._session.said.emit(words, True))
        below.addWidget(self.shares)
        column.addWidget(self._of_a_test, 1)
        column.addStretch()
        return work

    def _verdict_card(self) -> QWidget:
        card = Card("")
        card.title.setProperty("role", "big")
        card.setMinimumHeight(74)
        self._says = card.title
        self._why = label("", "small", wrap=True)
        self._buttons = QHBoxLayout()
        card.head.addLayout(self._buttons)
        card.body.addWidget(self._why)
        return card

    def _table_card(self) -> Card:
        card = Card(tr("Variants"))
        self.table = Table(tr("Variants"),
                           (tr("Variant"), tr("Share asked"), tr("Visitors"), tr("Conversions"),
                                        tr("Rate"), tr("95 % range"), tr("Best?"),
                            tr("Ordered")), 0, right=(1, 2, 3, 4, 5, 6, 7))
        self._note = label("", "small", wrap=True)
        card.body.addWidget(self.table)
        card.body.addWidget(self._note)
        return card

    def plan(self) -> None:
        """Ask how long a test takes, before it is begun."""
        dialog = PlanDialog(self._session, self._outcomes, self)
        dialog.begun.connect(self._begin)
        dialog.exec()

    def mean(self) -> None:
        """Ask how the running test is meant."""
        self.refresh()
        page = self._running()
        if page is None or not page.tested:
            self._session.said.emit(tr("No split test runs here: plan one first."), True)
            return
        MeaningDialog(self._session, page, self).exec()
        self.refresh()

    def show_diary(self) -> None:
        """Show what was tested so far, and what came out."""
        self.diary = DiaryDialog(self._session, self._outcomes, self._engine, self)
        self.diary.show()

    def go_deeper(self) -> None:
        """Show every goal by itself, and how all of it is computed."""
        if self._test is not None:
            figures = self._outcomes.figures
            DeeperDialog(self._session, self._test, arms_of(
                self._test, figures.days_of(self._test) or {}), figures.goals_of(self._test),
                self).exec()

    def lean(self) -> None:
        """Have more visitors get what is likely best, once it is known what that costs."""
        page = self._running()
        if page is None or self._test is None:
            return
        arms = arms_of(self._test, self._outcomes.figures.days_of(self._test) or {})
        shares = leaning_shares(read_split(arms))
        words = tr("{shares}. Fewer visitors get what is likely worse while the test goes on. It "
                   "costs that the test takes {times:.1f} times as many visitors to tell the best "
                   "from the last as by even shares, and that what came so far is read apart.",
                   shares=" · ".join(f"{key} {share} %" for key, share in shares),
                   times=slower_by([share for _, share in shares]))
        if agreed(self, tr("Lean to what is likely better"), words, tr("Set these shares"),
                  tr("Leave them")):
            self._session.edit(tr("shares lean to the better"),
                               lambda site: set_shares(site, page.id, dict(shares)))

    def _begin(self, page: str) -> None:
        """Add a variant to a page; it is shown in Build, where it is changed."""
        session = self._session

        def split(site: Site) -> Site:
            made = split_page(site, page, session.now())
            tested = made.page(page)
            main = next((one.goal for one in site.worths if one.main), "")
            if tested is None or tested.plan.counts or (
                    main not in {goal for _, goal in goals_on(made, tested)}):
                return made
            return set_plan(made, page, counts=main)

        if session.edit(tr("add variant"), split):
            known = session.whole.page(page)
            session.show_page(page, known.variants[-1].key if known else "A")
            session.said.emit(tr("The page has one more variant. Change it in Build, then "
                                       "send the page."), False)

    # Showing

    def refresh(self) -> None:
        """Show the tests as they are now."""
        tests = self._outcomes.tests()
        now = next((test for test in tests if _same_test(test, self._test)), None)
        self._test = now or (tests[0] if tests else None)
        self.list.blockSignals(True)
        self.list.clear()
        for test in tests:
            item = QListWidgetItem(self._test_words(test))
            item.setData(Qt.ItemDataRole.UserRole, test)
            self.list.addItem(item)
            if test is self._test:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)
        page = self._session.whole.page(self._test.page) if self._test else None
        self._of_a_test.setVisible(page is not None)
        if self._test is None or page is None:
            self._says.setText(tr("No split test yet."))
            self._why.setText(tr("Plan one: it says how long it takes, and adds a variant to the "
                                 "page. Both are then edited apart and sent together."))
            self._show_buttons([button(tr("Plan a test…"), self.plan, main=True)])
            self.table.show_rows([])
            return
        self._show_test(page, self._test)

    def _test_words(self, test: SplitPeriod) -> str:
        page = self._session.whole.page(test.page)
        name = page.name if page else ""
        shares = " · ".join(f"{key} {share} %" for key, share in test.arms)
        if test.kept:
            others = " and ".join(key for key, _ in test.arms if key != test.kept)
            return tr("{name}\n{kept} kept over {others}, {day}",
                      name=name, kept=test.kept, others=others, day=day_words(test.ended_ms))
        if not test.runs:
            return tr("{name}\n{shares}, until {day}", name=name, shares=shares,
                      day=day_words(test.ended_ms))
        return f"{name}\n{shares}"

    def _on_chosen(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self._test = item.data(Qt.ItemDataRole.UserRole)
            self.refresh()

    def _show_test(self, page: Page, test: SplitPeriod) -> None:
        counted = self._outcomes.figures.days_of(test)
        days = counted or {}
        arms = arms_of(test, days)
        readings = read_split(arms)
        seen = {day for of in days.values() for day, *_ in of}
        says, why = verdict(readings, test.runs, max(seen) - min(seen) + 1 if seen else 0)
        if (told := lacking_words(self._session, test)) is not None:
            says, why = told
        if test.began_ms is None and test.runs:
            says = tr("Not begun yet.")
            why = tr("Send the page: the test begins when visitors get both variants.")
        elif counted is None:
            says, why = tr("Counting…"), ""
        elif test.kept:
            says = tr("{kept} was kept.", kept=test.kept)
        self._says.setText(says)
        self._why.setText(" ".join(filter(None, (
            time_words(test), about_words(self._session, test),
            parted_words(page, test, self._outcomes.tests()), why,
            test.plan.believed and tr("Believed: {words}.", words=test.plan.believed.rstrip(
                "."))))))
        self._show_buttons(self._offered(page, test))
        some = any(arm.visitors for arm in arms)
        for card in (*self._charts, self._note):
            card.setVisible(some)
        self.table.show_rows([self._cells(page, r) for r in readings])
        self.table.setColumnHidden(7, not self._takings())
        for row in range(len(arms)):
            item = self.table.item(row, 0)
            if item is not None:
                item.setForeground(arm_colour(row))
        self.table.fit_height(6)
        p_value = shares_p_value(arms)
        arrive = (tr("Shares arrive as asked") if p_value >= 0.01 else
                  tr("Shares do not arrive as asked: look for a page that sends visitors away"))
        self._note.setText(tr("{arrive} (χ² p = {p_value:.2f}). {robots} robot leads left out. A "
                              "visitor who does two things counts once.",
                              arrive=arrive, p_value=p_value, robots=self._outcomes.figures.robots))
        self._rates.show_arms(arms, density)
        self._difference.show_days(days, [arm.key for arm in arms])
        self.shares.show_page(page if test.runs else None)

    def _offered(self, page: Page, test: SplitPeriod) -> list[QPushButton]:
        more = [button(tr("Deeper…"), self.go_deeper)]
        if test.runs:
            more.insert(0, button(tr("How it is meant…"), self.mean))
        return [*more, *self._keeping(page, test)]

    def _keeping(self, page: Page, test: SplitPeriod) -> list[QPushButton]:
        if test.runs and len(test.arms) > 2:
            return [self._keep_one(test)]
        if test.runs:
            return [button(tr("Keep {key}, archive ", key=key) + " and ".join(
                other for other, _ in test.arms if other != key),
                lambda k=key: self.keep(k)) for key, _ in test.arms]  # type: ignore[misc]
        archived = {variant.key for variant in page.archive}
        return [button(tr("Bring {key} back", key=key),
                       lambda k=key: self.bring_back(k))  # type: ignore[misc]
                for key, _ in test.arms if key in archived]

    def _keep_one(self, test: SplitPeriod) -> QPushButton:
        """Return the button from which one of many variants is chosen to be kept."""
        made = button(tr("Keep one…"), lambda: None)
        menu = QMenu(made)
        for key, _ in test.arms:
            menu.addAction(tr("Keep {key}, archive the others", key=key),
                           lambda k=key: self.keep(k))
        made.setMenu(menu)
        return made

    def _cells(self, page: Page, reading: Reading) -> tuple[str, ...]:
        arm = reading.arm
        words = _headline(page, arm.key)
        if not arm.visitors:  # Then nothing is known, and it is not said as if it were.
            return (f"{arm.key}   {words}", f"{arm.share} %", "0", "0", "–", "–", "–", "")
        return (f"{arm.key}   {words}", f"{arm.share} %", f"{arm.visitors:,}",
                f"{arm.conversions:,}", _percent(arm.rate, 2),
                f"{reading.low * 100:.1f} – {reading.high * 100:.1f}", _percent(reading.best, 1),
                self._ordered(arm.key, arm.visitors))

    def _ordered(self, variant: str, visitors: int) -> str:
        """Return what the visitors of a variant ordered, and how much that is for each visitor."""
        found = self._takings().get(variant, NOTHING)
        words, site = takings_words(self._session.site, found), self._session.site
        if not words:
            return "–"
        each = Takings(sums={key: amount / visitors for key, amount in found.sums.items()})
        return tr("{sum} ({each} each)", sum=words, each=takings_words(site, each))

    def _takings(self) -> Mapping[str, Takings]:
        return self._outcomes.figures.takings_of(self._test) if self._test is not None else {}

    def _show_buttons(self, buttons: list[QPushButton]) -> None:
        while self._buttons.count():
            item = self._buttons.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()
        for made in buttons:
            self._buttons.addWidget(made)

    def keep(self, key: str) -> None:
        """Keep one variant of the shown test and archive the others."""
        if self._test is None:
            return
        page, began = self._test.page, _iso(self._test.began_ms)
        if self._session.edit(tr("keep variant {key}", key=key), lambda site: keep_variant(
                site, page, key, self._session.now(), began)):
            self._session.said.emit(tr("Variant {key} is kept. Send the page to make it so for "
                                       "visitors; undo brings the test back.",
                                       key=key), False)
        self.refresh()

    def bring_back(self, key: str) -> None:
        """Put an archived variant beside what is on the page, in a fresh test."""
        if self._test is None:
            return
        page = self._test.page
        if self._session.edit(tr("bring back variant {key}", key=key), lambda site: bring_back(
                site, page, key, self._session.now())):
            self._session.said.emit(tr("Variant {key} is on the page again, beside the one that "
                                       "was kept. Send the page to begin the test.",
                                       key=key), False)
        self._test = next((test for test in self._outcomes.tests()
                           if test.page == page and test.runs), self._test)
        self.refresh()

    def _running(self) -> Page | None:
        """The page whose running test is shown."""
        running = self._test is not None and self._test.runs
        return self._session.whole.page(self._test.page) if self._test and running else None

    def _take_share(self, key: str, share: int) -> None:
        page = self._running()
        if page is not None and page.tested:
            self._session.edit(tr("share of visitors"),
                               lambda site: set_share(site, page.id, key, share),
                               group=f"share:{page.id}")


def _headline(page: Page, key: str) -> str:
    """Return the first words of a variant, by which people know it."""
    variant = next((v for v in (*page.variants, *page.archive) if v.key == key), None)
    for node in variant.nodes() if variant else ():
        if getattr(node, "rank", 0) == 1:
            return "".join(run.words for run in node.words)  # type: ignore[attr-defined]
    return page.name


def _percent(part: float, digits: int) -> str:
    return f"{part:.{digits}%}".replace("%", " %")


def _same_test(one: SplitPeriod, other: SplitPeriod | None) -> bool:
    """Whether two values are the same test, perhaps of other shares by now."""
    return other is not None and (one.page, one.ended_ms, one.kept) == (
        other.page, other.ended_ms, other.kept)


def _iso(at_ms: int | None) -> str:
    return datetime.fromtimestamp(at_ms / 1000, UTC).isoformat(timespec="milliseconds") \
        if at_ms is not None else ""
