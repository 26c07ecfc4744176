"""Saved pages on the disk: what they may reach, and what is refused."""

import tempfile
import unittest
from pathlib import Path

from needle.core.images.picturefile import PictureError
from needle.store.savedpages import open_saved


class SavedPageTest(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.folder = Path(held.name).resolve()

    def write(self, name: str, data: str = "x") -> Path:
        path = self.folder / name
        path.parent.mkdir(parents=True, exist_ok=True)
        path.write_text(data)
        return path

    def test_it_is_shown_with_the_styles_pictures_and_fonts_of_its_folder(self) -> None:
        for name in ("a_files/s.css", "a_files/p q.png", "f.woff2"):
            self.write(f"docs/{name}")
        page = open_saved(self.write("docs/a.html", "<link href=a_files/s.css>"))
        self.assertEqual(page.entry, "a.html")
        self.assertEqual(page.answer("a.html"), (b"<link href=a_files/s.css>", "text/html"))
        self.assertEqual(page.answer("a_files/s.css"), (b"x", "text/css"))
        self.assertEqual(page.answer("a_files/p%20q.png"), (b"x", "image/png"))
        self.assertEqual(page.answer("f.woff2"), (b"x", "font/woff2"))

    def test_it_reaches_as_far_up_as_it_points_and_two_folders_at_most(self) -> None:
        self.write("top.css")
        self.write("one/two/s.css")
        near = open_saved(self.write("one/two/three/a.html", '<link href="../s.css">'))
        self.assertEqual((near.entry, near.answer("s.css")), ("three/a.html", (b"x", "text/css")))
        self.assertIsNone(near.answer("../../top.css"))
        far = open_saved(self.write("one/two/three/b.html", '<link href="../../../../top.css">'))
        self.assertIsNone(far.answer("../top.css"))
        self.assertEqual(far.entry, "two/three/b.html")

    def test_no_script_no_other_page_nothing_by_a_link_that_leads_out(self) -> None:
        self.write("secret.png")
        for name in ("x.js", "other.html", "notes.txt"):
            self.write(f"docs/{name}")
        (self.folder / "docs/out.png").symlink_to(self.folder / "secret.png")
        page = open_saved(self.write("docs/a.html", "<p>"))
        for path in ("x.js", "other.html", "notes.txt", "out.png", "../secret.png",
                     "%2e%2e/secret.png", "/etc/passwd", "", "a\0.png", "gone.png"):
            self.assertIsNone(page.answer(path), path)

    def test_it_never_goes_on_to_another_page_by_itself(self) -> None:
        page = open_saved(self.write("a.html", "<META content='0;url=/x' HTTP-EQUIV=Refresh><p>"))
        self.assertEqual(page.answer("a.html"), (b"<p>", "text/html"))

    def test_frames_are_named_and_broken_xhtml_is_taken_as_html(self) -> None:
        framed = self.write("f.html", "<html><FRAMESET cols='*,*'><frame src='menu.html'>"
                                      "<frame src='text.html'></FRAMESET></html>")
        with self.assertRaisesRegex(PictureError, "of frames.*menu.html, text.html"):
            open_saved(framed)
        spoken = open_saved(self.write("g.html", "<body><p>A page on &lt;frameset&gt; <frameset>"))
        self.assertEqual(spoken.entry, "g.html")
        good = '<html xmlns="http://www.w3.org/1999/xhtml"><body><p>x</p></body></html>'
        for words, kind in ((good, "application/xhtml+xml"), (good[:-9], "text/html")):
            page = open_saved(self.write("a.xhtml", words))
            answer = page.answer(page.entry)
            self.assertEqual(answer and answer[1], kind)

    def test_what_is_no_page_is_refused_in_words(self) -> None:
        for name, data, said in (("a.html", "no tag", "holds no page"), ("b.mhtml", "<p>", "holds"),
                                 ("gone.html", "", "is no file")):
            path = self.folder / name if name == "gone.html" else self.write(name, data)
            with self.assertRaisesRegex(PictureError, said):
                open_saved(path)
        (self.folder / "c.html").mkdir()
        with self.assertRaisesRegex(PictureError, "is no file"):
            open_saved(self.folder / "c.html")
