import unittest
from dataclasses import fields

from PyQt6.QtGui import QFont, QFontInfo

from needle.core.colour.contrast import contrast
from needle.core.render.holders import KINDS
from needle.ui.theme import DAY, NIGHT, icon, mono, slab
from tests.ui.desk import APP

WORDS_ON = {
    "ink": ("paper", "plate", "pewter", "thread_wash"),
    "ink_second": ("paper", "plate", "pewter"),
    "on_enamel": ("enamel", "enamel_raised"),
    "on_enamel_dim": ("enamel",),
    "brass": ("enamel",),
    "on_bottle": ("bottle",),
    "good": ("paper", "plate"),
    "fault": ("paper", "plate"),
    "sky": ("paper",),
    "amber": ("paper", "plate"),
}


class ThemeTest(unittest.TestCase):
    def test_words_can_be_read_on_every_surface_by_day_and_by_night(self) -> None:
        for name, theme in (("day", DAY), ("night", NIGHT)):
            for ink, surfaces in WORDS_ON.items():
                for surface in surfaces:
                    with self.subTest(f"{name}: {ink} on {surface}"):
                        ratio = contrast(getattr(theme, ink), getattr(theme, surface))
                        self.assertGreaterEqual(round(ratio, 2), 4.5 if ink != "on_bottle" else 4)

    def test_every_token_is_a_colour_in_both_themes(self) -> None:
        for theme in (DAY, NIGHT):
            for field in fields(theme):
                self.assertRegex(getattr(theme, field.name), r"\A#[0-9a-f]{6}\Z")

    def test_the_shipped_faces_are_known(self) -> None:
        self.assertIsNotNone(APP)
        # Qt adds the foundry to a family's name where two of its cuts name different ones.
        for font, family in ((slab(15), "Zilla Slab"), (mono(12), "IBM Plex Mono"),
                             (QFont("IBM Plex Sans"), "IBM Plex Sans")):
            self.assertTrue(QFontInfo(font).family().startswith(family), family)

    def test_every_kind_has_its_icon(self) -> None:
        for kind in KINDS:
            with self.subTest(kind.key):
                self.assertFalse(icon(kind.mark).isNull())
