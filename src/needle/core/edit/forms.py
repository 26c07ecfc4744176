"""Edits of forms and of where their leads go."""

from collections.abc import Callable

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.site import Service, Site
from needle.core.values.form import (
    FieldRoute,
    Form,
    FormField,
    NoticeRoute,
    Only,
    Role,
    Route,
    Step,
)
from needle.core.values.ids import Id, new_id

__all__ = ["add_field", "add_form", "add_step", "change_form", "copy_form", "delete_field",
           "delete_form", "delete_step", "drop_route", "move_field", "move_step", "notice_address",
           "set_field_of", "set_route", "set_step", "wire"]

_FIRST_CHOICES = {Role.CHOICE: ("One", "Two"), Role.CHOICES: ("One", "Two"),
                  Role.FILE: ("pdf", "png", "jpg")}
_LABELS = {Role.NAME: "Your name", Role.GIVEN: "First name", Role.FAMILY: "Family name",
           Role.EMAIL: "Your e-mail", Role.PHONE: "Phone", Role.COMPANY: "Company",
           Role.CHOICE: "Which one?", Role.CHOICES: "Which of these?", Role.NUMBER: "How many?",
           Role.DATE: "Which day?", Role.LINE: "In a few words", Role.LONG: "Your message",
           Role.FILE: "Send a file along", Role.CONSENT: "I agree to be written to.",
           Role.HIDDEN: "Where they came from"}


def add_form(site: Site, name: str) -> tuple[Site, Id]:
    """Return the site with a fresh form that asks for an e-mail address, and its id."""
    email = FormField(id=new_id(), role=Role.EMAIL, label="Your e-mail", required=True)
    form = Form(id=new_id(), name=_free_name(site, name), fields=(email,))
    return msgspec.structs.replace(site, forms=(*site.forms, form)), form.id


def _free_name(site: Site, wish: str) -> str:
    name, number = wish, 2
    while any(form.name == name for form in site.forms):
        name, number = f"{wish} {number}", number + 1
    return name


def change_form(site: Site, form_id: Id, how: Callable[[Form], Form]) -> Site:
    """Return the site with one form changed."""
    if site.form(form_id) is None:
        raise EditError("form-gone")
    forms = tuple(how(form) if form.id == form_id else form for form in site.forms)
    return site if forms == site.forms else msgspec.structs.replace(site, forms=forms)


def delete_form(site: Site, form_id: Id) -> Site:
    """Return the site without a form.

    Raises:
        EditError: A page still shows it.
    """
    for page in site.pages:
        for variant in page.variants:
            if any(getattr(node, "form", "") == form_id for node in variant.nodes()):
                raise EditError("form-shown", page=page.name)
    forms = tuple(form for form in site.forms if form.id != form_id)
    return msgspec.structs.replace(site, forms=forms)


def copy_form(site: Site, form_id: Id) -> tuple[Site, Id]:
    """Return the site with a copy of a form, every id fresh, and the copy's id."""
    form = site.form(form_id)
    if form is None:
        raise EditError("form-gone")
    known = [*(field.id for field in form.fields), *(step.id for step in form.steps)]
    ids = {old: new_id() for old in known}
    fields = tuple(msgspec.structs.replace(f, id=ids[f.id], step=ids.get(f.step, ""))
                   for f in form.fields)
    steps = tuple(msgspec.structs.replace(s, id=ids[s.id], only=s.only and Only(
        ids.get(s.only.field, ""), s.only.answers)) for s in form.steps)
    routes = tuple(msgspec.structs.replace(r, id=new_id(), **(
        {"fields": {key: ids[f] for key, f in r.fields.items() if f in ids}}
        if isinstance(r, FieldRoute) else {})) for r in form.routes)
    copy = msgspec.structs.replace(form, id=new_id(), name=_free_name(site, f"{form.name} copy"),
                                   fields=fields, steps=steps, routes=routes)
    return msgspec.structs.replace(site, forms=(*site.forms, copy)), copy.id


def add_field(site: Site, form_id: Id, role: Role, label: str = "", step: Id = "") -> Site:
    """Return the site with one more field at the end of a form, or of one of its steps."""
    field = FormField(id=new_id(), role=role, label=label or _LABELS[role],
                      choices=_FIRST_CHOICES.get(role, ()), step=step,
                      required=role in (Role.EMAIL, Role.CONSENT),
                      source="utm_source" if role is Role.HIDDEN else "")
    return change_form(site, form_id, lambda form: msgspec.structs.replace(
        form, fields=(*form.fields, field)))


