"""The thread board: a form at the left, where its leads go at the right, threads between.

With the mouse a thread is dragged from a field to where it goes, or from there to another field,
or beside the board to cut it. With keys: Enter takes up or ties a thread, the arrows go from
line to line, Delete cuts.
"""

from collections.abc import Sequence
from dataclasses import dataclass

from PyQt6.QtCore import QPoint, QPointF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QKeyEvent, QPainter, QPainterPath, QPaintEvent, QPen
from PyQt6.QtWidgets import QHBoxLayout, QLayout, QVBoxLayout, QWidget
from sqlalchemy import Engine

from needle.core.edit.forms import drop_route, move_field, wire
from needle.core.edit.threads import Wanted, route_faults
from needle.core.values.form import (
    FieldRoute,
    Form,
    FormField,
    NoticeRoute,
    Role,
    Route,
    ShowMessage,
    Step,
    ThankAddress,
)
from needle.core.values.ids import Id
from needle.store.results.deliveries import Sent, last_results, waiting_by_route
from needle.ui.cards import Card
from needle.ui.connect.adding import add_field_button, add_thread_button
from needle.ui.connect.described import ServiceReader
from needle.ui.connect.rows import BoardRow
from needle.ui.connect.words import ROLE_WORDS
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens

__all__ = ["Board"]

_UNFOLDED_ROWS = 14
Name = tuple[str, ...]


@dataclass(frozen=True)
class _Thread:
    """A thread between two lines.

    Attributes:
        state: "holds", "broken", "waits" or "bundle" (many to a folded card).
        name: Its end at the service.
    """

    start: BoardRow
    end: BoardRow
    state: str
    name: Name


