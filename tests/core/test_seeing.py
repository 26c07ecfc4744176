"""Reading pictures: measuring, bands, boxes, words, and sections made of them."""

import io
import unittest
from importlib.resources import as_file, files

import numpy as np
from PIL import Image, ImageDraw, ImageFont

from needle.core.kinds.button import Button
from needle.core.kinds.heading import Heading
from needle.core.kinds.picture import Picture
from needle.core.seeing.bands import band_edges
from needle.core.seeing.building import build_sections
from needle.core.seeing.clearing import cleared
from needle.core.seeing.lines import BOLD_STROKE
from needle.core.seeing.measuring import area_colour, letter_size, nearest_colour, snapped
from needle.core.seeing.shapes import Band, Found, Rect, TextBlock
from needle.core.seeing.structure import read_structure
from needle.core.site.starter import starter_brand
from needle.core.values.ids import IdSource
from needle.core.values.styletable import TABLE
from tests.sites import small_site

INK, PAPER, MIST, MAIN = "#14211d", "#ffffff", "#eef2f0", "#0e6b54"
WORDS = "It was a dark night on the hill and nobody was cold."


def font(px: int, bold: bool = False) -> ImageFont.FreeTypeFont:
    name = "IBMPlexSans-700.ttf" if bold else "IBMPlexSans-400.ttf"
    with as_file(files("needle") / "fonts" / name) as path:
        return ImageFont.truetype(str(path), px)


def a_page() -> tuple[np.ndarray, dict[str, Rect]]:
    """Draw a page and return it with where everything is."""
    image = Image.new("RGB", (1000, 900), PAPER)
    draw = ImageDraw.Draw(image)
    truth: dict[str, Rect] = {}

    def write(key: str, at: tuple[int, int], words: str, px: int, colour: str,
              bold: bool = False) -> None:
        draw.text(at, words, font=font(px, bold), fill=colour)
        truth[key] = Rect(*(round(v) for v in draw.textbbox(at, words, font=font(px, bold))))

    draw.rectangle((0, 0, 999, 299), fill=INK)
    write("title", (80, 80), "The darkest hill", 48, PAPER, True)
    draw.rounded_rectangle((80, 180, 259, 231), 8, fill=MAIN)
    truth["button"] = Rect(80, 180, 260, 232)
    draw.text((110, 194), "Keep me a place", font=font(16, True), fill=PAPER)
    for number in range(2):
        write(f"line{number}", (80, 360 + 27 * number), WORDS, 17, INK)
    noise = np.random.default_rng(2).integers(0, 255, (160, 240, 3), np.uint8)
    image.paste(Image.fromarray(noise), (660, 340))
    truth["picture"] = Rect(660, 340, 900, 500)
    draw.rectangle((0, 560, 999, 899), fill=MIST)
    for number in range(2):
        left = 80 + 420 * number
        draw.rounded_rectangle((left, 620, left + 379, 799), 12, fill=PAPER)
        truth[f"card{number}"] = Rect(left, 620, left + 380, 800)
        write(f"words{number}", (left + 24, 650), "In the card", 19, INK, True)
    return np.asarray(image), truth


def near(found: list[Rect], truth: Rect, slack: int = 4) -> bool:
    return any(rect.off_by(truth) <= slack for rect in found)


