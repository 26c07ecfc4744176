"""A form of the site, shown on a page."""

import json
from collections.abc import Sequence
from typing import Annotated

import msgspec
from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, Wishes
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.areas import Area
from needle.core.values.counting import counted
from needle.core.values.form import ROW, Form, FormField, Role, Step
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey, one_of

__all__ = ["KIND", "LEAD_PATH", "TRAP_FIELD", "FormBox"]

LEAD_PATH = "_needle/lead"
# A name that a robot likes to fill and a browser does not fill by itself.
TRAP_FIELD = "website_url"

_Common = dict[str, str | int | bool | None]

_INPUT_TYPES = {Role.EMAIL: "email", Role.PHONE: "tel", Role.NUMBER: "text", Role.DATE: "date"}
# Names of the HTML standard's autofill detail tokens.
_AUTOFILL = {Role.NAME: "name", Role.GIVEN: "given-name", Role.FAMILY: "family-name",
             Role.EMAIL: "email", Role.PHONE: "tel", Role.COMPANY: "organization"}


class FormBox(Item, frozen=True, tag="form"):
    """The place of a form on a page.

    Attributes:
        form: Which form of the site; empty while none is chosen.
        style: The text style of its labels.
        layout: "stacked", or "beside": short fields stand two side by side where there is room.
    """

    form: Id = ""
    style: StyleKey = "body"
    layout: Annotated[str, one_of("stacked", "beside")] = "stacked"


def _new(node_id: Id) -> FormBox:
    return FormBox(id=node_id)


def _suit(node: FormBox, wishes: Wishes) -> FormBox:
    return msgspec.structs.replace(node, form=wishes.form) if wishes.form else node


def _render(node: FormBox, context: Surroundings) -> Markup:
    form = context.form(node.form)
    if form is None:
        empty = "No form chosen yet" if context.mode == "edit" else ""
        return tag("div", context.attributes(node, f"form t-{node.style}"), empty)
    beside = " form-beside" if node.layout == "beside" else ""
    sends_files = any(field.role is Role.FILE for field in form.fields)
    attributes = context.attributes(node, f"form t-{node.style}{beside}") | {
        "method": "post", "action": f"{context.root}{LEAD_PATH}/{form.id}",
        "accept-charset": "utf-8", "data-form": form.id,
        "enctype": "multipart/form-data" if sends_files else None,
        "data-unfinished": form.keep_unfinished,
        "data-words": json.dumps(_said(form, context)),
        "data-step-words": context.words("form-step", step="{step}", steps="{steps}")
        if form.steps else None,
    }
    return tag("form", attributes, _kept(form, context), _progress(form),
               _asked(node, form, context), _trap(node, context),
               tag("p", {"class": "form-word", "role": "status", "hidden": True}),
               tag("div", {"class": "form-end"},
                   tag("button", {"class": "form-back t-button", "type": "button", "hidden": True},
                       context.words("form-back")) if form.steps else "",
                   tag("button", {"class": "button b-main t-button", "type": "submit"},
                       form.submit)))


def _said(form: Form, context: Surroundings) -> dict[str, str]:
    """Return what the page's script may say beside fields and below the form."""
    wanted = {"needed": "here", "unreached": "form"} | (
        {"next": "form"} if form.steps else {}) | (
        {"proof": "form"} if form.challenge else {}) | (
        {"email": "here"} if form.with_role(Role.EMAIL) else {})
    return {name: context.words(f"{where}-{name}") for name, where in wanted.items()}


def _kept(form: Form, context: Surroundings) -> Markup:
    """What is sent along without being asked."""
    values = {"_page": context.page_id, "_variant": context.variant_key}
    fixed = [tag("input", {"type": "hidden", "name": k, "value": v}) for k, v in values.items()]
    hidden = [_filled(field, context) for field in form.fields if field.role is Role.HIDDEN]
    return join([*fixed, *hidden])


def _filled(field: FormField, context: Surroundings) -> Markup:
    """What fills itself: by the page as it is written, or by its script."""
    if field.source == ROW:
        return tag("input", {"type": "hidden", "name": field.id,
                             "value": context.row_label or field.default or None})
    return tag("input", {"type": "hidden", "name": field.id, "data-from": field.source,
                         "value": field.default or None})


def _progress(form: Form) -> Markup:
    """Words and a bar that say how far one is; the page's script fills and shows them."""
    if not form.steps:
        return Markup()
    return tag("p", {"class": "form-progress", "hidden": True}, tag("span", {}),
               tag("progress", {"max": 1, "value": 0, "aria-hidden": "true"}))