def set_field_of(site: Site, form_id: Id, field_id: Id, **changes: object) -> Site:
    """Return the site with a field changed. Its id stays, so every mapping holds.

    Raises:
        EditError: It would take the e-mail address from a list that needs it.
    """
    form = site.form(form_id)
    field = form.field(field_id) if form else None
    if form and field and field.role is Role.EMAIL and (
            changes.get("role", Role.EMAIL) is not Role.EMAIL
            or changes.get("required", True) is False):
        _check_email_is_free(form, field)
    if "role" in changes and field:
        role = Role(str(changes["role"]))
        changes = {"choices": _FIRST_CHOICES.get(role, ()) if role in _FIRST_CHOICES
                   and field.role not in (Role.CHOICE, Role.CHOICES) else field.choices
                   if role in _FIRST_CHOICES else (),
                   "source": "utm_source" if role is Role.HIDDEN else ""} | changes

    def how(form: Form) -> Form:
        return msgspec.structs.replace(form, fields=tuple(
            msgspec.structs.replace(field, **changes) if field.id == field_id else field
            for field in form.fields))

    return change_form(site, form_id, how)


def _check_email_is_free(form: Form, field: FormField) -> None:
    for route in form.routes:
        if isinstance(route, FieldRoute) and field.id in [
                source for key, source in route.fields.items() if key == "EMAIL"]:
            raise EditError("field-email-needed")


def delete_field(site: Site, form_id: Id, field_id: Id) -> Site:
    """Return the site with a form that no longer asks one thing.

    Raises:
        EditError: It is the e-mail address that a list needs, or the last field.
    """
    form = site.form(form_id)
    field = form.field(field_id) if form else None
    if form is None or field is None:
        return site
    if field.role is Role.EMAIL:
        _check_email_is_free(form, field)
    if len(form.fields) == 1:
        raise EditError("form-needs-field")
    return change_form(site, form_id, lambda old: msgspec.structs.replace(
        old, fields=tuple(f for f in old.fields if f.id != field_id),
        steps=tuple(msgspec.structs.replace(s, only=None)
                    if s.only and s.only.field == field_id else s for s in old.steps),
        routes=tuple(_without(route, field_id) for route in old.routes)))


def _without(route: Route, field_id: Id) -> Route:
    if not isinstance(route, FieldRoute):
        return route
    return msgspec.structs.replace(
        route, fields={k: v for k, v in route.fields.items() if v != field_id})


def move_field(site: Site, form_id: Id, field_id: Id, steps: int) -> Site:
    """Return the site with a field moved up (negative) or down, from step to step at the ends."""

    def how(form: Form) -> Form:
        field = form.field(field_id)
        if field is None:
            return form
        hidden = field.role is Role.HIDDEN
        here = form.step_of(field)
        mates = [f for f in form.fields if f.role is Role.HIDDEN] if hidden else list(
            form.asked_in(here))
        goal = mates.index(field) + steps
        order = list(form.fields)
        if 0 <= goal < len(mates):
            one, other = order.index(field), order.index(mates[goal])
            order[one], order[other] = order[other], order[one]
        elif not hidden and form.steps:
            names = [step.id for step in form.steps]
            to = names.index(here) + (1 if steps > 0 else -1)
            if not 0 <= to < len(names):
                return form
            order.remove(field)
            order.insert(0 if steps > 0 else len(order),
                         msgspec.structs.replace(field, step=names[to]))
        return msgspec.structs.replace(form, fields=_by_step(form, order))

    return change_form(site, form_id, how)


def _by_step(form: Form, fields: list[FormField]) -> tuple[FormField, ...]:
    """Return fields in the order of their steps, kept in order within each."""
    names = [step.id for step in form.steps]
    if not names:
        return tuple(fields)
    return tuple(sorted(fields, key=lambda field: names.index(form.step_of(field))))


def add_step(site: Site, form_id: Id, name: str = "") -> Site:
    """Return the site with one more step; the first time, all fields are in the first of two."""

    def how(form: Form) -> Form:
        fresh = [Step(new_id(), name or f"Step {len(form.steps) + 1}")]
        if not form.steps:
            fresh = [Step(new_id(), "First"), Step(new_id(), name or "Then")]
        return msgspec.structs.replace(form, steps=(*form.steps, *fresh))

    return change_form(site, form_id, how)


