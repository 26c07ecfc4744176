"""The buttons that add fields, steps and threads to a form."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QMenu, QToolButton

from needle.core.edit.forms import add_field, add_step, notice_address, set_route
from needle.core.edit.threads import Wanted, proposed_fields
from needle.core.site.site import Service
from needle.core.values.form import FieldRoute, Form, NoticeRoute, Role
from needle.core.values.ids import Id, new_id
from needle.services.registry import PAYMENT_KINDS, SERVICE_KINDS
from needle.ui.connect.described import ServiceReader
from needle.ui.connect.words import ROLE_WORDS
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.theme import icon

__all__ = ["add_field_button", "add_thread", "add_thread_button"]


def _menu_button(words: str, entries: Sequence[tuple[str, Callable[[], object]]]) -> QToolButton:
    made = QToolButton()
    made.setText(words)
    made.setAccessibleName(words)
    made.setIcon(icon("plus"))
    made.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
    made.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
    menu = QMenu(made)
    for title, run in entries:
        action = menu.addAction(title)
        assert action is not None
        action.triggered.connect(lambda _=False, r=run: r())
    made.setMenu(menu)
    return made


def add_field_button(session: Session, form: Form, made: Callable[[Id], object],
                     ) -> QToolButton:
    """Return the button that adds a field of a role, or a step.

    Args:
        made: Gets the id of a field that was added.
    """

    def field(role: Role) -> None:
        last = form.steps[-1].id if form.steps else ""
        if session.edit(tr("add field"), lambda site: add_field(site, form.id, role, step=last)):
            made(session.site.form(form.id).fields[-1].id)  # type: ignore[union-attr]

    entries: list[tuple[str, Callable[[], object]]] = [
        (words.capitalize(),
         lambda r=role: field(r)) for role, words in ROLE_WORDS.items()]  # type: ignore[misc]
    entries.append((tr("A step"), lambda: session.edit(
        tr("add step"), lambda site: add_step(site, form.id))))
    return _menu_button(tr("Add a field or step"), entries)


def add_thread_button(session: Session, reader: ServiceReader, form: Form) -> QToolButton:
    """Return the button that draws a thread to one of the site's services."""
    entries: list[tuple[str, Callable[[], object]]] = [
        (f"{service.name} ({SERVICE_KINDS[service.does].label.lower()})",
         lambda s=service: add_thread(session, reader, form, s))  # type: ignore[misc]
        for service in session.site.services
        if service.does in SERVICE_KINDS and service.does not in PAYMENT_KINDS]
    return _menu_button(tr("Add a thread to…"), entries)


def add_thread(session: Session, reader: ServiceReader, form: Form, service: Service) -> None:
    """Draw a thread to a service, filling its fields as their names and roles propose."""
    if service.does == "mail":
        route = NoticeRoute(new_id(), service.id, notice_address(session.site, service))
        session.edit(tr("thread to notice"), lambda site: set_route(site, form.id, route))
        return
    kind, facts = SERVICE_KINDS[service.does], reader.facts(service)
    if kind.has_targets and (facts is None or not facts.targets):
        why = facts.words if facts else tr("it has not answered yet")
        session.said.emit(tr("The lists of {name} cannot be read: {why}.",
                             name=service.name, why=why), True)
        return
    target = next(iter(facts.targets), "") if facts else ""
    wanted = reader.wanted(service, target)
    if wanted is None and kind.free_fields:
        fields = _named_fields(form)
    else:
        fields = proposed_fields(form, wanted or [Wanted("EMAIL", "email", True)])
    fresh = FieldRoute(new_id(), service.id, target, facts.targets.get(target, "")
                       if facts else "", fields)
    session.edit(tr("thread"), lambda site: set_route(site, form.id, fresh))


def _named_fields(form: Form) -> dict[str, str]:
    """Return names for the fields, from their labels as they are now."""
    named: dict[str, str] = {}
    for field in form.fields:
        words = "".join(sign if sign.isalnum() else " " for sign in field.label.casefold())
        name = "_".join(words.split()[:3]) or field.role.value
        while name in named:
            name += "_2"
        named[name] = field.id
    return named
