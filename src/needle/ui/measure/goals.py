"""What counts as a conversion, how often it was reached, and what outside pages call in."""

from collections.abc import Callable
from datetime import datetime

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import (
    QApplication,
    QHBoxLayout,
    QPlainTextEdit,
    QPushButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.calls import add_call, begins_of, remove_call, set_call
from needle.core.measure.goals import Goal, GoalKind, goals_of
from needle.core.render.callers import CallLines, call_lines
from needle.core.site.site import Site
from needle.core.values.outsidecall import OutsideCall
from needle.store.results.takings import NOTHING
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Card, Table, button, label, panel, scrolled
from needle.ui.editors import WordsEdit
from needle.ui.language import tr
from needle.ui.measure.choosing import ChoosingDialog
from needle.ui.measure.worth import WorthCard, worth_of, worth_words
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["GoalBook"]

_KINDS = {GoalKind.FORM: tr("form sent"), GoalKind.CLICK: tr("click"),
          GoalKind.PHONE: tr("phone tap"), GoalKind.MAIL: tr("mail tap"),
          GoalKind.FILE: tr("file taken"), GoalKind.CALL: tr("outside call"),
          GoalKind.DEPTH: tr("seen so far"), GoalKind.TIME: tr("stayed so long"),
          GoalKind.GONE: tr("no longer counted")}


class GoalBook(QWidget):
    """All that counts at the left, the chosen one at the right.

    Signals:
        node_asked: The person wants to see an item where it stands (its id).
    """

    node_asked = pyqtSignal(str)

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine) -> None:
        super().__init__()
        self._session, self._outcomes, self._engine = session, outcomes, engine
        self._goals: list[Goal] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._side())
        row.addWidget(scrolled(self._work()), 1)

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round."""
        return [self.table, self._name, *self._lines]

    def _side(self) -> QWidget:
        side = panel("side", 660)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(8)
        line = QHBoxLayout()
        line.addWidget(label(tr("What counts as a conversion"), "title"))
        line.addStretch()
        line.addWidget(button(tr("Choose on the page…"), self.choose_on_page))
        line.addWidget(button(tr("New outside call"), self.add_call))
        column.addLayout(line)
        self.table = Table(tr("What counts as a conversion"), (
            tr("Goal"), tr("Kind"), tr("Where"), tr("Visitors"), tr("Worth"), tr("Last")), 0,
            right=(3, 4))
        self.table.itemSelectionChanged.connect(self._show_chosen)
        column.addWidget(self.table, 1)
        self._empty = label(tr(
            "Nothing counts yet. Put a form on a page, have a click count in Build (On a click, "
            "Count as a conversion), or add an outside call for what visitors do on pages made "
            "elsewhere."), "dim", wrap=True)
        column.addWidget(self._empty)
        self._sum = label("", "small", wrap=True)
        column.addWidget(self._sum)
        return side

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(12)
        self._about = Card("")
        self._says = label("", "small", wrap=True)
        self._open = button(tr("Show it in Build"), self.show_in_build)
        self._remove = button(tr("Remove"), self.remove_chosen)
        self._about.head.addWidget(self._open)
        self._about.head.addWidget(self._remove)
        self._about.body.addWidget(self._says)
        column.addWidget(self._about)
        self._worth = WorthCard(self._session)
        column.addWidget(self._worth)
        self._fields = Card(tr("What is reached, and where"))
        self._name = WordsEdit(tr("What is reached"))
        self._name.setPlaceholderText(tr("Ticket bought"))
        self._name.kept.connect(lambda words: self._set(tr("name of the call"), lambda: {
            "name": " ".join(words.split())}))
        self._begins = WordsEdit(tr("Address with which those pages begin"))
        self._begins.setPlaceholderText(tr("https://tickets.example"))
        self._begins.kept.connect(lambda words: self._set(
            tr("pages of the call"), lambda: {"begins": begins_of(words)}))
        for words, edit in ((tr("What is reached"), self._name),
                            (tr("Its pages begin with"), self._begins)):
            self._fields.body.addWidget(label(words, "small"))
            self._fields.body.addWidget(edit)
        column.addWidget(self._fields)
        self._code = Card(tr("Lines for whoever looks after those pages"))
        self._lines = [self._line(words) for words in (
            tr("On every page there"), tr("Too, on the page that is shown once it is reached"),
            tr("Instead, for letters and pages without scripts: their server puts the word "
               "“needle” of the address in place of {blank}", blank=CallLines.blank))]
        self._note = label("", "small", wrap=True)
        self._code.body.addWidget(self._note)
        self._code.body.addWidget(label(tr(
            "Links of your pages that lead there take along a sealed word; what is called in with "
            "it counts for the page from which the visitor came, once a visitor, within 90 days. "
            "Nobody else's call counts."), "small", wrap=True))
        column.addWidget(self._code)
        column.addStretch()
        return work

    def _line(self, words: str) -> QPlainTextEdit:
        edit = QPlainTextEdit()
        edit.setReadOnly(True)
        edit.setTabChangesFocus(True)
        edit.setAccessibleName(words)
        edit.setFixedHeight(62)
        head = QHBoxLayout()
        head.addWidget(label(words, "small", wrap=True), 1)
        copy = button(tr("Copy"), lambda: self._copy(edit))
        copy.setAccessibleName(tr("Copy the line: {words}", words=words))
        head.addWidget(copy)
        self._code.body.addLayout(head)
        self._code.body.addWidget(edit)
        return edit

    # Changing

    def choose_on_page(self) -> None:
        """Choose what counts on the page itself."""
        self.choosing = ChoosingDialog(self._session, self._engine, self)
        self.choosing.finished.connect(lambda _: self.refresh())
        self.choosing.show()

    def add_call(self) -> None:
        """Add something that pages made elsewhere call in; its name is typed next."""
        taken = {call.name for call in self._session.site.calls}
        name = next(words for words in (tr("Reached elsewhere"), *(
            tr("Reached elsewhere {n}", n=n) for n in range(2, 99))) if words not in taken)
        if self._session.edit(tr("outside call"), lambda site: add_call(site, name)[0]):
            self.refresh()
            self._choose(GoalKind.CALL, self._session.site.calls[-1].id)
            self._name.setFocus()
            self._name.selectAll()

    def remove_chosen(self) -> None:
        """Let nobody call this in any more; what came stays in the figures."""
        call = self._call()
        if call is not None:
            self._session.edit(tr("outside call removed"), lambda site: remove_call(site, call.id))
            self.refresh()

    def _set(self, what: str, values: Callable[[], dict[str, object]]) -> None:
        call = self._call()
        if call is None:
            return

        def how(site: Site) -> Site:
            return set_call(site, call.id, **values())

        self._session.edit(what, how)
        self.refresh()
        self._choose(GoalKind.CALL, call.id)

    def show_in_build(self) -> None:
        """Show the item with which the chosen goal is reached, where it stands."""
        goal = self.chosen()
        if goal is not None and goal.node:
            self.node_asked.emit(goal.node)

    def _copy(self, edit: QPlainTextEdit) -> None:
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(edit.toPlainText())
        self._session.said.emit(tr("The line is on the clipboard."), False)

    # Showing

    def chosen(self) -> Goal | None:
        """Return the goal that is chosen."""
        key = self.table.chosen_key()
        return next((goal for goal in self._goals if _key(goal) == key), None)

    def _call(self) -> OutsideCall | None:
        goal = self.chosen()
        if goal is None or goal.kind is not GoalKind.CALL:
            return None
        return next((call for call in self._session.site.calls if call.id == goal.key), None)

    def _choose(self, kind: GoalKind, key: str) -> None:
        for row, goal in enumerate(self._goals):
            if (goal.kind, goal.key) == (kind, key):
                self.table.selectRow(row)

    def refresh(self) -> None:
        """Show what counts now, and how often it was reached."""
        site, reached = self._session.site, self._outcomes.figures.reached
        forms = {form.id for form in site.forms}
        self._goals = goals_of(site, (key for key in reached if key not in forms))
        self.table.show_rows([self._cells(goal) for goal in self._goals],
                             [_key(goal) for goal in self._goals])
        if self._goals and self.chosen() is None:
            self.table.selectRow(0)
        self._empty.setVisible(not self._goals)
        self._sum.setText(tr("A visitor counts once in each; robots and trial leads are left out.")
                          + self._sum_words())
        self._show_chosen()

    def _sum_words(self) -> str:
        """Return what all goals together were worth, where any has a worth."""
        site, reached = self._session.site, self._outcomes.figures.reached
        told = [float(words.replace(",", "")) for goal in self._goals
                if (words := worth_words(worth_of(site, goal.key), reached.get(goal.key),
                                         self._taken(goal)))]
        return tr(" Worth in all: {sum}.", sum=f"{sum(told):,.2f}") if told else ""

    def _taken(self, goal: Goal) -> float | None:
        """Return what was ordered with a goal, in the shop's currency; `None` for no order form."""
        site = self._session.site
        if goal.key != site.shop.form or not site.shop.table:
            return None
        found = self._outcomes.figures.form_takings.get(goal.key, NOTHING)
        return float(found.sums.get(site.shop.currency, 0))

    def _cells(self, goal: Goal) -> tuple[str, ...]:
        found = self._outcomes.figures.reached.get(goal.key)
        worth = worth_of(self._session.site, goal.key)
        name = tr("{name} (main)", name=goal.name) if worth.main else goal.name
        return (name, _KINDS[goal.kind], self._where(goal),
                f"{found.visitors:,}" if found else "0",
                worth_words(worth, found, self._taken(goal)),
                f"{datetime.fromtimestamp(found.last_ms / 1000):%d %b %H:%M}" if found else "")

    def _where(self, goal: Goal) -> str:
        names = [page.name for page in self._session.whole.pages if page.id in goal.pages]
        if len(names) > 2:
            return tr("{first} and {n} more", first=names[0], n=len(names) - 1)
        return ", ".join(names)

    def _show_chosen(self) -> None:
        goal, call = self.chosen(), self._call()
        self._about.setVisible(goal is not None)
        self._worth.show_goal(goal)
        for card in (self._fields, self._code):
            card.setVisible(call is not None)
        _show(self._open, goal is not None and bool(goal.node))
        _show(self._remove, call is not None)
        if goal is None:
            return
        self._about.title.setText(goal.name)
        self._says.setText(self._words(goal, call))
        if call is None:
            return
        self._name.show_words(call.name)
        self._begins.show_words(call.begins)
        domain = self._session.site.domain
        base = f"https://{domain}" if domain else self._outcomes.address()
        self._note.setVisible(not domain)
        self._note.setText(tr(
            "The address in them is the test address of this machine: with a domain of its own it "
            "is that.") if base else tr("There is no address yet: the lines come with the domain, "
                                        "or once the host runs."))
        told = call_lines(call, base).texts if base else ("", "", "")
        for edit, words in zip(self._lines, told, strict=True):
            if edit.toPlainText() != words:
                edit.setPlainText(words)

    def _words(self, goal: Goal, call: OutsideCall | None) -> str:
        """Return how it is reached, and what is still to be done for it."""
        match goal.kind:
            case GoalKind.FORM:
                return tr("Counts when the form is sent and its sender is no robot.")
            case GoalKind.GONE:
                return tr("Nothing on the site counts this any more; what was counted stays in the "
                          "figures.")
            case GoalKind.DEPTH | GoalKind.TIME:
                return tr("Counts once a visit when so much of the page was seen, or it was in "
                          "sight for so long; set it at “Choose on the page…”.")
            case GoalKind.CALL if call is not None:
                return self._call_words(goal, call)
            case _:
                return tr("Counts when a visitor clicks it.")

    def _call_words(self, goal: Goal, call: OutsideCall) -> str:
        if not call.begins:
            return tr("Say with which address its pages begin.")
        if not goal.pages:
            return tr("No page of yours links there yet: put a link to {address} on one.",
                      address=call.begins)
        live = self._outcomes.live
        if live is None or call not in live.calls:
            return tr("Send {pages}: from then on it can be called.", pages=self._where(goal))
        if goal.key not in self._outcomes.figures.reached:
            return tr("Nothing was called in yet. Open your page, follow its link, and reach it "
                      "once yourself.")
        return tr("Pages made elsewhere call this in.")


def _key(goal: Goal) -> str:
    return f"{goal.kind} {goal.key}"


def _show(made: QPushButton, shown: bool) -> None:
    made.setVisible(shown)
    made.setEnabled(shown)
