"""Choosing what counts on the page itself: every form and click with its tick, where it stands."""

from PyQt6.QtCore import QPoint, QRect, QRectF, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QImage, QMouseEvent, QPainter, QPaintEvent, QPen, QPolygon
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QListWidget,
    QListWidgetItem,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.counted import set_counted, set_link_counted
from needle.core.measure.goals import Choice, GoalKind, choices_of
from needle.core.render.context import Context
from needle.core.site.site import Page
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import button, label, scrolled
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.measure.pictured import Boxes, PagePicture, context_of
from needle.ui.measure.reaching import ReachRow
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["ChoosingDialog"]

_WIDTH = 1180
_SHOWN = 620
_TICK = 18
_KINDS = {GoalKind.FORM: tr("form"), GoalKind.CLICK: tr("click"), GoalKind.PHONE: tr("phone tap"),
          GoalKind.MAIL: tr("mail tap"), GoalKind.FILE: tr("file taken")}


class _Ticks(QWidget):
    """The page, smaller, with a tick at everything that can count.

    Signals:
        pressed: A tick was clicked (the choice's key).
    """

    pressed = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__()
        self.setAccessibleName(tr("The page with its ticks"))
        self._image = QImage()
        self._boxes: Boxes = {}
        self._choices: list[Choice] = []
        self._marked = ""

    def sizeHint(self) -> QSize:
        if self._image.isNull():
            return QSize(_SHOWN, 400)
        return QSize(_SHOWN, round(self._image.height() * _SHOWN / self._image.width()))

    def show_page(self, image: QImage, boxes: Boxes) -> None:
        """Show a page, with where each item stands on it."""
        self._image, self._boxes = image, boxes
        self.setFixedSize(self.sizeHint())
        self.update()

    def show_choices(self, choices: list[Choice], marked: str) -> None:
        """Show what counts; one item may be marked."""
        self._choices, self._marked = choices, marked
        self.update()

    def place(self, node: str) -> QRect | None:
        """Return where an item stands in the picture; `None` if it is not seen there."""
        box = self._boxes.get(node)
        if box is None or self._image.isNull():
            return None
        scale = _SHOWN / _WIDTH
        return QRect(*(round(value * scale) for value in box))

    def paintEvent(self, event: QPaintEvent | None) -> None:
        look, painter = tokens(), QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.SmoothPixmapTransform)
        painter.drawImage(QRectF(self.rect()), self._image)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        for choice in self._choices:
            place = self.place(choice.key)
            if place is None:
                continue
            marked = choice.key == self._marked
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.setPen(QPen(QColor(look.amber if marked else look.bottle), 3 if marked else 1.5,
                                Qt.PenStyle.DashLine))
            painter.drawRect(place.adjusted(-2, -2, 2, 2))
            self._paint_tick(painter, choice, place)

    def _paint_tick(self, painter: QPainter, choice: Choice, place: QRect) -> None:
        look = tokens()
        tick = self._tick(place)
        counts = choice.fixed or bool(choice.goal)
        painter.setPen(QPen(QColor(look.bottle), 1.5))
        painter.setBrush(QColor(look.bottle if counts else look.paper))
        painter.drawRoundedRect(tick, 3, 3)
        if counts:
            painter.setPen(QPen(QColor(look.on_bottle), 2.2))
            painter.drawPolyline(QPolygon([tick.topLeft() + QPoint(*point)
                                           for point in ((4, 9), (8, 13), (14, 5))]))

    @staticmethod
    def _tick(place: QRect) -> QRect:
        return QRect(max(0, place.left() - _TICK // 2), max(0, place.top() - _TICK // 2),
                     _TICK, _TICK)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        assert event is not None
        at = event.position().toPoint()
        for choice in self._choices:
            place = self.place(choice.key)
            if place is not None and (self._tick(place).contains(at) or place.contains(at)):
                self.pressed.emit(choice.key)
                return


class ChoosingDialog(QDialog):
    """The page at the left, the same as a list at the right."""

    def __init__(self, session: Session, engine: LiveEngine, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("What counts on a page"))
        self.resize(1080, 720)
        self._session = session
        self._picture = PagePicture(engine, self)
        self._picture.shown.connect(self._on_shown)
        self._picture.failed.connect(self._on_failed)
        self._filling = False
        self.page = ChoiceEdit(tr("Page"), {
            f"{page.id}.{variant.key}": f"{page.name} {variant.key}" if page.tested else page.name
            for page in session.whole.pages for variant in page.variants}, inherit=False)
        self.page.setMinimumWidth(240)
        self.page.chosen.connect(lambda _: self._show_page())
        self.ticks = _Ticks()
        self.ticks.pressed.connect(self.turn)
        self.list = QListWidget()
        self.list.setAccessibleName(tr("What can count on this page"))
        self.list.itemChanged.connect(self._on_ticked)
        self.list.currentItemChanged.connect(lambda *_: self._mark())
        self.says = label("", "small", wrap=True)
        self.reaches = [ReachRow(session, self._page, does) for does in ("depth", "time")]
        self._lay_out()
        self.page.show_value(f"{session.page.id}.{session.variant.key}")
        self._show_page()

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        head.addWidget(self.page)
        head.addWidget(self.says, 1)
        self._area: QScrollArea = scrolled(self.ticks)
        self._area.setWidgetResizable(False)
        right = QVBoxLayout()
        right.addWidget(label(tr(
            "Forms always count. A click counts under its words; clicks of one name are one goal. "
            "Links in menus and words start unticked."), "small", wrap=True))
        right.addWidget(self.list, 1)
        right.addWidget(label(tr("Without a click"), "title"))
        for reach in self.reaches:
            right.addWidget(reach)
        right.addWidget(button(tr("Close"), self.accept))
        row = QHBoxLayout()
        row.addWidget(self._area, 3)
        row.addLayout(right, 2)
        column = QVBoxLayout(self)
        column.addLayout(head)
        column.addLayout(row, 1)

    def _page(self) -> Page:
        """The page that is shown."""
        return self._context().page

    def _context(self) -> Context:
        return context_of(self._session.whole, str(self.page.currentData()), self._session.page.id)

    # The page

    def _show_page(self) -> None:
        self.says.setText(tr("Laying the page out…"))
        for reach in self.reaches:
            reach.refresh()
        self._show_choices()
        self._picture.load(self._context(), _WIDTH)

    def _on_failed(self) -> None:
        self.says.setText(tr("The page could not be laid out; the list works all the same."))

    def _on_shown(self, image: QImage, boxes: Boxes) -> None:
        self.ticks.show_page(image, boxes)
        self.says.setText("")
        self._say()

    # What counts

    def _show_choices(self) -> None:
        self._choices = choices_of(self._context())
        self._filling = True
        row = self.list.currentRow()
        self.list.clear()
        for choice in self._choices:
            item = QListWidgetItem(f"{choice.words}  ·  {_KINDS.get(choice.kind, '')}")
            item.setData(Qt.ItemDataRole.UserRole, choice.key)
            counts = choice.fixed or bool(choice.goal)
            item.setCheckState(Qt.CheckState.Checked if counts else Qt.CheckState.Unchecked)
            if choice.fixed:
                item.setFlags(item.flags() & ~Qt.ItemFlag.ItemIsUserCheckable)
            self.list.addItem(item)
        self.list.setCurrentRow(row)
        self._filling = False
        self._mark()

    def _say(self) -> None:
        context = self._context()
        if context.page.tested:
            self.says.setText(tr("These are the clicks of variant {key}. Choose alike in every "
                                 "variant, or the test compares what is not alike.",
                                 key=context.variant.key))
            return
        count = sum(choice.fixed or bool(choice.goal) for choice in self._choices)
        self.says.setText(tr("{count} of {all} count. Send the page to count them for visitors; "
                             "what was counted before stays as it is.", count=count,
                             all=len(self._choices)) if self._choices else
                          tr("Nothing on this page can count yet: put a form or a button on it."))

    def _mark(self) -> None:
        item = self.list.currentItem()
        marked = str(item.data(Qt.ItemDataRole.UserRole)) if item else ""
        self.ticks.show_choices(self._choices, marked)
        place = self.ticks.place(marked)
        if place is not None:
            self._area.ensureVisible(place.center().x(), place.center().y(), 40, 120)

    def _on_ticked(self, item: QListWidgetItem) -> None:
        if not self._filling:
            self.turn(str(item.data(Qt.ItemDataRole.UserRole)))

    def turn(self, key: str) -> None:
        """Have a click count, or no more."""
        choice = next((one for one in self._choices if one.key == key), None)
        if choice is None:
            return
        self.list.setCurrentRow(self._choices.index(choice))
        if choice.fixed:
            self.says.setText(tr("A form counts by itself."))
            return
        name = "" if choice.goal else choice.words[:60]
        page = self._page().id
        self._session.edit(tr("what counts"), lambda site: set_link_counted(
            site, page, choice.to, name) if choice.to else set_counted(site, choice.node, name))
        self._show_choices()
        self._say()

    def done(self, result: int) -> None:
        """Let go of the hidden view, before its profile goes."""
        self._picture.end()
        super().done(result)
