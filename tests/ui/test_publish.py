"""Publish in the real window: targets, earlier sends, what is asked, and where snags lead."""

import tempfile
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

import msgspec
from PyQt6.QtCore import QDateTime, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QInputDialog, QLineEdit

from needle.core.edit.nodes import delete, duplicate, set_field, set_words
from needle.core.edit.pages import change_code, set_page
from needle.core.render import document
from needle.core.site.site import Site
from needle.core.values.targets import Target
from needle.core.values.widths import Width
from needle.core.values.words import text
from needle.practice.faults import set_fault
from needle.publish import rendering
from needle.publish.releases import Releases
from needle.publish.schedule import do_due
from needle.publish.targets.opening import notes
from needle.running.addresses import practice_folder
from needle.running.children import Child
from needle.store.certificates import Certificates, Certified, State
from needle.ui.publish import send as sending
from needle.ui.publish.differences import DifferencesDialog
from needle.ui.publish.later import LaterDialog
from needle.ui.publish.leaving import LeavingDialog
from needle.ui.publish.targetdialog import TargetDialog
from tests.publish.places import PASSWORD, sftp_ground
from tests.services.namesnet import HOST, HOST_A, NamesNet
from tests.sites import PAGE, THANKS
from tests.ui.desk import APP
from tests.ui.test_stages import StageTest