def _asked(node: FormBox, form: Form, context: Surroundings) -> Markup:
    if not form.steps:
        return join(_field(node, field, False, context) for field in form.asked_in(""))
    return tag("div", {"class": "form-steps"},
               join(_step(node, step, form.asked_in(step.id), context) for step in form.steps))


def _step(node: FormBox, step: Step, fields: Sequence[FormField], context: Surroundings,
          ) -> Markup:
    only = {} if step.only is None else {
        "data-field": step.only.field, "data-only": json.dumps(step.only.answers)}
    return tag("fieldset", {"class": "form-step", "data-step": step.id} | only,
               tag("legend", {"tabindex": "-1"}, step.name),
               join(_field(node, field, step.only is not None, context) for field in fields))


def _trap(node: FormBox, context: Surroundings) -> Markup:
    mark = f"{node.id}-{TRAP_FIELD}"
    return tag("div", {"class": "form-trap", "aria-hidden": "true"},
               tag("label", {"for": mark}, context.words("form-trap")),
               tag("input", {"id": mark, "name": TRAP_FIELD, "tabindex": "-1",
                             "autocomplete": "off"}))


def _field(node: FormBox, field: FormField, may_be_left_out: bool, context: Surroundings,
           ) -> Markup:
    """Return one field with its label, hint and room for what is wrong.

    Args:
        may_be_left_out: Without the page's script a browser must not insist on an answer, since
            the step may not be asked at all. The host insists.
    """
    mark = f"{node.id}-{field.id}"
    told = [f"{mark}-h"] if field.hint else []
    common: _Common = {
        "id": mark, "name": field.id, "required": field.required and not may_be_left_out,
        "data-required": field.required and may_be_left_out,
        "data-message": field.message or None,
        "aria-describedby": " ".join([*told, f"{mark}-f"])}
    hint = tag("small", {"class": "form-hint", "id": f"{mark}-h"}, field.hint) \
        if field.hint else ""
    fault = tag("small", {"class": "form-fault", "id": f"{mark}-f", "hidden": True})
    if field.role is Role.CONSENT:
        box = tag("input", common | {"type": "checkbox", "value": "yes"})
        return tag("div", {"class": "form-tick", "data-asked": field.id}, box,
                   tag("div", {}, tag("label", {"for": mark}, field.label), hint, fault))
    free = "" if field.required else tag("span", {"class": "form-free"},
                                             " " + context.words("form-free"))
    if field.role is Role.CHOICES or (field.role is Role.CHOICE and field.spread):
        return _spread(field, mark, common, (free, hint), fault)
    label = tag("label", {"for": mark}, field.label, free)
    short = field.role not in (Role.LONG, Role.FILE)
    return tag("div", {"class": "form-field form-short" if short else "form-field",
                       "data-asked": field.id},
               label, hint, _control(field, common, context), fault)


def _spread(field: FormField, mark: str, common: _Common, told: Sequence[str],
            fault: Markup) -> Markup:
    """Return choices that are all seen at once."""
    several = field.role is Role.CHOICES
    kind = "checkbox" if several else "radio"
    chosen = [part.strip() for part in field.default.split(",")]
    # A browser would insist on every box of a group; the page's script asks for one of them.
    insists: _Common = common | ({"required": False, "data-required": field.required}
                              if several else {})
    boxes = [tag("label", {"class": "form-choice"},
                 tag("input", insists | {"type": kind, "value": choice, "id": f"{mark}-{number}",
                                         "checked": choice in chosen}),
                 tag("span", {}, choice))
             for number, choice in enumerate(field.choices)]
    return tag("fieldset", {"class": "form-field form-group", "id": mark,
                            "data-asked": field.id},
               tag("legend", {}, field.label, told[0]), told[1], join(boxes), fault)


def _control(field: FormField, common: _Common, context: Surroundings) -> Markup:
    if field.role is Role.CHOICE:
        first = tag("option", {"value": ""}, context.words("form-choose"))
        return tag("select", common, first, join(
            tag("option", {"selected": choice == field.default}, choice)
            for choice in field.choices))
    if field.role is Role.LONG:
        return tag("textarea", common | {"rows": 4, "maxlength": field.longest}, field.default)
    if field.role is Role.FILE:
        return tag("input", common | {
            "type": "file", "accept": ",".join(f".{e.lstrip('.')}" for e in field.choices) or None})
    line = tag("input", common | {
        "type": _INPUT_TYPES.get(field.role, "text"),
        "maxlength": None if field.role is Role.DATE else field.longest,
        "inputmode": "decimal" if field.role is Role.NUMBER else None,
        "value": field.default or None, "autocomplete": _AUTOFILL.get(field.role)})
    if field.role is Role.PHONE and len(field.choices) > 1:
        countries = tag("select", {"name": f"{field.id}.country", "autocomplete": "country",
                                   "aria-label": context.words("form-country", label=field.label)},
                        join(tag("option", {"value": code}, _country(code))
                             for code in field.choices))
        return tag("div", {"class": "form-phone"}, countries, line)
    return line


