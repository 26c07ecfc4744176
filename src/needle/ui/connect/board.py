"""The thread board: a form at the left, where its leads go at the right, threads between."""

import msgspec
from PyQt6.QtCore import QObject, QPointF, QRunnable, Qt, QThreadPool, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from needle.core.edit.forms import change_form, drop_route, set_route
from needle.core.site.form import (
    After,
    Form,
    ListRoute,
    NoticeRoute,
    Role,
    Route,
    ShowMessage,
    ThankAddress,
    ThankPage,
)
from needle.core.site.ids import Id, new_id
from needle.core.site.site import Service
from needle.services.access import list_access
from needle.services.mailing import ListField, MailingClient, ServiceError
from needle.store.results.deliveries import waiting_by_route
from needle.ui.cards import Card, button, label
from needle.ui.connect.fields import FieldsCard
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["Board"]

_BY_ROLE = {Role.EMAIL: "EMAIL", Role.NAME: "FULL_NAME", Role.PHONE: "PHONE"}


class _Reading(QRunnable):
    """Reads a service's lists and fields in a thread."""

    class Said(QObject):
        """Carries the answer back to the window."""

        done = pyqtSignal(object, object, str, str)

    def __init__(self, client: MailingClient, practice: bool) -> None:
        super().__init__()
        self.said = self.Said()
        self._client = client
        self._practice = practice

    def run(self) -> None:
        switched = self._client.fault() if self._practice else "none"
        try:
            lists = self._client.lists()
            fields = {key: self._client.fields(key) for key in lists}
        except ServiceError as error:
            self.said.done.emit({}, {}, str(error), switched)
        else:
            self.said.done.emit(lists, fields, "", switched)


