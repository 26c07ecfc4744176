import io
import tempfile
import unittest
from pathlib import Path

from PIL import Image

from needle.core.images.picturefile import LONGEST_KEPT, PictureError, take_in
from needle.core.images.sizes import rendition_widths, webp
from needle.store.media import PublishedPictures, import_picture, rendition_bytes


def picture(width: int = 60, height: int = 40, kind: str = "PNG", mode: str = "RGB",
            **more: object) -> bytes:
    out = io.BytesIO()
    Image.new(mode, (width, height), 90 if mode == "L" else None).save(out, kind, **more)
    return out.getvalue()


class ReadingTest(unittest.TestCase):
    def test_what_is_no_picture_is_refused_in_words(self) -> None:
        for data in (b"", b"not a picture", picture()[:60], b"\x89PNG\r\n\x1a\n" + b"0" * 40,
                     b"<svg onload='alert(1)'/>"):
            with self.subTest(data[:12]), self.assertRaisesRegex(PictureError, "not a picture"):
                take_in(data, "x.png")
        with self.assertRaisesRegex(PictureError, "BMP picture. Needle takes PNG"):
            take_in(picture(kind="BMP"), "x.png")

    def test_a_picture_20000_px_wide_is_refused_before_it_fills_the_memory(self) -> None:
        with self.assertRaisesRegex(PictureError, "20,000 × 1 px, too large.*12,000"):
            take_in(picture(20_000, 1), "wide.png")

    def test_a_large_one_is_scaled_and_small_ones_are_left(self) -> None:
        self.assertEqual(take_in(picture(8000, 4000, "JPEG"), "x").width, LONGEST_KEPT)
        self.assertEqual(take_in(picture(1, 1), "x").height, 1)

    def test_it_is_turned_upright_and_forgets_where_it_was_taken(self) -> None:
        exif = Image.Exif()
        exif[0x0112] = 6  # turned by a quarter
        exif[0x8825] = {1: "N", 2: (50.0, 1.0, 2.0)}
        taken = take_in(picture(60, 40, "JPEG", exif=exif), "x.jpg")
        self.assertEqual((taken.width, taken.height), (40, 60))
        self.assertFalse(dict(Image.open(io.BytesIO(taken.data)).getexif()))

    def test_odd_modes_come_in(self) -> None:
        for kind, mode in (("JPEG", "CMYK"), ("PNG", "L"), ("PNG", "P"), ("PNG", "RGBA"),
                           ("GIF", "P"), ("WEBP", "RGBA"), ("PNG", "I;16")):
            with self.subTest(f"{kind} {mode}"):
                self.assertEqual(take_in(picture(kind=kind, mode=mode), "x").width, 60)


class SizesTest(unittest.TestCase):
    def test_sizes_never_grow_beyond_the_picture(self) -> None:
        self.assertEqual(rendition_widths(200), (200,))
        self.assertEqual(rendition_widths(1000), (480, 960, 1000))
        self.assertEqual(rendition_widths(3200), (480, 960, 1440, 1920, 2400))
        self.assertEqual(Image.open(io.BytesIO(webp(picture(600, 300), 480))).size, (480, 240))


class ImportTest(unittest.TestCase):
    def setUp(self) -> None:
        name = tempfile.TemporaryDirectory()
        self.addCleanup(name.cleanup)
        self.folder = Path(name.name)

    def test_the_same_picture_is_kept_once_by_its_content(self) -> None:
        for name in ("one.png", "two.png"):
            (self.folder / name).write_bytes(picture())
        first, second = (import_picture(self.folder, self.folder / n)
                         for n in ("one.png", "two.png"))
        self.assertEqual(first.file, second.file)
        self.assertEqual(len(list((self.folder / "media").iterdir())), 1)

    def test_folders_and_missing_files_are_said_in_words(self) -> None:
        with self.assertRaisesRegex(PictureError, "is a folder"):
            import_picture(self.folder, self.folder)
        with self.assertRaisesRegex(PictureError, "cannot be read"):
            import_picture(self.folder, self.folder / "gone.png")

    def test_renditions_are_made_once_and_named_by_content(self) -> None:
        (self.folder / "a.png").write_bytes(picture(700, 100))
        medium = import_picture(self.folder, self.folder / "a.png")
        pictures = PublishedPictures("../")
        addresses = [r.address for r in pictures.renditions(medium)]
        self.assertEqual([a.rpartition("-")[2] for a in addresses], ["480.webp", "700.webp"])
        self.assertTrue(addresses[0].startswith("../assets/"))
        data = rendition_bytes(self.folder, medium, 480)
        (self.folder / "media" / medium.file).unlink()
        self.assertEqual(rendition_bytes(self.folder, medium, 480), data)
