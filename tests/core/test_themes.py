import unittest
from itertools import combinations

import msgspec
import tinycss2

from needle.core.brand.standins import DEVICES, Subject, devices_for, stand_in
from needle.core.brand.themes import THEMES, theme_of
from needle.core.colour.contrast import contrast
from needle.core.colour.palette import words_on
from needle.core.edit.brand import set_facet, set_palette, set_room, set_theme
from needle.core.images.vector import clean_svg
from needle.core.kinds.countdown import Countdown
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.picture import Picture
from needle.core.readymade.catalogue import READY_MADE, make_section
from needle.core.readymade.templates import TEMPLATES, page_of
from needle.core.render.texts import runs_of
from needle.core.site.starter import starter_site
from needle.core.site.tree import walk
from needle.core.type.faces import FACES
from needle.core.values.form import NoticeRoute, Role
from needle.core.values.ids import IdSource
from needle.core.values.strict import StrictError
from needle.core.values.theme import FACETS, Theme, theme_css
from tests.sites import small_site


class ThemeTest(unittest.TestCase):
    def test_ten_and_more_and_no_two_agree_in_more_than_half_of_their_facets(self) -> None:
        self.assertGreaterEqual(len(THEMES), 10)
        for one, other in combinations(THEMES, 2):
            same = [facet.key for facet in FACETS
                    if getattr(one.theme, facet.key) == getattr(other.theme, facet.key)]
            self.assertLessEqual(len(same), len(FACETS) // 2, f"{one.name}, {other.name}: {same}")

    def test_each_choice_is_css_without_a_fault_and_none_says_what_another_says(self) -> None:
        for facet in FACETS:
            seen = set()
            for key in facet.choices:
                css = theme_css(Theme(**{facet.key: key}), 100)
                for rule in tinycss2.parse_stylesheet(css, True, True):
                    self.assertNotEqual(rule.type, "error", f"{facet.key} {key}: {rule}")
                seen.add((css, tuple(facet.choices[key].styles.items())))
            self.assertEqual(len(seen), len(facet.choices), facet.key)

    def test_one_edit_changes_the_whole_site_and_its_titles(self) -> None:
        site = small_site()
        placard = next(one for one in THEMES if one.key == "placard")
        made = set_theme(site, placard)
        self.assertIs(theme_of(made.brand.theme), placard)
        self.assertEqual(made.brand.ratio, placard.ratio)
        title = next(style for style in made.styles if style.key == "title")
        self.assertEqual(title.look.base["weight"], 700)
        self.assertEqual(made.pages, site.pages)
        self.assertIn("text-transform:uppercase", theme_css(made.brand.theme, 100))

    def test_a_facet_alone_and_a_choice_that_there_is_none(self) -> None:
        made = set_facet(set_theme(small_site(), THEMES[1]), "buttons", "pill")
        self.assertEqual(made.brand.theme, msgspec.structs.replace(
            THEMES[1].theme, buttons="pill"))
        with self.assertRaises(StrictError):
            set_facet(made, "buttons", "x}body{display:none")

    def test_a_sections_own_fill_goes_before_the_grounds_of_a_theme(self) -> None:
        for key in FACETS[4].choices:
            for rule in tinycss2.parse_stylesheet(theme_css(Theme(grounds=key), 100), True, True):
                said = tinycss2.serialize(rule.prelude) if rule.type == "qualified-rule" else ""
                if "background-color" in tinycss2.serialize(getattr(rule, "content", None) or []):
                    self.assertTrue(said.startswith(":where("), said)

    def test_room_scales_a_theme(self) -> None:
        site = set_room(set_theme(small_site(), THEMES[0]), 150)
        self.assertIn("--room:108px", theme_css(site.brand.theme, site.brand.room))

    def test_a_site_without_one_is_written_as_before(self) -> None:
        brand = msgspec.structs.replace(small_site().brand, theme=None)
        self.assertNotIn(b"theme", msgspec.json.encode(brand))
        self.assertEqual(theme_css(None, 100), "")

    def test_what_a_theme_puts_words_on_is_readable(self) -> None:
        for main, accent in (("#f0b000", "#22aa66"), ("#0e6b54", "#ffdd55"),
                             ("#d83a22", "#ff8899")):
            site = set_palette(small_site(), {"main": main, "accent": accent})
            colours = site.brand.colours()
            fixed = words_on(colours)
            for ground, roles in (("mist", ("ink", "accent", "quiet", "main")),
                                  ("ink", ("paper", "accent")), ("main", ("on_main", "accent"))):
                for role in roles:
                    shown = fixed.get((ground, role), colours[role])
                    self.assertGreaterEqual(contrast(shown, colours[ground]), 4.45,
                                            f"{role} on {ground} with {main}")


class ArrivingTest(unittest.TestCase):
    def test_every_section_brings_the_form_and_the_pictures_that_it_shows(self) -> None:
        bare = starter_site("Brim & Tide", "brim")
        for one in READY_MADE:
            with self.subTest(one.key):
                arrived = make_section(one, bare, IdSource(3))
                for node in walk(arrived.part):
                    if isinstance(node, FormBox):
                        form = arrived.site.form(node.form)
                        self.assertIsNotNone(form.with_role(Role.EMAIL))
                        [route] = form.routes
                        self.assertIsInstance(route, NoticeRoute)
                        self.assertTrue(route.to)
                    if isinstance(node, Picture):
                        medium = arrived.site.medium(node.medium)
                        self.assertTrue(medium.invented)
                        self.assertIn(medium.file, arrived.files)
                    if isinstance(node, Countdown):
                        self.assertEqual(node.hours, 0)

    def test_every_filler_word_is_a_placeholder_and_the_persons_own_are_not(self) -> None:
        site = starter_site("Brim & Tide", "brim")
        site = msgspec.structs.replace(site, brief=msgspec.structs.replace(
            site.brief, call_to_action="Book the boat"))
        own, marked = {"Book the boat", "Brim & Tide"}, 0
        for one in READY_MADE:
            for node in walk(make_section(one, site, IdSource(3)).part):
                for run in runs_of(node):
                    self.assertEqual(run.invented, run.words not in own and not run.column,
                                     f"{one.key}: {run.words}")
                    marked += run.invented
        self.assertGreater(marked, 300)

    def test_a_template_brings_a_form_of_its_kind_even_beside_another(self) -> None:
        site = small_site()
        event = next(one for one in TEMPLATES if one.key == "event")
        arrived = page_of(event, site, IdSource(5), framed=False)
        [fresh] = [form for form in arrived.site.forms if form not in site.forms]
        self.assertEqual(fresh.name, "Event")
        self.assertIsNotNone(fresh.with_role(Role.NUMBER))
        again = page_of(event, arrived.site, IdSource(6), framed=False)
        self.assertEqual(again.site.forms, arrived.site.forms)

    def test_no_two_pictures_of_a_page_by_one_device(self) -> None:
        for subject in (Subject(), Subject(letters="BT", face=FACES[0]),
                        Subject(icon="leaf", letters="BT", face=FACES[0])):
            devices = devices_for("a seed", subject)
            self.assertEqual(len(set(devices)), len(devices))
            self.assertEqual("emblem" in devices, bool(subject.icon))
            self.assertEqual("letter" in devices, bool(subject.letters))

    def test_drawings_are_clean_and_the_same_for_the_same_seed(self) -> None:
        colours = small_site().brand.colours()
        subject = Subject(icon="leaf", letters="BT", face=FACES[0])
        for device in DEVICES:
            drawn = stand_in(device, colours, "one", subject, 1200, 900)
            self.assertEqual(drawn, stand_in(device, colours, "one", subject, 1200, 900))
            self.assertEqual(clean_svg(drawn, "drawn.svg")[1:], (1200, 900))


if __name__ == "__main__":
    unittest.main()
