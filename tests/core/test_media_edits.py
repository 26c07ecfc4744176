"""Pictures, files and fonts: taking in, cleaning, cutting, replacing, finding uses."""

import io
import tempfile
import unittest
from pathlib import Path

import msgspec
from fontTools.fontBuilder import FontBuilder
from fontTools.pens.ttGlyphPen import TTGlyphPen
from PIL import Image

from needle.core.edit.brand import set_typefaces
from needle.core.edit.media import (
    add_fonts,
    add_medium,
    drop_family,
    media_uses,
    replace_medium,
    set_medium,
    unused_media,
)
from needle.core.edit.nodes import insert, set_field
from needle.core.edit.pages import duplicate_page
from needle.core.edit.place import EditError
from needle.core.images.cutting import cut_picture, inner_share
from needle.core.images.picturefile import PictureError, take_in
from needle.core.images.sizes import visitor_weights
from needle.core.images.vector import VectorError, clean_svg
from needle.core.kinds.button import Button
from needle.core.kinds.picture import Picture
from needle.core.site.site import Cut, Medium, Site
from needle.core.type.faces import FACES, PAIRS, families, nearest_face
from needle.core.type.fontfile import FontError, letters_of, missing_letters, read_font
from needle.core.values.actions import GiveFile
from needle.core.wording.lettering import faces_used
from needle.store.media import import_file, import_picture, keep_cut, keep_font
from tests.sites import small_site


def font_bytes(letters: str = "abc", rights: int = 0, family: str = "Hillfont") -> bytes:
    """Return a small TTF whose letters are squares."""
    names = [".notdef", *(f"g{ord(sign):x}" for sign in letters)]
    builder = FontBuilder(1000, isTTF=True)
    builder.setupGlyphOrder(names)
    builder.setupCharacterMap({ord(sign): f"g{ord(sign):x}" for sign in letters})
    pen = TTGlyphPen(None)
    pen.moveTo((50, 0))
    for point in ((50, 700), (450, 700), (450, 0)):
        pen.lineTo(point)
    pen.closePath()
    glyph = pen.glyph()
    builder.setupGlyf(dict.fromkeys(names, glyph))
    builder.setupHorizontalMetrics(dict.fromkeys(names, (500, 50)))
    builder.setupHorizontalHeader(ascent=800, descent=-200)
    builder.setupNameTable({"familyName": family, "styleName": "Regular"})
    builder.setupOS2(sTypoAscender=800, fsType=rights, usWeightClass=700)
    builder.setupPost()
    out = io.BytesIO()
    builder.save(out)
    return out.getvalue()


def png(size: tuple[int, int], colour: str = "#336699", mode: str = "RGB") -> bytes:
    out = io.BytesIO()
    Image.new(mode, size, colour).save(out, "JPEG" if mode == "CMYK" else "PNG")
    return out.getvalue()


def picture(medium: str, file: str) -> Medium:
    return Medium(id=medium, name=medium, file=file, width=40, height=30)


class FolderTest(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name)
        (self.folder / "media").mkdir()


class VectorTest(unittest.TestCase):
    def test_only_drawing_is_left(self) -> None:
        evil = b"""<?xml version="1.0"?><!DOCTYPE svg [<!ENTITY x SYSTEM "file:///etc/passwd">]>
        <svg xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"
         viewBox="0 0 40 20" onload="alert(1)"><script>alert(2)</script>
         <foreignObject><p xmlns="http://www.w3.org/1999/xhtml">x</p></foreignObject>
         <image href="https://spy.example/a.png"/><use xlink:href="https://spy.example/#a"/>
         <rect width="9" height="9" fill="url(https://spy.example/)" onclick="x()"
          style="fill:red"/><style>@import url(x.css);</style><a href="javascript:x()"/>
         <path d="M0 0h9" fill="url(#inside)"/>&x;</svg>"""
        clean, width, height = clean_svg(evil, "evil.svg")
        for bad in (b"script", b"onload", b"onclick", b"spy", b"foreign", b"import", b"passwd",
                    b"javascript", b"ENTITY"):
            self.assertNotIn(bad, clean)
        for good in (b"style=\"fill:red\"", b"url(#inside)", b"<path"):
            self.assertIn(good, clean)
        self.assertEqual((width, height), (40, 20))
        self.assertEqual(clean_svg(clean, "again.svg")[0], clean)

    def test_sizes_in_any_unit_and_faults_in_words(self) -> None:
        head = b"<svg xmlns='http://www.w3.org/2000/svg' "
        for given, size in ((b"width='2in' height='1in'/>", (192, 96)), (b"/>", (300, 150)),
                            (b"width='100%' viewBox='0 0 12 8'/>", (12, 8))):
            self.assertEqual(clean_svg(head + given, "a.svg")[1:], size)
        for data, told in ((b"<svg", "cannot|not a drawing"), (b"<html/>", "no SVG drawing"),
                           (b" " * 5_000_000, "too much"),
                           (head + b">" + b"<g/>" * 60_000 + b"</svg>", "parts")):
            with self.subTest(told), self.assertRaisesRegex(VectorError, told):
                clean_svg(data, "a.svg")


