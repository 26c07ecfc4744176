import io
import tempfile
import unittest
from importlib.resources import as_file, files
from pathlib import Path
from unittest import mock

import av
import numpy as np
from PIL import Image

from needle.core.films import filmfile
from needle.core.films.filmfile import FilmError, take_in_film
from needle.store.media import PublishedPictures, import_film


def write_film(path: Path, codec: str, frames: int = 20) -> Path:
    with av.open(str(path), "w") as out:
        stream = out.add_stream(codec, rate=10)
        stream.width, stream.height, stream.pix_fmt = 64, 48, "yuv420p"
        for number in range(frames):
            pixels = np.full((48, 64, 3), number * 10, np.uint8)
            for packet in stream.encode(av.VideoFrame.from_ndarray(pixels, "rgb24")):
                out.mux(packet)
        for packet in stream.encode():
            out.mux(packet)
    return path


class FilmTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def test_size_length_and_a_still_are_read(self) -> None:
        film = take_in_film(write_film(self.folder / "a.webm", "libvpx-vp9"))
        self.assertEqual((film.ending, film.width, film.height), ("webm", 64, 48))
        self.assertAlmostEqual(film.seconds, 2.0, delta=0.2)
        with Image.open(io.BytesIO(film.still)) as still:
            self.assertEqual(still.size, (64, 48))

    def test_it_is_copied_once_with_its_still(self) -> None:
        with as_file(files("needle.demo") / "pictures" / "night.webm") as path:
            film, still = import_film(self.folder, path)
            again, _ = import_film(self.folder, path)
        self.assertEqual(film.file, again.file)
        self.assertTrue(film.is_video and not still.is_video)
        self.assertEqual(film.mime, "video/webm")
        self.assertEqual(len(list((self.folder / "media").iterdir())), 2)
        pictures = PublishedPictures("../")
        self.assertEqual(pictures.original(film), f"../assets/{film.file}")
        self.assertEqual(pictures.used[film.file], (film, 0))

    def test_what_is_no_video_is_refused_in_words(self) -> None:
        picture = self.folder / "p.png"
        Image.new("RGB", (4, 4)).save(picture)
        cut = self.folder / "cut.webm"
        cut.write_bytes(write_film(self.folder / "b.webm", "libvpx-vp9").read_bytes()[:300])
        words = self.folder / "words.mp4"
        words.write_text("<script>alert(1)</script>" * 50)
        old = write_film(self.folder / "old.avi", "mpeg4")
        for path, told in ((words, "not a video"), (cut, "cut short|no moving|not a video"),
                           (picture, "no moving picture|not a video|do not play"),
                           (old, "most browsers do not play"), (self.folder, "is a folder"),
                           (self.folder / "gone.mp4", "not a video")):
            with self.subTest(path.name), self.assertRaisesRegex(FilmError, told):
                import_film(self.folder, path)
        self.assertFalse((self.folder / "media").exists())

    def test_a_heavy_one_is_refused_before_it_is_read(self) -> None:
        path = write_film(self.folder / "a.webm", "libvpx-vp9")
        with mock.patch.object(filmfile, "HEAVIEST", 100), \
                self.assertRaisesRegex(FilmError, "weighs"):
            take_in_film(path)

