"""The demo's forms and services: what Quillmoor asks, and who hears of it."""

from needle.core.site.site import Service
from needle.core.values.form import (
    FieldRoute,
    Form,
    FormField,
    Letter,
    NoticeRoute,
    Only,
    Role,
    ShowMessage,
    Step,
    ThankPage,
)
from needle.core.values.ids import Id, IdSource
from needle.core.values.tracking import TrackingCode

__all__ = ["DemoForms"]

_DESK = "desk@quillmoor.example"
_TAG = '<script>(new Image).src = "https://count.practice.example/{0}";</script>'


class DemoForms:
    """Makes forms, services and tracking codes, with ids from the demo's own source."""

    def __init__(self, ids: IdSource, thanks: Id) -> None:
        self._ids = ids
        self._thanks = thanks
        self.mailbox = self._service("Barn desk mailbox", "mail")
        self.list = self._service("Night Post", "list")
        self.ledger = self._service("Booking ledger", "hook")
        self.book = self._service("Desk address book", "contacts")
        self.file = self._service("Season file", "file")
        self.services = (self.mailbox, self.list, self.ledger, self.book, self.file)

    def _service(self, name: str, does: str) -> Service:
        return Service(id=self._ids(), name=name, does=does, practice=True)

    def place(self) -> Form:
        """Return the form of the meteor night: two steps in a popup."""
        name, email, party, source, consent, first, then = (self._ids() for _ in range(7))
        return Form(
            id=self._ids(), name="Keep me a place", submit="Keep me a place",
            steps=(Step(first, "Who is coming?"), Step(then, "Where can we write?")),
            fields=(
                FormField(id=party, role=Role.CHOICE, label="How many of you?", step=first,
                          choices=("1", "2", "3–6", "more")),
                FormField(id=name, role=Role.NAME, label="Your name", required=True, step=first),
                FormField(id=email, role=Role.EMAIL, label="E-mail", required=True, step=then),
                FormField(id=consent, role=Role.CONSENT, step=then,
                          label="Tell me by e-mail if the sky is clear"),
                FormField(id=source, role=Role.HIDDEN, label="Where they came from",
                          source="utm_source")),
            after=ThankPage(self._thanks), keep_unfinished=True,
            routes=(
                FieldRoute(id=self._ids(), service=self.list.id, target="meteor-guests",
                           target_name="Meteor guests",
                           fields={"EMAIL": email, "FULL_NAME": name, "PARTY_SIZE": party}),
                NoticeRoute(id=self._ids(), service=self.mailbox.id, to=_DESK),
                FieldRoute(id=self._ids(), service=self.ledger.id,
                           fields={"guest": name, "mail": email, "seats": party})))

    def calendar(self, picture: Id) -> Form:
        """Return the form for the sky calendar, which comes by e-mail."""
        email = FormField(id=self._ids(), role=Role.EMAIL, label="E-mail", required=True)
        consent = FormField(id=self._ids(), role=Role.CONSENT, required=True,
                            label="Write to me once a season, with the calendar")
        return Form(
            id=self._ids(), name="Sky calendar", submit="Send me the calendar",
            fields=(email, consent),
            after=ShowMessage("Thank you. The calendar is on its way to your mailbox."),
            letter=Letter(self.mailbox.id, "The sky calendar",
                          "Here is the calendar. Keep it by the back door.", picture),
            routes=(FieldRoute(id=self._ids(), service=self.list.id, target="sky-calendar",
                               target_name="Sky calendar", fields={"EMAIL": email.id}),))

    def group(self) -> Form:
        """Return the form for groups: three steps, one of them for schools only, no thread yet."""
        who, when, you, kind = (self._ids() for _ in range(4))
        ids = [self._ids() for _ in range(6)]
        return Form(
            id=self._ids(), name="Group visit", submit="Ask for a date",
            steps=(Step(who, "Who is coming?"),
                   Step(when, "About the class", Only(kind, ("a school",))),
                   Step(you, "Where can we write?")),
            fields=(
                FormField(id=kind, role=Role.CHOICE, label="We are", spread=True, required=True,
                          choices=("a school", "a club", "friends"), step=who),
                FormField(id=ids[0], role=Role.NUMBER, label="How many?", least=6, most=60,
                          hint="from six to sixty", step=who),
                FormField(id=ids[1], role=Role.LINE, label="Which year?", required=True,
                          step=when),
                FormField(id=ids[2], role=Role.DATE, label="Which evening?", not_past=True,
                          step=you),
                FormField(id=ids[3], role=Role.EMAIL, label="E-mail", required=True, step=you),
                FormField(id=ids[4], role=Role.LONG, label="Anything we should know?",
                          step=you)))

    def bench(self) -> Form:
        """Return the form of the course: twelve fields, five threads."""
        made = {key: self._ids() for key in (
            "when", "level", "tools", "given", "family", "company", "mail", "phone", "day",
            "note", "agree", "source")}
        first, then, last = (self._ids() for _ in range(3))
        fields = (
            FormField(id=made["when"], role=Role.CHOICE, label="Which weekend?", step=first,
                      choices=("March", "October", "either"), spread=True),
            FormField(id=made["level"], role=Role.CHOICE, label="Have you ground a mirror?",
                      choices=("never", "once", "often"), step=first),
            FormField(id=made["tools"], role=Role.CHOICES, label="You bring", step=first,
                      choices=("a mount", "an apron", "a friend")),
            FormField(id=made["given"], role=Role.GIVEN, label="First name", required=True,
                      step=then),
            FormField(id=made["family"], role=Role.FAMILY, label="Family name", step=then),
            FormField(id=made["company"], role=Role.COMPANY, label="Club, if any", step=then),
            FormField(id=made["mail"], role=Role.EMAIL, label="E-mail", required=True, step=then),
            FormField(id=made["phone"], role=Role.PHONE, label="Phone", choices=("GB", "IE", "DE"),
                      hint="for the evening itself", step=then),
            FormField(id=made["day"], role=Role.DATE, label="Arriving on", not_past=True,
                      step=last),
            FormField(id=made["note"], role=Role.LONG, label="Anything else?", step=last),
            FormField(id=made["agree"], role=Role.CONSENT, required=True, step=last,
                      label="You may write to me about the course"),
            FormField(id=made["source"], role=Role.HIDDEN, label="Where they came from",
                      source="utm_source"))
        return Form(
            id=self._ids(), name="A place at the bench", submit="Ask for a place", fields=fields,
            steps=(Step(first, "The bench"), Step(then, "You"), Step(last, "The day")),
            after=ThankPage(self._thanks), routes=self._bench_routes(made))

    def _bench_routes(self, made: dict[str, Id]) -> tuple[FieldRoute | NoticeRoute, ...]:
        return (
            FieldRoute(id=self._ids(), service=self.list.id, target="hill-letter",
                       target_name="The hill letter",
                       fields={"EMAIL": made["mail"], "FULL_NAME": made["given"],
                               "PHONE": made["phone"]}),
            NoticeRoute(id=self._ids(), service=self.mailbox.id, to=_DESK),
            FieldRoute(id=self._ids(), service=self.ledger.id,
                       fields={key: made[key] for key in
                               ("when", "level", "tools", "mail", "day", "note")}),
            FieldRoute(id=self._ids(), service=self.book.id, target="/dav/guests/",
                       target_name="Guests",
                       fields={"EMAIL": made["mail"], "GIVEN": made["given"],
                               "FAMILY": made["family"], "TEL": made["phone"],
                               "ORG": made["company"]}),
            FieldRoute(id=self._ids(), service=self.file.id,
                       fields={"given": made["given"], "family": made["family"],
                               "mail": made["mail"], "weekend": made["when"]}))

    def tracking(self, night: Id) -> tuple[TrackingCode, ...]:
        """Return three codes, answered by the practice receiver."""
        return (
            TrackingCode(id=self._ids(), name="Count of visits", purpose="statistics",
                         html=_TAG.format("hit?site=quillmoor")),
            TrackingCode(id=self._ids(), name="Meteor advert", purpose="marketing", place="end",
                         reach=night, html=_TAG.format("advert?of=perseids")),
            TrackingCode(id=self._ids(), name="Old poster code", purpose="needed", on=False,
                         html=_TAG.format("poster?of=2019")))
