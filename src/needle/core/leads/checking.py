"""Checking what a visitor sent."""

from collections.abc import Mapping
from dataclasses import dataclass

from email_validator import EmailNotValidError, validate_email

from needle.core.site.form import Form, FormField, Role
from needle.core.site.ids import Id

__all__ = ["Checked", "check_answers"]


@dataclass(frozen=True, slots=True)
class Checked:
    """Answers as they are kept, and what is wrong with them in words.

    Attributes:
        answers: By the field's id.
        problems: A sentence for each field that cannot be taken, by the field's id.
    """

    answers: Mapping[Id, str]
    problems: Mapping[Id, str]


def check_answers(form: Form, sent: Mapping[str, str]) -> Checked:
    """Check every field of `form` against what was sent; what it does not ask is dropped."""
    answers: dict[Id, str] = {}
    problems: dict[Id, str] = {}
    for field in form.fields:
        answer = _clean(sent.get(field.id, ""), field)
        problem = _problem(field, answer)
        if problem:
            problems[field.id] = problem
        elif answer:
            answers[field.id] = answer
    return Checked(answers, problems)


def _clean(answer: str, field: FormField) -> str:
    kept = "".join(sign for sign in answer.replace("\r\n", "\n")
                   if sign.isprintable() or (sign == "\n" and field.role is Role.LONG))
    # Nothing that the visitor did not type stops a lead: an address is cut to length.
    return kept.strip()[: field.longest] if field.role is Role.HIDDEN else kept.strip()


def _problem(field: FormField, answer: str) -> str:
    if not answer:
        return f"“{field.label}” is needed." if field.required else ""
    if len(answer) > field.longest:
        return (f"“{field.label}” takes at most {field.longest} characters; "
                f"this has {len(answer)}.")
    if field.role is Role.EMAIL:
        try:
            validate_email(answer, check_deliverability=False, test_environment=True)
        except EmailNotValidError:
            return f"“{field.label}” does not look like an e-mail address."
    if field.role is Role.CHOICE and answer not in field.choices:
        return f"“{field.label}” takes one of: {', '.join(field.choices)}."
    if field.role is Role.PHONE and sum(sign.isdigit() for sign in answer) < 5:
        return f"“{field.label}” does not look like a phone number."
    return ""
