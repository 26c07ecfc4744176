"""A form of the site, shown on a page."""

from markupsafe import Markup

from needle.core.render.context import Context
from needle.core.render.markup import join, tag
from needle.core.site.form import Form, FormField, Role
from needle.core.site.ids import Id
from needle.core.site.kind import TYPE_TRAITS, Field, Kind
from needle.core.site.node import Item

__all__ = ["KIND", "LEAD_PATH", "TRAP_FIELD", "FormBox"]

LEAD_PATH = "_needle/lead"
# A name that a robot likes to fill and a browser does not fill by itself.
TRAP_FIELD = "website_url"

_INPUT_TYPES = {Role.EMAIL: "email", Role.PHONE: "tel"}
_AUTOFILL = {Role.NAME: "name", Role.EMAIL: "email", Role.PHONE: "tel"}


class FormBox(Item, frozen=True, tag="form"):
    """The place of a form on a page.

    Attributes:
        form: Which form of the site; empty while none is chosen.
        style: The text style of its labels.
    """

    form: Id = ""
    style: str = "body"


def _new(node_id: Id) -> FormBox:
    return FormBox(id=node_id)


def _render(node: FormBox, context: Context) -> Markup:
    form = context.form(node.form)
    if form is None:
        empty = "No form chosen yet" if context.mode == "edit" else ""
        return tag("div", context.attributes(node, f"form t-{node.style}"), empty)
    attributes = context.attributes(node, f"form t-{node.style}") | {
        "method": "post", "action": f"{context.root}{LEAD_PATH}/{form.id}",
        "accept-charset": "utf-8", "data-form": form.id,
    }
    asked = (_field(node, field) for field in form.fields if field.role is not Role.HIDDEN)
    return tag("form", attributes, _kept(form, context), join(asked), _trap(node),
               tag("p", {"class": "form-word", "role": "status", "hidden": True}),
               tag("button", {"class": "button b-main t-button", "type": "submit"}, form.submit))


def _kept(form: Form, context: Context) -> Markup:
    """What is sent along without being asked."""
    values = {"_page": context.page.id, "_variant": context.variant.key}
    fixed = [tag("input", {"type": "hidden", "name": k, "value": v}) for k, v in values.items()]
    hidden = [tag("input", {"type": "hidden", "name": field.id, "data-from": field.source})
              for field in form.fields if field.role is Role.HIDDEN]
    return join([*fixed, *hidden])


def _trap(node: FormBox) -> Markup:
    mark = f"{node.id}-{TRAP_FIELD}"
    return tag("div", {"class": "form-trap", "aria-hidden": "true"},
               tag("label", {"for": mark}, "Leave this empty"),
               tag("input", {"id": mark, "name": TRAP_FIELD, "tabindex": "-1",
                             "autocomplete": "off"}))


def _field(node: FormBox, field: FormField) -> Markup:
    mark = f"{node.id}-{field.id}"
    common: dict[str, str | int | bool | None] = {
        "id": mark, "name": field.id, "required": field.required}
    if field.role is Role.CONSENT:
        box = tag("input", common | {"type": "checkbox", "value": "yes"})
        return tag("div", {"class": "form-tick"}, box, tag("label", {"for": mark}, field.label))
    label = tag("label", {"for": mark}, field.label,
                "" if field.required else tag("span", {"class": "form-free"}, " (if you like)"))
    return tag("div", {"class": "form-field"}, label, _control(field, common))


def _control(field: FormField, common: dict[str, str | int | bool | None]) -> Markup:
    if field.role is Role.CHOICE:
        first = tag("option", {"value": ""}, "Choose…")
        return tag("select", common, first, join(tag("option", {}, c) for c in field.choices))
    if field.role is Role.LONG:
        return tag("textarea", common | {"rows": 4, "maxlength": field.longest})
    return tag("input", common | {
        "type": _INPUT_TYPES.get(field.role, "text"), "maxlength": field.longest,
        "autocomplete": _AUTOFILL.get(field.role)})


def _summary(node: FormBox, context: Context) -> str:
    form = context.form(node.form)
    if form is None:
        return "no form chosen"
    count = sum(field.role is not Role.HIDDEN for field in form.fields)
    return f"{form.name} · {count} field{'' if count == 1 else 's'}"


KIND = Kind(
    type=FormBox, label="Form", mark="form", traits=TYPE_TRAITS, new=_new, render=_render,
    cuts=frozenset({("body", 600)}),
    fields=(Field(name="form", label="Form", editor="form", required=True),),
    summary=_summary, runtime="form",
    needs=frozenset({"button"}),
    css=(".form{display:grid;gap:14px;width:100%}.form-field{display:grid;gap:5px}"
         ".form label{font-size:.9em;font-weight:600}.form-free{font-weight:400;opacity:.75}"
         ".form input:not([type=checkbox]),.form select,.form textarea{width:100%;"
         "box-sizing:border-box;padding:12px;font:inherit;color:#14161c;background:#fff;"
         "border:1px solid #767b87;border-radius:5px;min-height:48px}"
         ".form-tick{display:grid;grid-template-columns:auto 1fr;gap:10px;align-items:start}"
         ".form-tick input{width:24px;height:24px;margin:0}.form-tick label{font-weight:400}"
         ".form-trap{position:absolute;left:-9999px;width:1px;height:1px;overflow:hidden}"
         ".form-word{padding:10px 12px;border-left:3px solid var(--c-accent);background:#fff;"
         "color:#14161c;margin:0}"
         ".form .button{width:100%;font-size:inherit;cursor:pointer}"
         ".form :user-invalid{outline:2px solid #b3261e}"),
)
