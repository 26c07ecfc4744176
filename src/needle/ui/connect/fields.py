"""The form's card on the board: its fields, edited in place."""

import msgspec
from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QCheckBox,
    QHBoxLayout,
    QInputDialog,
    QMenu,
    QToolButton,
    QWidget,
)

from needle.core.edit.forms import (
    add_field,
    change_form,
    delete_field,
    move_field,
    set_field_of,
)
from needle.core.site.form import Form, FormField, Role
from needle.core.site.ids import Id
from needle.ui.cards import Card, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.session import Session
from needle.ui.theme import icon

__all__ = ["ROLE_WORDS", "FieldsCard"]

ROLE_WORDS = {Role.NAME: "name", Role.EMAIL: "e-mail", Role.PHONE: "phone",
              Role.CHOICE: "choice", Role.CONSENT: "tick box", Role.LINE: "line of text",
              Role.LONG: "long text", Role.HIDDEN: "hidden"}


class FieldsCard(Card):
    """A form: its name, each field with its role, and what happens when it is sent.

    Attributes:
        sent_line: The line from which threads start that carry the whole lead.
    """

    def __init__(self, session: Session, form: Form) -> None:
        super().__init__("")
        self._session = session
        self._form = form
        self.title.hide()
        name = WordsEdit("Name of the form", form.name)
        name.kept.connect(lambda words: self._set(name=words.strip() or form.name))
        self.head.insertWidget(0, name, 2)
        self._lines: dict[Id, QWidget] = {}
        for field in form.fields:
            line = self._field_line(field)
            self._lines[field.id] = line
            self.body.addWidget(line)
        self.body.addWidget(self._add_button())
        self.sent_line = self._sent_line()
        self.body.addWidget(self.sent_line)
        self.body.addWidget(self._robot_line())

    def line_of(self, field_id: Id) -> QWidget | None:
        """Return the line of a field."""
        return self._lines.get(field_id)

    def _set(self, **changes: object) -> None:
        self._session.edit("form", lambda site: change_form(
            site, self._form.id, lambda form: msgspec.structs.replace(form, **changes)))

    def _set_field(self, field: FormField, **changes: object) -> None:
        if any(getattr(field, name) != value for name, value in changes.items()):
            self._session.edit("field of form", lambda site: set_field_of(
                site, self._form.id, field.id, **changes))

    def _field_line(self, field: FormField) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        words = WordsEdit(f"Label of the {ROLE_WORDS[field.role]} field", field.label)
        words.kept.connect(lambda said: self._set_field(
            field, label=said.strip() or field.label))
        role = ChoiceEdit("Role", ROLE_WORDS, inherit=False)
        role.show_value(field.role)
        role.chosen.connect(lambda value: self._set_field(field, role=value))
        row.addWidget(words, 5)
        row.addWidget(role, 3)
        if field.role is Role.HIDDEN:
            source = WordsEdit("Parameter of the address that fills it", field.source)
            source.kept.connect(lambda said: self._set_field(field, source=said))
            row.addWidget(source, 3)
        else:
            needed = QCheckBox("needed")
            needed.setChecked(field.required)
            needed.clicked.connect(lambda on: self._set_field(field, required=on))
            row.addWidget(needed, 2)
        row.addWidget(self._more(field))
        return line

    def _more(self, field: FormField) -> QToolButton:
        more = QToolButton()
        more.setText("⋯")
        more.setAccessibleName(f"More for {field.label}")
        more.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(more)
        entries = [
            ("up", "Move up", lambda: self._move(field, -1)),
            ("down", "Move down", lambda: self._move(field, 1)),
            ("trash", "Delete", lambda: self._session.edit(
                "delete field", lambda site: delete_field(site, self._form.id, field.id)))]
        if field.role is Role.CHOICE:
            entries.insert(0, ("list", "Choices…", lambda: self._ask_choices(field)))
        for mark, words, run in entries:
            action = menu.addAction(icon(mark), words)
            assert action is not None
            action.triggered.connect(lambda _=False, r=run: r())
        more.setMenu(menu)
        return more

    def _move(self, field: FormField, steps: int) -> None:
        self._session.edit("order of fields",
                           lambda site: move_field(site, self._form.id, field.id, steps))

    def _ask_choices(self, field: FormField) -> None:
        words, taken = QInputDialog.getMultiLineText(self, "Choices", "One a line",
                                                     "\n".join(field.choices))
        choices = tuple(line.strip() for line in words.splitlines() if line.strip())
        if taken and choices:
            self._set_field(field, choices=choices)

    def _add_button(self) -> QToolButton:
        add = QToolButton()
        add.setText("Add a field")
        add.setIcon(icon("plus"))
        add.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        add.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(add)
        for role, words in ROLE_WORDS.items():
            action = menu.addAction(words)
            assert action is not None
            action.triggered.connect(lambda _=False, r=role, w=words: self._session.edit(
                "add field", lambda site: add_field(site, self._form.id, r, w.capitalize())))
        add.setMenu(menu)
        return add

    def _sent_line(self) -> QWidget:
        line = QWidget()
        row = QHBoxLayout(line)
        row.setContentsMargins(0, 6, 0, 0)
        row.addWidget(label("When it is sent", "title"))
        row.addStretch()
        row.addWidget(label("button says", "dim"))
        words = WordsEdit("Words on the form's button", self._form.submit)
        words.kept.connect(lambda said: self._set(submit=said.strip() or self._form.submit))
        row.addWidget(words)
        return line

    def _robot_line(self) -> QCheckBox:
        robots = QCheckBox("Robots: kept aside, not sent, not counted")
        robots.setChecked(self._form.check_robots)
        robots.clicked.connect(lambda on: self._set(check_robots=on))
        return robots