def _country(code: str) -> str:
    import phonenumbers  # Its tables are large; pages without a choice of countries go without.

    dial = phonenumbers.country_code_for_region(code)
    return f"{code} +{dial}" if dial else code


def _summary(node: FormBox, context: Surroundings) -> str:
    form = context.form(node.form)
    if form is None:
        return "no form chosen"
    count = sum(field.role is not Role.HIDDEN for field in form.fields)
    steps = f" in {len(form.steps)} steps" if len(form.steps) > 1 else ""
    return f"{form.name} · {counted(count, 'field')}{steps}"


KIND = Kind(
    purpose="To act on",
    about="The fields of a form that leads somewhere (sign-up, contact)",
    type=FormBox, label="Form", mark="form", traits=TYPE_TRAITS, new=_new, render=_render,
    suit=_suit,
    reads=frozenset({Area.FORMS, Area.LANGUAGE}),
    cuts=frozenset({("body", 600)}),
    fields=(Field(name="form", label="Form", editor="form", required=True),
            Field(name="layout", label="Fields", editor="choice",
                  choices={"stacked": "one below another", "beside": "two side by side"})),
    summary=_summary, runtime="form",
    needs=frozenset({"button"}),
    css=(".form{display:grid;gap:14px;width:100%;grid-template-columns:minmax(0,1fr)}"
         ".form-field{display:grid;gap:5px;align-content:start}"
         ".form fieldset{border:0;margin:0;padding:0;min-width:0}"
         ".form-field>label,.form-group>legend{font-size:.9em;font-weight:600;padding:0}"
         ".form-free{font-weight:400;opacity:.75}"
         ".form-hint{font-size:.82em;opacity:.85}"
         ".form input:not([type=checkbox],[type=radio]),.form select,.form textarea{width:100%;"
         "box-sizing:border-box;padding:12px;font:inherit;color:#14161c;background:#fff;"
         "border:1px solid #767b87;border-radius:var(--corner-small,5px);min-height:48px}"
         ".form-phone{display:grid;grid-template-columns:minmax(96px,auto) 1fr;gap:6px}"
         ".form-choice{display:grid;grid-template-columns:auto 1fr;gap:10px;align-items:center;"
         "min-height:44px;padding:0 12px;border:1px solid #767b87;"
         "border-radius:var(--corner-small,5px);background:#fff;color:#14161c;margin-top:5px;cursor:pointer}"
         ".form-choice:has(:checked){border-color:var(--c-main);box-shadow:inset 0 0 0 1px "
         "var(--c-main)}.form-choice input{width:20px;height:20px;margin:0}"
         ".form-tick{display:grid;grid-template-columns:auto 1fr;gap:10px;align-items:start}"
         ".form-tick input{width:24px;height:24px;margin:0}"
         ".form-trap{position:absolute;left:-9999px;width:1px;height:1px;overflow:hidden}"
         ".form-word,.form-fault{padding:10px 12px;border-left:3px solid var(--c-accent);"
         "background:#fff;color:#14161c;margin:0}"
         ".form-fault{padding:6px 10px;font-size:.85em}.form [hidden]{display:none}"
         ".form-steps{display:grid;gap:14px}.form-step{display:grid;gap:14px;align-content:start}"
         ".form-step>legend{font-weight:600;padding:0;margin-bottom:8px}"
         # Stacked in one cell, so that no step is higher than another and nothing jumps.
         ".form[data-stepped] .form-step{grid-area:1/1}"
         ".form[data-stepped] .form-step[inert]{visibility:hidden}"
         ".form-progress{display:grid;gap:5px;margin:0;font-size:.85em}"
         ".form-progress progress{width:100%;height:6px;accent-color:var(--c-main)}"
         ".form-end{display:flex;gap:10px}.form-end .button{flex:1;font-size:inherit;"
         "cursor:pointer}.form-back{background:none;border:1px solid currentColor;color:inherit;"
         "border-radius:5px;padding:0 18px;min-height:48px;cursor:pointer;font:inherit}"
         "@media(min-width:600px){.form-beside:not(:has(.form-steps)),.form-beside .form-step{"
         "grid-template-columns:1fr 1fr}.form-beside>:not(.form-short),"
         ".form-beside .form-step>:not(.form-short){grid-column:1/-1}}"
         ".form :user-invalid{outline:2px solid #b3261e}"),
)
