"""A form that comes back: every kind of field as it was sent."""

import unittest

import msgspec
from lxml import html

from needle.core.edit.nodes import insert
from needle.core.kinds.formbox import FormBox
from needle.core.render.context import Context
from needle.core.render.document import Assets, live_body, live_page
from needle.core.render.returned import returned_page
from needle.core.site.site import Site
from needle.core.values.form import Form, FormField, Role
from needle.store.media import PublishedPictures
from tests.sites import FORM, small_site

_FORM = Form(id=FORM, name="All", fields=(
    FormField("day", Role.DATE, "Day", default="2026-03-01"),
    FormField("many", Role.CHOICES, "Which", choices=("a, b", "c", "d"), default="c"),
    FormField("one", Role.CHOICE, "One", choices=("x", "<y>")),
    FormField("spread", Role.CHOICE, "Spread", choices=("p", "q"), spread=True),
    FormField("long", Role.LONG, "Long"),
    FormField("tick", Role.CONSENT, "Yes", required=True),
    FormField("tel", Role.PHONE, "Phone", choices=("DE", "FR")),
    FormField("cv", Role.FILE, "Paper"),
    FormField("src", Role.HIDDEN, "Source")))


def page_of(site: Site) -> str:
    context = Context(site, site.pages[0], site.pages[0].variants[0], "live",
                      PublishedPictures(""))
    return live_page(context, Assets(), live_body(context))


class ReturnedTest(unittest.TestCase):
    def setUp(self) -> None:
        self.page = page_of(
            msgspec.structs.replace(small_site(), forms=(_FORM,)))

    def back(self, sent: dict[str, str], chosen: dict[str, list[str]] | None = None,
             **problems: str) -> html.HtmlElement:
        page = returned_page(self.page, _FORM, sent, chosen or {}, problems, "/night", "en")
        return html.fromstring(page)

    def test_every_kind_of_field_holds_what_was_sent(self) -> None:
        sent = {"day": "2026-04-05", "one": "<y>", "spread": "q", "long": "\n<i>two\nlines",
                "tick": "yes", "tel": "030 1", "tel.country": "FR", "src": "paper"}
        many = {"many": ["a, b", "d"]}
        (form,) = self.back(sent, many).forms
        for name, value in sent.items():
            with self.subTest(name):
                # A browser drops the first line break of a text area, lxml does not.
                self.assertEqual(form.fields[name], f"\n{value}" if name == "long" else value)
        self.assertEqual(set(form.fields["many"]), {"a, b", "d"})
        self.assertIsNone(form.fields["cv"] or None)

    def test_what_was_not_sent_is_not_ticked_by_default(self) -> None:
        (form,) = self.back({}).forms
        self.assertEqual(set(form.fields["many"]), set())
        self.assertEqual(form.fields["day"], "")
        self.assertIsNone(form.fields["tick"])

    def test_each_fault_stands_beside_its_field_and_the_caret_in_the_first(self) -> None:
        page = self.back({"long": "x"}, {"cv": ["my.pdf"]}, many="Take <one>.", tick="Please.")
        told = {field.get("data-asked"): field.xpath(".//small[@class='form-fault' and "
                                                     "not(@hidden)]/text()")
                for field in page.xpath("//*[@data-asked]")}
        self.assertEqual(told.pop("many"), ["Take <one>."])
        self.assertEqual(told.pop("tick"), ["Please."])
        self.assertEqual(told.pop("cv"), ["Please choose “Paper” again."])
        self.assertEqual(set(map(tuple, told.values())), {()})
        (focused,) = page.xpath("//*[@autofocus]")
        self.assertEqual(focused.get("name"), "many")

    def test_the_rest_of_the_page_is_as_it_was(self) -> None:
        made = returned_page(self.page, _FORM, {}, {}, {}, "/a&b", "en")
        self.assertIn('<base href="/a&amp;b">', made)
        after = self.page[self.page.index("</form>"):]
        self.assertTrue(made.endswith(after))
        self.assertEqual(returned_page("<p>no form</p>", _FORM, {}, {}, {}, "/", "en"), "")

    def test_the_same_form_twice_is_filled_twice_and_has_one_caret(self) -> None:
        site = msgspec.structs.replace(small_site(), forms=(_FORM,))
        self.page = page_of(insert(site, FormBox(id="again", form=FORM), "text1", "after"))
        whole = self.back({"long": "kept"}, day="No.")
        self.assertEqual([form.fields["long"] for form in whole.forms], ["\nkept", "\nkept"])
        self.assertEqual(len(whole.xpath("//*[@autofocus]")), 1)


if __name__ == "__main__":
    unittest.main()
