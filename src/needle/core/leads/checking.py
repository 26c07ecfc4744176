"""Checking what a visitor sent."""

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta

import phonenumbers

from needle.core.leads.attachments import SentFile, file_problem
from needle.core.messages.message import Message, say
from needle.core.values.form import Form, FormField, Role
from needle.core.values.ids import Id
from needle.core.values.language import ENGLISH, Language

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


def check_answers(form: Form, sent: Mapping[str, str],
                  many: Mapping[str, Sequence[str]] | None = None,
                  files: Mapping[str, SentFile] | None = None,
                  today: date | None = None, language: Language = ENGLISH) -> Checked:
    """Check every field of `form` against what was sent; what it does not ask is dropped.

    Args:
        many: All answers to fields that take several.
        files: What was sent along, by field.
        today: The visitor's day may be one earlier or later than it.
        language: That of the site, in which problems are worded.
    """
    answers: dict[Id, str] = {}
    problems: dict[Id, str] = {}
    day = today or datetime.now(UTC).date()
    for field in form.fields:
        answer = _clean(_raw(field, sent, many or {}, files or {}), field)
        problem = _problem(field, answer, sent, day)
        if not problem and field.role is Role.FILE and (file := (files or {}).get(field.id)):
            problem = file_problem(field, file)
        if problem:
            problems[field.id] = field.message or problem.in_language(language)
        elif answer:
            answers[field.id] = _kept(field, answer, sent)
    left_out = form.skipped(answers)
    gone = {field.id for field in form.fields
            if field.role is not Role.HIDDEN and form.step_of(field) in left_out}
    return Checked({k: v for k, v in answers.items() if k not in gone},
                   {k: v for k, v in problems.items() if k not in gone})


def _raw(field: FormField, sent: Mapping[str, str], many: Mapping[str, Sequence[str]],
         files: Mapping[str, SentFile]) -> str:
    if field.role is Role.CHOICES:
        return ", ".join(many.get(field.id, [sent[field.id]] if sent.get(field.id) else []))
    if field.role is Role.FILE:
        return files[field.id].name if field.id in files else ""
    return sent.get(field.id, "")


def _clean(answer: str, field: FormField) -> str:
    kept = "".join(sign for sign in answer.replace("\r\n", "\n")
                   if sign.isprintable() or (sign == "\n" and field.role is Role.LONG))
    # Nothing that the visitor did not type stops a lead: an address is cut to length.
    return kept.strip()[: field.longest] if field.role is Role.HIDDEN else kept.strip()


def _problem(field: FormField, answer: str, sent: Mapping[str, str], today: date,
             ) -> Message | None:
    if not answer:
        return say("field-needed", label=field.label) if field.required else None
    if len(answer) > field.longest:
        return say("field-long", label=field.label, most=field.longest, count=len(answer))
    check = _CHECKS.get(field.role)
    if field.role is Role.PHONE:
        return None if _phone(field, answer, sent) else say("field-phone", label=field.label)
    if field.role is Role.DATE:
        return _date_problem(field, answer, today)
    return check(field, answer) if check else None


def _email_problem(field: FormField, answer: str) -> Message | None:
    from email_validator import EmailNotValidError, validate_email  # Heavy, needed only here.

    try:
        validate_email(answer, check_deliverability=False, test_environment=True)
    except EmailNotValidError:
        return say("field-email", label=field.label)
    return None


def _choice_problem(field: FormField, answer: str) -> Message | None:
    if field.role is Role.CHOICE:
        fine = answer in field.choices
    else:
        rest = answer
        # A choice may hold a comma itself, so what is known is taken off the front.
        while rest:
            known = max((c for c in field.choices if rest == c or rest.startswith(f"{c}, ")),
                        key=len, default="")
            if not known:
                break
            rest = rest[len(known) + 2:]
        fine = not rest
    return None if fine else say("field-one-of", label=field.label,
                                 choices=", ".join(field.choices))


def _number_problem(field: FormField, answer: str) -> Message | None:
    try:
        value = float(answer.replace(",", "."))
    except ValueError:
        return say("field-number", label=field.label)
    if field.least is not None and not value >= field.least:
        return say("field-least", label=field.label, least=field.least)
    if field.most is not None and not value <= field.most:
        return say("field-most", label=field.label, most=field.most)
    return None if abs(value) < 1e15 else say("field-number", label=field.label)


def _date_problem(field: FormField, answer: str, today: date) -> Message | None:
    try:
        day = date.fromisoformat(answer)
    except ValueError:
        return say("field-date", label=field.label, example=today.isoformat())
    if field.not_past and day < today - timedelta(days=1):
        return say("field-past", label=field.label)
    return None


def _phone(field: FormField, answer: str, sent: Mapping[str, str]) -> str:
    """Return the number as it is dialled from anywhere, or nothing if it is none."""
    said = sent.get(f"{field.id}.country", "")
    region = said if said in field.choices else field.choices[0] if field.choices else None
    try:
        number = phonenumbers.parse(answer, region)
    except phonenumbers.NumberParseException:
        # Without a country to read it by, any number of a likely length is kept as it was typed.
        digits = sum(sign.isdigit() for sign in answer)
        plain = all(sign.isdigit() or sign in " ()/.+-" for sign in answer)
        return answer if region is None and plain and 5 <= digits <= 15 else ""
    if not phonenumbers.is_possible_number(number):
        return ""
    return phonenumbers.format_number(number, phonenumbers.PhoneNumberFormat.INTERNATIONAL)


def _kept(field: FormField, answer: str, sent: Mapping[str, str]) -> str:
    return _phone(field, answer, sent) if field.role is Role.PHONE else answer


_CHECKS: Mapping[Role, Callable[[FormField, str], Message | None]] = {
    Role.EMAIL: _email_problem, Role.CHOICE: _choice_problem, Role.CHOICES: _choice_problem,
    Role.NUMBER: _number_problem}
