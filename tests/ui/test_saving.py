import sqlite3
from pathlib import Path
from unittest import mock

from needle.core.edit.pages import rename_page
from needle.store.project import ProjectError, read_site
from tests.ui.desk import DeskTest


class SavingTest(DeskTest):
    def setUp(self) -> None:
        super().setUp()
        self.said: list[tuple[str, bool]] = []
        self.session.said.connect(lambda words, fault: self.said.append((words, fault)))
        self.saved: list[str] = []
        self.session.saved.connect(self.saved.append)

    def rename(self, name: str) -> None:
        page = self.session.page.id
        self.session.edit("rename page", lambda site: rename_page(site, page, name))

    def file(self) -> Path:
        return self.folder / "versions.db"

    def test_damaged_versions_are_begun_again_and_saving_goes_on(self) -> None:
        self.rename("Before")
        self.session.settle()
        for number, damage in enumerate((b"no database at all " * 400, b"", None)):
            with self.subTest(number):
                if damage is None:
                    base = sqlite3.connect(self.file())
                    base.execute("UPDATE texts SET data = x'00'")
                    base.commit()
                    base.close()
                else:
                    for ending in ("-wal", "-shm"):
                        Path(f"{self.file()}{ending}").unlink(missing_ok=True)
                    self.file().write_bytes(damage)
                self.rename(f"After {number}")
                self.until(lambda: not self.session.unsaved)
                self.session.settle()  # The version is kept after the site.
                self.assertEqual(read_site(self.folder).page(self.session.page.id).name,
                                 f"After {number}")
        self.assertEqual(len(list(self.folder.glob("versions.db.broken*"))), 2)
        self.assertIn("damaged", self.said[0][0])
        self.assertNotIn("could not be saved", " ".join(words for words, _ in self.said))

    def test_a_save_that_fails_is_tried_again_and_never_called_saved(self) -> None:
        with mock.patch.object(self.session._project, "save", side_effect=OSError("odd")):
            self.rename("Kept in the window")
            self.until(lambda: bool(self.saved))
            self.assertIn("could not be saved", self.saved[0])
            self.window._show_saved()
            self.assertIn("not saved", self.window.seam._saved.text())
            self.said.clear()
            self.window.commands.run("site.save")
            self.assertEqual(self.said, [])
        self.until(lambda: not self.session.unsaved)
        self.assertEqual(read_site(self.folder).page(self.session.page.id).name,
                         "Kept in the window")

    def test_save_now_saves_now(self) -> None:
        self.rename("At once")
        self.window.commands.run("site.save")
        self.assertEqual(read_site(self.folder).page(self.session.page.id).name, "At once")
        self.assertIn("Everything is saved", self.said[-1][0])

    def test_a_full_disk_is_told(self) -> None:
        with mock.patch.object(self.session._project, "save",
                               side_effect=ProjectError(
                    "project-not-saved", folder="hill", why="the disk is full")):
            self.rename("Full")
            self.window.commands.run("site.save")
            self.assertIn("the disk is full", self.window.last_words)