class Board(QWidget):
    """The chosen form and its threads.

    Signals:
        chosen: A line was chosen: ("field", id), ("step", id), ("route", id), ("wire", route,
            key), ("after",), ("letter",) or ("form",).
    """

    chosen = pyqtSignal(tuple)

    def __init__(self, session: Session, outcomes: Outcomes, reader: ServiceReader) -> None:
        super().__init__()
        self.setObjectName("work")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._outcomes = outcomes
        self._reader = reader
        self._form: Form | None = None
        self._shown: object = None
        self._open: Id = ""
        self._line: Name = ()
        self.rows: list[BoardRow] = []
        self._threads: list[_Thread] = []
        self._held: BoardRow | None = None
        self._pulled_to: QPoint | None = None
        self._left, self._right = QVBoxLayout(), QVBoxLayout()
        self._right.setSpacing(10)
        row = QHBoxLayout(self)
        row.setContentsMargins(22, 10, 22, 10)
        row.addLayout(self._left, 6)
        row.addSpacing(150)
        row.addLayout(self._right, 7)

    # Showing

    def show_form(self, form: Form | None) -> None:
        """Show a form, if it is not shown just so already."""
        self._open = self._open if form and any(r.id == self._open for r in form.routes) else ""
        results = _results(self._outcomes.engine, form)
        services = self._session.site.services
        facts = [self._reader.facts(self._session.site.service(route.service))
                 for route in (form.routes if form else ())]
        pages = [(page.id, page.name) for page in self._session.site.pages]
        state = (form, results, services, facts, pages, self._open)
        if state == self._shown:
            return
        focused = next((row.name for row in self.rows if row.hasFocus()), None)
        self._shown, self._form = state, form
        self._clear()
        if form is not None:
            self._fill(form, *results)
        self.update()
        if focused is not None:
            self.focus_row(focused)

    def _clear(self) -> None:
        self._held = self._pulled_to = None
        self.rows, self._threads = [], []
        for column in (self._left, self._right):
            _empty(column)

    def _fill(self, form: Form, waiting: dict[Id, int], last: dict[Id, Sent]) -> None:
        self._left.addWidget(self._form_card(form))
        self._left.addStretch()
        count = sum(len(self._lines_of(route)) for route in form.routes
                    if isinstance(route, FieldRoute))
        for route in form.routes:
            state = _state(route.id, waiting, last)
            if isinstance(route, NoticeRoute):
                self._right.addWidget(self._notice_card(route, state))
            else:
                folded = count > _UNFOLDED_ROWS and route.id != (
                    self._open or next(r.id for r in form.routes if isinstance(r, FieldRoute)))
                self._right.addWidget(self._route_card(form, route, state, folded))
        self._right.addWidget(self._after_card(form))
        line = QHBoxLayout()
        line.addWidget(add_thread_button(self._session, self._reader, form))
        line.addStretch()
        self._right.addLayout(line)
        self._right.addStretch()

    def _row(self, card: Card, row: BoardRow) -> BoardRow:
        card.body.addWidget(row)
        row.answers = self._on_key
        row.mark(row.name == self._line)
        row.chosen.connect(lambda: self.choose(row.name))
        row.pulled.connect(lambda at: self._on_pulled(row, at))
        row.let_go.connect(lambda at: self._on_let_go(row, at))
        self.rows.append(row)
        return row

    def _form_card(self, form: Form) -> Card:
        steps = f"{len(form.steps)} steps" if form.steps else tr("one step")
        card = _flush(Card("", ""))
        card.title.hide()
        card.note.hide()
        self._row(card, BoardRow(("form",), "", form.name, "", steps)).words.setProperty(
            "role", "title")
        for number, step in enumerate(form.steps or (None,), 1):
            if step is not None:
                note = _only_words(form, step)
                row = BoardRow(("step", step.id), "", step.name, note,
                               tr("step {number}", number=number))
                row.words.setProperty("role", "dim")
                self._row(card, row)
            for field in form.asked_in(step.id if step else ""):
                self._row(card, _field_row(form, field))
        for field in form.fields:
            if field.role is Role.HIDDEN:
                self._row(card, _field_row(form, field))
        line = QHBoxLayout()
        line.setContentsMargins(8, 0, 8, 0)
        line.addWidget(add_field_button(self._session, form, self._show_made))
        line.addStretch()
        card.body.addLayout(line)
        self._row(card,
                  BoardRow(("sent",), "from", tr("When it is sent"), "", tr("all of these →")))
        return card

    def _notice_card(self, route: NoticeRoute, state: tuple[str, str]) -> Card:
        service = self._session.site.service(route.service)
        card = _flush(Card(""))
        _hide_head(card)
        row = self._row(card, BoardRow(
            ("route", route.id), "to",
                                       service.name if service else tr("A service that is gone"),
            tr("notice to {to}", to=route.to), state[0], state[1]))
        self._thread(("sent",), row, "broken" if state[1] == "fault" else "holds", row.name)
        return card

    def _route_card(self, form: Form, route: FieldRoute, state: tuple[str, str], folded: bool,
                    ) -> Card:
        service = self._session.site.service(route.service)
        name = service.name if service else tr("A service that is gone")
        target = f" › {route.target_name}" if route.target_name else ""
        facts = self._reader.facts(service)
        if facts is not None and facts.fault and not state[0]:
            state = (facts.words, "fault")
        wanted = self._reader.wanted(service, route.target)
        faults = route_faults(form, route, wanted)
        lines = self._lines_of(route)
        if folded or not lines:
            filled = tr("{count} of {count2} filled", count=len(route.fields),
                        count2=len(lines)) if lines else tr("no field yet")
            worst = next(iter(faults.values()), "")
            state = (worst, "fault") if worst and state[1] != "fault" else state
            return self._folded_card(route, f"{name}{target}", filled, state, bool(worst))
        card = _flush(Card(""))
        _hide_head(card)
        head = self._row(card, BoardRow(("route", route.id), "", f"{name}{target}", "",
                                        state[0], state[1]))
        head.words.setProperty("role", "title")
        for want in lines:
            fault = faults.get(want.key, "")
            row = self._row(card, BoardRow(("wire", route.id, want.key), "to", want.key, "",
                                           fault or _want_words(want, route),
                                           "fault" if fault else ""))
            source = route.fields.get(want.key)
            if source and form.field(source):
                self._thread(("field", source), row,
                             "broken" if fault or state[1] == "fault" else "holds", row.name)
        return card

    def _folded_card(self, route: FieldRoute, name: str, filled: str, state: tuple[str, str],
                     broken: bool) -> Card:
        card = _flush(Card(""))
        _hide_head(card)
        row = self._row(card, BoardRow(("route", route.id), "to", name, filled, *state))
        for source in dict.fromkeys(route.fields.values()):
            self._thread(("field", source), row,
                         "broken" if broken or state[1] == "fault" else "bundle", row.name)
        return card

    def _lines_of(self, route: Route) -> Sequence[Wanted]:
        """Return a service's fields: those that it names, and those that a thread names."""
        if not isinstance(route, FieldRoute):
            return ()
        service = self._session.site.service(route.service)
        known = list(self._reader.wanted(service, route.target) or ())
        names = {want.key for want in known}
        return [*known, *(Wanted(key) for key in route.fields if key not in names)]

    def _after_card(self, form: Form) -> Card:
        after = form.after
        if isinstance(after, ShowMessage):
            words = tr("a message: {words}", words=after.words)
        elif isinstance(after, ThankAddress):
            words = after.address
        else:
            page = self._session.site.page(after.page)
            words = tr("page: {name}", name=page.name) if page else tr("a page that is gone")
        card = _flush(Card(""))
        _hide_head(card)
        row = self._row(card,
                        BoardRow(("after",), "to", tr("Then the visitor sees"), _short(words)))
        self._thread(("sent",), row, "holds", row.name)
        told = tr("nothing by e-mail") if form.letter is None \
            else f"“{_short(form.letter.subject)}”"
        if form.confirmation is not None:
            told += tr(", once confirmed") if form.letter is None else tr("; asked to confirm")
        second = self._row(card, BoardRow((tr("letter"),), "to", tr("and gets"), told))
        if form.letter is not None or form.confirmation is not None:
            self._thread(("sent",), second, "holds", second.name)
        return card

    def _thread(self, start: Name, end: BoardRow, state: str, name: Name) -> None:
        source = self.row_of(start)
        if source is not None:
            self._threads.append(_Thread(source, end, state, name))

    def choose(self, name: Name) -> None:
        """Mark a line and its threads, and have its settings shown."""
        self._line = name
        for row in self.rows:
            row.mark(row.name == name)
        self.update()
        self.chosen.emit(name)

    def _show_made(self, field: Id) -> None:
        """Choose a field that has just been added, once the menu that it came from is gone."""
        def show() -> None:
            if self._form is not None:
                self.show_form(self._session.site.form(self._form.id))
            self.choose(("field", field))
            self.focus_row(("field", field))

        QTimer.singleShot(0, show)

    def row_of(self, name: Name) -> BoardRow | None:
        """Return a line by its name."""
        return next((row for row in self.rows if row.name == name), None)

    def focus_row(self, name: Name) -> None:
        """Give the focus to a line, if it is still there."""
        row = self.row_of(name)
        if row is not None:
            row.setFocus(Qt.FocusReason.OtherFocusReason)

    def unfold(self, route: Id) -> None:
        """Show all fields of this service; others fold if there is no room."""
        self._open = route
        self.show_form(self._form)

    # Tying and cutting

    def _tie(self, one: BoardRow, other: BoardRow) -> None:
        form = self._form
        start, end = (one, other) if one.side == "from" else (other, one)
        if form is None or start.side != "from" or end.side != "to":
            return
        if end.name[0] == "wire" and start.name[0] == "field":
            _, route, key = end.name
            self._session.edit(
                tr("thread"), lambda site: wire(site, form.id, route, key, start.name[1]))
        elif end.name[0] == "route" and start.name[0] == "field":
            self.unfold(end.name[1])
            self._session.said.emit(tr("Choose which of its fields this fills."), False)
        else:
            self._session.said.emit(
                tr("The whole lead goes there already.") if start.name[0] == "sent"
                else tr("A field is tied to a field of a service."), False)

    def _cut(self, row: BoardRow) -> bool:
        form = self._form
        if form is None:
            return False
        if row.name[0] == "wire":
            _, route, key = row.name
            return self._session.edit(
                tr("cut thread"), lambda site: wire(site, form.id, route, key, ""))
        if row.name[0] == "route":
            return self._session.edit(
                tr("cut thread"), lambda site: drop_route(site, form.id, row.name[1]))
        return False

    def _on_key(self, row: BoardRow, event: QKeyEvent) -> bool:
        key, control = event.key(), event.modifiers() & Qt.KeyboardModifier.AltModifier
        form = self._form
        if key in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            step = 1 if key == Qt.Key.Key_Down else -1
            if control and form is not None and row.name[0] == "field":
                self._session.edit(tr("order of fields"),
                                   lambda site: move_field(site, form.id, row.name[1], step))
            else:
                self._go(row, step)
        elif key in (Qt.Key.Key_Left, Qt.Key.Key_Right):
            self._cross(row, key == Qt.Key.Key_Right)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter, Qt.Key.Key_Space):
            self._take_or_tie(row)
        elif key == Qt.Key.Key_Escape and self._held is not None:
            self._hold(None)
        elif key in (Qt.Key.Key_Delete, Qt.Key.Key_Backspace):
            return self._cut(row)
        else:
            return False
        return True

    def _is_left(self, row: BoardRow) -> bool:
        return row.mapTo(self, QPoint(0, 0)).x() < self.width() // 2

    def _go(self, row: BoardRow, step: int) -> None:
        beside = [one for one in self.rows if self._is_left(one) == self._is_left(row)]
        beside[max(0, min(len(beside) - 1, beside.index(row) + step))].setFocus(
            Qt.FocusReason.TabFocusReason)

    def _cross(self, row: BoardRow, right: bool) -> None:
        goals = [one for one in self.rows if self._is_left(one) != right]
        if self._is_left(row) != right or not goals:
            return
        tied = [t.end if right else t.start for t in self._threads
                if (t.start if right else t.end) is row]
        high = row.mapTo(self, QPoint(0, 0)).y()
        near = min(goals, key=lambda one: abs(one.mapTo(self, QPoint(0, 0)).y() - high))
        (tied[0] if tied and self._held is None else near).setFocus(
            Qt.FocusReason.TabFocusReason)

    def _take_or_tie(self, row: BoardRow) -> None:
        if self._held is not None:
            held = self._held
            self._hold(None)
            if held.side != row.side:
                self._tie(held, row)
        elif row.name[0] == "route" and row.side == "to":
            self.unfold(row.name[1])
        elif row.side:
            self._hold(row)
            self._session.said.emit(tr("The thread is in hand. Go where it belongs with the "
                                       "arrows, Enter ties it, Esc lets it go."), False)

    def _hold(self, row: BoardRow | None) -> None:
        if self._held is not None:
            self._held.pick(False)
        self._held = row
        if row is not None:
            row.pick(True)
        self.update()

    def _on_pulled(self, row: BoardRow, at: QPoint) -> None:
        if self._held is not row:
            self._hold(row)
        self._pulled_to = row.mapTo(self, at)
        self.update()

    def _on_let_go(self, row: BoardRow, at: QPoint) -> None:
        point = row.mapTo(self, at)
        self._hold(None)
        self._pulled_to = None
        goal = next((one for one in self.rows
                     if one.rect().contains(one.mapFrom(self, point))), None)
        if goal is not None and goal.side and goal.side != row.side:
            self._tie(row, goal)
        elif goal is not None and goal is not row and goal.side == row.side == "to":
            self._move_end(row, goal)
        elif goal is None and row.side == "to" and row.name[0] == "wire":
            self._cut(row)
        self.update()

    def _move_end(self, old: BoardRow, new: BoardRow) -> None:
        """Move a thread's end from one field of a service to another."""
        form = self._form
        if form is None or old.name[0] != "wire" or new.name[0] != "wire":
            return
        source = next((t.start.name[1] for t in self._threads if t.end is old), "")
        if source:
            self._session.edit(tr("move thread"), lambda site: wire(
                wire(site, form.id, old.name[1], old.name[2], ""), form.id, new.name[1],
                new.name[2], source))

    # Threads

    def paintEvent(self, event: QPaintEvent | None) -> None:
        super().paintEvent(event)
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        focused = next((row for row in self.rows if row.marked), None)
        # The threads of the line in question are drawn last, above the others.
        for thread in sorted(self._threads, key=lambda t: focused in (t.start, t.end)):
            _draw_thread(painter, thread.start.port(self), thread.end.port(self), thread.state,
                         focused in (thread.start, thread.end))
        if self._held is not None and self._pulled_to is not None:
            _draw_thread(painter, self._held.port(self), QPointF(self._pulled_to), "waits", True)


