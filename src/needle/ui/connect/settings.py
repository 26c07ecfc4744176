"""The tray of Connect: every setting of the chosen line of the board, in columns."""

from collections.abc import Callable, Sequence
from functools import partial
from typing import Any

import msgspec
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QInputDialog, QWidget

from needle.core.edit.forms import (
    change_form,
    delete_field,
    delete_step,
    drop_route,
    move_field,
    move_step,
    set_field_of,
    set_route,
    set_step,
    wire,
)
from needle.core.messages.message import say
from needle.core.values.form import (
    FACTS,
    After,
    Confirmation,
    FieldRoute,
    Form,
    FormField,
    Letter,
    NoticeRoute,
    Only,
    Role,
    Route,
    ShowMessage,
    Step,
    ThankAddress,
    ThankPage,
)
from needle.core.values.ids import Id
from needle.ui.builder.traycolumn import TrayColumn, dim_label
from needle.ui.cards import button, label
from needle.ui.connect.described import ServiceReader
from needle.ui.connect.words import ROLE_WORDS
from needle.ui.editors import ChoiceEdit, NumberEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["SettingsTray"]

_AFTER = {"message": tr("a message in place"), "page": tr("a page of the site"),
          "address": tr("another address")}
_HIDDEN_SOURCES = ("utm_source", "utm_medium", "utm_campaign", "utm_term", "utm_content",
                   "gclid", "fbclid", "msclkid")


class SettingsTray(QWidget):
    """Shows what a line of the board can be told."""

    def __init__(self, session: Session, reader: ServiceReader) -> None:
        super().__init__()
        self._session = session
        self._reader = reader
        self._form: Form | None = None
        self._shown: object = None
        self._row = QHBoxLayout(self)
        self._row.setContentsMargins(6, 0, 6, 4)
        self._row.setSpacing(0)

    def show_line(self, form: Form | None, name: tuple[str, ...]) -> None:
        """Show the settings of a line of a form, if they are not shown just so already."""
        if any(edit.changing for edit in self.findChildren(WordsEdit)):
            return
        columns = _COLUMNS.get(name[0], _form_columns)
        state = (form, name, self._session.site.services, self._session.site.pages)
        if form is None or state == self._shown:
            return
        self._shown, self._form = state, form
        while self._row.count():
            item = self._row.takeAt(0)
            widget = item.widget() if item else None
            if widget is not None:
                widget.hide()
                widget.deleteLater()
        for column in columns(self, form, *name[1:]):
            self._row.addWidget(column, 1)
        if self._row.count() < 4:
            self._row.addStretch(4 - self._row.count())

    # Edits

    def change(self, what: str = "form", **changes: object) -> None:
        """Change the form itself."""
        form = self._form
        if form is not None:
            self._session.edit(what, lambda site: change_form(
                site, form.id, lambda old: msgspec.structs.replace(old, **changes)))

    def change_field(self, field: FormField, **changes: object) -> None:
        """Change a field, if anything of it is other than before."""
        form = self._form
        if form is not None and any(getattr(field, k) != v for k, v in changes.items()):
            self._session.edit(tr("field of form"), lambda site: set_field_of(
                site, form.id, field.id, **changes))

    def edit(self, what: str, how: Callable[..., Any], *more: object, **changes: object) -> None:
        """Run an edit of the form."""
        form = self._form
        if form is not None:
            self._session.edit(what, lambda site: how(site, form.id, *more, **changes))

    # Small makers

    def words(self, name: str, value: str, take: Callable[[str], object], example: str = "",
              ) -> WordsEdit:
        """Return a line to type in."""
        made = WordsEdit(name, value)
        made.setPlaceholderText(example)
        made.kept.connect(take)
        return made

    def choice(self, name: str, choices: dict[Any, str], value: object,
               take: Callable[[Any], object]) -> ChoiceEdit:
        """Return a choice of a few."""
        made = ChoiceEdit(name, choices, inherit=False)
        made.show_value(value)
        made.chosen.connect(take)
        return made

    def tick(self, words: str, on: bool, take: Callable[[bool], object]) -> QCheckBox:
        """Return a tick box."""
        made = QCheckBox(words)
        made.setChecked(on)
        made.clicked.connect(take)
        return made

    def number(self, name: str, value: float | None, take: Callable[[Any], object]) -> NumberEdit:
        """Return a number, empty for none."""
        made = NumberEdit(name, -1e9, 1e9, 1)
        made.show_value(value)
        made.chosen.connect(take)
        made.refused.connect(lambda words: self._session.said.emit(words, True))
        return made

    @property
    def session(self) -> Session:
        """The open project."""
        return self._session

    @property
    def reader(self) -> ServiceReader:
        """What the services said of themselves."""
        return self._reader


