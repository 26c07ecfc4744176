"""Names that cannot be built wrong, and looks that hold their limits wherever they are made."""

import unittest

import msgspec

from needle.core.kinds.heading import Heading
from needle.core.site.site import Page, Site, TextStyle, Variant
from needle.core.site.tree import Popup, Section
from needle.core.values.brand import Swatch
from needle.core.values.look import Look
from needle.core.values.media import Font, Medium
from needle.core.values.strict import Strict, StrictError, rules_of
from tests.sites import small_site


class StrictTest(unittest.TestCase):
    def test_nothing_wrong_can_be_built(self) -> None:
        for build in (
                lambda: Page(id="../x", name="x"), lambda: Page(id="", name="x"),
                lambda: Page(id="p", name="x", slug="a/b"),
                lambda: Page(id="p", name="x", slug="A"),
                lambda: Page(id="p\n", name="x"), lambda: Variant(key="a/../b"),
                lambda: Medium(id="m", name="x", file="../secret", width=1, height=1),
                lambda: Medium(id="m", name="x", file="a.png", width=1, height=1,
                               original="/x.png"),
                lambda: Font(id="f", family="a';}", weight=400, italic=False, file="a.ttf"),
                lambda: Swatch(role="x;}", name="x", value="#000000"),
                lambda: Swatch(role="ink", name="x", value="red"),
                lambda: TextStyle(key="a{}", name="x"),
                lambda: Section(id="s", role="script"), lambda: Section(id="s", overlay="x;"),
                lambda: Popup(id="p", position="a b"),
                lambda: msgspec.structs.replace(small_site(), address="a.b/c"),
                lambda: Heading(id="h", words=(), look=Look(base={"size": 206})),
                lambda: Heading(id="h", words=(), look=Look(phone={"nothing": 1}))):
            with self.subTest(), self.assertRaises(StrictError):
                build()

    def test_a_changed_copy_is_checked_too(self) -> None:
        page = small_site().pages[0]
        with self.assertRaisesRegex(StrictError, "cannot be a slug"):
            msgspec.structs.replace(page, slug="../up")

    def test_references_may_be_empty_and_checks_are_of_the_type(self) -> None:
        self.assertEqual(Page(id="p", name="x", folder="", share="").folder, "")
        self.assertIn("slug", dict(rules_of(Page)))
        self.assertTrue(issubclass(Site, Strict))