class PublishCase(StageTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_stage("Publish")
        self.stage = self.window.stages["Publish"]
        self.store = Releases(self.folder)
        self.out = Path(self.enterContext(tempfile.TemporaryDirectory())) / "www"

    def write_words(self, words: str) -> None:
        self.session.edit("x", lambda site: set_words(site, "head1", (text(words),)))
        self.window.refresh()

    def add(self, kind: str, *lines: tuple[str, str], tries: bool = False) -> None:
        """Add a target by its dialog, as a person does."""
        def fill(dialog: TargetDialog) -> bool:
            for name, words in lines:
                editor = next(line for line in dialog.findChildren(QLineEdit)
                              if line.accessibleName() == name)
                editor.setText(words)
            if tries:
                dialog.try_button.click()
                self.assertIn("It works", dialog._said.text())
            dialog.keep_button.click()
            self.said = dialog._said.text()
            return bool(dialog.result())

        with mock.patch.object(TargetDialog, "exec", fill):
            self.stage.targets.add(kind)

    def held(self, row: int) -> str:
        return self.stage.targets.table.item(row, 2).text()


class TargetTest(PublishCase):
    def test_a_target_goes_along_with_each_send_and_says_what_it_holds(self) -> None:
        self.add("folder", ("Name", "The shelf"), ("Folder", str(self.out)), tries=True)
        self.assertEqual(self.held(1), "nothing yet")
        self.stage.send()
        self.assertIn("Old words", (self.out / "night/index.html").read_text())
        self.assertEqual(self.held(1), "as live")
        self.write_words("Other words")
        self.stage.send()
        self.assertIn("Other words", (self.out / "night/index.html").read_text())
        self.assertEqual(notes(self.store)[self.session.site.targets[0].id].release,
                         self.store.current().id)
        # One that does not go along is behind until it is sent to.
        self.stage.targets.table.selectRow(1)
        with mock.patch.object(TargetDialog, "exec", lambda dialog: (
                dialog._together.setChecked(False), dialog.keep_button.click())[0] or 1):
            self.stage.targets.change_chosen()
        self.write_words("Third words")
        self.stage.send()
        self.assertIn("as of", self.held(1))
        self.stage.targets.table.selectRow(1)
        self.window.commands.run("publish.target")
        self.assertIn("Third words", (self.out / "night/index.html").read_text())
        self.stage.targets.remove_chosen()
        self.assertEqual(self.session.site.targets, ())
        self.session.undo()
        self.assertEqual(len(self.session.site.targets), 1)

    def test_what_cannot_be_is_said_in_the_dialog_and_nothing_is_kept(self) -> None:
        self.add("folder", ("Folder", "not/from/the/root"))
        self.assertIn("from / or ~/ on", self.said)
        self.assertEqual(self.session.site.targets, ())

    def test_a_server_is_tried_its_key_pinned_and_its_password_kept_apart(self) -> None:
        ground = sftp_ground(self)
        self.add("sftp", ("Server", ground.target.place), ("Folder on it", "/www"),
                 ("User", "me"), ("Password", PASSWORD))
        (target,) = self.session.site.targets
        self.assertRegex(target.pinned, "SHA256:")
        self.stage.send()
        self.assertIn(b"Old words", ground.files()["night/index.html"])
        self.session.save_now()
        self.until(lambda: target.pinned in (self.folder / "site.json").read_text())
        for path in self.folder.rglob("*"):
            if path.is_file():
                self.assertNotIn(PASSWORD.encode(), path.read_bytes(), path)

    def test_a_target_that_came_with_the_project_waits_until_it_is_set_up_here(self) -> None:
        stranger = Target("t1", "Theirs", "folder", str(self.out))
        self.session.edit("x", lambda site: _with_target(site, stranger))
        self.window.refresh()
        self.until(lambda: self.stage.targets.table.rowCount() == 2)
        self.assertIn("not set up on this machine", self.held(1))
        self.stage.send()
        self.assertFalse(self.out.exists())
        self.stage.targets.table.selectRow(1)
        self.stage.targets.send_chosen()
        self.assertIn("was never tried on this machine", self.window.last_words)
        self.assertFalse(self.out.exists())

    def test_a_target_that_fails_is_said_and_the_test_address_is_live_all_the_same(self) -> None:
        self.out.mkdir()
        (self.out / "index.html").write_text("mine")
        self.add("folder", ("Folder", str(self.out)))
        self.stage.send()
        self.assertIn("that Needle did not put there", self.window.last_words)
        self.assertIn("that Needle did not put there", self.held(1))
        self.assertEqual(len(self.store.current().live.pages), 2)


def _with_target(site: Site, target: Target) -> Site:
    return msgspec.structs.replace(site, targets=(target,))


class PracticeServerTest(PublishCase):
    """The practice server, started from the dialog by the window's own stand."""

    def setUp(self) -> None:
        super().setUp()
        self.place = practice_folder(self.folder, "server")
        child: list[Child] = []

        def start(_kind: str) -> None:
            if not child:
                child.append(Child("needle.practice.webserver", [str(self.place)]))
                self.addCleanup(child[0].stop)

        self.window.outcomes.stand = mock.Mock(start_practice=start, port=0)
        self.addCleanup(setattr, self.window.outcomes, "stand", None)

    def kept(self, fault: str) -> str:
        """Ask for a target at the practice server with a fault, and return what was said."""
        said: list[str] = []

        def fill(dialog: TargetDialog) -> bool:
            dialog.use_practice()
            dialog.fault.setCurrentIndex(dialog.fault.findData(fault))
            dialog.fault.chosen.emit(fault)
            dialog.try_button.click()
            said.append(dialog._said.text())
            dialog.keep_button.click()
            return bool(dialog.result())

        with mock.patch.object(TargetDialog, "exec", fill):
            self.stage.targets.add("sftp")
        return said[0]

    def test_it_is_filled_in_sent_to_and_made_to_fail(self) -> None:
        self.assertIn("does not let practice in", self.kept("password"))
        self.assertEqual(self.session.site.targets, ())
        self.assertIn("It works", self.kept("none"))
        self.stage.send()
        page = self.place / "www" / "site" / "night" / "index.html"
        self.assertIn("Old words", page.read_text())
        set_fault(self.place, "full")
        self.write_words("Newer words " * 9000)
        self.stage.send()
        self.assertIn("No space left", self.window._said.text())
        self.assertIn("Old words", page.read_text(), "visitors get the old page still")
        set_fault(self.place, "none")
        self.stage.targets.table.selectRow(1)
        self.stage.targets.send_chosen()
        self.assertIn("Newer words", page.read_text())


class EarlierTest(PublishCase):
    def test_an_earlier_send_is_named_and_brought_back(self) -> None:
        self.add("folder", ("Folder", str(self.out)))
        self.stage.send()
        first = self.store.current()
        self.write_words("Other words")
        self.stage.send()
        table = self.stage.earlier.table
        self.assertEqual([table.item(row, 1).text() for row in range(2)], ["live now", "2 pages"])
        self.assertEqual(table.item(0, 2).text(), "Night")
        self.assertIn("words of heading", table.item(0, 2).toolTip())
        table.selectRow(1)
        with mock.patch.object(QInputDialog, "getText", return_value=("Before the fair", True)):
            self.stage.earlier.name_chosen()
        self.assertIn("Before the fair", table.item(1, 2).text())
        self.window.commands.run("publish.back")
        now = self.store.current()
        self.assertEqual((now.files, now.back_to), (first.files, first.id))
        self.assertIn("Old words", (self.out / "night/index.html").read_text())
        # The draft is as it was, and says that it differs again.
        self.assertEqual(self.session.node("head1").words, text("Other words"))
        self.assertEqual(self.stage.pages.item(0, 4).text(), "words of heading")

    def test_a_hundred_sends_are_listed_a_few_at_a_time_and_a_broken_one_is_left_out(self) -> None:
        self.stage.send()
        first = self.store.current()
        for number in range(99):
            one = msgspec.structs.replace(first, id=f"r20250101-0000{number % 60:02}-{number:04x}")
            (self.store.folder / "releases" / f"{one.id}.json").write_bytes(
                msgspec.json.encode(one))
        (self.store.folder / "releases" / "r20240101-000000-0000.json").write_text("{")
        self.write_words("Other words")
        self.stage.send()
        earlier = self.stage.earlier
        self.until(lambda: not earlier._left and earlier.table.rowCount() == 100)
        earlier.table.selectRow(1)
        self.assertEqual(earlier.chosen(), first.id)

    def test_as_many_are_kept_as_is_said(self) -> None:
        for number in range(3):
            self.write_words(f"Words {number}")
            self.stage.send()
        keep = self.stage.earlier.keep
        keep.setValue(2)
        keep.editingFinished.emit()
        self.assertEqual(len(self.store.ids()), 2)
        self.assertEqual(self.stage.earlier.table.rowCount(), 2)


class AskedTest(PublishCase):
    def test_snags_that_lose_leads_are_asked_about_once_each(self) -> None:
        self.session.edit("x", lambda site: set_field(site, "button1", "actions", ()))
        self.window.refresh()
        with mock.patch.object(sending, "agreed", return_value=False) as asked:
            self.stage.send()
        self.assertIn("A button does nothing", asked.call_args.args[2])
        self.assertIsNone(self.store.current())
        with mock.patch.object(sending, "agreed", return_value=True):
            self.stage.send()
        self.assertEqual(len(self.store.current().live.pages), 2)
        self.write_words("Other words")
        with mock.patch.object(sending, "agreed", return_value=True) as asked:
            self.stage.send()
        asked.assert_not_called()

    def test_snags_of_pages_that_are_not_sent_are_not_asked_about(self) -> None:
        self.session.edit("x", lambda site: set_field(site, "button1", "actions", ()))
        self.window.refresh()
        self.stage.pages.item(0, 0).setCheckState(Qt.CheckState.Unchecked)
        with mock.patch.object(sending, "agreed") as asked:
            self.stage.send()
        asked.assert_not_called()
        self.assertEqual([page.id for page in self.store.current().live.pages], [THANKS])


class PlaceTest(PublishCase):
    def go(self, rule: str) -> None:
        self.until(lambda: any(snag.rule == rule for snag in self.stage.snags.progress.open))
        snag = next(one for one in self.stage.snags.progress.open if one.rule == rule)
        self.stage.snags.asked.emit(snag)

    def test_a_snag_leads_to_its_item_and_marks_its_setting(self) -> None:
        self.session.edit("x", lambda site: set_field(site, "head2", "rank", 4))
        self.window.refresh()
        self.go("heading-order")
        tray = self.window.build.tray
        self.assertEqual(self.session.selection, "head2")
        self.assertTrue(tray.editors["rank"].property("marked"))
        self.session.select("head1")
        self.assertFalse(tray.editors["rank"].property("marked"))

    def test_one_that_is_so_at_one_width_leads_to_that_width(self) -> None:
        self.session.edit("x", _small)
        self.window.refresh()
        self.go("small-target")
        self.assertEqual(self.session.scope, Width.PHONE)

    def test_one_of_the_search_leads_to_its_field(self) -> None:
        self.session.edit("x", lambda site: set_page(site, PAGE, title="T" * 90))
        self.window.refresh()
        self.go("title-cut-off")
        self.assertTrue(self.stage.search.title.isVisible())
        self.until(self.stage.search.title.hasFocus)


def _small(site: Site) -> Site:
    return change_code(site, "page", PAGE,
                       css="@media(max-width:500px){a{font-size:9px!important;padding:0!important;"
                           "min-height:0!important;line-height:1!important}}")


class SearchTest(PublishCase):
    def test_all_pages_are_in_a_table_and_one_is_put_right_beside_it(self) -> None:
        self.stage.show_part("Search and sharing")
        search = self.stage.search
        self.assertIn("missing", search.pages.item(1, 4).text())
        self.assertIn("missing or doubled", search._card.note.text())
        search.pages.selectRow(1)
        self.assertEqual(self.session.page.id, THANKS)
        search.description.setPlainText("We have your place. Bring warm clothes and no torches.")
        self.window.refresh()
        self.assertIn("warm clothes", search.pages.item(1, 4).text())
        search.slug.setText("thank you!")
        search.slug.editingFinished.emit()
        self.assertEqual(search.slug.text(), "thanks")
        search.slug.setText("/seen")
        QTest.keyClick(search.slug, Qt.Key.Key_Return)
        self.assertEqual(self.session.page.slug, "seen")
        self.until(lambda: not search._share.pixmap().isNull())


class DomainTest(PublishCase):
    def test_from_nothing_to_a_domain_that_leads_here(self) -> None:
        net = NamesNet(self)
        for one in (("@", "A", "203.0.113.7"), ("www", "CNAME")):
            net.zone.put(*one)
        net.learn()
        self.stage.show_part("Domain")
        part = self.stage.domain
        part.net = net.net
        self.assertIn("Which name", part._now.title.text())
        self.write("Domain of the site", "https://WWW.quillmoor.example/")
        self.assertEqual(self.session.site.domain, "www.quillmoor.example")
        self.assertIn("Where do the pages stand", part._now.title.text())
        self.write("Where the pages stand", HOST)
        self.until(lambda: part.report is not None)
        self.assertIn("hollin.example", part._now.title.text())
        self.assertIn("An old address is in the way: A 203.0.113.7", part._now_words.text())
        self.assertEqual([part._delete.table.item(0, n).text() for n in range(3)],
                         ["A", "@", "203.0.113.7"])
        self.assertEqual([part._add.table.item(n, 0).text() for n in range(2)], ["A", "CNAME"])
        self.assertIn("Delete:\n  quillmoor.example  A  203.0.113.7", part.letter())
        part._add.table.selectRow(1)
        part._add.copy_chosen()
        self.assertEqual(APP.clipboard().text(), HOST)
        part.copy_zone()
        self.assertIn(f"www 3600 IN CNAME {HOST}.", APP.clipboard().text())
        net.zone.put("@", "A", HOST_A)
        net.zone.put("www", "CNAME", f"{HOST}.")
        net.learn()
        self.press_button("Read again")
        self.until(lambda: part.report.leads)
        self.assertIn("leads here, with www and without", part._now.title.text())
        self.assertFalse(part._delete.isVisible())
        self.session.undo()
        self.assertEqual(self.session.site.served_at, "")

    def test_what_is_no_domain_is_said_and_nothing_changes(self) -> None:
        self.stage.show_part("Domain")
        self.write("Domain of the site", "quillmoor")
        self.assertIn("is no domain", self.window.last_words)
        self.assertEqual(self.session.site.domain, "")


class DifferencesTest(PublishCase):
    def opened(self) -> DifferencesDialog:
        dialog = self.stage.sending.differences()
        self.addCleanup(dialog.done, 0)
        dialog.show()
        self.until(lambda: "Taking" not in dialog._state.text())
        return dialog

    def test_draft_against_live_is_told_in_words_and_marked_in_pictures(self) -> None:
        self.stage.send()
        self.write_words("Quite other words")
        self.session.edit("x", lambda site: duplicate(site, "list1")[0])
        self.window.refresh()
        dialog = self.opened()
        self.assertEqual(dialog.pages.count(), 1)
        told = [dialog.words.item(row).text() for row in range(dialog.words.count())]
        self.assertEqual(told, ["1 item added", "words of heading"])
        for px in (390, 1280):
            dialog._width.chosen.emit(px)
            self.until(lambda: "Taking" not in dialog._state.text())
            with self.subTest(px):
                head, added = dialog.found[0], dialog.found[-1]
                self.assertFalse(head.before.empty)
                self.assertTrue(added.before.empty)
                self.assertGreater(added.after.bottom, added.after.top)
                self.assertLess(head.after.bottom, added.after.top)
                self.assertIn(f"{len(dialog.found)} difference", dialog._state.text())

    def test_what_nobody_sees_is_told_in_words_alone(self) -> None:
        self.stage.send()
        self.session.edit("x", lambda site: set_page(site, PAGE, title="Another"))
        self.window.refresh()
        dialog = self.opened()
        self.assertEqual(dialog.words.item(0).text(), "title or description")
        self.assertEqual(dialog.found, [])
        self.assertIn("No difference to be seen", dialog._state.text())

    def test_a_page_that_was_never_sent_is_new_and_with_nothing_to_send_that_is_said(self) -> None:
        dialog = self.opened()
        self.assertIn("(never sent)", dialog.pages.item(0).text())
        self.assertEqual(dialog.words.item(0).text(), "the whole page is new")
        self.stage.send()
        self.window.refresh()
        self.assertIn("as it is live", self.opened()._state.text())


class SameTest(PublishCase):
    def state(self, row: int) -> str:
        return self.stage.pages.item(row, 4).text()

    def at_rest(self) -> None:
        self.until(lambda: not self.stage.sending.drift.busy)
        QTest.qWait(50)

    def test_a_page_that_would_come_out_otherwise_is_not_called_the_same(self) -> None:
        self.stage.send()
        self.at_rest()
        self.assertEqual([self.state(0), self.state(1)], ["same as live", "same as live"])
        # Another Needle, that writes something else into its pages.
        with mock.patch.object(rendering, "live_page", lambda context, assets, body: (
                document.live_page(context, assets, body) + f"<!-- {context.page.name} -->"
                if context.page.id == PAGE else document.live_page(context, assets, body))):
            self.stage.sending.drift.rest()
            self.window.refresh()
            self.until(lambda: self.state(0) == "how it comes out")
            self.assertEqual(self.state(1), "same as live")
            self.assertEqual(self.stage.to_send(), [PAGE])
            self.stage.send()
        self.assertEqual(len(self.store.ids()), 2)

    def test_what_has_no_words_is_changed_until_it_was_seen_that_it_does_not_show(self) -> None:
        self.stage.send()
        self.session.edit("x", lambda site: msgspec.structs.replace(site, pages=tuple(
            page if page.id != PAGE else msgspec.structs.replace(page, test_started="2026-01-01")
            for page in site.pages)))
        self.window.refresh()
        self.assertEqual([self.state(0), self.state(1)],
                         ["settings that show on it", "same as live"])
        self.until(lambda: self.state(0) == "same as live")


class ElsewhereTest(PublishCase):
    def setUp(self) -> None:
        super().setUp()
        self.stage.show_part("Elsewhere")
        self.part = self.stage.elsewhere

    def rows(self) -> list[list[str]]:
        table = self.part.parts
        return [[table.item(row, column).text() for column in range(3)]
                for row in range(table.rowCount())]

    def add(self, number: int) -> None:  # type: ignore[override]
        """Choose an entry of the menu, as a click does."""
        self.part._menu.aboutToShow.emit()
        self.part._menu.actions()[number].trigger()

    def test_from_nothing_to_a_line_for_another_site_and_back(self) -> None:
        self.assertTrue(self.part._empty.isVisible())
        self.assertFalse(self.part._snippet.isVisible())
        self.add(0)
        self.assertEqual(self.rows(), [["Popup Sign-up", "Night", "say where"]])
        self.assertTrue(self.part._opens.isVisible())
        self.write("Sites that may show it", "shop.example/lamps http://127.0.0.1:81")
        self.assertEqual(self.session.site.outside[0].sites,
                         ("https://shop.example", "http://127.0.0.1:81"))
        self.write("At a click on (CSS selector)", "a.book")
        self.assertEqual(self.rows()[0][2], "page to send")
        self.add(0)
        self.assertFalse(self.part._opens.isVisible(), "a form opens nowhere")
        self.assertEqual(self.rows()[1][:2], ["Form Places", "Night"])
        self.part._choose(self.session.site.outside[0].id)
        self.session.edit("domain", lambda site: msgspec.structs.replace(
            site, domain="www.hill.example"))
        self.window.refresh()
        line = self.part.lines.toPlainText()
        self.assertIn('src="https://www.hill.example/_needle/elsewhere.js"', line)
        self.assertIn('data-click="a.book"', line)
        self.press_button("Copy")
        self.assertEqual(APP.clipboard().text(), line)
        self.press_button("Remove")
        self.assertEqual([row[0] for row in self.rows()], ["Form Places"])
        for _ in range(8):
            self.session.undo()
        self.window.refresh()
        self.assertEqual(self.session.site.outside, ())
        self.assertTrue(self.part._empty.isVisible())

    def test_what_is_no_site_is_said_and_changes_nothing(self) -> None:
        self.add(0)
        self.write("Sites that may show it", "ftp://shop.example")
        self.assertIn("is no site", self.window.last_words)
        self.assertEqual(self.session.site.outside[0].sites, ())

    def test_one_that_is_gone_from_its_page_says_so(self) -> None:
        self.add(0)
        self.session.edit("x", lambda site: delete(site, "popup1"))
        self.window.refresh()
        self.assertEqual(self.rows()[0][2], "remove it")
        self.assertEqual(self.part.lines.toPlainText(), "")

    def test_it_goes_live_with_its_page(self) -> None:
        self.add(0)
        self.write("Sites that may show it", "https://shop.example")
        self.stage.show_part("Send")
        self.stage.send()
        self.stage.show_part("Elsewhere")
        self.assertEqual(self.rows()[0][2], "live")
        live = self.store.current().live
        part_id = self.session.site.outside[0].id
        self.assertEqual(live.part(part_id)[1].sites, ("https://shop.example",))
        self.write("Sites that may show it", "https://shop.example https://b.example")
        self.assertEqual(self.rows()[0][2], "live, page to send")


class CertificateTest(PublishCase):
    def test_what_is_asked_for_and_what_came_of_it_is_said(self) -> None:
        self.stage.show_part("Domain")
        card = self.stage.domain.certificate
        self.assertIn("needs a domain", card._words.text())
        self.session.edit("domain", lambda site: msgspec.structs.replace(
            site, domain="www.hill.example"))
        self.stage.domain.refresh()
        card.refresh()
        self.assertIn("send a page first", card._words.text())
        self.stage.send()
        card.refresh()
        self.assertEqual(card._words.text(), "None was asked for yet.")
        card.directory.setText("http://authority.example/directory")
        card.ask()
        self.assertIn("certificate authority", self.window.last_words)
        card.directory.setText("https://authority.example/directory")
        card.ask()
        self.assertIn("Asked for", card._words.text())
        kept = Certificates(self.folder)
        kept.keep_state(State(Certified(("www.hill.example",), "2026-01-01T00:00:00Z",
                                        "2026-04-01T00:00:00Z", "Rowan"),
                              fault="The authority sleeps.", tried_ms=2**42, next_ms=2**42))
        card.refresh()
        self.assertIn("certified by Rowan until 2026-04-01", card._words.text())
        self.assertIn("The authority sleeps. Next try at", card._words.text())


class LaterTest(PublishCase):
    def set(self, off: bool, when: QDateTime) -> str:
        """Answer the dialog as a person does, and return what it said instead of closing."""
        said = []

        def answer(dialog: LaterDialog) -> int:
            (dialog.off if off else dialog.send).setChecked(True)
            dialog.when.setDateTime(when)
            dialog.keep.click()
            said.append(dialog.said.text())
            return int(dialog.result())

        with mock.patch.object(LaterDialog, "exec", answer), (
                mock.patch.object(LeavingDialog, "exec", lambda _: 1)):
            self.press_button("Later…")
        return said[0]

    def rows(self) -> list[str]:
        table = self.stage.sending.to_come.table
        return [table.item(row, 1).text() for row in range(table.rowCount())]

    def test_what_is_set_for_a_time_is_listed_done_and_taken_back(self) -> None:
        card, later = self.stage.sending.to_come, QDateTime.currentDateTime().addDays(3)
        self.assertFalse(card.isVisible())
        self.assertIn("is past", self.set(False, QDateTime.currentDateTime().addDays(-1)))
        self.assertEqual(self.set(False, later), "")
        self.assertTrue(card.isVisible())
        self.assertEqual(self.rows(), ["Send Night, Thanks"])
        self.assertIsNone(self.store.current(), "nothing is sent before its time")
        self.press_button("Do it not")
        self.assertFalse(card.isVisible())
        self.stage.send()
        self.set(True, later)
        self.assertEqual(self.rows(), ["Take Night off"])
        # As the host does when it is due.
        self.assertEqual(do_due(self.folder, datetime.now(UTC) + timedelta(days=4)), 1)
        self.until(lambda: not card.isVisible())
        self.until(lambda: self.stage.pages.item(0, 3).text() == "–")
