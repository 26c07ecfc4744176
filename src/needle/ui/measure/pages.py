"""Visitors, conversions and rate by page."""

from collections.abc import Callable, Sequence
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.measure.places import pages_at
from needle.core.site.site import Page
from needle.core.values.counting import counted
from needle.store.results.counting import PageCount
from needle.store.results.exporting import EVENT_COLUMNS, event_rows
from needle.store.results.parquet import write_events
from needle.store.results.takings import NOTHING
from needle.ui.cards import Card, Table, button, label
from needle.ui.language import tr
from needle.ui.measure.exporting import Export, FileExport
from needle.ui.measure.places import PlaceChoice
from needle.ui.measure.takingwords import takings_words
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["PageResults"]


class PageResults(QWidget):
    """A table of all pages and their variants.

    Signals:
        publish_asked: Nobody has come, and the person wants to send pages.
        touches_asked: The person wants to see where people click on a page.
    """

    publish_asked = pyqtSignal()
    touches_asked = pyqtSignal()

    def __init__(self, session: Session, outcomes: Outcomes,
                 report: Callable[[], object]) -> None:
        super().__init__()
        self.setObjectName("work")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._outcomes = outcomes
        self.table = Table(tr("Results by page"),
                           (tr("Page"), tr("Variant"), tr("Visitors"), tr("Conversions"),
                                               tr("Rate"), tr("Ordered")), 0,
                           right=(2, 3, 4, 5))
        self.place = PlaceChoice()
        self.place.setMinimumContentsLength(11)
        self.place.chosen.connect(lambda _: self.refresh())
        self._empty = label(tr("Nobody has come yet. Send a page in Publish, then open its test "
                               "address."), "dim", wrap=True)
        self._card = card = Card(tr("Pages"))
        card.head.addWidget(self.place)
        card.head.addWidget(button(tr("Clicks and depth…"), self.touches_asked.emit))
        card.head.addWidget(button(tr("Report of the week…"), report))
        card.head.addWidget(button(tr("Export events…"), self.ask_export))
        card.body.addWidget(self.table)
        card.body.addWidget(self._empty)
        line = QHBoxLayout()
        self._begin = button(tr("Send pages"), self.publish_asked.emit, main=True)
        line.addWidget(self._begin)
        line.addStretch()
        card.body.addLayout(line)
        column = QVBoxLayout(self)
        column.setContentsMargins(18, 14, 18, 14)
        column.addWidget(card)
        column.addStretch()

    def ask_export(self) -> None:
        """Ask for a file and write every visit and conversion to it."""
        path, _ = QFileDialog.getSaveFileName(self, tr("Export visits and conversions"),
                                              "visits.csv",
                                              tr("CSV (*.csv);;Parquet (*.parquet)"))
        if path:
            self.export(Path(path))

    def export(self, path: Path) -> None:
        """Write every visit and conversion, as Parquet if the file is called so, else as CSV; it
        goes on beside the window."""
        engine = self._outcomes.engine
        names = {page.id: page.name for page in self._session.whole.pages}
        done = tr("Visits and conversions are in {path}.", path=path)
        self._export = FileExport(lambda to: write_events(engine, names, to), path, done) \
            if path.suffix.lower() == ".parquet" else Export(
                lambda: (EVENT_COLUMNS, event_rows(engine, names)), path, done)
        self._export.said.told.connect(lambda words, fault: self._session.said.emit(words, fault))
        self._export.begin()

    def refresh(self) -> None:
        """Show the counts as they are now."""
        whole = self._session.whole
        self.place.show_places(whole, str(self.place.currentData() or ""))
        place, taken = str(self.place.currentData() or ""), self._outcomes.figures.page_takings
        among = set(pages_at(whole, place))
        rows: list[tuple[str, ...]] = []
        told = [(page, self._outcomes.counts(page.id)) for page in whole.pages
                if not place or page.id in among]
        # Those that most come to first, as nobody reads a thousand lines.
        told.sort(key=lambda one: -sum(count.visitors for count in one[1]))
        for page, counts in told:
            for count in counts:
                rows.append((page.name, count.variant if page.tested else "",
                             f"{count.visitors:,}", f"{count.conversions:,}",
                             f"{count.rate:.2%}".replace("%", " %"),
                             takings_words(self._session.site, taken.get(
                                 (page.id, count.variant), NOTHING))))
        if len(told) > 1 and place:
            rows.insert(0, self._together(told))
        self.table.show_rows(rows)
        self.table.setColumnHidden(5, not taken)
        self.table.fit_height(18)
        robots = self._outcomes.figures.robot_visits
        self._card.note.setText(tr("a visitor counts once in each page; {robots:,} visits of "
                                   "robots are left out", robots=robots) if robots else tr(
            "a visitor counts once in each page; robots are left out"))
        self.table.setVisible(bool(rows))
        for one in (self._empty, self._begin):
            one.setVisible(not rows)

    @staticmethod
    def _together(told: Sequence[tuple[Page, Sequence[PageCount]]]) -> tuple[str, ...]:
        """Return the line of all of them: who came to two pages stands in it twice."""
        visitors, won = (sum(getattr(count, what) for _, counts in told for count in counts)
                         for what in ("visitors", "conversions"))
        share = f"{won / visitors:.2%}".replace("%", " %") if visitors else ""
        return (tr("All {count}, added up", count=counted(len(told), "page")), "",
                f"{visitors:,}", f"{won:,}", share, "")