def _column(title: str, *lines: tuple[str, QWidget] | QWidget) -> TrayColumn:
    made = TrayColumn(title)
    for line in lines:
        if isinstance(line, tuple):
            made.add_line(dim_label(line[0]), line[1])
        else:
            made.add_wide(line)
    return made


def _field_columns(tray: SettingsTray, form: Form, field_id: Id = "") -> Sequence[QWidget]:
    field = form.field(field_id)
    if field is None:
        return _form_columns(tray, form)
    take = tray.change_field
    what = _column(
        tr("Field"),
        (tr("Label"), tray.words(tr("Label of the field"), field.label,
                             lambda w: take(field, label=w.strip() or field.label))),
        (tr("Role"),
         tray.choice(tr("Role"), ROLE_WORDS, field.role, lambda r: take(field, role=r))))
    if field.role is Role.HIDDEN:
        sources = {name: name for name in (*_HIDDEN_SOURCES, field.source)
                   if name not in FACTS} | dict(FACTS)
        what.add_line(dim_label(tr("Filled by")), tray.choice(
            tr("What fills it"), sources, field.source, lambda s: take(field, source=s)))
        what.add_line(dim_label(tr("or by")), tray.words(
            tr("Parameter of the address that fills it"), "" if field.source in FACTS
            else field.source, lambda s: take(field, source=s.strip()), tr("a parameter")))
        return [what, _places(tray, form, field)]
    what.add_wide(tray.tick(tr("needed"), field.required, lambda on: take(field, required=on)))
    said = _column(
        tr("Says"),
        (tr("Hint"), tray.words(tr("Hint"), field.hint, lambda w: take(field, hint=w.strip()),
                            tr("small, below the label"))),
        (tr("If wrong"), tray.words(tr("Message"), field.message, lambda w: take(
            field, message=w.strip()), tr("Needle's own words"))),
        (tr("At first"), tray.words(tr("Default"), field.default, lambda w: take(
            field, default=w.strip()), tr("nothing"))))
    return [what, said, *_checks(tray, field), _places(tray, form, field)]


def _checks(tray: SettingsTray, field: FormField) -> list[QWidget]:
    take = tray.change_field
    if field.role in (Role.CHOICE, Role.CHOICES, Role.PHONE, Role.FILE):
        title, button_words = {
            Role.PHONE: (tr("Countries"), tr("Countries…")),
                               Role.FILE: (tr("Files"), tr("Endings…"))}.get(
                field.role, ("Choices", "Choices…"))
        shown = ", ".join(field.choices) or "any"
        made = _column(title, label(shown, "dim", wrap=True),
                       button(button_words, lambda: _ask_choices(tray, field)))
        if field.role is Role.CHOICE:
            made.add_wide(tray.tick(tr("all seen at once"), field.spread,
                                    lambda on: take(field, spread=on)))
        if field.role is Role.FILE:
            made.add_line(dim_label(tr("At most, kB")), tray.number(
                tr("Largest in kB"), field.most, lambda n: take(field, most=n)))
        return [made]
    if field.role is Role.NUMBER:
        return [_column(tr("Takes"), (tr("From"), tray.number(tr("Smallest"), field.least,
                                                      lambda n: take(field, least=n))),
                        (tr("To"), tray.number(tr("Greatest"), field.most,
                                           lambda n: take(field, most=n))))]
    if field.role is Role.DATE:
        return [_column(tr("Takes"), tray.tick(tr("no day that is past"), field.not_past,
                                           lambda on: take(field, not_past=on)))]
    return []


