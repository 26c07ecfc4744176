"""Small sites for tests."""

import msgspec

from needle.core.kinds.button import Button
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.heading import Heading
from needle.core.kinds.listing import Listing
from needle.core.kinds.passage import Passage
from needle.core.site.site import Page, Service, Site, Variant
from needle.core.site.starter import starter_brand, starter_styles
from needle.core.site.tree import Column, Popup, Row, Section
from needle.core.values.actions import OpenPopup
from needle.core.values.form import (
    FieldRoute,
    Form,
    FormField,
    NoticeRoute,
    Only,
    Role,
    Step,
    ThankPage,
)
from needle.core.values.ids import IdSource
from needle.core.values.words import Run, text

__all__ = ["EMAIL", "FORM", "NAME", "PAGE", "SERVICES", "THANKS", "long_page", "small_site",
           "wired_site"]

PAGE, THANKS, FORM, NAME, EMAIL = "page1", "page2", "form1", "name1", "mail1"
SERVICES = (Service(id="mailbox", name="Mailbox", does="mail", practice=True),
            Service(id="listsrv", name="Lists", does="list", practice=True))


def section(ids: IdSource, name: str, *items: object) -> Section:
    """Return a section whose one column holds the items."""
    column = Column(id=ids(), children=items)  # type: ignore[arg-type]
    return Section(id=ids(), name=name, children=(Row(id=ids(), children=(column,)),))


def small_site() -> Site:
    """Return a page with every common item, a popup with a form, and a thank-you page."""
    ids = IdSource(3)
    popup = Popup(id="popup1", name="Sign-up", children=(
        Row(id=ids(), children=(Column(id=ids(), children=(
            Heading(id="pophead", words=text("A place")), FormBox(id="formbox", form=FORM))),)),))
    opening = section(
        ids, "Opening", Heading(id="head1", words=text("Old words"), rank=1),
        Passage(id="text1", words=((Run("Plain "), Run("bold", strong=True)), text("Second"))),
        Button(id="button1", words=text("Keep me a place"), actions=(OpenPopup("popup1"),)))
    more = section(ids, "More", Heading(id="head2", words=text("More")),
                   Listing(id="list1", words=(text("One"), text("Two"))))
    page = Page(id=PAGE, name="Night", slug="night", title="A night", description="Dark.",
                variants=(Variant(key="A", children=(opening, more), popups=(popup,)),))
    thanks = Page(id=THANKS, name="Thanks", slug="thanks", title="Thanks", variants=(
        Variant(key="A", children=(section(ids, "Note", Heading(
            id="thead", words=text("See you"), rank=1)),)),))
    form = Form(
        id=FORM, name="Places", after=ThankPage(THANKS),
        fields=(FormField(id=NAME, role=Role.NAME, label="Your name"),
                FormField(id=EMAIL, role=Role.EMAIL, label="E-mail", required=True),
                FormField(id="src1", role=Role.HIDDEN, label="Source", source="utm_source")),
        routes=(FieldRoute("route1", "listsrv", "meteor-guests", "Meteor guests",
                           {"EMAIL": EMAIL, "FULL_NAME": NAME}),
                NoticeRoute("route2", "mailbox", "desk@hill.example")))
    return Site(id="site1", name="Hill", address="hill", brand=starter_brand(),
                styles=starter_styles(), pages=(page, thanks), forms=(form,), services=SERVICES)


def wired_site() -> Site:
    """Return the small site with a form of three steps, one of them for schools only, that goes to
    all five kinds of services."""
    site = small_site()
    services = (*SERVICES, *(Service(id=f"{does}srv", name=does.capitalize(), does=does,
                                     practice=True) for does in ("hook", "file", "contacts")))
    form = Form(
        id=FORM, name="Visit", submit="Ask", after=ThankPage(THANKS),
        steps=(Step("who", "Who is coming?"), Step("class", "The class", Only("kind", ("school",))),
               Step("you", "Where can we write?")),
        fields=(FormField("kind", Role.CHOICE, "We are", True, ("school", "club"), spread=True,
                          step="who"),
                FormField("year", Role.NUMBER, "Year", True, least=1, most=13, step="class"),
                FormField(NAME, Role.NAME, "Your name", step="you"),
                FormField(EMAIL, Role.EMAIL, "E-mail", True, step="you"),
                FormField("src1", Role.HIDDEN, "Source", source="utm_source"),
                FormField("page", Role.HIDDEN, "Page", source=":page")),
        routes=(FieldRoute("r-list", "listsrv", "meteor-guests", "Meteor guests",
                           {"EMAIL": EMAIL, "FULL_NAME": NAME, "SOURCE": "src1"}),
                NoticeRoute("r-mail", "mailbox", "desk@hill.example"),
                FieldRoute("r-hook", "hooksrv", fields={
                    "mail": EMAIL, "who": NAME, "kind": "kind", "year": "year", "from": "src1",
                    "on": "page"}),
                FieldRoute("r-file", "filesrv", fields={"mail": EMAIL, "year": "year"}),
                FieldRoute("r-book", "contactssrv", "/dav/guests/", "Guests",
                           {"EMAIL": EMAIL, "FN": NAME, "NOTE": "kind"})))
    return msgspec.structs.replace(site, forms=(form,), services=services)


def long_page(sections: int, items: int = 4) -> Site:
    """Return a site whose one page has many sections; the first heading is `head0`."""
    ids = IdSource(5)
    made = tuple(section(
        ids, f"Section {n}", Heading(id=f"head{n}", words=text(f"Heading {n}")),
        *(Passage(id=ids(), words=(text(f"Words {n} {i} of a page."),)) for i in range(items - 1)))
        for n in range(sections))
    page = Page(id=PAGE, name="Long", slug="long", title="Long",
                variants=(Variant(key="A", children=made),))
    return Site(id="site1", name="Hill", address="hill", brand=starter_brand(),
                styles=starter_styles(), pages=(page,), services=SERVICES)
