"""The brand: what follows from it on pages, its sign, share pictures and letters."""

import io
import re
import tempfile
import unittest
from pathlib import Path

import msgspec
from lxml import etree
from PIL import Image

from needle.core.brand.marks import SHAPES, initials, mark_svg
from needle.core.colour.contrast import contrast
from needle.core.edit.brand import (
    set_dark,
    set_mark,
    set_palette,
    set_room,
    set_scale,
    set_share_card,
    set_swatch,
    suggest_palette,
)
from needle.core.edit.legibility import pairs_in_use, text_contrast
from needle.core.edit.looks import set_look
from needle.core.edit.nodes import insert
from needle.core.edit.place import EditError, find, node_at
from needle.core.kinds.logo import Logo
from needle.core.render.context import Context
from needle.core.render.document import Assets, live_body, live_page
from needle.core.render.mail import mail_html
from needle.core.render.sharing import LAYOUTS, SHARE_SIZE, share_picture
from needle.core.render.stylesheet import brand_css
from needle.core.site.site import Mark, Medium, ShareCard, Site
from needle.core.values.widths import Width
from needle.store.media import EditPictures
from tests.sites import small_site


def page_of(site: Site, mode: str = "live") -> str:
    page = site.pages[0]
    context = Context(site, page, page.variants[0], mode, EditPictures())  # type: ignore[arg-type]
    return live_page(context, Assets(share="share.jpg", icon="data:,"), live_body(context))


class PaletteOnPagesTest(unittest.TestCase):
    def test_every_pair_in_use_is_readable_whatever_the_main_colour_is(self) -> None:
        site = set_look(small_site(), ["head1"], "colour", "main")
        site = set_look(site, ["head2"], "fill", "accent")
        for main in ("#ffff00", "#0b1126", "#808080", "#ff3366"):
            with self.subTest(main):
                changed = set_swatch(site, "main", main)
                self.assertEqual(changed.brand.colours()["main"], main)
                colours = changed.brand.colours()
                for pair in pairs_in_use(changed):
                    self.assertGreaterEqual(contrast(pair.shown, colours[pair.ground]), 4.5)
                for name in ("head1", "button1"):
                    place = find(changed, name)
                    path = list(changed.pages[0].variants[0].children)[:1]
                    ratio = text_contrast(changed, [*path, node_at(changed, place)], Width.PHONE)
                    self.assertGreaterEqual(ratio or 0, 4.5)

    def test_words_name_their_ground_and_get_the_mended_colour(self) -> None:
        site = set_swatch(set_look(small_site(), ["head1"], "colour", "main"), "main", "#ffee00")
        html = page_of(site)
        self.assertIn("color:var(--t-main)", html)
        mended = re.search(r"--paper-main:(#[0-9a-f]{6})", html)
        assert mended
        self.assertGreaterEqual(contrast(mended[1], "#ffffff"), 4.5)

    def test_dark_colours_reach_visitors_and_not_the_editor(self) -> None:
        site = set_dark(small_site(), True)
        self.assertIn("prefers-color-scheme:dark", page_of(site))
        self.assertNotIn("prefers-color-scheme:dark", brand_css(site.brand))
        dark = {swatch.role: swatch.value for swatch in site.brand.dark}
        self.assertGreaterEqual(contrast(dark["ink"], dark["paper"]), 7)
        moved = set_swatch(site, "main", "#c2185b")
        self.assertNotEqual(moved.brand.dark, site.brand.dark)
        self.assertEqual(set_dark(moved, False).brand.dark, ())

    def test_a_palette_brings_roles_that_were_missing(self) -> None:
        site = small_site()
        old = msgspec.structs.replace(site, brand=msgspec.structs.replace(
            site.brand, palette=site.brand.palette[:3]))
        full = suggest_palette(old, "#884400")
        self.assertEqual(len(full.brand.palette), 7)
        self.assertEqual(full.brand.swatch("main").value, "#884400")  # type: ignore[union-attr]
        self.assertIs(set_palette(full, full.brand.colours()), full)


