"""The trial lead: marked data filled into a hidden live page, followed through every stop."""

import json
import time
from collections.abc import Mapping

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QCloseEvent, QColor
from PyQt6.QtWidgets import QDialog, QHBoxLayout, QVBoxLayout, QWidget
from sqlalchemy import select

from needle.core.site.site import Page
from needle.core.values.form import FieldRoute, Form, FormField, Role
from needle.services.adapter import Parcel, ServiceError
from needle.services.registry import adapter_for
from needle.store.results.deliveries import Sent, deliveries_of
from needle.store.results.erasing import erase_lead
from needle.store.results.tables import leads
from needle.store.seals import Seals
from needle.ui.cards import Table, button, label
from needle.ui.connect.deliveries import route_words
from needle.ui.connect.visiting import HiddenVisitor
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import tokens
from needle.ui.timers import every
from needle.ui.waiting import Stopped, one_apart

__all__ = ["TrialDialog", "trial_answers"]

_LOOK_MS = 150
_PATIENCE_S = 25
_FILL = """(() => {
  const form = document.querySelector('form[data-form="%s"]');
  if (!form) return "";
  const dialog = form.closest("dialog");
  if (dialog && !dialog.open) dialog.showModal();
  const given = %s;
  for (const [name, value] of Object.entries(given)) {
    for (const one of [...form.elements].filter((e) => e.name === name)) {
      if (one.type === "file") continue;
      if (["radio", "checkbox"].includes(one.type)) one.checked = one.value === value;
      else one.value = value;
      one.dispatchEvent(new Event("input", { bubbles: true }));
      one.dispatchEvent(new Event("change", { bubbles: true }));
    }
  }
  const mark = document.createElement("input");
  Object.assign(mark, { type: "hidden", name: "_trial", value: "%s" });
  form.append(mark);
  form.dispatchEvent(new Event("focusin"));
  return "filled";
})()"""
_GO_ON = """(() => {
  const form = document.querySelector('form[data-form="%s"]');
  if (!form) return JSON.stringify({ gone: true });
  const shown = form.querySelector(".form-step:not([inert]) > legend");
  const faults = [...form.querySelectorAll(".form-fault:not([hidden]), .form-word:not([hidden])")]
    .map((e) => e.textContent).filter(Boolean);
  form.requestSubmit();
  return JSON.stringify({ step: shown ? shown.textContent : "", faults });
})()"""


def trial_answers(form: Form, mark: str) -> Mapping[str, str]:
    """Return answers that nobody can take for a person's, one for each field."""
    return {field.id: _trial_answer(field, mark) for field in form.fields
            if field.role is not Role.HIDDEN}


def _trial_answer(field: FormField, mark: str) -> str:
    words = {Role.EMAIL: f"trial-{mark}@needle.example", Role.NAME: f"Trial {mark}",
             Role.GIVEN: "Trial", Role.FAMILY: mark, Role.PHONE: "+44 20 7946 0000",
             Role.DATE: time.strftime("%Y-%m-%d"), Role.CONSENT: "yes",
             Role.NUMBER: f"{field.least or field.most or 1:g}"}
    if field.role in (Role.CHOICE, Role.CHOICES):
        return field.choices[0] if field.choices else ""
    return words.get(field.role, f"Trial {mark}")