class PictureTest(FolderTest):
    def test_a_turned_photograph_stands_upright_and_tells_no_place(self) -> None:
        image = Image.new("RGB", (60, 40), "#884422")
        exif = image.getexif()
        exif[0x0112] = 6
        exif[0x8825] = {1: "N"}
        out = io.BytesIO()
        image.save(out, "JPEG", exif=exif)
        taken = take_in(out.getvalue(), "a.jpg")
        self.assertEqual((taken.width, taken.height), (40, 60))
        with Image.open(io.BytesIO(taken.data)) as kept:
            self.assertFalse(kept.getexif())

    def test_odd_pictures_are_taken_or_refused_in_words(self) -> None:
        taken = take_in(png((30, 20), "#000000", "CMYK"), "print.jpg")
        with Image.open(io.BytesIO(taken.data)) as kept:
            self.assertEqual(kept.mode, "RGB")
        self.assertEqual(take_in(png((1, 1)), "dot.png").width, 1)
        frames = [Image.new("RGB", (9, 9), colour) for colour in ("red", "blue")]
        out = io.BytesIO()
        frames[0].save(out, "GIF", save_all=True, append_images=frames[1:])
        with Image.open(io.BytesIO(take_in(out.getvalue(), "a.gif").data)) as kept:
            self.assertEqual(getattr(kept, "n_frames", 1), 1)
        bomb = png((13_000, 10))
        with self.assertRaisesRegex(PictureError, "too large"):
            take_in(bomb, "bomb.png")

    def test_cutting_turns_crops_and_can_be_put_back(self) -> None:
        path = self.folder / "a.png"
        path.write_bytes(png((200, 100)))
        medium = import_picture(self.folder, path)
        cut = keep_cut(self.folder, medium, Cut(turn=90, left=10, right=10, top=25, longest=60))
        self.assertEqual((cut.width, cut.height), (32, 60))
        self.assertEqual(cut.original, medium.file)
        again = keep_cut(self.folder, cut, Cut(left=50))
        self.assertEqual((again.width, again.height), (100, 100))
        whole = keep_cut(self.folder, again, Cut())
        self.assertEqual((whole.file, whole.original), (medium.file, ""))
        (self.folder / "media" / medium.file).unlink()
        with self.assertRaisesRegex(PictureError, "cannot be cut"):
            keep_cut(self.folder, medium, Cut(left=5))

    def test_straightening_leaves_no_empty_corner(self) -> None:
        data, width, height = cut_picture(png((300, 200), "#ff0000"), "png", Cut(turn=7))
        with Image.open(io.BytesIO(data)) as image:
            corners = [image.convert("RGB").getpixel(at) for at in (
                (0, 0), (width - 1, 0), (0, height - 1), (width - 1, height - 1))]
        self.assertTrue(all(red > 200 for red, _, _ in corners))  # type: ignore[misc]
        self.assertAlmostEqual(width / height, 1.5, 1)
        self.assertEqual(inner_share(10, 10, 0), 1)

    def test_what_visitors_download_grows_with_the_width(self) -> None:
        weights = visitor_weights(png((1000, 400)), 1000)
        self.assertEqual(list(weights), [480, 960, 1000])
        self.assertEqual(sorted(weights.values()), list(weights.values()))

    def test_files_are_handed_out_but_none_that_run(self) -> None:
        guide = self.folder / "guide.pdf"
        guide.write_bytes(b"%PDF-1.4 x")
        medium = import_file(self.folder, guide)
        self.assertFalse(medium.is_picture or medium.is_video)
        page = self.folder / "evil.html"
        page.write_text("<script>")
        with self.assertRaisesRegex(PictureError, "cannot be handed out"):
            import_file(self.folder, page)