class ScaleTest(unittest.TestCase):
    def test_sizes_follow_the_scale_and_phones_get_smaller_ones(self) -> None:
        site = set_scale(small_site(), 18, 1.3)
        styles = site.style_map()
        sizes = [styles[key].look.value("size", Width.DESKTOP)
                 for key in ("title", "heading", "subtitle", "body", "small")]
        self.assertEqual(sizes, sorted(sizes, reverse=True))
        self.assertEqual(sizes[3], 18)
        self.assertLess(styles["title"].look.value("size", Width.PHONE), sizes[0])
        for size, ratio in ((5, 1.2), (17, 3)):
            with self.assertRaises(EditError):
                set_scale(site, size, ratio)

    def test_room_scales_sections_and_leaves_buttons_alone(self) -> None:
        site = set_look(small_site(), ["button1"], "pad_top", 20)
        top = site.pages[0].variants[0].children[0].id
        site = set_look(site, [top], "pad_top", 60)
        wide = set_room(site, 150)
        self.assertEqual(node_at(wide, find(wide, top)).look.base["pad_top"], 90)
        self.assertEqual(node_at(wide, find(wide, "button1")).look.base["pad_top"], 20)
        back = set_room(wide, 100)
        self.assertEqual(node_at(back, find(back, top)).look.base["pad_top"], 60)
        with self.assertRaises(EditError):
            set_room(site, 10)


class SignTest(unittest.TestCase):
    def test_every_shape_is_a_sound_drawing_with_its_letters(self) -> None:
        site = set_mark(small_site(), Mark(shape="", letters="Q"))
        for shape in ("", *SHAPES):
            with self.subTest(shape):
                drawn = mark_svg(set_mark(site, Mark(shape=shape, letters="Qy")))
                paths = etree.fromstring(drawn.encode()).findall(
                    "{http://www.w3.org/2000/svg}path")
                self.assertGreaterEqual(len(paths), 1)
                self.assertTrue(all(path.get("d") for path in paths))
        self.assertEqual(initials("Quillmoor & dark Sky"), "QD")

    def test_the_logo_follows_brand_and_name_in_the_editor_too(self) -> None:
        site = insert(small_site(), Logo(id="logo1"), "head1", "before")
        html = page_of(site)
        self.assertIn("var(--c-main)", html)
        self.assertIn(f"<span>{site.name}</span>", html)

    def test_share_pictures_carry_the_main_colour(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            media = Path(folder)
            Image.new("RGB", (300, 200), "#123456").save(media / "a.png")
            site = msgspec.structs.replace(small_site(), media=(Medium(
                id="m1", name="a", file="a.png", width=300, height=200),))
            for layout in LAYOUTS:
                with self.subTest(layout):
                    card = ShareCard(layout=layout, medium="m1", ground="main",
                                     words="A long line of words " * 9)
                    made = set_share_card(set_swatch(site, "main", "#c2185b"), card)
                    data = share_picture(made, made.pages[0], media)
                    with Image.open(io.BytesIO(data)) as image:
                        self.assertEqual(image.size, SHARE_SIZE)
                        red, green, blue = image.getpixel((10, 300))  # type: ignore[misc]
                    self.assertTrue(abs(red - 0xc2) < 6 and green < 40 and abs(blue - 0x5b) < 8)

    def test_pages_tell_previews_what_to_show(self) -> None:
        html = page_of(small_site())
        for told in ('property="og:image" content="share.jpg"', 'property="og:title"',
                     'rel="icon"'):
            self.assertIn(told, html)

    def test_letters_take_the_colours_and_no_markup_of_visitors(self) -> None:
        html = mail_html("Hill", {"main": "#c2185b"}, "New lead", [("Name", "<b>Ilse</b>")])
        self.assertIn("background:#c2185b", html)
        self.assertIn("&lt;b&gt;Ilse&lt;/b&gt;", html)
