"""The report of a week: chosen, looked at, and saved as PDF or picture."""

import logging
from collections.abc import Sequence
from datetime import date, datetime, timedelta
from pathlib import Path

from PyQt6.QtCore import QBuffer, QIODevice, QObject, QRunnable, Qt, QThreadPool, pyqtSignal
from PyQt6.QtGui import QImage, QPixmap
from PyQt6.QtWidgets import QDialog, QFileDialog, QHBoxLayout, QVBoxLayout, QWidget
from sqlalchemy import Engine
from sqlalchemy.exc import SQLAlchemyError

from needle.core.measure.split import arms_of, read_split, verdict
from needle.core.measure.week import Week, chapters_of, monday_of
from needle.core.measure.weekpage import PAGE_PX, week_page
from needle.core.progress import stage_statuses
from needle.core.site.site import Site
from needle.publish.releases import LiveError
from needle.publish.weekreading import read_week, week_letter
from needle.store.files import write_atomically
from needle.store.weekly import Weekly, kept_weekly, set_weekly
from needle.ui.builder.hidden import HiddenPage
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.builder.live.fonts import FONT_CSS
from needle.ui.cards import button, label, scrolled
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.measure.weekmail import Mailing
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.words import Words

__all__ = ["WeekDialog"]

_log = logging.getLogger(__name__)
_WEEKS = 12
_NEVER = -1


class _Read(QRunnable):
    def __init__(self, dialog: "WeekDialog", monday: date, left: Sequence[str]) -> None:
        super().__init__()
        self._heard, self._monday, self._left = dialog.heard, monday, left
        self._site, self._project, self._engine = dialog.sources()

    def run(self) -> None:
        week: Week | None = None
        try:
            week = read_week(self._site.name, {page.id: page.name for page in self._site.pages},
                             self._project, self._engine, self._monday,
                             datetime.now().astimezone(), self._left)
        except (SQLAlchemyError, LiveError, OSError) as error:
            _log.error("the week cannot be read (%s)", type(error).__name__)
        self._heard.read.emit(self._monday, week)


class _Heard(QObject):
    """Outlives the dialog, as the thread may."""

    read = pyqtSignal(object, object)


