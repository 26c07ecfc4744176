"""The diary of split tests: what was believed and changed, in words and pictures; what came out."""

from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import (
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QListWidget,
    QVBoxLayout,
    QWidget,
)

from needle.core.measure.diary import Entry, diary_text, entries_of
from needle.core.render.context import Context
from needle.store.files import write_atomically
from needle.store.media import EditPictures
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Table, button, foot, label, scrolled
from needle.ui.language import tr
from needle.ui.measure.pictured import PagePicture
from needle.ui.measure.testwords import day_words
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.words import Words

__all__ = ["DiaryDialog"]

_WIDTH, _SHOWN, _HIGH = 1180, 300, 380


class DiaryDialog(QDialog):
    """Tests at the left, the newest first; the chosen one at the right."""

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine,
                 parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Diary of split tests"))
        self.resize(1000, 700)
        self._session = session
        self.entries = entries_of(session.site, outcomes.tests(), outcomes.figures.days_of)
        self._picture = PagePicture(engine, self)
        self._picture.shown.connect(self._on_shown)
        self._picture.failed.connect(lambda: self._on_shown(QImage(), {}))
        self._due: list[str] = []
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Diary of split tests"))
        self.list.setFixedWidth(230)
        self.list.setWordWrap(True)
        self.list.addItems([self._line(one) for one in self.entries])
        self.list.currentRowChanged.connect(self._show)
        self.says = label("", "title", wrap=True)
        self.believed = label("", "", wrap=True)
        self.changed = label("", "", wrap=True)
        self.came = label("", "small", wrap=True)
        self.figures = Table(tr("Variants"), (tr("Variant"), tr("Visitors"), tr("Conversions"),
                                              tr("Rate")), 0, right=(1, 2, 3))
        self.pictures = QHBoxLayout()
        self._lay_out()
        self.list.setCurrentRow(0)
        if not self.entries:
            self.says.setText(tr("No split test has begun yet."))
            self.came.setText(tr("Each is written down here by itself: what you believed, in what "
                                 "the variants differ, and what came out."))
            self.figures.hide()

    def _lay_out(self) -> None:
        inside = QWidget()
        right = QVBoxLayout(inside)
        for shown in (self.says, self.believed, self.came, self.figures,
                      label(tr("What was changed"), "title"), self.changed):
            right.addWidget(shown)
        right.addLayout(self.pictures)
        right.addStretch()
        row = QHBoxLayout()
        row.addWidget(self.list)
        row.addWidget(scrolled(inside), 1)
        column = QVBoxLayout(self)
        column.addLayout(row, 1)
        keep = button(tr("Save as text…"), self.ask_save)
        keep.setEnabled(bool(self.entries))
        column.addLayout(foot(button(tr("Close"), self.accept), left=(keep,)))

    @staticmethod
    def _line(one: Entry) -> str:
        test = one.test
        until = day_words(test.ended_ms) if test.ended_ms is not None else tr("runs")
        return f"{one.page}\n{day_words(test.began_ms)} – {until}"

    def _show(self, row: int) -> None:
        if not 0 <= row < len(self.entries):
            return
        one = self.entries[row]
        kept = tr(" {key} was kept.", key=one.test.kept) if one.test.kept else ""
        self.says.setText(one.came[0] + kept)
        self.believed.setText(tr("Believed: {words}", words=one.test.plan.believed)
                              if one.test.plan.believed else tr("Nobody wrote down what was "
                                                                "believed."))
        self.came.setText(one.came[1])
        self.figures.show_rows([(key, f"{came:,}", f"{won:,}", f"{rate:.2%}".replace("%", " %"))
                                for key, came, won, rate in one.figures])
        self.figures.fit_height(8)
        lines = [f"{key}: {words}" for key, changes in one.changed.items() for words in changes]
        self.changed.setText("\n".join(lines) if lines else tr(
            "The variants are alike, or no longer kept."))
        while (item := self.pictures.takeAt(0)) is not None:
            if (widget := item.widget()) is not None:
                widget.deleteLater()
        self._due = [key for key, _ in one.test.arms]
        self._next_picture()

    def _next_picture(self) -> None:
        if not self._due:
            self.pictures.addStretch()
            return
        page = self._session.whole.page(self.entries[self.list.currentRow()].test.page)
        variant = next((one for one in (*page.variants, *page.archive)
                        if one.key == self._due[0]), None) if page else None
        if page is None or variant is None:
            self._due.pop(0)
            self._next_picture()
            return
        self._picture.load(Context(self._session.site, page, variant, "edit", EditPictures(),
                                   "/walk/"), _WIDTH)

    def _on_shown(self, image: QImage, _: object) -> None:
        if not self._due:
            return
        key, shown = self._due.pop(0), Words()
        shown.setAccessibleName(tr("Picture of variant {key}", key=key))
        if not image.isNull():
            small = image.scaledToWidth(_SHOWN, Qt.TransformationMode.SmoothTransformation)
            shown.setPixmap(QPixmap.fromImage(small.copy(0, 0, _SHOWN, min(_HIGH, small.height()))))
        self.pictures.addWidget(shown)
        self._next_picture()

    def ask_save(self) -> None:
        """Ask for a file and write the diary to it, as Markdown."""
        path, _ = QFileDialog.getSaveFileName(self, tr("Save the diary"), "diary.md",
                                              tr("Text (*.md)"))
        if not path:
            return
        try:
            write_atomically(Path(path), diary_text(
                self.entries, day_words).encode())
        except OSError as error:
            self._session.said.emit(tr("{path} cannot be written: {strerror}.", path=path,
                                       strerror=error.strerror), True)
        else:
            self._session.said.emit(tr("The diary is in {path}.", path=path), False)

    def done(self, result: int) -> None:
        """Let go of the hidden view, before its profile goes."""
        self._picture.end()
        super().done(result)
