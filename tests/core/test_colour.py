"""Colours: the perceptual space, palettes, sight, clusters, design tokens."""

import json
import random
import unittest

import numpy as np

from needle.core.colour.clusters import clusters
from needle.core.colour.contrast import contrast
from needle.core.colour.oklch import (
    Oklch,
    difference,
    from_hex,
    linear,
    oklab,
    readable,
    srgb,
    srgb_of,
    to_hex,
)
from needle.core.colour.palette import GROUNDS, chief_colours, palette_of, words_on
from needle.core.colour.sight import Sight, seen
from needle.core.colour.tokens import TokenError, css_variables, read_tokens, tokens_json


def some_colours(count: int) -> list[str]:
    dice = random.Random(5)
    return [f"#{dice.randrange(0x1000000):06x}" for _ in range(count)]


class SpaceTest(unittest.TestCase):
    def test_known_colours_have_the_published_values(self) -> None:
        # CSS Color 4, sample conversions.
        for value, light, chroma, hue in (("#ff0000", 0.628, 0.2577, 29.2),
                                          ("#008000", 0.5198, 0.1769, 142.5),
                                          ("#0000ff", 0.452, 0.3132, 264.1)):
            with self.subTest(value):
                found = from_hex(value)
                self.assertAlmostEqual(found.light, light, 2)
                self.assertAlmostEqual(found.chroma, chroma, 2)
                self.assertAlmostEqual(found.hue, hue, 0)

    def test_there_and_back_gives_the_same_colour(self) -> None:
        for value in some_colours(60):
            self.assertEqual(to_hex(from_hex(value)), value)

    def test_what_no_screen_shows_keeps_lightness_and_hue(self) -> None:
        found = from_hex(to_hex(Oklch(0.7, 0.4, 150)))
        self.assertAlmostEqual(found.light, 0.7, 1)
        self.assertAlmostEqual(found.hue, 150, delta=4)
        self.assertLess(found.chroma, 0.4)

    def test_linear_light_is_undone(self) -> None:
        values = np.linspace(0, 1, 40)
        np.testing.assert_allclose(srgb(linear(values)), values, atol=1e-9)
        self.assertEqual(oklab(np.ones((4, 5, 3))).shape, (4, 5, 3))

    def test_the_readable_colour_is_readable_and_no_farther_than_needed(self) -> None:
        for ink, ground in zip(some_colours(40), reversed(some_colours(40)), strict=True):
            with self.subTest(f"{ink} on {ground}"):
                mended = readable(ink, ground)
                self.assertGreaterEqual(contrast(mended, ground), 4.5)
                if contrast(ink, ground) >= 4.5:
                    self.assertEqual(mended, ink)
                # Black or white would do as well; the nearest is at most as far as those.
                ends = [end for end in ("#000000", "#ffffff") if contrast(end, ground) >= 4.5]
                self.assertLessEqual(difference(mended, ink),
                                     max(difference(end, ink) for end in ends) + 0.5)


class PaletteTest(unittest.TestCase):
    def test_every_role_can_be_read_by_day_and_by_night(self) -> None:
        for main in ("#f2b84b", "#0e6b54", "#ffff00", "#000000", "#ffffff", "#c2185b"):
            for dark in (False, True):
                with self.subTest(main=main, dark=dark):
                    p = palette_of(main, dark=dark)
                    for ink, ground in (("ink", "paper"), ("ink", "mist"), ("quiet", "paper"),
                                        ("quiet", "mist"), ("accent", "paper"),
                                        ("on_main", "main")):
                        self.assertGreaterEqual(contrast(p[ink], p[ground]), 4.5, (ink, ground))

    def test_words_on_every_ground_pass(self) -> None:
        palette = palette_of("#f2b84b")
        mended = words_on(palette)
        for ground in GROUNDS:
            for ink in palette:
                shown = mended.get((ground, ink), palette[ink])
                self.assertGreaterEqual(contrast(shown, palette[ground]), 4.5, (ink, ground))

    def test_a_dark_main_is_lifted_on_dark_only(self) -> None:
        self.assertEqual(palette_of("#101010")["main"], "#101010")
        dark = palette_of("#101010", dark=True)
        self.assertGreaterEqual(contrast(dark["main"], dark["paper"]), 2.9)


class SightTest(unittest.TestCase):
    def test_greys_stay_and_red_and_green_come_closer(self) -> None:
        for sight in Sight:
            grey = srgb_of(seen("#808080", sight))
            self.assertLess(float(grey.max() - grey.min()), 0.02)
        for sight in (Sight.PROTAN, Sight.DEUTAN):
            self.assertLess(difference(seen("#d03020", sight), seen("#4c8a10", sight)),
                            0.6 * difference("#d03020", "#4c8a10"))
        self.assertEqual(seen("#d03020", Sight.USUAL), "#d03020")


class ClusterTest(unittest.TestCase):
    def test_flat_colours_are_exact_and_in_order(self) -> None:
        pixels = np.full((100, 100, 3), (255, 255, 255), np.uint8)
        pixels[:30] = (11, 17, 38)
        pixels[90:, :50] = (242, 184, 75)
        found = clusters(pixels)
        self.assertEqual([one.colour for one in found], ["#ffffff", "#0b1126", "#f2b84b"])
        self.assertAlmostEqual(found[0].share, 0.65, 1)
        self.assertEqual(chief_colours(found)[0], "#f2b84b")

    def test_a_noisy_picture_gives_few_colours_near_its_own(self) -> None:
        dice = np.random.default_rng(3)
        pixels = np.clip(np.array((180, 60, 40)) + dice.normal(0, 9, (80, 80, 3)), 0, 255)
        pixels[40:] = np.clip(np.array((40, 60, 160)) + dice.normal(0, 9, (40, 80, 3)), 0, 255)
        found = clusters(pixels.astype(np.uint8), 4)
        self.assertLessEqual(len(found), 4)
        for wanted in ("#b43c28", "#283ca0"):
            self.assertLess(min(difference(wanted, one.colour) for one in found), 6)
        self.assertTrue(all(chief_colours(found)))


class TokenTest(unittest.TestCase):
    COLOURS = {"ink": "#14211d", "main": "#0e6b54"}  # noqa: RUF012

    def test_out_and_in_gives_the_same_colours(self) -> None:
        words = tokens_json(self.COLOURS, {"heading": "Bitter", "body": "Karla"}, 17, 1.25)
        self.assertEqual(read_tokens(words), self.COLOURS)
        self.assertEqual(json.loads(words)["color"]["$type"], "color")
        self.assertIn("--c-main: #0e6b54;", css_variables(self.COLOURS))

    def test_older_drafts_aliases_and_other_names_are_read(self) -> None:
        words = json.dumps({
            "base": {"$type": "color", "brass": {"$value": "#ABC"}},
            "theme": {"Main action": {"$type": "color", "$value": "{base.brass}"},
                      "ink": {"$type": "color", "$value": "#11223344"},
                      "round": {"$type": "color", "$value": "{theme.round}"}}})
        self.assertEqual(read_tokens(words), {"main": "#aabbcc", "ink": "#112233"})

    def test_what_is_no_palette_is_refused_in_words(self) -> None:
        deep = "{\"a\":" * 4000 + "1" + "}" * 4000
        for words, told in (("no", "not JSON"), ("[]", "no design tokens"), (deep, "JSON|No token"),
                            ('{"size":{"$type":"dimension","$value":"1px"}}', "No token"),
                            ('{"ink":{"$type":"color","$value":{"components":"x"}}}', "No token")):
            with self.subTest(words[:20]), self.assertRaisesRegex(TokenError, told):
                read_tokens(words)
