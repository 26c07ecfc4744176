"""Split tests: what the variants brought, and whether the difference is real."""

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QSlider,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.pages import keep_variant, set_share
from needle.core.measure.split import (
    Arm,
    Reading,
    density,
    read_split,
    shares_p_value,
    verdict,
)
from needle.core.site.site import Page
from needle.core.values.ids import Id
from needle.store.results.counting import daily_counts, robot_count
from needle.ui.cards import Card, Table, button, label, panel
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
        self._page_id: Id = ""
        self.list = QListWidget()
        self.list.setAccessibleName("Split tests")
        self.list.setWordWrap(True)
        self.list.currentItemChanged.connect(lambda *_: self._on_chosen())
        side = panel("side", 176)
        column = QVBoxLayout(side)
        column.setContentsMargins(0, 10, 1, 0)
        head = label("Running and finished", "title")
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
        for title, chart, stretch in (("Where the true rate may lie", self._rates, 5),
                                      ("Difference as visitors arrived", self._difference, 4)):
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
        card = Card("Variants")
        self.table = Table("Variants", ("Variant", "Share asked", "Visitors", "Conversions",
                                        "Rate", "95 % range", "Best?"), 0,
                           right=(1, 2, 3, 4, 5, 6))
        self._note = label("", "small", wrap=True)
        card.body.addWidget(self.table)
        card.body.addWidget(self._note)
        return card

    def _share_card(self) -> QWidget:
        card = Card("Share of visitors", "a new share starts when the page is sent; those already "
                                         "in a variant stay in it")
        line = QHBoxLayout()
        self._left, self._right = Words(), Words()
        self.share = QSlider(Qt.Orientation.Horizontal)
        self.share.setRange(0, 100)
        self.share.setAccessibleName("Share of the first variant, in percent")
        self.share.sliderReleased.connect(self._take_share)
        self.share.valueChanged.connect(self._on_share_moved)
        for widget in (self._left, self.share, self._right):
            line.addWidget(widget)
        card.body.addLayout(line)
        return card

    # Showing

    def refresh(self) -> None:
        """Show the tests as they are now."""
        tests = [p for p in self._session.site.pages if p.tested or p.archive]
        if self._page_id not in {page.id for page in tests}:
            self._page_id = tests[0].id if tests else ""
        self.list.blockSignals(True)
        self.list.clear()
        for page in tests:
            shares = " · ".join(f"{v.key} {v.share} %" for v in page.variants)
            words = shares if page.tested else f"kept {page.variants[0].key}, rest in archive"
            item = QListWidgetItem(f"{page.name}\n{words}")
            item.setData(Qt.ItemDataRole.UserRole, page.id)
            self.list.addItem(item)
            if page.id == self._page_id:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)
        page = self._session.site.page(self._page_id)
        if page is None:
            self._says.setText("No split test yet.")
            self._why.setText("In Build, choose Page › Split test: add a variant. Both are then "
                              "edited apart and sent together.")
            self.table.show_rows([])
            return
        self._show_test(page)

    def _on_chosen(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self._page_id = str(item.data(Qt.ItemDataRole.UserRole))
            self.refresh()

    def arms(self, page: Page) -> list[Arm]:
        """Return the counts of the variants of a page, archived ones last."""
        counts = {count.variant: count for count in self._outcomes.counts(page.id)}
        both = [(v.key, v.share) for v in page.variants]
        if not page.tested:
            both += [(v.key, 0) for v in page.archive]
        return [Arm(key, share, counts[key].visitors if key in counts else 0,
                    counts[key].conversions if key in counts else 0) for key, share in both]

    def _show_test(self, page: Page) -> None:
        arms = self.arms(page)
        readings = read_split(arms)
        says, why = verdict(readings)
        if not page.tested:
            says = f"{page.variants[0].key} was kept."
            why = "The others are in the archive. " + why
        self._says.setText(says)
        self._why.setText(why)
        self._show_buttons(page)
        self.table.show_rows([self._cells(page, r) for r in readings])
        look = tokens()
        for row, colour in enumerate((look.sky, look.fault, look.good, look.amber)):
            item = self.table.item(row, 0)
            if item is not None:
                item.setForeground(QColor(colour))
        self.table.fit_height()
        p_value = shares_p_value(arms)
        arrive = ("Shares arrive as asked" if p_value >= 0.01 else
                  "Shares do not arrive as asked: look for a page that sends visitors away")
        self._note.setText(f"{arrive} (χ² p = {p_value:.2f}). {robot_count(self._outcomes.engine)} "
                           "robot leads left out. A visitor who does two things counts once.")
        self._rates.show_arms(arms, density)
        days = daily_counts(self._outcomes.engine, page.id)
        self._difference.show_days(days, [arm.key for arm in arms])
        self._show_share(page)

    def _cells(self, page: Page, reading: Reading) -> tuple[str, ...]:
        arm = reading.arm
        words = _headline(page, arm.key)
        return (f"{arm.key}   {words}", f"{arm.share} %", f"{arm.visitors:,}",
                f"{arm.conversions:,}", _percent(arm.rate, 2),
                f"{reading.low * 100:.1f} – {reading.high * 100:.1f}", _percent(reading.best, 1))

    def _show_buttons(self, page: Page) -> None:
        while self._buttons.count():
            item = self._buttons.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.deleteLater()
        for variant in page.variants if page.tested else ():
            others = " and ".join(v.key for v in page.variants if v.key != variant.key)
            keep = button(f"Keep {variant.key}, archive {others}",
                          lambda k=variant.key: self.keep(k))  # type: ignore[misc]
            self._buttons.addWidget(keep)

    def keep(self, key: str) -> None:
        """Keep one variant of the shown test and archive the others."""
        page = self._page_id
        if self._session.edit(f"keep variant {key}",
                              lambda site: keep_variant(site, page, key)):
            self._session.said.emit(f"Variant {key} is kept. Send the page to make it so for "
                                    "visitors; undo brings the test back.", False)
        self.refresh()

    def _show_share(self, page: Page) -> None:
        two = len(page.variants) == 2
        self.share.setEnabled(two)
        if not self.share.isSliderDown():
            self.share.blockSignals(True)
            self.share.setValue(page.variants[0].share)
            self.share.blockSignals(False)
        self._on_share_moved(self.share.value())

    def _on_share_moved(self, value: int) -> None:
        page = self._session.site.page(self._page_id)
        keys = [v.key for v in page.variants] if page else []
        self._left.setText(f"{keys[0]} {value} %" if len(keys) == 2 else "")
        self._right.setText(f"{keys[1]} {100 - value} %" if len(keys) == 2 else "")
        if page and not self.share.isSliderDown() and len(keys) == 2 and (
                value != page.variants[0].share):
            self._take_share()

    def _take_share(self) -> None:
        page = self._session.site.page(self._page_id)
        if page is not None and page.tested:
            value = self.share.value()
            self._session.edit("share of visitors",
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


