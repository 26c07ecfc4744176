"""What the brand gives to visitors: icon, share pictures, own fonts, files, dark colours."""

import re
import tempfile
import unittest
from pathlib import Path

import msgspec
from fontTools.ttLib import TTFont
from PIL import Image

from needle.core.edit.brand import set_dark, set_mark, set_swatch, set_typefaces
from needle.core.edit.media import add_fonts, add_medium, replace_medium
from needle.core.edit.nodes import insert, set_field
from needle.core.edit.pages import set_page
from needle.core.kinds.logo import Logo
from needle.core.kinds.picture import Picture
from needle.core.site.site import Mark, Site
from needle.core.values.actions import GiveFile
from needle.publish.folder import publish_folder
from needle.publish.live import send_pages
from needle.publish.releases import read_live
from needle.store.media import import_file, import_picture, keep_font
from tests.core.test_media_edits import font_bytes
from tests.sites import PAGE, THANKS, small_site

SVG = (b"<svg xmlns='http://www.w3.org/2000/svg' viewBox='0 0 80 40'>"
       b"<rect width='80' height='40' fill='#123456'/></svg>")


class BrandOutTest(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.root = Path(held.name)
        self.project, self.out = self.root / "p", self.root / "out"
        (self.project / "media").mkdir(parents=True)

    def file(self, name: str, data: bytes) -> Path:
        path = self.root / name
        path.write_bytes(data)
        return path

    def published(self, site: Site) -> str:
        publish_folder(site, self.project, self.out)
        return (self.out / "night" / "index.html").read_text("utf-8")

    def shared(self, html: str) -> Path:
        found = re.search(r'property="og:image" content="([^"]+)"', html)
        assert found
        return (self.out / "night" / found[1]).resolve()

    def test_each_page_has_a_share_picture_that_follows_the_main_colour(self) -> None:
        one = self.shared(self.published(small_site()))
        with Image.open(one) as image:
            self.assertEqual(image.size, (1200, 630))
            before = image.getpixel((600, 620))
        other = self.shared(self.published(set_swatch(small_site(), "main", "#c2185b")))
        self.assertNotEqual(one.name, other.name)
        with Image.open(other) as image:
            self.assertNotEqual(image.getpixel((600, 620)), before)
        again = self.shared(self.published(set_swatch(small_site(), "main", "#c2185b")))
        self.assertEqual(again, other)

    def test_an_own_share_picture_and_an_own_logo_take_their_places(self) -> None:
        path = self.root / "wide.png"
        Image.new("RGB", (900, 500), "#336699").save(path)
        wide = import_picture(self.project, path)
        logo = import_picture(self.project, self.file("logo.svg", SVG))
        site = add_medium(add_medium(small_site(), wide), logo)
        site = insert(site, Logo(id="logo1"), "head1", "before")
        site = set_mark(set_page(site, PAGE, share=wide.id), Mark(medium=logo.id))
        html = self.published(site)
        self.assertTrue(self.shared(html).name.startswith(Path(wide.file).stem))
        self.assertIn(f'rel="icon" href="../assets/{logo.file}"', html)
        self.assertIn(f'src="../assets/{logo.file}"', html)
        self.assertEqual((self.out / "assets" / logo.file).read_bytes(),
                         (self.project / "media" / logo.file).read_bytes())

    def touch(self, html: str) -> Image.Image:
        found = re.search(r'rel="apple-touch-icon" href="([^"]+)"', html)
        assert found
        with Image.open((self.out / "night" / found[1]).resolve()) as image:
            image.load()
            return image

    def test_a_phone_gets_an_icon_in_the_colours_of_the_brand(self) -> None:
        drawn = self.touch(self.published(small_site()))
        self.assertEqual((drawn.size, drawn.mode), ((180, 180), "RGB"))
        other = self.touch(self.published(set_swatch(small_site(), "main", "#c2185b")))
        self.assertIn((0xc2, 0x18, 0x5b), [colour for _, colour in other.getcolors(40_000)])
        self.assertNotIn((0xc2, 0x18, 0x5b), [colour for _, colour in drawn.getcolors(40_000)])
        logo = import_picture(self.project, self.file("logo.svg", SVG))
        site = set_mark(add_medium(small_site(), logo), Mark(medium=logo.id))
        self.assertEqual(self.touch(self.published(site)).getpixel((90, 90)), (0x12, 0x34, 0x56))

    def test_a_foreign_drawing_brings_no_picture_of_this_machine_into_the_icon(self) -> None:
        secret = self.root / "secret.png"
        Image.new("RGB", (40, 40), "#ff0000").save(secret)
        logo = import_picture(self.project, self.file("logo.svg", SVG))
        (self.project / "media" / logo.file).write_bytes(
            b"<svg xmlns='http://www.w3.org/2000/svg' xmlns:xlink='http://www.w3.org/1999/xlink' "
            b"viewBox='0 0 40 40'><rect width='40' height='40' fill='#00ff00'/><image width='40' "
            b"height='40' xlink:href='" + str(secret).encode() + b"'/></svg>")
        site = set_mark(add_medium(small_site(), logo), Mark(medium=logo.id))
        self.assertEqual(self.touch(self.published(site)).getpixel((90, 90)), (0, 0xff, 0))

    def test_a_sign_that_cannot_be_read_costs_the_icon_alone(self) -> None:
        logo = import_picture(self.project, self.file("logo.svg", SVG))
        (self.project / "media" / logo.file).write_bytes(b"no drawing")
        site = set_mark(add_medium(small_site(), logo), Mark(medium=logo.id))
        self.assertNotIn("apple-touch-icon", self.published(site))

    def test_an_own_font_reaches_visitors_cut_to_their_letters(self) -> None:
        fonts = keep_font(self.project, self.file("h.ttf", font_bytes("adehklorstw O")))
        site = set_typefaces(add_fonts(small_site(), fonts), heading="Hillfont")
        html = self.published(site)
        found = re.search(r"font-family:'Hillfont';font-weight:700;[^}]*url\(([^)]+)\)", html)
        assert found
        with TTFont(self.out / "night" / found[1]) as font:
            self.assertEqual(font.flavor, "woff2")
            self.assertIn(ord("O"), font.getBestCmap())

    def test_a_font_that_may_not_be_cut_goes_whole(self) -> None:
        letters = "abcdefgXYZž"
        fonts = keep_font(self.project, self.file("w.ttf", font_bytes(letters, rights=0x0100)))
        html = self.published(set_typefaces(add_fonts(small_site(), fonts), heading="Hillfont"))
        found = re.search(r"font-family:'Hillfont'[^}]*url\(([^)]+)\)", html)
        assert found
        with TTFont(self.out / "night" / found[1]) as font:
            self.assertEqual(set(font.getBestCmap()), set(map(ord, letters)))

    def test_a_button_hands_out_a_file(self) -> None:
        guide = import_file(self.project, self.file("guide.pdf", b"%PDF-1.4 hill"))
        site = set_field(add_medium(small_site(), guide), "button1", "actions",
                         (GiveFile(guide.id),))
        html = self.published(site)
        self.assertIn(f'href="../assets/{guide.file}" download="guide.pdf"', html)
        self.assertEqual((self.out / "assets" / guide.file).read_bytes(), b"%PDF-1.4 hill")

    def test_a_drawing_is_sent_as_it_is_and_a_replacement_everywhere(self) -> None:
        drawn = import_picture(self.project, self.file("a.svg", SVG))
        site = insert(add_medium(small_site(), drawn), Picture(id="p1", medium=drawn.id),
                      "head1", "after")
        self.assertIn(f"assets/{drawn.file}", self.published(site))
        path = self.root / "b.png"
        Image.new("RGB", (700, 500), "#663399").save(path)
        other = import_picture(self.project, path)
        html = self.published(replace_medium(site, drawn.id, other))
        self.assertNotIn(drawn.file, html)
        self.assertIn(f"{Path(other.file).stem}-480.webp", html)

    def test_dark_colours_are_sent_on_demand_only(self) -> None:
        self.assertNotIn("prefers-color-scheme", self.published(small_site()))
        html = self.published(set_dark(small_site(), True))
        self.assertIn("color-scheme:dark", html)

    def test_what_is_live_knows_the_colours_for_letters(self) -> None:
        send_pages(set_swatch(small_site(), "main", "#c2185b"), self.project, [PAGE, THANKS])
        live = read_live(self.project)
        assert live is not None
        self.assertEqual(live.colours["main"], "#c2185b")

    def test_a_missing_own_font_or_picture_does_not_stop_the_share_picture(self) -> None:
        card = msgspec.structs.replace(small_site().brand.share, layout="picture", medium="gone")
        site = msgspec.structs.replace(small_site(), brand=msgspec.structs.replace(
            small_site().brand, share=card, heading_face="Not there"))
        self.assertTrue(self.shared(self.published(site)).exists())