class TrialDialog(QDialog):
    """Shows each stop of a trial lead with its time and answer, then takes it out again."""

    def __init__(self, parent: QWidget, session: Session, outcomes: Outcomes, form: Form) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Trial lead through {name}", name=form.name))
        self._session, self._outcomes, self._form = session, outcomes, form
        self._mark = f"{int(time.time() * 1000) % 100_000_000:08d}"
        self._visitor: HiddenVisitor | None = None
        self._began = self._until = 0.0
        self._steps: list[str] = []
        self._lead = 0
        self._told: dict[int, str] = {}
        self.done_words = ""
        self._look = every(self, _LOOK_MS)
        self.stops = Table(tr("Stops of the trial lead"),
                           (tr("After"), tr("Stop"), tr("What happened")), 2)
        self._rows: list[tuple[str, str, str, str]] = []
        self._note = label("", "dim", wrap=True)
        foot = QHBoxLayout()
        foot.addWidget(self._note, 1)
        self._close = button(tr("Stop"), self.reject)
        self._close.setMinimumWidth(84)
        foot.addWidget(self._close)
        column = QVBoxLayout(self)
        column.addWidget(label(
            tr("Data marked as a trial goes through the live page and every thread, and is taken "
               "out again. It is not counted."), "dim", wrap=True))
        column.addWidget(self.stops)
        column.addLayout(foot)
        self.resize(760, 420)

    def begin(self) -> None:
        """Open the page, if one is live that shows the form."""
        page = self._page()
        stand = self._outcomes.stand
        if page is None or stand is None or not stand.port:
            self._finish(tr("No live page shows this form. Put it on a page and send that in "
                            "Publish."), True)
            return
        self._began = time.monotonic()
        self._visitor = HiddenVisitor(f"http://127.0.0.1:{stand.port}")
        self._visitor.page.loadFinished.connect(lambda fine: self._fill(page, fine))
        self._visitor.open(page.slug)

    def _page(self) -> Page | None:
        return next((page for page in self._session.site.pages
                     if self._outcomes.live_page(page.id) and any(
                         getattr(node, "form", "") == self._form.id
                         for variant in page.variants for node in variant.nodes())), None)

    def _fill(self, page: Page, fine: bool) -> None:
        if self._visitor is None or self._steps:
            return
        if not fine:
            self._finish(tr("The page /{slug} could not be opened.", slug=page.slug), True)
            return
        self._stop(f"page /{page.slug}", tr("opened"))
        self._steps.append("")
        seal = Seals(self._session.folder, self._outcomes.engine).seal(
            "trial", int(time.time() * 1000) + 600_000, self._form.id)
        answers = trial_answers(self._form, self._mark)
        self._visitor.page.runJavaScript(
            _FILL % (self._form.id, json.dumps(answers), seal), self._filled)

    def _filled(self, what: object) -> None:
        if what != "filled":
            self._finish(tr("The live page does not show this form. Send the page again."), True)
            return
        self._stop("form", tr("{count} fields filled in", count=len(self._form.fields)))
        self._until = time.monotonic() + _PATIENCE_S
        QTimer.singleShot(300, self._go_on)

    def _go_on(self) -> None:
        if self._visitor is not None:
            self._visitor.page.runJavaScript(_GO_ON % self._form.id, self._gone_on)

    def _gone_on(self, said: object) -> None:
        told = json.loads(str(said)) if said else {}
        if told.get("step") and told["step"] != self._steps[-1]:
            self._steps.append(told["step"])
            self._stop("step", told["step"])
        if self._find_lead():
            self._follow()
        elif (told.get("faults") and len(self._steps) > 8) or time.monotonic() > self._until:
            words = " ".join(told.get("faults", [])) or tr("the host did not take it in time")
            self._finish(tr("It stopped at the form: {words}", words=words), True)
        else:
            QTimer.singleShot(400, self._go_on)

    def _find_lead(self) -> bool:
        email = next((f"trial-{self._mark}@needle.example" for f in self._form.fields
                      if f.role is Role.EMAIL), "")
        with self._outcomes.engine.connect() as connection:
            query = select(leads.c.id).where(leads.c.trial.is_(True),
                                             leads.c.form == self._form.id)
            query = query.where(leads.c.email == email) if email else query
            row = connection.execute(query.order_by(leads.c.id.desc())).first()
        self._lead = int(row.id) if row else 0
        return bool(self._lead)

    def _follow(self) -> None:
        """See where the lead is, until it is everywhere or the time is over."""
        self._stop(tr("lead book"), tr("kept, marked as a trial"))
        self._until = time.monotonic() + _PATIENCE_S
        self._look.timeout.connect(self._look_again)
        self._look.start()

    def _look_again(self) -> None:
        sent = deliveries_of(self._outcomes.engine, self._lead)
        for one in sent:
            words = one.result or tr("on its way")
            held = one.state == "held"
            if self._told.get(one.id) != words and (one.result or held):
                self._told[one.id] = words
                self._stop(route_words(self._session, one.route),
                           tr("waits until the visitor confirms") if held else words,
                           "good" if one.state == "done" else "" if held else "fault")
        if all(one.state != "waiting" for one in sent) or time.monotonic() > self._until:
            self._look.stop()
            self._take_out(sent)

    def _take_out(self, sent: list[Sent]) -> None:
        """Take the trial out of every place that knows how, and out of the lead book."""
        with self._outcomes.engine.connect() as connection:
            row = connection.execute(select(leads.c.answers, leads.c.key).where(
                leads.c.id == self._lead)).one()
        answers = {field: answer for field, _, answer in json.loads(row.answers)}
        for one in sent:
            route = next((r for r in self._form.routes if r.id == one.route), None)
            service = self._session.site.service(route.service) if route else None
            if one.state != "done" or service is None or not isinstance(route, FieldRoute):
                continue
            values = {key: answers[f] for key, f in route.fields.items() if f in answers}
            parcel = Parcel(f"{row.key}-{route.id}", route.target, values)
            adapter = adapter_for(self._session.folder, service)
            try:
                gone = adapter is not None and one_apart(
                    self, tr("Taking the trial out of {name}…", name=service.name),
                    lambda a=adapter, p=parcel: a.remove(p))  # type: ignore[misc]
                self._stop(service.name, tr("taken out again") if gone else
                           tr("stays there: it has no way to take a lead back"))
            except (ServiceError, Stopped) as error:
                self._stop(service.name, tr("could not be taken out: {error}", error=error),
                           "fault")
        erase_lead(self._outcomes.engine, self._session.folder, self._lead)
        self._stop(tr("lead book"), tr("taken out again"))
        late = [one for one in sent if one.state == "waiting"]
        self._finish(tr("{count} stops did not answer in time.", count=len(late)) if late else
                     tr("Every stop was reached."), bool(late))

    def _stop(self, stop: str, words: str, role: str = "") -> None:
        self._rows.append((f"{time.monotonic() - self._began:.2f} s", stop, words, role))
        self.stops.show_rows([row[:3] for row in self._rows])
        self.stops.scrollToBottom()
        look = tokens()
        for number, row in enumerate(self._rows):
            item = self.stops.item(number, 2)
            if item is not None and row[3]:
                item.setForeground(QColor(look.good if row[3] == "good" else look.fault))

    def _finish(self, words: str, fault: bool) -> None:
        self.done_words = words
        self._note.setText(words)
        self._close.setText(tr("Close"))
        self._end_visitor()
        if fault:
            self._session.said.emit(words, True)

    def _end_visitor(self) -> None:
        self._look.stop()
        if self._visitor is not None:
            self._visitor.end()
            self._visitor = None

    def reject(self) -> None:
        """Close; what is half-way is left to go on and marked as a trial."""
        self._end_visitor()
        super().reject()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        self._end_visitor()
        super().closeEvent(event)
