"""Rules that a page cannot use stay out, and nothing else does."""

import re
import unittest

from needle.core.render.document import runtime_parts
from needle.core.render.scripts import classes_given_by_scripts, runtime_script
from needle.core.render.stylesheet import page_css
from needle.core.render.usedrules import used_rules
from tests.core.test_render import context
from tests.sites import small_site, wired_site

SHEET = (":root{--a:1}.a,.b .c{x:y}.d:not(.e)>p{x:y}@media (max-width:9px){.b{x:y}.a{z:w}}"
         "@media print{.b{x:y}}[hidden]{x:y}.a::before{content:'}.b{'}@font-face{src:url(x)}")


class UsedRulesTest(unittest.TestCase):
    def test_what_needs_a_class_that_is_not_there_goes(self) -> None:
        self.assertEqual(
            used_rules(SHEET, '<p class="x a"></p>'),
            ":root{--a:1}.a{x:y}@media (max-width:9px){.a{z:w}}[hidden]{x:y}"
            '.a::before{content:"}.b{"}@font-face{src:url(x)}')
        self.assertIn(".b .c{x:y}", used_rules(SHEET, '<p class="b"><i class="c"></i></p>'))
        self.assertIn(".d:not(.e)>p", used_rules(SHEET, '<p class="d">'))

    def test_code_of_ones_own_may_name_a_class_anywhere(self) -> None:
        self.assertIn("@media print{.b{x:y}}", used_rules(
            SHEET, "<script>document.body.className = 'b'</script>"))
        self.assertNotIn("print", used_rules(SHEET, "<p>b</p>"))

    def test_what_our_scripts_give_is_kept(self) -> None:
        self.assertEqual(classes_given_by_scripts(),
                         {"runs", "form-word", "rows-more", "rows-name"})
        self.assertIn(".runs", used_rules(".runs{x:y}", ""))

    def test_a_form_without_steps_has_neither_their_rules_nor_their_script(self) -> None:
        for site, steps in ((small_site(), False), (wired_site(), True)):
            around = context(site)
            body = '<form class="form">' + ('<i class="form-steps form-step">' if steps else "")
            self.assertEqual(".form-step" in page_css(around, body), steps)
            self.assertIn(".form-step", page_css(around))
            self.assertEqual("steps" in runtime_parts(around, True), steps)


class ScriptsTest(unittest.TestCase):
    def test_comments_stay_behind_and_words_do_not(self) -> None:
        script = runtime_script(("source", "form", "steps"))
        self.assertNotIn("Keeps where this visit", script)
        self.assertIn('"needle-source"', script)
        self.assertIn("`${location.origin}/`", script)
        self.assertNotRegex(script, re.compile(r"^\s", re.MULTILINE))


if __name__ == "__main__":
    unittest.main()