class UseTest(unittest.TestCase):
    def site(self) -> Site:
        site = add_medium(add_medium(small_site(), picture("m1", "a.png")),
                          picture("m2", "b.png"))
        site = insert(site, Picture(id="pic1", medium="m1"), "head1", "after")
        give = Button(id="give", words=(), actions=(GiveFile("m1"),))
        return insert(site, give, "head2", "after")

    def test_one_replacement_reaches_nine_pages(self) -> None:
        site = self.site()
        for _ in range(8):
            site, _ = duplicate_page(site, site.pages[0].id)
        other = picture("m9", "c.png")
        before = len(media_uses(site)["m1"])
        self.assertEqual(before, 9)
        changed = replace_medium(set_medium(site, "m1", alt="A hill"), "m1", other)
        self.assertEqual(changed.medium("m1").file, "c.png")  # type: ignore[union-attr]
        self.assertEqual(changed.medium("m1").alt, "A hill")  # type: ignore[union-attr]
        self.assertEqual(len(media_uses(changed)["m1"]), 9)

    def test_a_replacement_that_is_there_already_is_used(self) -> None:
        site = replace_medium(self.site(), "m1", picture("m3", "b.png"))
        self.assertEqual([m.id for m in site.media], ["m2"])
        self.assertEqual(unused_media(site), [])
        with self.assertRaisesRegex(EditError, "takes the place"):
            replace_medium(site, "m2", Medium(id="v", name="v", file="v.mp4", width=9, height=9,
                                              seconds=3))

    def test_the_unused_are_found(self) -> None:
        self.assertEqual(unused_media(self.site()), ["m2"])
        shared = msgspec.structs.replace(self.site(), pages=(msgspec.structs.replace(
            self.site().pages[0], share="m2"), *self.site().pages[1:]))
        self.assertEqual(unused_media(shared), [])
        empty = set_field(self.site(), "pic1", "medium", "m2")
        self.assertEqual(media_uses(empty)["m1"], ["Night"])


class FontTest(FolderTest):
    def test_a_variable_font_gives_the_weights_in_use(self) -> None:
        builder = FontBuilder(1000, isTTF=True)
        names = [".notdef", "ga"]
        builder.setupGlyphOrder(names)
        builder.setupCharacterMap({ord("a"): "ga"})
        pen = TTGlyphPen(None)
        pen.moveTo((0, 0))
        for point in ((0, 500), (400, 500), (400, 0)):
            pen.lineTo(point)
        pen.closePath()
        glyph = pen.glyph()
        builder.setupGlyf(dict.fromkeys(names, glyph))
        builder.setupHorizontalMetrics(dict.fromkeys(names, (500, 0)))
        builder.setupHorizontalHeader(ascent=800, descent=-200)
        builder.setupNameTable({"familyName": "Wide", "styleName": "Regular"})
        builder.setupOS2(sTypoAscender=800)
        builder.setupPost()
        builder.setupFvar([("wght", 300, 400, 600, "Weight")], [])
        builder.setupGvar({name: [] for name in names})
        out = io.BytesIO()
        builder.save(out)
        cuts = read_font(out.getvalue(), "wide.ttf")
        self.assertEqual([cut.weight for cut in cuts], [400, 600])
        self.assertEqual({cut.family for cut in cuts}, {"Wide"})

    def test_a_font_is_read_named_and_used_at_once(self) -> None:
        path = self.folder / "Hill.ttf"
        path.write_bytes(font_bytes())
        fonts = keep_font(self.folder, path)
        site = set_typefaces(add_fonts(small_site(), fonts), body="Hillfont")
        self.assertEqual(families(site)[0], "Hillfont")
        face = nearest_face(site, "Hillfont", 400, False)
        assert face is not None
        self.assertTrue(face.own and face.source(self.folder / "media").is_file())
        self.assertIn(face, faces_used(site, site.pages[0].variants[0]))
        with self.assertRaisesRegex(EditError, "in use"):
            drop_family(site, "Hillfont")
        self.assertEqual(drop_family(set_typefaces(site, body="Karla"), "Hillfont").fonts, ())

    def test_missing_letters_and_rights_are_told(self) -> None:
        self.assertEqual(missing_letters(letters_of(font_bytes()), ["a b", "cäd"]), "dä")
        for rights, told in ((0x0002, "does not allow"), (0x0200, "only pictures")):
            with self.assertRaisesRegex(FontError, told) as caught:
                read_font(font_bytes(rights=rights), "a.ttf")
            self.assertTrue(caught.exception.forbidden)
        (cut,) = read_font(font_bytes(rights=0x0002), "a.ttf", licensed=True)
        self.assertEqual((cut.weight, cut.ending), (700, ".ttf"))
        self.assertTrue(read_font(font_bytes(rights=0x0100), "a.ttf")[0].whole)

    def test_broken_fonts_are_refused_in_words(self) -> None:
        sound = font_bytes()
        for data, told in ((b"", "not a font|damaged"),
                           (b"wOF2" + b"\0" * 60, "not a font|damaged"),
                           (sound[:200], "not a font|damaged"), (font_bytes("!?"), "no letters"),
                           (b"<svg/>", "not a font|damaged")):
            with self.subTest(data[:8]), self.assertRaisesRegex(FontError, told):
                read_font(data, "a.ttf")
        with self.assertRaisesRegex(FontError, "cannot be read"):
            keep_font(self.folder, self.folder / "gone.ttf")

    def test_every_shipped_cut_is_there_and_every_pair_exists(self) -> None:
        for face in FACES:
            self.assertTrue(face.source(None).is_file(), face.file)
        names = {face.family for face in FACES}
        self.assertGreaterEqual(len(names), 12)
        self.assertGreaterEqual(len(PAIRS), 12)
        self.assertLessEqual({name for pair in PAIRS for name in (pair.heading, pair.body)}, names)
