"""Edits of forms and of where their leads go."""

from collections.abc import Callable

import msgspec

from needle.core.edit.place import EditError
from needle.core.site.form import Form, FormField, ListRoute, Role, Route
from needle.core.site.ids import Id, new_id
from needle.core.site.site import Site

__all__ = ["add_field", "add_form", "change_form", "delete_field", "delete_form", "drop_route",
           "move_field", "set_field_of", "set_route"]


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
        raise EditError("This form is no longer there.")
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
                raise EditError(f"“{page.name}” shows this form. Take it off that page first.")
    forms = tuple(form for form in site.forms if form.id != form_id)
    return msgspec.structs.replace(site, forms=forms)


def add_field(site: Site, form_id: Id, role: Role, label: str) -> Site:
    """Return the site with one more field at the end of a form."""
    field = FormField(id=new_id(), role=role, label=label,
                      choices=("One", "Two") if role is Role.CHOICE else (),
                      source="utm_source" if role is Role.HIDDEN else "")
    return change_form(site, form_id, lambda form: msgspec.structs.replace(
        form, fields=(*form.fields, field)))


def set_field_of(site: Site, form_id: Id, field_id: Id, **changes: object) -> Site:
    """Return the site with a field changed. Its id stays, so every mapping holds."""

    def how(form: Form) -> Form:
        return msgspec.structs.replace(form, fields=tuple(
            msgspec.structs.replace(field, **changes) if field.id == field_id else field
            for field in form.fields))

    return change_form(site, form_id, how)


def delete_field(site: Site, form_id: Id, field_id: Id) -> Site:
    """Return the site with a form that no longer asks one thing.

    Raises:
        EditError: It is the e-mail address that a list needs, or the last field.
    """
    form = site.form(form_id)
    field = form.field(field_id) if form else None
    if form is None or field is None:
        return site
    if field.role is Role.EMAIL and any(isinstance(r, ListRoute) for r in form.routes):
        raise EditError("The mailing list needs the e-mail address. Cut the thread to the "
                        "list first.")
    if len(form.fields) == 1:
        raise EditError("A form asks at least one thing.")
    return change_form(site, form_id, lambda old: msgspec.structs.replace(
        old, fields=tuple(f for f in old.fields if f.id != field_id),
        routes=tuple(_without(route, field_id) for route in old.routes)))


def _without(route: Route, field_id: Id) -> Route:
    if not isinstance(route, ListRoute):
        return route
    return msgspec.structs.replace(
        route, fields={k: v for k, v in route.fields.items() if k != field_id})


def move_field(site: Site, form_id: Id, field_id: Id, steps: int) -> Site:
    """Return the site with a field moved up (negative) or down among its neighbours."""

    def how(form: Form) -> Form:
        order = list(form.fields)
        at = next(i for i, field in enumerate(order) if field.id == field_id)
        field = order.pop(at)
        order.insert(max(0, at + steps), field)
        return msgspec.structs.replace(form, fields=tuple(order))

    return change_form(site, form_id, how)


def set_route(site: Site, form_id: Id, route: Route) -> Site:
    """Return the site with a route added to a form, or changed if it has its id already."""

    def how(form: Form) -> Form:
        known = any(old.id == route.id for old in form.routes)
        routes = tuple(route if old.id == route.id else old for old in form.routes)
        return msgspec.structs.replace(form, routes=routes if known else (*routes, route))

    return change_form(site, form_id, how)


def drop_route(site: Site, form_id: Id, route_id: Id) -> Site:
    """Return the site with one thread of a form cut."""
    return change_form(site, form_id, lambda form: msgspec.structs.replace(
        form, routes=tuple(route for route in form.routes if route.id != route_id)))
