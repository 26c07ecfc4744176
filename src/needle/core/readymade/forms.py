"""Forms that ready-made parts bring along, each of the kind that the part is for."""

from dataclasses import dataclass

from needle.core.edit.forms import notice_address
from needle.core.site.site import Site
from needle.core.values.form import Form, FormField, NoticeRoute, Role, ShowMessage
from needle.core.values.ids import IdSource

__all__ = ["FORM_KINDS", "FormKind", "form_of"]

_Asked = tuple[Role, str, bool]
_EMAIL: _Asked = (Role.EMAIL, "Your e-mail", True)
_NAME: _Asked = (Role.NAME, "Your name", False)


@dataclass(frozen=True, slots=True)
class FormKind:
    """What a form is for.

    Attributes:
        name: What it is called in Needle.
        submit: The words on its button.
        thanks: Said in place of the form when it was sent.
        fields: Role, label and whether it must be answered, in order.
    """

    name: str
    submit: str
    thanks: str
    fields: tuple[_Asked, ...]


FORM_KINDS: dict[str, FormKind] = {
    "waiting": FormKind("Waiting list", "Put me on the list",
                        "You are on the list. We write once, when it is ready.", (_EMAIL, _NAME)),
    "guide": FormKind("Sent by e-mail", "Send it to me",
                      "Thank you. It is on its way to your mail.", (_EMAIL,)),
    "seat": FormKind("Online session", "Keep me a seat",
                     "Your seat is kept. The way in comes by e-mail.",
                     (_EMAIL, (Role.NAME, "Your name", True))),
    "event": FormKind("Event", "Keep a place for us",
                      "Your place is kept. The details come by e-mail.",
                      ((Role.NAME, "Your name", True), _EMAIL,
                       (Role.NUMBER, "How many are you?", False))),
    "letter": FormKind("Newsletter", "Sign me up",
                       "Thank you. The next letter comes to you.", (_EMAIL, _NAME)),
    "contact": FormKind("Contact", "Send", "Thank you. Somebody answers within two working days.",
                        ((Role.NAME, "Your name", True), _EMAIL,
                         (Role.LONG, "What is it about?", True))),
}


def form_of(kind: str, site: Site, ids: IdSource) -> Form:
    """Return a fresh form; its leads go to the lead book and, if there is mail, to a notice."""
    wanted = FORM_KINDS[kind]
    fields = [FormField(id=ids(), role=role, label=label, required=required,
                        least=1 if role is Role.NUMBER else None)
              for role, label, required in wanted.fields]
    fields.append(FormField(id=ids(), role=Role.HIDDEN, label="Source", source="utm_source"))
    mail = next((service for service in site.services if service.does == "mail"), None)
    routes = (NoticeRoute(ids(), mail.id, notice_address(site, mail)),) if mail else ()
    return Form(id=ids(), name=wanted.name, fields=tuple(fields), submit=wanted.submit,
                after=ShowMessage(wanted.thanks), routes=routes)
