"""What a thread between a form and a service should join, and what is wrong with it."""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from needle.core.values.form import FieldRoute, Form, FormField, Role

__all__ = ["Wanted", "proposed_fields", "route_faults"]

# What each role fills, by the words that services commonly name their fields with.
_NAMES: Mapping[Role, str] = {
    Role.EMAIL: r"e?-?mail", Role.NAME: r"full.?name|fn$|^name$|your.?name",
    Role.GIVEN: r"first|given|fname", Role.FAMILY: r"last|family|surname|lname",
    Role.PHONE: r"phone|tel|mobile", Role.COMPANY: r"compan|org|firm",
    Role.LONG: r"note|message|comment|text", Role.DATE: r"date|day|when",
    Role.NUMBER: r"count|number|size|seats|how.?many"}
_KINDS: Mapping[Role, str] = {Role.EMAIL: "email", Role.PHONE: "phone", Role.NUMBER: "number",
                              Role.DATE: "date"}


@dataclass(frozen=True, slots=True)
class Wanted:
    """A field that a service has.

    Attributes:
        kind: "email", "text", "phone", "number", "date" or "choice".
        choices: What a choice takes; empty for anything.
    """

    key: str
    kind: str = "text"
    required: bool = False
    choices: Sequence[str] = ()


def proposed_fields(form: Form, wanted: Sequence[Wanted]) -> dict[str, str]:
    """Return a sensible mapping of a service's fields to a form's, by role, name and likeness."""
    found: dict[str, str] = {}
    free = list(form.fields)
    for test in (_by_role, _by_choices, _by_source, _by_label):
        for want in wanted:
            if want.key in found:
                continue
            match = next((field for field in free if test(want, field)), None)
            if match is not None:
                found[want.key] = match.id
                free.remove(match)
    return {want.key: found[want.key] for want in wanted if want.key in found}


def _by_role(want: Wanted, field: FormField) -> bool:
    if field.role is Role.EMAIL and want.kind == "email":
        return True
    pattern = _NAMES.get(field.role)
    return bool(pattern and want.kind in ("text", _KINDS.get(field.role, "text"))
                and re.search(pattern, want.key, re.IGNORECASE))


def _by_choices(want: Wanted, field: FormField) -> bool:
    return bool(want.kind == "choice" and field.choices
                and field.role in (Role.CHOICE, Role.CHOICES)
                and set(want.choices) & set(field.choices))


def _by_source(want: Wanted, field: FormField) -> bool:
    if field.role is not Role.HIDDEN:
        return False
    key, source = _plain(want.key), _plain(field.source)
    return key == source or key == source.removeprefix("utm") or (
        key == "source" and source == "utmsource")


def _by_label(want: Wanted, field: FormField) -> bool:
    return (_plain(want.key) == _plain(field.label)
            and (want.kind == "text" or _KINDS.get(field.role) == want.kind))


def _plain(words: str) -> str:
    return re.sub(r"[^a-z0-9]", "", words.casefold())


def route_faults(form: Form, route: FieldRoute, wanted: Sequence[Wanted] | None,
                 ) -> Mapping[str, str]:
    """Return what is wrong with each field of a service, in words, by its key.

    Args:
        wanted: The service's fields; `None` if any name is taken or they are not known.
    """
    faults = {}
    known = {want.key for want in wanted} if wanted is not None else set()
    for key, source in route.fields.items():
        field = form.field(source)
        if field is None:
            faults[key] = "the field that filled it is gone"
        elif wanted is not None and key not in known:
            faults[key] = "the service no longer has this field"
    for want in wanted or ():
        field = form.field(route.fields.get(want.key, ""))
        if field is None:
            if want.required:
                faults.setdefault(want.key, "required: draw a thread to it")
        elif want.required and not field.required:
            faults[want.key] = f"required, but “{field.label}” may be left empty"
        elif mismatch := _mismatch(want, field):
            faults[want.key] = mismatch
    return faults


def _mismatch(want: Wanted, field: FormField) -> str:
    if want.kind == "email" and field.role is not Role.EMAIL:
        return "takes an e-mail address"
    if want.kind in ("number", "date", "phone") and _KINDS.get(field.role) != want.kind and (
            field.role is not Role.HIDDEN):
        return f"takes a {want.kind}"
    if want.kind == "choice" and want.choices and field.choices:
        strange = [choice for choice in field.choices if choice not in want.choices]
        if strange:
            return f"does not know “{strange[0]}”"
    if want.kind == "choice" and want.choices and field.role in (Role.LINE, Role.LONG):
        return f"takes one of {', '.join(want.choices)}"
    return ""