class WeekDialog(QDialog):
    """A week is chosen above, its page stands below."""

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine,
                 parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Report of the week"))
        self._session, self._outcomes = session, outcomes
        self.heard = _Heard()
        self.heard.read.connect(self._take)
        self._hidden = HiddenPage(engine, self)
        self._hidden.loaded.connect(self._on_laid_out)
        self._hidden.painted.connect(self._on_painted)
        self.image = QImage()
        self._week: Week | None = None
        self._closed = False
        first = monday_of(datetime.now().date())
        self._mondays = {f"{first - timedelta(days=7 * back):%Y-%m-%d}":
                         first - timedelta(days=7 * back) for back in range(_WEEKS)}
        self.week = ChoiceEdit(tr("Week"), {
            key: self._called(day, back) for back, (key, day) in enumerate(self._mondays.items())},
            inherit=False)
        self.week.setMinimumWidth(210)
        self.week.chosen.connect(lambda key: self.show_week(str(key)))
        self.shown = Words()
        self.shown.setAlignment(Qt.AlignmentFlag.AlignHCenter)
        self.shown.setAccessibleName(tr("The report"))
        self._says = label("", "small", wrap=True)
        self._lay_out()
        self.resize(880, 720)
        # The last week that is whole.
        self.week.show_value(list(self._mondays)[1])
        self.show_week(list(self._mondays)[1])

    def _lay_out(self) -> None:
        column = QVBoxLayout(self)
        head = QHBoxLayout()
        head.addWidget(label(tr("Week"), "small"))
        head.addWidget(self.week)
        head.addWidget(self._says, 1)
        self.pdf = button(tr("Save as PDF…"), lambda: self._ask(tr("PDF (*.pdf)"), ".pdf"),
                          main=True)
        self.png = button(tr("Save as picture…"), lambda: self._ask(tr("PNG (*.png)"), ".png"))
        for made in (self.png, self.pdf):
            head.addWidget(made)
        column.addLayout(head)
        column.addLayout(self._mail_line())
        column.addWidget(scrolled(self.shown), 1)

    def _mail_line(self) -> QHBoxLayout:
        services = {service.id: service.name for service in self._session.site.services
                    if service.does == "mail"}
        line = QHBoxLayout()
        self.to = WordsEdit(tr("Who gets it by mail"))
        self.to.setPlaceholderText(tr("name@company.example"))
        self.by = ChoiceEdit(tr("Mail service"), services, inherit=False)
        self.by.setMinimumWidth(190)
        self.send = button(tr("Send by mail"), self.send_it)
        self.weekly = ChoiceEdit(tr("By itself"), {_NEVER: tr("Not by itself"), **{
            number: tr("Every {day} at 8", day=day) for number, day in enumerate((
                tr("Monday"), tr("Tuesday"), tr("Wednesday"), tr("Thursday"), tr("Friday"),
                tr("Saturday"), tr("Sunday")))}}, inherit=False)
        self.weekly.setMinimumWidth(170)
        self.weekly.chosen.connect(lambda day: self.set_weekly(int(day)))
        for widget in (label(tr("By mail to"), "small"), self.to, self.by, self.send, self.weekly):
            line.addWidget(widget)
            widget.setVisible(bool(services))
        if services:
            kept = kept_weekly(self._session.folder)
            self.by.show_value(kept.service if kept and kept.service in services else next(
                iter(services)))
            self.weekly.show_value(kept.weekday if kept else _NEVER)
            self.to.setText(kept.to if kept else "")
        else:
            line.addWidget(label(tr("To send it by mail, add a mail service in Connect."), "small"))
            line.addStretch()
        return line

    @staticmethod
    def _called(monday: date, back: int) -> str:
        if not back:
            return tr("this week, so far")
        return f"{monday:%d %b} – {monday + timedelta(days=6):%d %b %Y}"

    def sources(self) -> tuple[Site, Path, Engine]:
        """Return what a report is made of."""
        return self._session.whole, self._session.folder, self._outcomes.engine

    # Showing

    def show_week(self, key: str) -> None:
        """Read a week beside the window and show its page."""
        self._monday = self._mondays[key]
        self._allow(False, tr("Reading the week…"))
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(_Read(self, self._monday, self._left()))

    def _left(self) -> list[str]:
        """Return what waits for the person now, in sentences."""
        site, figures = self._session.site, self._outcomes.figures
        statuses = stage_statuses(site, self._outcomes.pages_to_send(), self._outcomes.totals())
        found = [f"{name}: {status.words}." for name, status in statuses.items() if status.waiting]
        for test in self._outcomes.tests():
            days, page = figures.days_of(test), site.page(test.page)
            if test.runs and days and page is not None:
                says, _ = verdict(read_split(arms_of(test, days)))
                found.append(f"Split test of {page.name}: {says}")
        return found

    def _take(self, monday: date, week: Week | None) -> None:
        if self._closed or monday != self._monday:
            return
        self._week = week
        if week is None:
            self._allow(False, tr("The week cannot be read just now. The results or the list of "
                                  "what was sent do not answer; try again later."))
            return
        self.shown.setAccessibleDescription(" ".join(
            sentence for chapter in chapters_of(week) for sentence in chapter.sentences))
        self._hidden.load(week_page(week, FONT_CSS), *PAGE_PX)

    def _on_laid_out(self, fine: bool) -> None:
        if fine:
            self._hidden.paint(*PAGE_PX)
        else:
            self._allow(False, tr("The page could not be laid out. Choose the week again."))

    def _on_painted(self, fine: bool) -> None:
        self.image = self._hidden.grab() if fine else QImage()
        self.shown.setPixmap(QPixmap.fromImage(self.image))
        self._allow(fine, "" if fine else tr(
            "The page could not be painted. Choose the week again."))

    def _allow(self, may: bool, words: str) -> None:
        self.pdf.setEnabled(may)
        self.png.setEnabled(may)
        self.send.setEnabled(may)
        self._says.setText(words)

    # Saving

    def _ask(self, kinds: str, ending: str) -> None:
        path, _ = QFileDialog.getSaveFileName(
            self, self.windowTitle(), f"week-{self._monday:%Y-%m-%d}{ending}", kinds)
        if path:
            self.save(Path(path))

    def save(self, path: Path) -> None:
        """Write what is shown as PDF, or as a picture where the name says so."""
        if path.suffix.lower() == ".png":
            self._write(path, _png(self.image))
        else:
            self._hidden.print(lambda told: self._write(path, told))

    def _told_to(self) -> str:
        """Return who gets it; an empty text, and words, if that is no address."""
        from email_validator import EmailNotValidError, validate_email  # Heavy, needed only here.

        to = self.to.text().strip()
        try:
            validate_email(to, check_deliverability=False, test_environment=True)
        except EmailNotValidError:
            self._says.setText(tr("“{to}” is no e-mail address.", to=to[:80]))
            return ""
        return to

    def send_it(self) -> None:
        """Send what is shown by mail, beside the window."""
        if to := self._told_to():
            self._allow(False, tr("Sending…"))
            self._hidden.print(lambda told: self._mail(to, told))

    def set_weekly(self, weekday: int) -> None:
        """Have the report of each whole week go out by itself on a day, or no more."""
        kept = kept_weekly(self._session.folder)
        wanted = None
        if weekday != _NEVER:
            to = self._told_to()
            if not to:
                self.weekly.show_value(kept.weekday if kept else _NEVER)
                return
            wanted = Weekly(to, str(self.by.currentData()), weekday,
                            datetime.now().astimezone().isoformat())
        try:
            set_weekly(self._session.folder, wanted)
        except OSError as error:
            self._says.setText(tr("This could not be kept: {strerror}.",
                                  strerror=error.strerror or error))
            self.weekly.show_value(kept.weekday if kept else _NEVER)
            return
        self._says.setText(tr("It does not go out by itself.") if wanted is None else tr(
            "The week before goes to {to} then, if a host runs and the site is live.",
            to=wanted.to))

    def _mail(self, to: str, pdf: bytes) -> None:
        if self._closed:
            return
        service = self._session.site.service(str(self.by.currentData()))
        if service is None or self._week is None or not pdf:
            self._allow(True, tr("The report could not be printed. Choose the week again."))
            return
        letter = week_letter(self._week, to, service.options.get("sender", ""), pdf, "pdf")
        self._mailing = Mailing(self._session.folder, service, letter)
        self._mailing.said.told.connect(lambda words: self._allow(True, words))
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(self._mailing)

    def _write(self, path: Path, data: bytes) -> None:
        if not data:
            self._says.setText(tr("The report could not be printed. Choose the week again."))
            return
        try:
            write_atomically(path, data)
        except OSError as error:
            self._says.setText(tr("{path} cannot be written: {strerror}.", path=path,
                                  strerror=error.strerror or error))
            return
        self._says.setText(tr("The report is in {path}.", path=path))

    def done(self, result: int) -> None:
        """Let go of the hidden view, before its profile goes; nothing makes it anew."""
        self._closed = True
        self._hidden.end()
        super().done(result)


def _png(image: QImage) -> bytes:
    buffer = QBuffer()
    buffer.open(QIODevice.OpenModeFlag.WriteOnly)
    image.save(buffer, "PNG")
    return buffer.data().data()