def _results(engine: Engine, form: Form | None) -> tuple[dict[Id, int], dict[Id, Sent]]:
    """Return how many deliveries wait, and how the last one went, by the route."""
    if form is None:
        return {}, {}
    ids = [route.id for route in form.routes]
    return ({route: count for route, count in waiting_by_route(engine).items() if route in ids},
            last_results(engine, ids))


def _draw_thread(painter: QPainter, start: QPointF, end: QPointF, state: str, strong: bool,
                 ) -> None:
    look = tokens()
    colour = QColor({"holds": look.bottle, "bundle": look.bottle, "broken": look.thread,
                     "waits": look.ink_second}[state])
    pen = QPen(colour, 3.0 if strong else 1.3 if state == "bundle" else 2.2,
               Qt.PenStyle.CustomDashLine)
    pen.setDashPattern([1.5, 2.5] if state == "broken" else [3, 2])
    reach = max(40.0, abs(end.x() - start.x()) * 0.5)
    reach = reach if end.x() >= start.x() else -reach
    path = QPainterPath(start)
    path.cubicTo(QPointF(start.x() + reach, start.y()), QPointF(end.x() - reach, end.y()), end)
    painter.setPen(pen)
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(path)
    painter.setBrush(colour)
    painter.setPen(Qt.PenStyle.NoPen)
    for point in (start, end):
        painter.drawEllipse(point, 4, 4)