def _ask_choices(tray: SettingsTray, field: FormField) -> None:
    words, taken = QInputDialog.getMultiLineText(tray, tr("Choices"), tr("One a line"),
                                                 "\n".join(field.choices))
    choices = tuple(dict.fromkeys(line.strip() for line in words.splitlines() if line.strip()))
    if taken and (choices or field.role is Role.PHONE):
        if field.role is Role.PHONE:
            choices = tuple(choice.upper() for choice in choices)
        tray.change_field(field, choices=choices)


def _places(tray: SettingsTray, form: Form, field: FormField) -> QWidget:
    made = TrayColumn(tr("Place"))
    if form.steps and field.role is not Role.HIDDEN:
        made.add_line(dim_label(tr("Step")), tray.choice(
            tr("Step"), {step.id: step.name for step in form.steps}, form.step_of(field),
            lambda step: tray.change_field(field, step=step)))
    for words, run in ((tr("Move up"),
                        lambda: tray.edit(tr("order of fields"), move_field, field.id, -1)),
                       (tr("Move down"),
                        lambda: tray.edit(tr("order of fields"), move_field, field.id, 1)),
                       (tr("Delete the field"),
                        lambda: tray.edit(tr("delete field"), delete_field, field.id))):
        made.add_wide(button(words, run))
    return made


def _step_columns(tray: SettingsTray, form: Form, step_id: Id = "") -> Sequence[QWidget]:
    step = next((one for one in form.steps if one.id == step_id), None)
    if step is None:
        return _form_columns(tray, form)
    names = [one.id for one in form.steps]
    earlier = {"": "everybody"} | {
        field.id: field.label for field in form.fields
        if field.choices and field.role in (Role.CHOICE, Role.CHOICES)
        and names.index(form.step_of(field)) < names.index(step.id)}
    only = step.only
    name = _column(tr("Step"), (tr("Name"), tray.words(
        tr("Name of the step"), step.name,
        lambda w: tray.edit("step", set_step, step.id, name=w.strip() or step.name))))
    when = _column(tr("Asked of"), (tr("Who said at"), tray.choice(
        tr("Depends on"), earlier, only.field if only else "",
        lambda f: tray.edit("step", set_step, step.id, only=Only(
            f, form.field(f).choices[:1]) if f else None))))  # type: ignore[union-attr]
    asked = form.field(only.field) if only else None
    if only is not None and asked is not None:
        for choice in asked.choices:
            when.add_wide(tray.tick(choice, choice in only.answers,
                                    partial(_answer, tray, step, only, choice)))
    place = _column(
        tr("Place"),
        button(tr("Move up"), lambda: tray.edit(tr("order of steps"), move_step, step.id, -1)),
        button(tr("Move down"), lambda: tray.edit(tr("order of steps"), move_step, step.id, 1)),
        button(tr("Delete the step"), lambda: tray.edit(tr("delete step"), delete_step, step.id)))
    return [name, when, place]


def _confirm_by(tray: SettingsTray, asked: Confirmation, name: str, words: str) -> None:
    """Change one text of the letter that asks to confirm."""
    tray.change(tr("confirmation"), confirmation=msgspec.structs.replace(asked, **{name: words}))


def _answer(tray: SettingsTray, step: Step, only: Only, choice: str, on: bool) -> None:
    answers = [one for one in only.answers if one != choice] + ([choice] if on else [])
    if answers:
        tray.edit("step", set_step, step.id, only=Only(only.field, tuple(answers)))
    else:
        tray.session.said.emit(tr("A step needs an answer that leads to it."), True)


