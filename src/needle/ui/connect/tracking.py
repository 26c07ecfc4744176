"""Tracking: the codes, the question for consent, and the trial visit that shows which fire."""

import time

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor
from PyQt6.QtWidgets import (
    QCheckBox,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QTreeWidget,
    QTreeWidgetItem,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.outsidecode import code_digest, codes_in
from needle.core.edit.tracking import (
    add_code,
    delete_code,
    open_to,
    reach_words,
    set_code,
    set_consent,
)
from needle.core.leads.firing import Firing, once_a_master
from needle.core.render.policy import named_hosts, open_host
from needle.core.site.site import Page
from needle.core.values.ids import Id
from needle.core.values.tracking import PLACES, PURPOSES
from needle.running.addresses import practice_folder, read_address
from needle.running.children import ChildError
from needle.store.seals import Seals
from needle.store.trust import noted_foreign
from needle.ui.builder.fields import CodeEdit
from needle.ui.cards import Card, button, label, panel, scrolled, side_list
from needle.ui.connect.trialvisit import TrialVisit
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr, tr_each
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.words import plain_tip

__all__ = ["TrackingPart"]

_VISIT_MS = 900_000
_STATES = {"fired": "fired", "waits": tr("waits for consent"), "wrong": "wrong",
           "silent": "silent", "absent": tr("not here")}


class TrackingPart(QWidget):
    """The codes at the left, the chosen one in the middle, the trial visit below.

    Attributes:
        list: The codes.
        result: What the trial visit found, by page.
    """

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self._chosen: Id = session.site.tracking[0].id if session.site.tracking else ""
        self._shown: object = None
        self._visit: TrialVisit | None = None
        self.list = QListWidget()
        self.list.setAccessibleName(tr("Tracking codes"))
        self.list.currentItemChanged.connect(lambda *_: self._on_chosen())
        self.result = QTreeWidget()
        self.result.setAccessibleName(tr("What fired on which page"))
        self.result.setHeaderLabels([tr("Page and code"), "", tr("What was seen")])
        self.result.setColumnWidth(0, 230)
        self.result.setColumnWidth(1, 130)
        self._reach = label("", "small", wrap=True)
        self.further = QLineEdit()
        self.further.setAccessibleName(tr("Further hosts that pages may reach"))
        self.further.setPlaceholderText(tr("hosts that codes load from by other ways"))
        self.further.editingFinished.connect(self._take_further)
        inside = panel("work")
        self._top = QHBoxLayout()
        column = QVBoxLayout(inside)
        column.setContentsMargins(18, 14, 18, 14)
        column.addLayout(self._top)
        column.addWidget(self._visit_card(), 1)
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(side_list(tr("Tracking codes"), self.list, button(tr("New code"), self.add)))
        row.addWidget(scrolled(inside), 1)

    def _visit_card(self) -> Card:
        card = Card(tr("Trial visit"), grows=True)
        self._note = card.note
        self._stop = button(tr("Stop"), self.stop_visit)
        self._stop.hide()
        card.head.addWidget(self._stop)
        card.head.addWidget(button(tr("Visit the live pages"), self.visit, main=True))
        card.body.addWidget(self.result)
        self._hint = label(tr("A clean browser opens every live page, and one of those that are "
                              "made of a table, as somebody new, agrees to everything, and lists "
                              "what each code asked for. Outside addresses are answered by the "
                              "practice receiver."), "dim", wrap=True)
        card.body.addWidget(self._hint)
        card.body.addWidget(self._reach)
        line = QHBoxLayout()
        line.addWidget(label(tr("Let pages reach as well"), "small"))
        line.addWidget(self.further, 1)
        card.body.addLayout(line)
        return card

    def _take_further(self) -> None:
        """Let pages reach the hosts that were typed; what is no host is said and left out."""
        words = self.further.text().replace(",", " ").split()
        good = tuple(dict.fromkeys(filter(None, map(open_host, words))))
        if odd := [word for word in words if not open_host(word)]:
            self._session.said.emit(tr("“{odd}” is no host. Write it like tags.example, or "
                                       "*.tags.example for all below it.",
                                       odd=odd[0]), True)
        if good != self._session.site.open_to:
            self._session.edit(tr("hosts that pages may reach"), lambda site: open_to(site, good))
        self._show_reach()

    def _show_reach(self) -> None:
        foreign = noted_foreign()
        named = named_hosts(code.code for code in codes_in(self._session.site)
                            if code.digest not in foreign)
        self._reach.setText(
            tr("Visitors' browsers let pages reach the site itself and the hosts that codes "
               "name: ")
            + (", ".join(named) or tr("none")) + ".")
        if not self.further.hasFocus():
            self.further.setText(" ".join(self._session.site.open_to))

    # Doing

    def add(self) -> None:
        """Add a code and choose it."""
        made: list[Id] = []

        def how(site):  # type: ignore[no-untyped-def]
            site, fresh = add_code(site)
            made.append(fresh)
            return site

        if self._session.edit(tr("new tracking code"), how):
            self._chosen = made[0]
            self.refresh()

    def delete_chosen(self) -> None:
        """Delete the chosen code."""
        code = self._chosen
        self._session.edit(tr("delete tracking code"), lambda site: delete_code(site, code))
        self.refresh()

    def _change(self, **changes: object) -> None:
        code = self._chosen
        self._session.edit(tr("tracking code"), lambda site: set_code(site, code, **changes))

    def _consent(self, **changes: object) -> None:
        self._session.edit("consent", lambda site: set_consent(site, **changes))

    def _on_chosen(self) -> None:
        item = self.list.currentItem()
        if item is not None:
            self._chosen = str(item.data(Qt.ItemDataRole.UserRole))
            self.refresh()

    # The trial visit

    def visit(self) -> None:
        """Visit the live pages and list what fired."""
        stand = self._outcomes.stand
        whole = self._session.whole
        pages = once_a_master(page for page in whole.pages if self._outcomes.live_page(page.id))
        if stand is None or not stand.port or not pages:
            self._session.said.emit(tr("No page is live yet. Send one in Publish, then visit it."),
                                    True)
            return
        if self._visit is not None:
            return
        try:
            stand.start_practice("tags")
        except ChildError as error:
            self._session.said.emit(tr("The practice receiver did not start: {error}", error=error),
                                    True)
            return
        facts = read_address(practice_folder(self._session.folder, "tags")) or {}
        self.result.clear()
        self._stop.show()
        receiver = str(facts.get("url", ""))
        seal = Seals(self._session.folder, self._outcomes.engine).seal(
            "reach", int(time.time() * 1000) + _VISIT_MS, receiver)
        self._visit = TrialVisit(whole, pages, f"http://127.0.0.1:{stand.port}",
                                 receiver, seal)
        self._visit.visited.connect(self._take)
        self._visit.progress.connect(lambda done, of: self._note.setText(
            tr("page {done} of {of}", done=min(done + 1, of), of=of)))
        self._visit.ended.connect(self._on_ended)
        self._visit.begin()

    def stop_visit(self) -> None:
        """Leave the rest of the pages out."""
        if self._visit is not None:
            self._visit.stop(tr("The visit was stopped."))

    def _on_ended(self, words: str) -> None:
        self._visit = None
        self._stop.hide()
        rows = [self.result.topLevelItem(n) for n in range(self.result.topLevelItemCount())]
        faults: list[int] = [int(row.data(0, Qt.ItemDataRole.UserRole) or 0)
                             for row in rows if row is not None]
        wrong = sum(faults)
        self._note.setText(tr("{pages} pages visited",
                              pages=self.result.topLevelItemCount())
                           + (tr(", {wrong} faults", wrong=wrong) if wrong else tr(", no fault")))
        if words:
            self._session.said.emit(words, True)

    def _take(self, page: Page, found: list[Firing]) -> None:
        look = tokens()
        colours = {"fired": look.good, "wrong": look.fault, "waits": look.amber,
                   "silent": look.amber, "absent": look.ink_second}
        top = QTreeWidgetItem([page.name, "", f"/{page.slug}"])
        top.setData(0, Qt.ItemDataRole.UserRole, sum(one.state == "wrong" for one in found))
        for one in found:
            item = QTreeWidgetItem([one.code.name, _STATES[one.state], one.words])
            item.setForeground(1, QColor(colours[one.state]))
            item.setToolTip(2, plain_tip(one.words))
            top.addChild(item)
        self.result.addTopLevelItem(top)
        top.setExpanded(True)

    # Showing

    def refresh(self) -> None:
        """Show the codes as they are now."""
        site = self._session.site
        if not any(code.id == self._chosen for code in site.tracking):
            self._chosen = site.tracking[0].id if site.tracking else ""
        self._show_list()
        self._show_reach()
        if any(edit.changing for edit in self.findChildren(WordsEdit)):
            return
        state = (noted_foreign(), site.tracking, site.consent, site.pages, site.folders,
                 self._chosen)
        if state != self._shown:
            self._shown = state
            while self._top.count():
                item = self._top.takeAt(0)
                widget = item.widget() if item else None
                if widget is not None:
                    widget.hide()
                    widget.deleteLater()
            top = Qt.AlignmentFlag.AlignTop
            self._top.addWidget(self._code_card(), 3, top)
            self._top.addWidget(self._consent_card(), 2, top)

    def _show_list(self) -> None:
        site = self._session.site
        self.list.blockSignals(True)
        self.list.clear()
        foreign = noted_foreign()
        for code in site.tracking:
            off = "" if code.on else " · off"
            if code_digest(code.html) in foreign:
                off = tr(" · not allowed yet")
            item = QListWidgetItem(f"{code.name}{off}\n{reach_words(site, code.reach)} · "
                                   f"{code.purpose}")
            item.setData(Qt.ItemDataRole.UserRole, code.id)
            self.list.addItem(item)
            if code.id == self._chosen:
                self.list.setCurrentItem(item)
        self.list.blockSignals(False)

    def _code_card(self) -> Card:
        site = self._session.site
        code = next((one for one in site.tracking if one.id == self._chosen), None)
        if code is None:
            card = Card(tr("No tracking code yet"))
            card.body.addWidget(label(tr("Paste what an advertising or counting service gives "
                                         "you into a new code, and say where it runs."), "dim",
                                      wrap=True))
            card.body.addWidget(button(tr("New code"), self.add))
            return card
        card = Card(code.name)
        name = WordsEdit(tr("Name of the code"), code.name)
        name.kept.connect(lambda words: self._change(name=words.strip()))
        reach = {"": tr("the whole site")} | {f.id: tr("journey {name}",
                                                       name=f.name) for f in site.folders} | {
            page.id: tr("page {name}", name=page.name) for page in site.pages}
        form = QFormLayout()
        form.addRow(tr("Name"), name)
        line = QHBoxLayout()
        for title, attribute, choices, value in (
                (tr("Runs on"), "reach", reach, code.reach),
                (tr("Place"), "place", tr_each(PLACES),
                 code.place),
                (tr("Purpose"), "purpose", tr_each(PURPOSES),
                 code.purpose)):
            choice = ChoiceEdit(title, choices, inherit=False)
            choice.show_value(value)
            choice.chosen.connect(lambda chosen, a=attribute: self._change(**{a: chosen}))
            line.addWidget(choice, 1)
        form.addRow(tr("Runs on, where, for"), line)
        card.body.addLayout(form)
        html = CodeEdit(tr("The code, as pasted"))
        html.show_code(code.html)
        html.kept.connect(lambda words: self._change(html=words))
        html.setFixedHeight(92)
        card.body.addWidget(html)
        foot = QHBoxLayout()
        on = QCheckBox(tr("sent with the pages"))
        on.setChecked(code.on)
        on.clicked.connect(lambda yes: self._change(on=yes))
        if code_digest(code.html) in noted_foreign():
            on.setText(tr("sent with the pages once it is allowed: Site, Code from elsewhere…"))
        foot.addWidget(on)
        foot.addStretch()
        foot.addWidget(button(tr("Delete the code"), self.delete_chosen))
        card.body.addLayout(foot)
        return card

    def _consent_card(self) -> Card:
        consent = self._session.site.consent
        card = Card(tr("Consent"))
        asked = QCheckBox(tr("Ask visitors; codes wait for the answer"))
        asked.setChecked(consent.asked)
        asked.clicked.connect(lambda on: self._consent(asked=on))
        card.body.addWidget(asked)
        form = QFormLayout()
        for name, words in (("words", "Question"), ("accept", tr("Yes")), ("refuse", tr("No"))):
            edit = WordsEdit(words, getattr(consent, name))
            edit.kept.connect(lambda said, n=name: self._consent(**{n: said.strip()}))
            form.addRow(words, edit)
        pages = {"": tr("no page")} | {page.id: page.name for page in self._session.site.pages}
        policy = ChoiceEdit(tr("Page that tells more"), pages, inherit=False)
        policy.show_value(consent.policy)
        policy.chosen.connect(lambda page: self._consent(policy=str(page)))
        form.addRow(tr("More on"), policy)
        card.body.addLayout(form)
        card.body.addWidget(label(tr("A link to #consent asks again."), "small"))
        return card
