"""A page that comes back to its visitor, with what they typed and what is wrong with it.

The page's script says that in place; this is for browsers that run none, so the form would come
back empty otherwise.
"""

import re
from collections.abc import Mapping, Sequence

from lxml import etree, html
from markupsafe import escape

from needle.core.messages.message import say
from needle.core.values.form import Form, FormField, Role
from needle.core.values.ids import Id
from needle.core.values.language import Language

__all__ = ["returned_page"]

_CONTROLS = ".//input|.//select|.//textarea"


def returned_page(page: str, form: Form, sent: Mapping[str, str],
                  many: Mapping[str, Sequence[str]], problems: Mapping[Id, str], address: str,
                  language: Language) -> str:
    """Return a live page with a form filled in as it was sent, and each fault beside its field.

    Args:
        page: The page's markup, as Needle made it.
        sent: The first value of each field.
        many: All values of each field.
        problems: What is wrong, by the field's id.
        address: Path of the page, against which its links and pictures are meant.

    Returns:
        The markup; empty if the form is not on that page.
    """
    begin = re.compile(rf'<form [^>]*data-form="{re.escape(form.id)}"')
    parts: list[str] = []
    at = 0
    while found := begin.search(page, at):
        end = page.find("</form>", found.start()) + len("</form>")
        before = page[at:found.start()]
        parts += [_opened(before), _filled(page[found.start():end], form, sent, many, problems,
                                           language, first=not parts)]
        at = end
    if not parts:
        return ""
    whole = "".join([*parts, page[at:]])
    again = say("form-again").in_language(language)
    return whole.replace("<head>", f'<head><base href="{escape(address)}">', 1).replace(
        "<title>", f"<title>{escape(again)} ", 1)


def _opened(before: str) -> str:
    """Return what stands before a form, with the popup shown that the form is in."""
    at = before.rfind("<dialog ")
    return before if at < before.rfind("</dialog>") or at < 0 else (
        f"{before[:at]}<dialog data-back {before[at + len('<dialog '):]}")


def _filled(markup: str, form: Form, sent: Mapping[str, str], many: Mapping[str, Sequence[str]],
            problems: Mapping[Id, str], language: Language, first: bool) -> str:
    root = html.fragment_fromstring(markup)
    focus = first
    for field in form.fields:
        values = many.get(field.id) or ([sent[field.id]] if field.id in sent else [])
        controls = [one for one in root.xpath(_CONTROLS) if one.get("name") == field.id]
        for one in controls:
            _fill(one, [_clean(value) for value in values])
        for country in root.xpath(".//select"):
            if country.get("name") == f"{field.id}.country":
                _fill(country, [sent.get(f"{field.id}.country", "")])
        fault = _fault(field, problems, bool(values), language)
        if fault and controls:
            _mark(root, field.id, controls, fault)
            if focus:
                controls[0].set("autofocus")
                focus = False
    for word in root.xpath(".//p[contains(@class,'form-word')]"):
        word.text = say("form-again").in_language(language)
        word.attrib.pop("hidden", None)
    return str(etree.tostring(root, encoding="unicode", method="html", with_tail=False))


def _fault(field: FormField, problems: Mapping[Id, str], sent: bool, language: Language) -> str:
    fault = problems.get(field.id, "")
    if not fault and field.role is Role.FILE and sent:
        # No page may say which file a browser sends; the visitor chooses it once more.
        return say("field-file-again", label=field.label).in_language(language)
    return fault


def _clean(value: str) -> str:
    return "".join(sign for sign in value if sign.isprintable() or sign == "\n")


def _fill(one: html.HtmlElement, values: Sequence[str]) -> None:
    value = values[0] if values else ""
    if one.tag == "textarea":
        one.text = f"\n{value}"  # HTML drops the first line break of a text area.
    elif one.tag == "select":
        for option in one.iter("option"):
            _set(option, "selected", bool(values) and option.get("value", option.text) == value)
    elif one.get("type") in ("checkbox", "radio"):
        _set(one, "checked", one.get("value") in values)
    elif one.get("type") != "file":
        one.set("value", value)


def _set(one: html.HtmlElement, name: str, holds: bool) -> None:
    if holds:
        one.set(name)
    else:
        one.attrib.pop(name, None)


def _mark(root: html.HtmlElement, field: Id, controls: Sequence[html.HtmlElement], fault: str,
          ) -> None:
    for one in controls:
        one.set("aria-invalid", "true")
    for asked in root.iter():
        if asked.get("data-asked") == field:
            for place in asked.xpath(".//small[@class='form-fault']"):
                place.text = fault
                place.attrib.pop("hidden", None)