class ReadingTest(unittest.TestCase):
    found: Found
    truth: dict[str, Rect]

    @classmethod
    def setUpClass(cls) -> None:
        pixels, cls.truth = a_page()
        cls.found = read_structure(pixels)

    def test_bands_end_where_the_ground_changes(self) -> None:
        self.assertEqual([(band.rect.top, band.rect.bottom, band.ground)
                          for band in self.found.bands],
                         [(0, 300, INK), (300, 560, PAPER), (560, 900, MIST)])

    def test_buttons_pictures_and_cards_are_found(self) -> None:
        self.assertTrue(near([box.rect for box in self.found.buttons()], self.truth["button"], 1))
        self.assertEqual(len(self.found.buttons()), 1)
        self.assertTrue(near(self.found.pictures(), self.truth["picture"], 1))
        for number in range(2):
            card = next(box for box in self.found.all_boxes()
                        if box.rect.off_by(self.truth[f"card{number}"]) <= 1)
            self.assertEqual((card.fill, len(card.texts)), (PAPER, 1))
            self.assertAlmostEqual(card.radius, 12, delta=4)

    def test_lines_become_blocks_with_size_and_colour(self) -> None:
        texts = self.found.texts()
        title = next(text for text in texts if near([text.rect], self.truth["title"]))
        self.assertAlmostEqual(title.size, 48, delta=4)
        self.assertEqual(title.colour, PAPER)
        body = next(text for text in texts if text.lines == 2)
        self.assertEqual(body.pitch, 27)
        self.assertAlmostEqual(body.size, 17, delta=1.5)
        self.assertTrue(near([body.rect], self.truth["line0"].joined(self.truth["line1"])))
        self.assertGreater(title.weight, body.weight)

    def test_the_palette_is_exact(self) -> None:
        self.assertLessEqual({INK, PAPER, MIST, MAIN},
                             {colour for colour, _ in self.found.palette})

    def test_real_sections_come_of_it(self) -> None:
        cut: list[Rect] = []
        sections = build_sections(self.found.bands, small_site(), IdSource(4),
                                  lambda rect, _: cut.append(rect) or "m1")  # type: ignore[func-returns-value]
        self.assertEqual([section.look.base.get("fill") for section in sections],
                         ["ink", "paper", "mist"])
        self.assertEqual(len(sections[1].children[0].children), 2)
        items = [item for section in sections for row in section.children
                 for column in row.children for item in column.children]
        self.assertEqual({type(item) for item in items} & {Button, Heading, Picture},
                         {Button, Heading, Picture})
        self.assertTrue(near(cut, self.truth["picture"], 1))
        cards = sections[2].children[-1].children
        self.assertEqual([card.look.base["fill"] for card in cards], ["paper", "paper"])
        self.assertAlmostEqual(cards[0].look.base["pad_left"], 24, delta=1)

    def test_pictures_of_nothing_and_of_noise_end_well(self) -> None:
        for pixels in (np.zeros((1, 1, 3), np.uint8), np.full((40, 40, 3), 255, np.uint8),
                       np.random.default_rng(1).integers(0, 255, (300, 300, 3), np.uint8)):
            found = read_structure(pixels)
            self.assertGreaterEqual(len(found.bands), 1)
            build_sections(found.bands, small_site(), IdSource(1), lambda rect, _: "")

    def test_letters_larger_than_any_style_takes_are_bounded_and_not_refused(self) -> None:
        huge = TextBlock(Rect(0, 0, 900, 420), 330.0, "#102030", 1)
        band = Band(Rect(0, 0, 1280, 500), "#ffffff", (huge,))
        (section,) = build_sections([band], small_site(), IdSource(1), lambda rect, _: "")
        heading = section.children[0].children[0].children[0]
        self.assertEqual(heading.look.base["size"], TABLE["size"].high)

    def test_a_hill_in_a_picture_is_no_edge(self) -> None:
        pixels = np.random.default_rng(4).integers(0, 40, (400, 600, 3)).astype(np.uint8)
        for column, row in enumerate(200 + np.abs(np.arange(600) - 300) * 3 // 4):
            pixels[row:, column] = (200, 190, 180)
        self.assertEqual(band_edges(pixels, 4), [0, 400])


class MeasuringTest(unittest.TestCase):
    def test_the_dropper_averages_in_linear_light_and_names_the_brand(self) -> None:
        pixels, _ = a_page()
        self.assertEqual(area_colour(pixels, 85, 185, 95, 190), MAIN)
        half = np.zeros((10, 10, 3), np.uint8)
        half[:, 5:] = 255
        self.assertEqual(area_colour(half, 0, 0, 10, 10), "#bcbcbc")
        near_main = nearest_colour(starter_brand(), "#0f6c55")
        assert near_main is not None
        self.assertEqual(near_main.role, "main")
        self.assertLess(near_main.apart, 2)

    def test_the_ruler_ends_where_something_does(self) -> None:
        pixels, truth = a_page()
        button = truth["button"]
        self.assertEqual(snapped(pixels, button.left - 3, 205, False), button.left)
        self.assertEqual(snapped(pixels, button.right + 3, 205, False), button.right)
        self.assertEqual(snapped(pixels, 297, 500, True), 300)
        self.assertEqual(snapped(pixels, 520, 500, True), 520)

    def test_type_is_measured_from_a_capital(self) -> None:
        image = Image.new("RGB", (200, 120), "white")
        ImageDraw.Draw(image).text((20, 20), "H", font=font(56), fill="black")
        self.assertAlmostEqual(letter_size(np.asarray(image), 5, 5, 190, 115), 56, delta=2)
        self.assertEqual(letter_size(np.asarray(image), 150, 5, 190, 115), 0)


class SplittingTest(unittest.TestCase):
    def drawn(self, *texts: tuple[int, str, int, bool], high: int = 700) -> Found:
        """Return what is read from lines of words at these heights, on one white ground."""
        image = Image.new("RGB", (1000, high), PAPER)
        draw = ImageDraw.Draw(image)
        for top, words, px, bold in texts:
            draw.text((80, top), words, font=font(px, bold), fill=INK)
        return read_structure(np.asarray(image))

    def test_sections_on_one_ground_part_where_nothing_stands(self) -> None:
        found = self.drawn((80, "First of all", 36, True), (150, WORDS, 17, False),
                           (340, "Second of all", 36, True), (410, WORDS, 17, False), high=520)
        self.assertEqual(len(found.bands), 2)
        self.assertAlmostEqual(found.bands[0].rect.bottom, 257, delta=8)

    def test_a_header_is_a_section_of_its_own(self) -> None:
        found = self.drawn((20, "Quillmoor Dark Sky", 19, True), (160, "The hill", 56, True),
                           (250, WORDS, 19, False), high=360)
        self.assertEqual(len(found.bands), 2)
        self.assertLess(found.bands[0].rect.bottom, 80)

    def test_a_heading_and_its_words_are_two_blocks(self) -> None:
        found = self.drawn((80, "Small and bold", 19, True), (112, WORDS, 17, False),
                           (139, WORDS, 17, False))
        self.assertEqual(sorted(text.lines for text in found.texts()), [1, 2])

    def test_lines_of_a_list_stay_apart(self) -> None:
        found = self.drawn(*((80 + 38 * n, f"Entry number {n}", 17, False) for n in range(4)))
        self.assertEqual([text.lines for text in found.texts()], [1, 1, 1, 1])

    def test_marks_and_dots_belong_to_their_line(self) -> None:
        found = self.drawn((80, "“It was dark, and nobody said: no. I did.”", 19, False))
        self.assertEqual(len(found.texts()), 1)
        self.assertGreater(found.texts()[0].rect.width, 330)

    def test_outlined_buttons_and_fields_are_boxes(self) -> None:
        image = Image.new("RGB", (1000, 400), PAPER)
        draw = ImageDraw.Draw(image)
        draw.rounded_rectangle((80, 80, 280, 130), 6, outline=INK, width=1)
        draw.text((112, 93), "Watch it first", font=font(17, True), fill=INK)
        draw.rectangle((80, 180, 480, 228), outline="#767b87", width=1)
        found = read_structure(np.asarray(image))
        (one,) = found.buttons()
        self.assertEqual(one.rect, Rect(80, 80, 281, 131))
        self.assertTrue(one.edge)
        self.assertEqual(len(found.all_boxes()), 2)

    def test_words_on_a_picture_are_found_and_stars_are_not(self) -> None:
        dice = np.random.default_rng(6)
        across, down = np.meshgrid(np.arange(1000), np.arange(400))
        hills = 70 + 50 * np.sin(across / 61) * np.cos(down / 43)
        pixels = (hills[..., None] + dice.integers(0, 30, (400, 1000, 3))).astype(np.uint8)
        for row, column in dice.integers(0, 400, (60, 2)):
            pixels[row, column] = 255
        image = Image.fromarray(pixels)
        ImageDraw.Draw(image).text((80, 120), "The darkest hill", font=font(56, True),
                                   fill="#ffffff")
        found = read_structure(np.asarray(image))
        self.assertEqual(found.bands[0].ground, "")
        (words,) = found.texts()
        self.assertAlmostEqual(words.size, 56, delta=5)
        self.assertEqual(words.colour, "#ffffff")


def as_jpeg(image: Image.Image) -> np.ndarray:
    """Return a picture as most people have it."""
    held = io.BytesIO()
    image.save(held, "JPEG", quality=70)
    return np.asarray(Image.open(held).convert("RGB"))


def made_smaller(image: Image.Image) -> np.ndarray:
    """Return a picture that somebody made smaller, at the width of its page again."""
    small = image.resize((image.width * 4 // 5, image.height * 4 // 5), Image.Resampling.LANCZOS)
    return np.asarray(small.resize(image.size, Image.Resampling.BICUBIC))


class WildTest(unittest.TestCase):
    """Pictures as they come: JPEG, made smaller, on gradients and textures."""

    def test_jpeg_and_smaller_pictures_are_read_nearly_as_well(self) -> None:
        pixels, truth = a_page()
        for seen in (as_jpeg(Image.fromarray(pixels)), made_smaller(Image.fromarray(pixels))):
            found = read_structure(seen)
            self.assertEqual(len(found.bands), 3)
            self.assertTrue(near([box.rect for box in found.buttons()], truth["button"], 4))
            self.assertTrue(near(found.pictures(), truth["picture"], 4))
            texts = [text.rect for text in found.texts()]
            for key in ("title", "words0", "words1"):
                self.assertTrue(near(texts, truth[key], 4), key)

    def test_a_gradient_and_a_texture_are_grounds(self) -> None:
        down = np.linspace(0, 1, 420)[:, None, None]
        wash = np.broadcast_to(np.array([250, 220, 200]) * (1 - down) + np.array(
            [150, 190, 230]) * down, (420, 1000, 3))
        grain = np.random.default_rng(3).normal(0, 6, (420, 1000, 1)) + np.array([217, 199, 163])
        for ground in (wash, grain):
            image = Image.fromarray(ground.clip(0, 255).astype(np.uint8))
            draw = ImageDraw.Draw(image)
            draw.text((80, 90), "The darkest hill", font=font(48, True), fill=INK)
            draw.rounded_rectangle((80, 190, 289, 241), 26, fill=MAIN)
            draw.text((120, 204), "Keep me a place", font=font(16, True), fill=PAPER)
            found = read_structure(np.asarray(image))
            self.assertEqual(len(found.buttons()), 1)
            self.assertLessEqual(found.buttons()[0].rect.off_by(Rect(80, 190, 290, 242)), 2)
            title = Rect(*(round(v) for v in draw.textbbox(
                (80, 90), "The darkest hill", font=font(48, True))))
            self.assertTrue(near([text.rect for text in found.texts()], title, 4))
            self.assertEqual(len(found.texts()), 1)

    def test_capitals_are_not_small_letters_and_bold_is_bold(self) -> None:
        image = Image.new("RGB", (1000, 500), PAPER)
        draw = ImageDraw.Draw(image)
        for row, (words, px, bold) in enumerate((
                ("NOBODY WAS COLD", 30, False), ("Nobody was cold up there", 30, False),
                ("Nobody was cold up there", 30, True), ("Nobody was cold", 15, False),
                ("Nobody was cold", 15, True))):
            draw.text((80, 40 + 90 * row), words, font=font(px, bold), fill=INK)
        texts = sorted(read_structure(np.asarray(image)).texts(), key=lambda text: text.rect.top)
        for text, size in zip(texts, (30, 30, 30, 15, 15), strict=True):
            self.assertAlmostEqual(text.size / size, 1, delta=0.13)
        self.assertEqual([text.weight >= BOLD_STROKE for text in texts],
                         [False, False, True, False, True])

    def test_a_highlight_is_no_button_and_a_hard_shadow_is_not_of_one(self) -> None:
        image = Image.new("RGB", (1000, 400), PAPER)
        draw = ImageDraw.Draw(image)
        draw.rectangle((140, 62, 330, 90), fill="#ffe26a")
        draw.text((80, 64), WORDS, font=font(20), fill=INK)
        draw.rectangle((87, 207, 266, 266), fill=INK)
        draw.rectangle((80, 200, 259, 259), fill="#ff5c39", outline=INK, width=3)
        draw.text((110, 218), "Order a run", font=font(18, True), fill=INK)
        found = read_structure(np.asarray(image))
        self.assertEqual(len(found.buttons()), 1)
        self.assertLessEqual(found.buttons()[0].rect.off_by(Rect(80, 200, 260, 260)), 2)

    def test_large_letters_are_neither_boxes_nor_rings(self) -> None:
        image = Image.new("RGB", (1200, 400), PAPER)
        draw = ImageDraw.Draw(image)
        draw.text((60, 80), "BOO DOG POOL", font=font(120, True), fill=INK)
        found = read_structure(np.asarray(image))
        self.assertEqual((found.all_boxes(), found.pictures()), ([], []))
        self.assertEqual(len(found.texts()), 1)

    def test_hills_under_a_smooth_sky_are_a_picture_behind_the_words(self) -> None:
        down = np.linspace(0, 1, 500)[:, None, None]
        sky = np.broadcast_to(np.array([20, 24, 60]) * (1 - down) + np.array([70, 60, 120]) * down,
                              (500, 1000, 3)).astype(np.uint8)
        image = Image.fromarray(sky)
        draw = ImageDraw.Draw(image)
        draw.polygon([(60, 499), (260, 330), (600, 400), (760, 350), (940, 499)],
                     fill="#05060f")
        draw.text((80, 120), "The darkest hill", font=font(56, True), fill=PAPER)
        found = read_structure(np.asarray(image))
        self.assertEqual([band.ground for band in found.bands], [""])
        (words,) = found.texts()
        self.assertAlmostEqual(words.size, 56, delta=6)

    def test_what_stood_on_a_picture_is_gone_from_its_background(self) -> None:
        across = np.linspace(40, 200, 600)[None, :, None]
        pixels = np.broadcast_to(across, (300, 600, 3)).astype(np.uint8).copy()
        clear = pixels.copy()
        pixels[100:160, 200:420] = 255
        after = cleared(pixels, [Rect(200, 100, 420, 160)])
        self.assertLess(int(np.abs(after.astype(int) - clear).max()), 30)
        self.assertIs(cleared(pixels, []), pixels)

