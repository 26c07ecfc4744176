"""Split tests: what the variants brought, and whether the difference is real."""

from datetime import UTC, datetime

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QPushButton,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.pages import bring_back, keep_variant, set_share
from needle.core.measure.period import SplitPeriod
from needle.core.measure.split import (
    Reading,
    arms_of,
    density,
    read_split,
    shares_p_value,
    verdict,
)
from needle.core.site.site import Page
from needle.ui.cards import Card, Table, button, label, panel
from needle.ui.language import tr
from needle.ui.measure.curves import DifferenceChart, RateChart
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.words import Words

__all__ = ["SplitTests"]


class SplitTests(QWidget):
    """The list of tests at the left, the chosen one at the right."""

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self._test: SplitPeriod | None = None
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Split tests"))
        self.list.setWordWrap(True)
        self.list.currentItemChanged.connect(lambda *_: self._on_chosen())
        side = panel("side", 176)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 10, 1, 0)
        head = label(tr("Running and finished"), "title")
        head.setContentsMargins(12, 0, 0, 0)
        column.addWidget(head)
        column.addWidget(self.list)
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
        for title, chart, stretch in ((tr("Where the true rate may lie"), self._rates, 5),
                                      (tr("Difference as visitors arrived"), self._difference, 4)):
            card = Card(title, grows=True)
            card.body.addWidget(chart)
            charts.addWidget(card, stretch)
        column.addLayout(charts, 1)
        column.addWidget(self._table_card())
        column.addWidget(self._share_card())
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
                                        tr("Rate"), tr("95 % range"), tr("Best?")), 0,
                           right=(1, 2, 3, 4, 5, 6))
        self._note = label("", "small", wrap=True)
        card.body.addWidget(self.table)
        card.body.addWidget(self._note)
        return card

    def _share_card(self) -> QWidget:
        card = Card(tr("Share of visitors"), tr("a new share starts when the page is sent; those "
                                            "already in a variant stay in it"))
        line = QHBoxLayout()
        self._left, self._right = Words(), Words()
        self.share = QSlider(Qt.Orientation.Horizontal)
        self.share.setRange(0, 100)
        self.share.setAccessibleName(tr("Share of the first variant, in percent"))
        self.share.sliderReleased.connect(self._take_share)
        self.share.valueChanged.connect(self._on_share_moved)
        for widget in (self._left, self.share, self._right):
            line.addWidget(widget)
        card.body.addLayout(line)
        return card

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
        page = self._session.site.page(self._test.page) if self._test else None
        if self._test is None or page is None:
            self._says.setText(tr("No split test yet."))
            self._why.setText(tr("In Build, choose Page › Split test: add a variant. Both are "
                                 "then edited apart and sent together."))
            self._show_buttons([])
            self.table.show_rows([])
            return
        self._show_test(page, self._test)

    def _test_words(self, test: SplitPeriod) -> str:
        page = self._session.site.page(test.page)
        name = page.name if page else ""
        shares = " · ".join(f"{key} {share} %" for key, share in test.arms)
        if test.kept:
            others = " and ".join(key for key, _ in test.arms if key != test.kept)
            return tr("{name}\n{kept} kept over {others}, {day}",
                      name=name, kept=test.kept, others=others, day=_day(test.ended_ms))
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
        says, why = verdict(readings)
        if test.began_ms is None and not test.kept:
            says = tr("Not begun yet.")
            why = tr("Send the page: the test begins when visitors get both variants.")
        elif counted is None:
            says, why = tr("Counting…"), ""
        elif test.kept:
            says = tr("{kept} was kept.", kept=test.kept)
        self._says.setText(says)
        self._why.setText(f"{_time_words(test)} {why}")
        self._show_buttons(self._offered(page, test))
        self.table.show_rows([self._cells(page, r) for r in readings])
        look = tokens()
        for row, colour in enumerate((look.sky, look.fault, look.good, look.amber)):
            item = self.table.item(row, 0)
            if item is not None:
                item.setForeground(QColor(colour))
        self.table.fit_height()
        p_value = shares_p_value(arms)
        arrive = (tr("Shares arrive as asked") if p_value >= 0.01 else
                  tr("Shares do not arrive as asked: look for a page that sends visitors away"))
        self._note.setText(tr("{arrive} (χ² p = {p_value:.2f}). {robots} robot leads left out. A "
                              "visitor who does two things counts once.",
                              arrive=arrive, p_value=p_value, robots=self._outcomes.figures.robots))
        self._rates.show_arms(arms, density)
        self._difference.show_days(days, [arm.key for arm in arms])
        self._show_share(page if not test.kept else None)

    def _offered(self, page: Page, test: SplitPeriod) -> list[QPushButton]:
        if not test.kept:
            return [button(tr("Keep {key}, archive ", key=key) + " and ".join(
                other for other, _ in test.arms if other != key),
                lambda k=key: self.keep(k)) for key, _ in test.arms]  # type: ignore[misc]
        archived = {variant.key for variant in page.archive}
        return [button(tr("Bring {key} back", key=key),
                       lambda k=key: self.bring_back(k))  # type: ignore[misc]
                for key, _ in test.arms if key in archived]

    def _cells(self, page: Page, reading: Reading) -> tuple[str, ...]:
        arm = reading.arm
        words = _headline(page, arm.key)
        return (f"{arm.key}   {words}", f"{arm.share} %", f"{arm.visitors:,}",
                f"{arm.conversions:,}", _percent(arm.rate, 2),
                f"{reading.low * 100:.1f} – {reading.high * 100:.1f}", _percent(reading.best, 1))

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
                           if test.page == page and not test.kept), self._test)
        self.refresh()

    def _show_share(self, page: Page | None) -> None:
        two = page is not None and len(page.variants) == 2
        self.share.setEnabled(two)
        if page is not None and not self.share.isSliderDown():
            self.share.blockSignals(True)
            self.share.setValue(page.variants[0].share)
            self.share.blockSignals(False)
        self._on_share_moved(self.share.value())

    def _on_share_moved(self, value: int) -> None:
        page = self._running()
        keys = [v.key for v in page.variants] if page else []
        self._left.setText(f"{keys[0]} {value} %" if len(keys) == 2 else "")
        self._right.setText(f"{keys[1]} {100 - value} %" if len(keys) == 2 else "")
        if page and not self.share.isSliderDown() and len(keys) == 2 and (
                value != page.variants[0].share):
            self._take_share()

    def _running(self) -> Page | None:
        """The page whose running test is shown."""
        running = self._test is not None and not self._test.kept
        return self._session.site.page(self._test.page) if self._test and running else None

    def _take_share(self) -> None:
        page = self._running()
        if page is not None and page.tested:
            value = self.share.value()
            self._session.edit(tr("share of visitors"),
                               lambda site: set_share(site, page.id, page.variants[0].key, value),
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


def _day(at_ms: int | None) -> str:
    if at_ms is None:
        return tr("long ago")
    return f"{datetime.fromtimestamp(at_ms / 1000):%d %b %Y}"


def _time_words(test: SplitPeriod) -> str:
    """Return which time the figures are of."""
    if not test.timed:
        return tr("An earlier Needle did not keep its time: these are all visitors ever.")
    if test.began_ms is None:
        return ""
    until = tr(" to {day}", day=_day(test.ended_ms)) if test.ended_ms is not None else ""
    return f"{'From' if until else 'Since'} {_day(test.began_ms)}{until}."