def _field_row(form: Form, field: FormField) -> BoardRow:
    note = ROLE_WORDS[field.role]
    if field.role is Role.HIDDEN:
        return BoardRow(("field", field.id), "from", field.label, f"hidden · {field.source}")
    needed = "needed" if field.required else ""
    return BoardRow(("field", field.id), "from", _short(field.label, 34), note, needed)


def _only_words(form: Form, step: Step) -> str:
    if step.only is None:
        return ""
    asked = form.field(step.only.field)
    name = _short(asked.label, 18) if asked else "?"
    return tr("only if {name} is {short}",
              name=name, short=_short(" or ".join(step.only.answers), 20))


def _want_words(want: Wanted, route: FieldRoute) -> str:
    words = []
    if want.choices:
        words.append("choice: " + _short(", ".join(want.choices), 16))
    elif want.kind != "text":
        words.append(want.kind)
    if want.required:
        words.append(tr("required"))
    if want.key not in route.fields:
        words.append(tr("draw a thread to fill it"))
    return " · ".join(words)


def _state(route: Id, waiting: dict[Id, int], last: dict[Id, Sent]) -> tuple[str, str]:
    """Return how a thread's last delivery went, and the role of those words."""
    sent = last.get(route)
    if route in waiting and sent is not None:
        return f"{waiting[route]} waiting · {_short(sent.result, 34)}", "fault"
    if sent is None:
        return "", ""
    return _short(sent.result, 40), "good" if sent.state == "done" else "fault"


def _short(words: str, longest: int = 30) -> str:
    one = " ".join(words.split())
    return one if len(one) <= longest else one[:longest - 1] + "…"


def _flush(card: Card) -> Card:
    """Give a card lines that reach its edges."""
    layout = card.layout()
    assert layout is not None
    layout.setContentsMargins(1, 1, 1, 1)
    layout.setSpacing(0)
    card.body.setSpacing(0)
    return card


def _hide_head(card: Card) -> None:
    card.title.hide()
    card.note.hide()


def _empty(layout: QLayout) -> None:
    while layout.count():
        item = layout.takeAt(0)
        assert item is not None
        widget, inner = item.widget(), item.layout()
        if widget is not None:
            widget.hide()
            widget.deleteLater()
        elif inner is not None:
            _empty(inner)
