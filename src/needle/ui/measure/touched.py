"""Where people click on a page and how much of it they see, drawn over the page itself."""

import time
from collections import Counter

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QImage, QPainter, QPaintEvent, QPen, QRadialGradient
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QScrollArea, QVBoxLayout, QWidget

from needle.core.render.context import Context
from needle.store.results.touches import Touches, touch_counts
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Table, button, label, scrolled
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.measure.pictured import Boxes, PagePicture, context_of
from needle.ui.outcomes import Outcomes
from needle.ui.readbeside import ReadBeside
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["TouchDialog"]

_DAY_S = 86_400
# The width at which each device's page is laid out, in CSS pixels.
_WIDTHS = {"phone": 390, "tablet": 820, "desktop": 1180}
_SHOWN = 620
_TENTHS = 10


class _TouchMap(QWidget):
    """The page, paler, with clicks as spots and how far people came as lines across."""

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("The page with its clicks"))
        self._image = QImage()
        self._boxes: Boxes = {}
        self._touches = Touches()
        self._shown = _SHOWN

    def show_page(self, image: QImage, boxes: Boxes, width: int) -> None:
        """Show a page that was laid out at a width."""
        self._image, self._boxes = image, boxes
        self._shown = min(_SHOWN, width)
        height = image.height() * self._shown / image.width() if not image.isNull() else 400
        self._scale = self._shown / width
        self.setFixedSize(self._shown, round(height))
        self.update()

    def show_touches(self, touches: Touches) -> None:
        """Show what happened on it."""
        self._touches = touches
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        if self._image.isNull():
            return
        look, painter = tokens(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.drawImage(QRectF(self.rect()), self._image)
        veil = QColor(look.paper)
        veil.setAlpha(120)
        painter.fillRect(self.rect(), veil)
        self._paint_clicks(painter)
        self._paint_depth(painter)

    def _paint_clicks(self, painter: QPainter) -> None:
        most = max((spot.times for spot in self._touches.clicks), default=0)
        painter.setPen(Qt.PenStyle.NoPen)
        for spot in self._touches.clicks:
            box = self._boxes.get(spot.part)
            if box is None:
                continue
            left, top, width, height = (value * self._scale for value in box)
            middle = QPointF(left + spot.across * width, top + spot.down * height)
            share = (spot.times / most) ** 0.5
            radius = 7 + 15 * share
            glow, core = QRadialGradient(middle, radius), QColor(tokens().thread)
            core.setAlpha(round(90 + 140 * share))
            glow.setColorAt(0, core)
            edge = QColor(core)
            edge.setAlpha(0)
            glow.setColorAt(1, edge)
            painter.setBrush(glow)
            painter.drawEllipse(middle, radius, radius)

    def _paint_depth(self, painter: QPainter) -> None:
        """Draw a line at each tenth to which fewer came than to the one before."""
        if not self._touches.depth:
            return
        look, before = tokens(), 1.0
        for tenth in range(1, _TENTHS + 1):
            share = self._touches.seen_to(tenth)
            if share >= before and tenth < _TENTHS:
                continue
            before, y = share, self.height() * tenth / _TENTHS - 1
            painter.setPen(QPen(QColor(look.bottle), 1, Qt.PenStyle.DashLine))
            painter.drawLine(QPointF(0, y), QPointF(self.width(), y))
            words = tr("{share:.0f} % saw so far", share=100 * share)
            room = QRectF(painter.boundingRect(QRectF(0, 0, 400, 20), 0, words))
            back = QRectF(self.width() - room.width() - 12, y - 19, room.width() + 10, 18)
            painter.fillRect(back, QColor(look.bottle))
            painter.setPen(QColor(look.on_bottle))
            painter.drawText(back, Qt.AlignmentFlag.AlignCenter, words)


class TouchDialog(QDialog):
    """The page at the left, the same in words at the right."""

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine,
                 parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Clicks and depth on a page"))
        self.resize(1080, 720)
        self._session, self._outcomes = session, outcomes
        self._picture = PagePicture(engine, self)
        self._picture.shown.connect(self._on_shown)
        self._picture.failed.connect(lambda: self.says.setText(tr(
            "The page could not be laid out; what happened stands at the right.")))
        self._reader = ReadBeside(self)
        self._reader.read.connect(self._on_read)
        self.page = ChoiceEdit(tr("Page"), {
            f"{page.id}.{variant.key}": f"{page.name} {variant.key}" if page.tested else page.name
            for page in session.whole.pages for variant in page.variants}, inherit=False)
        self.device = ChoiceEdit(tr("Device"), {
            "phone": tr("Phone"), "tablet": tr("Tablet"), "desktop": tr("Desktop")}, inherit=False)
        self.period = ChoiceEdit(tr("Time"), {
            7: tr("Last 7 days"), 28: tr("Last 4 weeks"), 84: tr("Last 12 weeks")}, inherit=False)
        self.page.show_value(f"{session.page.id}.{session.variant.key}")
        self.period.show_value(28)
        for edit in (self.page, self.device, self.period):
            edit.chosen.connect(lambda _: self.refresh())
        self.map = _TouchMap()
        self.says = label("", "small", wrap=True)
        self.clicks = Table(tr("Clicks by section"), (tr("Section"), tr("Clicks"), tr("Share")), 0,
                            right=(1, 2))
        self.seen = Table(tr("How much was seen"), (tr("Of the page"), tr("Visits")), 0,
                           right=(1,))
        self._lay_out()
        self.refresh()

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        for edit, width in ((self.page, 200), (self.device, 110), (self.period, 140)):
            edit.setMinimumWidth(width)
            head.addWidget(edit)
        head.addWidget(self.says, 1)
        self._area: QScrollArea = scrolled(self.map)
        self._area.setWidgetResizable(False)
        right = QVBoxLayout()
        right.addWidget(label(tr("Clicks by section"), "title"))
        right.addWidget(self.clicks, 2)
        right.addWidget(label(tr("How much was seen"), "title"))
        right.addWidget(self.seen, 3)
        right.addWidget(label(tr("Of browsers that ask not to be followed, nothing is known."),
                              "small", wrap=True))
        right.addWidget(button(tr("Close"), self.accept))
        row = QHBoxLayout()
        row.addWidget(self._area, 3)
        row.addLayout(right, 2)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addLayout(row, 1)

    def _context(self) -> Context:
        return context_of(self._session.whole, str(self.page.currentData()), self._session.page.id)

    def refresh(self) -> None:
        """Lay the page out and read what happened on it."""
        context, device = self._context(), str(self.device.currentData())
        today, days = int(time.time() // _DAY_S), int(self.period.currentData())
        engine, page, key = self._outcomes.engine, context.page.id, context.variant.key
        self.says.setText(tr("Reading…"))
        self._picture.load(context, _WIDTHS[device])
        self._reader.ask(lambda: touch_counts(engine, page, key, today - days + 1, today, device))

    def _on_shown(self, image: QImage, boxes: Boxes) -> None:
        self.map.show_page(image, boxes, _WIDTHS[str(self.device.currentData())])

    def _on_read(self, found: object) -> None:
        touches = found if isinstance(found, Touches) else Touches()
        self.map.show_touches(touches)
        variant = self._context().variant
        names = {one.id: one.name or tr("Section") for one in variant.children} | {
            one.id: tr("Popup {name}", name=one.name) for one in variant.popups}
        clicks = Counter[str]()
        for spot in touches.clicks:
            clicks[names.get(spot.part, tr("No longer on the page"))] += spot.times
        total = clicks.total()
        self.clicks.show_rows([(name, f"{count:,}", f"{100 * count / total:.0f} %")
                               for name, count in clicks.most_common()])
        visits = sum(touches.depth.values())
        self.seen.show_rows([
            (tr("{n} % and more", n=10 * tenth) if tenth < _TENTHS else tr("to the end"),
             f"{100 * touches.seen_to(tenth):.0f} %")
            for tenth in range(1, _TENTHS + 1)] if visits else [])
        if found is None:
            self.says.setText(tr("The results cannot be read just now."))
        elif not total and not visits:
            self.says.setText(tr("Nothing is known of this page on this device yet. Pages tell it "
                                 "once they are sent with this Needle and visited."))
        else:
            self.says.setText(tr("{clicks:,} clicks; {visits:,} visits told how far they came.",
                                 clicks=total, visits=visits))

    def done(self, result: int) -> None:
        """Let go of the hidden view and of what is being read."""
        self._picture.end()
        self._reader.end()
        super().done(result)
