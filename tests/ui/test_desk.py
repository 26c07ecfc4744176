"""The desk of all sites, driven by mouse and keys."""

import os
import tempfile
import time
import unittest
from collections.abc import Callable
from pathlib import Path
from unittest import mock

import msgspec
from PyQt6.QtCore import QObject, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QFileDialog

from needle.core.progress import just_begun
from needle.running.stand import Stand
from needle.store.packages import write_package
from needle.store.project import Project, read_site
from needle.store.sites import known_sites, remember_site
from needle.ui.desk.desk import Desk
from needle.ui.desk.newsite import NewSiteDialog
from needle.ui.desk.rows import PICTURE, SITE, STANDING, _columns
from needle.ui.fronting import Front, bring_to_front
from needle.ui.session import Session
from needle.ui.window import Window
from tests.sites import PAGE, small_site, wired_site
from tests.ui.desk import APP

assert APP


class DeskTest(unittest.TestCase):
    def setUp(self) -> None:
        self.base = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.enterContext(mock.patch.dict(os.environ, NEEDLE_CONFIG=str(self.base / "config")))
        self.opened: list[Path] = []

    def known(self, name: str, wired: bool = False) -> Path:
        folder = self.base / name
        site = wired_site() if wired else small_site()
        Project.create(folder, msgspec.structs.replace(site, name=name.title())).close()
        remember_site(folder, name.title())
        return folder

    def desk(self) -> Desk:
        made = Desk(lambda folder: not self.opened.append(folder), lambda: False)
        self.addCleanup(made.close)
        made.show()
        return made

    def until(self, holds: Callable[[], object]) -> None:
        end = time.monotonic() + 240
        while not holds():
            self.assertLess(time.monotonic(), end, "it did not come")
            QTest.qWait(15)

    def test_a_package_is_opened_as_a_site_of_its_own(self) -> None:
        folder = self.known("hill")
        package = self.base / "night.zip"
        write_package(read_site(folder), folder, PAGE, package)
        broken = self.base / "broken.zip"
        broken.write_bytes(b"no zip")
        desk = self.desk()

        def fill(dialog: NewSiteDialog) -> int:
            self.assertIn("night.zip", dialog.begins.currentText())
            dialog.name.setText("Moor Night")
            dialog.where.setText(str(self.base / "moor"))
            dialog.take_package(broken)
            dialog.make()
            self.assertIn("broken.zip", dialog.said.text())
            self.assertFalse((self.base / "moor").exists())
            dialog.take_package(package)
            dialog.make()
            return dialog.result()

        with mock.patch.object(QFileDialog, "getOpenFileName", return_value=(str(package), "")), \
                mock.patch.object(NewSiteDialog, "exec", fill):
            desk.open_package()
        self.assertEqual(self.opened, [self.base / "moor"])
        site = read_site(self.base / "moor")
        self.assertEqual((site.name, [page.name for page in site.pages]), ("Moor Night", ["Night"]))

    def shown(self, desk: Desk) -> list[str]:
        return [desk.list.item(row).data(SITE).name for row in range(desk.list.count())
                if not desk.list.item(row).isHidden()]

    def read(self, desk: Desk) -> None:
        self.until(lambda: all(desk.list.item(row).data(STANDING) is not None
                               for row in range(desk.list.count())))

    def test_without_a_site_it_offers_the_first_steps(self) -> None:
        desk = self.desk()
        self.assertTrue(desk._empty.isVisible())
        self.assertFalse(desk.list.isVisible() or desk.forget.isEnabled())
        self.assertIs(desk.focusWidget(), desk.new)
        desk.open_demo()
        self.assertIn("could not be started", desk.said.text())

    def test_a_small_window_keeps_room_for_a_sites_name(self) -> None:
        self.known("hill")
        desk = self.desk()
        for width in (1024, 1280):
            desk.resize(width, 700)
            APP.processEvents()
            row, bar = desk.list.visualItemRect(desk.list.item(0)), desk.list.horizontalScrollBar()
            self.assertEqual(bar.maximum(), 0)
            name_left = PICTURE.width() + 34
            self.assertGreater(row.width() - _columns(row.width()).state - name_left, 160)

    def test_sites_are_listed_read_pictured_found_and_opened_by_keys(self) -> None:
        hill, dale = self.known("hill"), self.known("dale", wired=True)
        desk = self.desk()
        self.assertEqual(sorted(self.shown(desk)), ["Dale", "Hill"])
        self.read(desk)
        words = desk.list.item(0).data(Qt.ItemDataRole.AccessibleTextRole)
        self.assertIn("test address only; Brief: 4 gaps", words)
        self.until(lambda: set(desk._pictures) == {str(hill), str(dale)})
        self.assertEqual(len(list((self.base / "config" / "homes").iterdir())), 2, "kept")
        QTest.keyClicks(desk.search, "who is coming")  # In Dale's form alone: no page says it.
        self.assertEqual(self.shown(desk), [])
        desk.search.setText("OLD words dale")
        self.assertEqual(self.shown(desk), ["Dale"])
        desk.search.clear()
        desk.list.setCurrentItem(desk._item(str(hill)))
        QTest.keyClick(desk.list, Qt.Key.Key_Return)
        self.assertEqual(self.opened, [hill])
        QTest.keyClick(desk.list, Qt.Key.Key_Delete)
        self.assertEqual(self.shown(desk), ["Dale"])
        self.assertTrue((hill / "site.json").exists())
        self.assertIn("Its folder is as it was", desk.said.text())

    def test_a_folder_that_has_moved_is_asked_for_again(self) -> None:
        hill = self.known("hill")
        moved = hill.rename(self.base / "elsewhere")
        desk = self.desk()
        self.read(desk)
        self.assertIn("1  It cannot be read\n     Hill", desk.needs.item(0).text())
        desk.open_chosen()
        self.assertIn("There is no site in", desk.said.text())
        for chosen, said in (("", "There is no site"), (str(self.base), "There is no site")):
            with mock.patch.object(QFileDialog, "getExistingDirectory", return_value=chosen):
                desk.moved.click()
            self.assertIn(said, desk.said.text())
        with mock.patch.object(QFileDialog, "getExistingDirectory", return_value=str(moved)):
            desk.moved.click()
        self.read(desk)
        self.assertFalse(desk.moved.isVisible())
        desk.open_chosen()
        self.assertEqual(self.opened, [moved])

    def test_a_new_site_and_a_copy_are_made_and_opened(self) -> None:
        self.known("hill")
        desk = self.desk()
        self.read(desk)

        def answered(name: str, folder: Path) -> Callable[[NewSiteDialog], bool]:
            def answer(dialog: NewSiteDialog) -> bool:
                dialog.make()
                self.assertIn("a name", dialog.said.text())
                dialog.name.setText(name)
                self.assertIn(str(folder.name), dialog.where.text())
                dialog.where.setText(str(folder))
                dialog.make()
                return dialog.folder is not None
            return answer

        for name, run in (("Night", desk.new_site), ("Copied", desk.copy_chosen)):
            folder = self.base / name.lower()
            with mock.patch.object(NewSiteDialog, "exec", answered(name, folder)):
                run()
            self.assertEqual(self.opened[-1], folder)
            self.assertEqual(read_site(folder).name, name)
            desk.list.setCurrentItem(desk._item(str((self.base / "hill").resolve())))
            self.read(desk)
        self.assertTrue(just_begun(read_site(self.base / "night")))
        self.assertEqual(read_site(self.base / "copied").pages, small_site().pages)
        self.assertEqual(len(known_sites()), 3)

    def test_sites_that_were_opened_before_stand_in_the_site_menu(self) -> None:
        other, here = self.known("barn & hill"), self.known("here")
        project = Project(here)
        window = Window(Session(project), Stand(here, practice=()))
        self.addCleanup(window.close)
        with mock.patch("needle.ui.window.open_site", side_effect=self.opened.append):
            window.commands.run("site.recent1")
            self.assertEqual(self.opened, [other.resolve()])
            self.assertIn("Barn && Hill", window.commands.action("site.recent1").text())
            (other / "site.json").unlink()
            window.commands.run("site.recent1")
        self.assertEqual(len(self.opened), 1)

    def test_a_window_stands_as_it_was_left_and_fits_the_screen(self) -> None:
        desk = self.desk()
        screen = APP.primaryScreen().availableGeometry()
        self.assertLessEqual(desk.width(), screen.width())
        self.assertLessEqual(desk.height(), screen.height())
        desk.resize(700, 560)
        size = desk.size()
        desk.close()
        self.assertEqual(self.desk().size(), size)
        with mock.patch("needle.ui.room.read_setting", return_value="no geometry"):
            self.assertLessEqual(self.desk().width(), screen.width())

    def test_a_site_that_is_open_comes_to_the_front(self) -> None:
        folder, came, parent = self.base / "x", list[int](), QObject()
        self.assertFalse(bring_to_front(folder))
        front = Front(folder, lambda: came.append(1), parent)
        self.assertIs(front.parent(), parent)
        self.assertTrue(bring_to_front(folder))
        self.until(lambda: came == [1])
