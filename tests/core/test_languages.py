"""A site's language: of the page, of what forms say of their own, of dates and numbers."""

import unittest
from datetime import datetime

import msgspec
from fluent.syntax import FluentParser
from fluent.syntax import ast as ftl

from needle.core.edit.areas import changed_areas
from needle.core.edit.changes import as_sent, changes_since
from needle.core.edit.patches import patches
from needle.core.edit.whole import set_language
from needle.core.leads.checking import check_answers
from needle.core.messages.catalogue import catalogues, languages, worded
from needle.core.messages.formats import amount_in, moment_in, number_in, share_in
from needle.core.messages.message import say
from needle.core.render.context import Context
from needle.core.render.document import edit_page
from needle.core.values.areas import Area
from needle.core.values.form import Form, FormField, Role
from needle.core.values.strict import StrictError
from needle.store.media import EditPictures
from tests.core.test_messages import names_in
from tests.sites import small_site


def said(name: str) -> dict[str, set[str]]:
    """Return what each message of a catalogue names."""
    return {entry.id.name: names_in(entry) for entry in FluentParser().parse(
        catalogues()[name]).body if isinstance(entry, ftl.Message)}


class LanguageTest(unittest.TestCase):
    def test_every_language_says_all_that_english_says_and_names_the_same(self) -> None:
        english = said("visitors.en")
        for language in languages():
            with self.subTest(language=language):
                self.assertEqual(said(f"visitors.{language}"), english)

    def test_a_language_without_words_of_its_own_says_them_in_english(self) -> None:
        self.assertEqual(worded("form-back", {}, "de-AT"), "Zurück")
        self.assertEqual(worded("form-back", {}, "is"), "Back")
        self.assertEqual(say("strict-at", where="x", why=say("form-back")).in_language("de"),
                         "at x: Zurück")
        self.assertEqual(worded("letter-open-within", {"days": 1}, "de"),
                         "Innerhalb eines Tages öffnen")

    def test_numbers_and_moments_are_written_as_the_language_writes_them(self) -> None:
        self.assertEqual([number_in(lang, 12345.5) for lang in ("en", "de", "de-CH")],
                         ["12,345.5", "12.345,5", "12’345.5"])
        self.assertEqual([amount_in(lang, 20, "€") for lang in ("en", "de")], ["€20", "20 €"])
        self.assertEqual(amount_in("en", 12.5, "h"), "12.5 h")
        self.assertEqual(share_in("en", 0.25), "25%")
        self.assertEqual(share_in("de", 0.25), "25\N{NO-BREAK SPACE}%")
        moment = datetime(2026, 8, 12, 21, 30)
        self.assertEqual(moment_in("en", moment), "12 August 2026, 21:30")
        self.assertEqual(moment_in("de", moment), "12. August 2026, 21:30")

    def test_a_page_speaks_the_language_of_its_site(self) -> None:
        site = set_language(small_site(), "de")
        page = site.pages[0]
        html = edit_page(Context(site, page, page.variants[0], "live", EditPictures()), "")
        self.assertIn('<html lang="de">', html)
        self.assertIn("(wenn Sie möchten)", html)
        self.assertIn("Bitte leer lassen", html)
        self.assertNotIn("An answer is needed", html)

    def test_another_language_shows_at_once_and_counts_as_a_change(self) -> None:
        site = small_site()
        german = set_language(site, "de")
        self.assertEqual(changed_areas(site, german), {Area.LANGUAGE})
        page = site.pages[0]
        context = Context(german, page, page.variants[0], "edit", EditPictures())
        changed = patches(site, german, page.variants[0], context)
        self.assertTrue(any("wenn Sie möchten" in patch.html for patch in changed))
        self.assertEqual(changes_since(as_sent(site, page), as_sent(german, page)),
                         ["language of the site"])

    def test_what_is_wrong_with_an_answer_is_said_in_it(self) -> None:
        form = Form(id="f", name="Form", fields=(
            FormField("m", Role.EMAIL, "E-Mail", required=True),))
        problems = check_answers(form, {"m": "keine"}, language="de").problems
        self.assertEqual(problems["m"], "„E-Mail“ sieht nicht nach einer E-Mail-Adresse aus.")

    def test_what_is_no_language_is_refused(self) -> None:
        with self.assertRaisesRegex(StrictError, "a language"):
            set_language(small_site(), 'de"><script>')
        with self.assertRaises(msgspec.ValidationError):
            msgspec.convert({"id": "s", "name": "n", "address": "a", "brand": {}, "language": "DE"},
                            type=type(small_site()))