def _form_columns(tray: SettingsTray, form: Form, *_: str) -> Sequence[QWidget]:
    names = _column(
        tr("Form"),
        (tr("Name"), tray.words(tr("Name of the form"), form.name,
                            lambda w: tray.change(name=w.strip() or form.name))),
        (tr("Button"), tray.words(tr("Words on the form's button"), form.submit,
                              lambda w: tray.change(submit=w.strip() or form.submit))))
    kept = _column(
        tr("Robots and halves"),
        tray.tick(tr("Robots: kept aside, not sent, not counted"), form.check_robots,
                  lambda on: tray.change(check_robots=on)),
        tray.tick(tr("Proof of work before it is taken"), form.challenge,
                  lambda on: tray.change(challenge=on)),
        tray.tick(tr("Keep answers of those who stop half-way"), form.keep_unfinished,
                  lambda on: tray.change(keep_unfinished=on)))
    return [names, kept]


def _after_columns(tray: SettingsTray, form: Form, *_: str) -> Sequence[QWidget]:
    after = form.after
    now = {ShowMessage: "message", ThankPage: "page", ThankAddress: "address"}[type(after)]
    site = tray.session.site

    def begin(kind: str) -> After:
        if kind == "page":
            return ThankPage(site.pages[-1].id)
        return ThankAddress("https://") if kind == "address" else ShowMessage(
            say("form-thanks").in_language(site.language))

    made = _column(tr("Then the visitor sees"), tray.choice(
        tr("What follows"), _AFTER, now,
        lambda kind: tray.change(tr("after sending"), after=begin(kind))))
    if isinstance(after, ThankPage):
        made.add_wide(tray.choice(
            tr("Page"), {page.id: page.name for page in site.pages}, after.page,
            lambda page: tray.change(tr("after sending"), after=ThankPage(page))))
    else:
        words = after.words if isinstance(after, ShowMessage) else after.address
        kind = ShowMessage if isinstance(after, ShowMessage) else ThankAddress
        made.add_wide(tray.words(tr("Message") if kind is ShowMessage else tr("Address"), words,
                                 lambda w: tray.change(tr("after sending"), after=kind(w))))
    return [made, *_letter_columns(tray, form)[:1]]


def _letter_columns(tray: SettingsTray, form: Form, *_: str) -> Sequence[QWidget]:
    site = tray.session.site
    mail = next((service for service in site.services if service.does == "mail"), None)
    if mail is None or form.with_role(Role.EMAIL) is None:
        why = tr("no e-mail service") if mail is None else tr("no field for an e-mail address")
        return [_column(tr("And gets by e-mail"),
                        label(tr("There is {why} yet.", why=why), "dim", wrap=True))]
    letter, asked = form.letter, form.confirmation

    def said(message: str, **values: str) -> str:
        return say(message, **values).in_language(site.language)

    brings = _column(tr("And gets by e-mail"), tray.tick(
        tr("A letter with what was promised"), letter is not None,
        lambda on: tray.change(tr("letter"), letter=Letter(
            mail.id, said("letter-from", name=site.name), said("letter-words")) if on else None)))
    if letter is not None:
        _fill_letter(tray, brings, letter)
    sure = _column(tr("Confirmation"), tray.tick(
        tr("Goes on only once the link in a letter was followed"), asked is not None,
        lambda on: tray.change(tr("confirmation"), confirmation=Confirmation(
            mail.id, said("confirm-subject"), said("confirm-words")) if on else None)))
    if asked is not None:
        for name in ("subject", "words"):
            sure.add_line(dim_label(name.capitalize()), tray.words(
                tr("{name} of the confirmation", name=name.capitalize()), getattr(asked, name),
                partial(_confirm_by, tray, asked, name)))
    return [brings, sure]