class Board(QWidget):
    """The chosen form and its threads.

    Signals:
        read: The mailing service has answered, or failed to.

    Attributes:
        list_fault: The fault that the practice list has switched on, or "none".
    """

    read = pyqtSignal()

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self.setObjectName("work")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._outcomes = outcomes
        self._shown: object = None
        self._form: Form | None = None
        self._lists: dict[str, str] = {}
        self._fields: dict[str, list[ListField]] = {}
        self._fault = "not read yet"
        self.list_fault = "none"
        self._readings: list[_Reading] = []
        self._threads: list[tuple[QWidget, QWidget, str]] = []
        self._left = QVBoxLayout()
        self._right = QVBoxLayout()
        self._right.setSpacing(14)
        row = QHBoxLayout(self)
        row.setContentsMargins(22, 16, 22, 16)
        row.addLayout(self._left, 6)
        row.addSpacing(120)
        row.addLayout(self._right, 5)
        self.read_fields()

    @property
    def list_words(self) -> str:
        """How the mailing service is, in words."""
        return self._fault or f"mailing list · {len(self._lists)} lists, fields read"

    def read_fields(self, afresh: bool = False) -> None:
        """Ask the mailing service for its lists and fields."""
        service = self._service("list")
        access = list_access(self._session.folder, service) if service else None
        if service is None or access is None or (self._lists and not afresh):
            return
        reading = _Reading(MailingClient(service.name, *access), service.practice)
        reading.said.done.connect(self._take_fields)
        self._readings.append(reading)  # The signal lives as long as the reading.
        reading.setAutoDelete(False)
        pool = QThreadPool.globalInstance()
        assert pool is not None
        pool.start(reading)

    def _take_fields(self, lists: dict[str, str], fields: dict[str, list[ListField]],
                     fault: str, switched: str) -> None:
        self.list_fault = switched
        self._readings = self._readings[-2:]
        self._fault = fault
        if not fault:
            self._lists, self._fields = lists, fields
        self._shown = None
        self.show_form(self._form)
        self.read.emit()

    def _service(self, does: str) -> Service | None:
        return next((s for s in self._session.site.services if s.does == does), None)

    # Showing

    def show_form(self, form: Form | None) -> None:
        """Show a form, if it is not shown just so already."""
        if not self._lists and not self._readings:
            self.read_fields()
        waiting = waiting_by_route(self._outcomes.engine)
        state = (form, self._fault, waiting, [p.name for p in self._session.site.pages])
        if state == self._shown or (self._form is not None and form is not None
                                    and form.id == self._form.id and self._typing()):
            return
        self._shown, self._form = state, form
        for column in (self._left, self._right):
            _clear(column)
        self._threads = []
        if form is None:
            self._left.addWidget(label("There is no form yet. Make one with “New form”, then put "
                                       "it on a page in Build.", "dim", wrap=True))
            self._left.addStretch()
            self.update()
            return
        self._fill(form, waiting)

    def _typing(self) -> bool:
        return any(edit.changing for edit in self.findChildren(WordsEdit))

    def _fill(self, form: Form, waiting: dict[Id, int]) -> None:
        fields = FieldsCard(self._session, form)
        self._left.addWidget(fields)
        self._left.addStretch()
        for route in form.routes:
            if isinstance(route, ListRoute):
                self._right.addWidget(self._list_card(form, route, fields, waiting))
            else:
                self._right.addWidget(self._notice_card(form, route, fields, waiting))
        self._right.addWidget(self._after_card(form, fields))
        self._right.addWidget(self._add_line(form))
        self._right.addStretch()
        self.update()

    def _add_line(self, form: Form) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(button("Thread to a mailing list", lambda: self._add_list(form)))
        row.addWidget(button("Thread to an e-mail notice", lambda: self._add_notice(form)))
        row.addStretch()
        return line

    def _add_list(self, form: Form) -> None:
        service = self._service("list")
        if service is None or not self._lists:
            self._session.said.emit(f"The lists cannot be read: {self._fault}", True)
            return
        key = next(iter(self._lists))
        known = {field.key for field in self._fields[key]}
        mapping = {f.id: _BY_ROLE[f.role] for f in form.fields
                   if f.role in _BY_ROLE and _BY_ROLE[f.role] in known}
        route = ListRoute(new_id(), service.id, key, self._lists[key], mapping)
        self._session.edit("thread to list", lambda site: set_route(site, form.id, route))

    def _add_notice(self, form: Form) -> None:
        service = self._service("mail")
        if service is not None:
            route = NoticeRoute(new_id(), service.id, f"desk@{self._session.site.address}.example")
            self._session.edit("thread to notice", lambda site: set_route(site, form.id, route))

    def _state(self, route: Route, waiting: dict[Id, int]) -> str:
        return f"{waiting[route.id]} waiting to be sent again" if route.id in waiting else ""

    def _list_card(self, form: Form, route: ListRoute, fields: FieldsCard,
                   waiting: dict[Id, int]) -> Card:
        service = self._session.site.service(route.service)
        state = self._state(route, waiting)
        card = Card(f"{service.name if service else 'A service that is gone'} › {route.list_name}",
                    state or ("fields read" if not self._fault else self._fault))
        lists = ChoiceEdit("List", self._lists or {route.list_key: route.list_name}, inherit=False)
        lists.show_value(route.list_key)
        lists.chosen.connect(lambda key: self._change(form, msgspec.structs.replace(
            route, list_key=key, list_name=self._lists.get(key, str(key)))))
        top = QHBoxLayout()
        top.addWidget(lists, 1)
        top.addWidget(button("Cut", lambda: self._cut(form, route)))
        card.body.addLayout(top)
        filled = {key: field for field, key in route.fields.items()}
        known = self._fields.get(route.list_key) or [
            ListField(key, "text", False) for key in filled]
        for list_field in known:
            line = self._field_line(form, route, list_field, filled.get(list_field.key, ""))
            card.body.addWidget(line)
            source = fields.line_of(filled.get(list_field.key, ""))
            if source is not None:
                self._threads.append((source, line, "broken" if state else "holds"))
        return card

    def _field_line(self, form: Form, route: ListRoute, list_field: ListField, source: Id,
                    ) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(label(list_field.key, "mono"), 3)
        choice = ChoiceEdit(f"What fills {list_field.key}",
                            {"": "nothing"} | {f.id: f.label for f in form.fields}, inherit=False)
        choice.show_value(source)
        choice.chosen.connect(lambda chosen: self._wire(form, route, list_field.key, str(chosen)))
        row.addWidget(choice, 4)
        lacks = list_field.required and not source
        row.addWidget(label("needed" if lacks else "required" if list_field.required else "",
                            "fault" if lacks else "small"), 2)
        return line

    def _wire(self, form: Form, route: ListRoute, key: str, source: Id) -> None:
        fields = {f: k for f, k in route.fields.items() if k != key and f != source}
        if source:
            fields[source] = key
        self._change(form, msgspec.structs.replace(route, fields=fields))

    def _change(self, form: Form, route: Route) -> None:
        self._session.edit("thread", lambda site: set_route(site, form.id, route))

    def _cut(self, form: Form, route: Route) -> None:
        self._session.edit("cut thread", lambda site: drop_route(site, form.id, route.id))

    def _notice_card(self, form: Form, route: NoticeRoute, fields: FieldsCard,
                     waiting: dict[Id, int]) -> Card:
        service = self._session.site.service(route.service)
        state = self._state(route, waiting)
        card = Card(service.name if service else "A service that is gone",
                    state or "e-mail notice")
        line = QHBoxLayout()
        to = WordsEdit("Who gets the notice", route.to)
        to.kept.connect(lambda said: self._change(
            form, msgspec.structs.replace(route, to=said.strip())))
        line.addWidget(label("to", "dim"))
        line.addWidget(to, 1)
        line.addWidget(button("Cut", lambda: self._cut(form, route)))
        card.body.addLayout(line)
        self._threads.append((fields.sent_line, card, "broken" if state else "holds"))
        return card

    def _after_card(self, form: Form, fields: FieldsCard) -> Card:
        card = Card("Then the visitor sees")
        after = form.after
        kinds = {"message": "a message in place", "page": "a page of the site",
                 "address": "another address"}
        now = {ShowMessage: "message", ThankPage: "page", ThankAddress: "address"}[type(after)]
        what = ChoiceEdit("What follows", kinds, inherit=False)
        what.show_value(now)
        what.chosen.connect(lambda kind: self._set_after(form, self._first_after(str(kind))))
        line = QHBoxLayout()
        line.addWidget(what, 3)
        if isinstance(after, ThankPage):
            pages = ChoiceEdit("Page", {p.id: p.name for p in self._session.site.pages},
                               inherit=False)
            pages.show_value(after.page)
            pages.chosen.connect(lambda page: self._set_after(form, ThankPage(str(page))))
            line.addWidget(pages, 3)
        else:
            words = after.words if isinstance(after, ShowMessage) else after.address
            edit = WordsEdit("Message" if now == "message" else "Address", words)
            edit.kept.connect(lambda said: self._set_after(
                form, ShowMessage(said) if now == "message" else ThankAddress(said)))
            line.addWidget(edit, 3)
        card.body.addLayout(line)
        self._threads.append((fields.sent_line, card, "holds"))
        return card

    def _first_after(self, kind: str) -> After:
        if kind == "page":
            return ThankPage(self._session.site.pages[-1].id)
        return ThankAddress("https://") if kind == "address" else ShowMessage(
            "Thank you. We have your message.")

    def _set_after(self, form: Form, after: After) -> None:
        self._session.edit("after sending", lambda site: change_form(
            site, form.id, lambda old: msgspec.structs.replace(old, after=after)))

    # Threads

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        look = tokens()
        for source, goal, state in self._threads:
            colour = QColor({"holds": look.bottle, "broken": look.thread}[state])
            start = source.mapTo(self, source.rect().center())
            end = goal.mapTo(self, goal.rect().center())
            left = source.parentWidget() or source
            x0 = float(left.mapTo(self, left.rect().topRight()).x() + 1)
            card = goal if isinstance(goal, Card) else goal.parentWidget() or goal
            x1 = float(card.mapTo(self, card.rect().topLeft()).x())
            path = QPainterPath(QPointF(x0, start.y()))
            middle = (x0 + x1) / 2
            path.cubicTo(QPointF(middle, start.y()), QPointF(middle, end.y()),
                         QPointF(x1, end.y()))
            pen = QPen(colour, 2.4, Qt.PenStyle.CustomDashLine)
            pen.setDashPattern([3, 2] if state == "holds" else [1.5, 2.5])
            painter.setPen(pen)
            painter.setBrush(Qt.BrushStyle.NoBrush)
            painter.drawPath(path)
            painter.setBrush(colour)
            painter.setPen(Qt.PenStyle.NoPen)
            for x, y in ((x0, start.y()), (x1, end.y())):
                painter.drawEllipse(QPointF(x, y), 5, 5)


def _clear(layout: QVBoxLayout) -> None:
    while layout.count():
        item = layout.takeAt(0)
        widget = item.widget() if item else None
        if widget is not None:
            widget.hide()
            widget.deleteLater()