def set_step(site: Site, form_id: Id, step_id: Id, **changes: object) -> Site:
    """Return the site with a step changed.

    Raises:
        EditError: It would depend on something that is asked in it, or later.
    """
    form = site.form(form_id)
    only = changes.get("only")
    if form is not None and isinstance(only, Only):
        names = [step.id for step in form.steps]
        field = form.field(only.field)
        if field is None or field.role is Role.HIDDEN or (
                names.index(form.step_of(field)) >= names.index(step_id)):
            raise EditError("step-depends-earlier")
    return change_form(site, form_id, lambda old: msgspec.structs.replace(
        old, steps=tuple(msgspec.structs.replace(step, **changes) if step.id == step_id else step
                         for step in old.steps)))


def delete_step(site: Site, form_id: Id, step_id: Id) -> Site:
    """Return the site without a step; its fields go to the one before."""

    def how(form: Form) -> Form:
        names = [step.id for step in form.steps]
        at = names.index(step_id)
        rest = tuple(step for step in form.steps if step.id != step_id)
        goal = "" if len(rest) < 2 else rest[max(0, at - 1)].id
        fields = [msgspec.structs.replace(field, step=goal if form.step_of(field) == step_id
                                          or len(rest) < 2 else form.step_of(field))
                  for field in form.fields]
        kept = msgspec.structs.replace(form, steps=rest if len(rest) > 1 else ())
        return msgspec.structs.replace(kept, fields=_by_step(kept, fields))

    return change_form(site, form_id, how)


def move_step(site: Site, form_id: Id, step_id: Id, by: int) -> Site:
    """Return the site with a step moved earlier (negative) or later.

    Raises:
        EditError: A step would come before the answer that it depends on.
    """

    def how(form: Form) -> Form:
        order = list(form.steps)
        at = next(i for i, step in enumerate(order) if step.id == step_id)
        order.insert(max(0, at + by), order.pop(at))
        moved = msgspec.structs.replace(
            form, steps=tuple(order),
            fields=tuple(msgspec.structs.replace(f, step=form.step_of(f)) for f in form.fields))
        names = [step.id for step in order]
        for step in order:
            asked = moved.field(step.only.field) if step.only else None
            if asked and names.index(moved.step_of(asked)) >= names.index(step.id):
                raise EditError("step-depends-later", step=step.name)
        return msgspec.structs.replace(moved, fields=_by_step(moved, list(moved.fields)))

    return change_form(site, form_id, how)


def wire(site: Site, form_id: Id, route_id: Id, key: str, field_id: Id) -> Site:
    """Return the site with a field of a service filled by a field of the form, or by none.

    Args:
        field_id: Empty to cut the thread.
    """

    def how(form: Form) -> Form:
        return msgspec.structs.replace(form, routes=tuple(
            msgspec.structs.replace(route, fields={
                **{k: v for k, v in route.fields.items() if k != key},
                **({key: field_id} if field_id else {})})
            if route.id == route_id and isinstance(route, FieldRoute) else route
            for route in form.routes))

    return change_form(site, form_id, how)


def set_route(site: Site, form_id: Id, route: Route) -> Site:
    """Return the site with a route added to a form, or changed if it has its id already."""

    def how(form: Form) -> Form:
        known = any(old.id == route.id for old in form.routes)
        routes = tuple(route if old.id == route.id else old for old in form.routes)
        return msgspec.structs.replace(form, routes=routes if known else (*routes, route))

    return change_form(site, form_id, how)


def notice_address(site: Site, service: Service) -> str:
    """Return where notices go already; a stand-in's own desk for practice; else nothing yet."""
    known = [route.to for form in site.forms for route in form.routes
             if isinstance(route, NoticeRoute) and route.service == service.id and route.to]
    return known[0] if known else "desk@practice.example" if service.practice else ""


def drop_route(site: Site, form_id: Id, route_id: Id) -> Site:
    """Return the site with one thread of a form cut."""
    return change_form(site, form_id, lambda form: msgspec.structs.replace(
        form, routes=tuple(route for route in form.routes if route.id != route_id)))