def _fill_letter(tray: SettingsTray, column: TrayColumn, letter: Letter) -> None:
    def take(**changes: object) -> None:
        tray.change(tr("letter"), letter=msgspec.structs.replace(letter, **changes))

    files = {"": tr("no file")} | {medium.id: medium.name for medium in tray.session.site.media}
    column.add_line(dim_label(tr("Subject")),
                    tray.words(tr("Subject of the letter"), letter.subject,
                                                     lambda w: take(subject=w)))
    column.add_line(dim_label(tr("Words")), tray.words(tr("Words of the letter"), letter.words,
                                                   lambda w: take(words=w)))
    how = tray.choice(tr("How it comes"), {False: tr("by link"), True: tr("attached")},
                      letter.attach,
                      lambda on: take(attach=on))
    days = NumberEdit(tr("Days the link works"), 1, 365, 1, tr("days"))
    days.show_value(letter.days)
    days.chosen.connect(lambda n: take(days=int(n or 7)))
    column.add_line(dim_label(tr("Brings")), tray.choice(tr("File it brings"), files, letter.file,
                                                     lambda f: take(file=f)), how, days)


def _route_columns(tray: SettingsTray, form: Form, route_id: Id = "", key: str = "",
                   ) -> Sequence[QWidget]:
    route = next((one for one in form.routes if one.id == route_id), None)
    if route is None:
        return _form_columns(tray, form)
    service = tray.session.site.service(route.service)

    def take(changed: Route) -> None:
        tray.edit(tr("thread"), set_route, changed)

    made = TrayColumn(service.name if service else tr("A service that is gone"))
    if isinstance(route, NoticeRoute):
        made.add_line(dim_label(tr("Notice to")), tray.words(
            tr("Who gets the notice"), route.to,
            lambda w: take(msgspec.structs.replace(route, to=w.strip()))))
    else:
        facts = tray.reader.facts(service)
        targets = dict(facts.targets) if facts else {}
        if targets or route.target:
            targets.setdefault(route.target, route.target_name)
            made.add_line(dim_label(tr("List")), tray.choice(
                tr("List"), targets, route.target, lambda t: take(msgspec.structs.replace(
                    route, target=t, target_name=targets.get(t, str(t))))))
        made.add_wide(label(facts.words if facts else tr("is being asked"), "fault" if
                            facts and facts.fault else "small", wrap=True))
    if service is not None:
        made.add_wide(button(tr("Ask it again"), lambda: tray.reader.ask(service)))
    made.add_wide(button(tr("Cut the thread"),
                         lambda: tray.edit(tr("cut thread"), drop_route, route_id)))
    columns: list[QWidget] = [made]
    if isinstance(route, FieldRoute):
        columns.append(_fills(tray, form, route, key))
    return columns


def _fills(tray: SettingsTray, form: Form, route: FieldRoute, key: str) -> QWidget:
    """Return what fills the chosen field of a service, and how one is added where any name goes."""
    made = TrayColumn(tr("Field {key}", key=key) if key else tr("Fields"))
    sources = {"": "nothing"} | {field.id: field.label for field in form.fields}
    if key:
        made.add_line(dim_label(tr("Filled by")), tray.choice(
            tr("What fills {key}", key=key), sources, route.fields.get(key, ""),
            lambda source: tray.edit(tr("thread"), wire, route.id, key, source)))
    service = tray.session.site.service(route.service)
    if tray.reader.wanted(service, route.target) is None:
        def add(words: str) -> None:
            name = "_".join(words.split())
            free = next((f.id for f in form.fields if f.id not in route.fields.values()),
                        form.fields[0].id)
            if name:
                tray.edit(tr("thread"), wire, route.id, name, free)

        made.add_line(dim_label(tr("New field")), tray.words(
            tr("Name of a new field"), "", add, tr("a name, then Enter")))
    return made


_COLUMNS: dict[str, Callable[..., Sequence[QWidget]]] = {
    "field": _field_columns, "step": _step_columns, "form": _form_columns,
    "sent": _form_columns, "after": _after_columns, "letter": _letter_columns,
    "route": _route_columns, "wire": _route_columns}
