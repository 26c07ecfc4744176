"""Connect, Publish, Measure and Brief, driven through their widgets."""

import io
import threading
import time
import unittest
from datetime import UTC, datetime, timedelta
from pathlib import Path
from unittest import mock

import msgspec
from PIL import Image
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtGui import QFontMetrics
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import (
    QCheckBox,
    QComboBox,
    QFileDialog,
    QInputDialog,
    QLabel,
    QLineEdit,
    QPushButton,
    QToolButton,
    QWidget,
)

from needle.core.edit.forms import add_field, add_step
from needle.core.edit.nodes import insert, set_field
from needle.core.edit.pages import change_code, set_share, split_page
from needle.core.kinds.button import Button
from needle.core.site.site import Site
from needle.core.snags.finding import find_snags
from needle.core.values.form import FieldRoute, Only, Role, ShowMessage, ThankPage
from needle.core.values.words import text
from needle.publish.live import send_pages
from needle.publish.releases import read_live
from needle.store.keys import read_key
from needle.store.results.book import Filter
from needle.store.results.deliveries import Outcome, record, take_due
from needle.store.results.filters import change_filters, kept_filters
from needle.store.results.taking import NewLead, take_lead
from needle.ui.connect.adding import add_thread
from needle.ui.measure.deeper import DeeperDialog
from needle.ui.measure.exporting import export_cards
from needle.ui.measure.meaning import MeaningDialog
from needle.ui.publish.leaving import LeavingDialog
from tests.sites import EMAIL, FORM, NAME, PAGE, THANKS, small_site
from tests.told import take_visit
from tests.ui.desk import APP, DeskTest

BEGAN = datetime(2026, 11, 1, tzinfo=UTC)

CTRL = Qt.KeyboardModifier.ControlModifier


class StageTest(DeskTest):
    def named(self, kind: type[QWidget], name: str, within: QWidget | None = None) -> QWidget:
        """Return the visible widget with this accessible name or text, once it is there."""
        found: list[QWidget] = []

        def is_there() -> bool:
            for widget in (within or self.window).findChildren(kind):
                words = widget.text() if hasattr(widget, "text") else ""
                if name in (widget.accessibleName(), words) and widget.isVisible():
                    found.append(widget)
                    return True
            return False

        self.settled()
        self.until(is_there)
        return found[0]

    def settled(self) -> None:
        """Wait until what was changed is shown, and what it took the place of is gone."""
        self.until(lambda: not self.window._refresh_soon.isActive())
        QTest.qWait(20)

    def press_button(self, words: str) -> None:
        QTest.mouseClick(self.named(QPushButton, words), Qt.MouseButton.LeftButton)

    def write(self, name: str, words: str) -> None:
        line = self.named(QLineEdit, name)
        line.setFocus()
        line.selectAll()
        QTest.keyClicks(line, words)
        QTest.keyClick(line, Qt.Key.Key_Return)

    def pick(self, name: str, value: object) -> None:
        box = self.named(QComboBox, name)
        box.setCurrentIndex(box.findData(value))
        box.activated.emit(box.currentIndex())


class ConnectTest(StageTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_stage("Connect")
        QTest.qWait(60)

    def form(self):
        return self.session.site.form(FORM)

    @property
    def stage(self):
        return self.window.stages["Connect"]

    @property
    def board(self):
        return self.stage.forms.board

    def settled(self) -> None:
        self.window.refresh()
        QTest.qWait(150)

    def choose(self, *name: str) -> None:
        self.settled()
        self.board.focus_row(name)
        QTest.qWait(50)

    def key(self, key: Qt.Key) -> None:
        QTest.keyClick(APP.focusWidget(), key)

    def drag(self, source: tuple[str, ...], goal: tuple[str, ...] | QPoint) -> None:
        self.settled()
        row = self.board.row_of(source)
        end = goal if isinstance(goal, QPoint) else row.mapFrom(
            self.board, self.board.row_of(goal).mapTo(self.board, QPoint(20, 8)))
        QTest.mousePress(row, Qt.MouseButton.LeftButton, pos=QPoint(20, 8))
        for part in (3, 2, 1):
            QTest.mouseMove(row, QPoint(20, 8) + (end - QPoint(20, 8)) / part)
        QTest.mouseRelease(row, Qt.MouseButton.LeftButton, pos=end)

    def fields(self) -> dict[str, str]:
        return dict(self.form().routes[0].fields)

    def test_a_label_is_changed_and_the_mapping_holds(self) -> None:
        routes = self.form().routes
        self.choose("field", EMAIL)
        self.write("Label of the field", "Where can we write?")
        self.settled()
        self.assertTrue(self.board.row_of(("field", EMAIL)).marked)
        self.assertEqual(self.form().field(EMAIL).label, "Where can we write?")
        self.assertEqual(self.form().routes, routes)
        self.session.undo()
        self.assertEqual(self.form().field(EMAIL).label, "E-mail")

    def test_a_thread_is_drawn_moved_and_cut_by_mouse(self) -> None:
        self.drag(("wire", "route1", "FULL_NAME"), QPoint(-90, 400))
        self.assertEqual(self.fields(), {"EMAIL": EMAIL})
        self.session.undo()
        self.drag(("field", "src1"), ("wire", "route1", "FULL_NAME"))
        self.assertEqual(self.fields(), {"EMAIL": EMAIL, "FULL_NAME": "src1"})
        self.drag(("wire", "route1", "FULL_NAME"), ("wire", "route1", "EMAIL"))
        self.assertEqual(self.fields(), {"EMAIL": "src1"})
        self.assertEqual(self.session.undo_label, "move thread")

    def test_a_thread_is_drawn_and_cut_by_keys(self) -> None:
        self.choose("wire", "route1", "FULL_NAME")
        self.key(Qt.Key.Key_Delete)
        self.assertEqual(self.fields(), {"EMAIL": EMAIL})
        self.session.undo()
        self.choose("field", "src1")
        self.key(Qt.Key.Key_Return)
        self.assertIn("in hand", self.window.last_words)
        self.key(Qt.Key.Key_Right)
        while APP.focusWidget().name != ("wire", "route1", "FULL_NAME"):
            self.key(Qt.Key.Key_Up)
        self.key(Qt.Key.Key_Return)
        self.assertEqual(self.fields(), {"EMAIL": EMAIL, "FULL_NAME": "src1"})
        self.choose("route", "route1")
        self.key(Qt.Key.Key_Delete)
        self.assertEqual([r.id for r in self.form().routes], ["route2"])
        self.assertEqual(self.session.undo_label, "cut thread")

    def test_the_same_as_a_table(self) -> None:
        self.stage.forms.show_as("table")
        self.pick("FULL_NAME of Lists › Meteor guests is filled by", "")
        self.assertEqual(self.fields(), {"EMAIL": EMAIL})

    def test_steps_are_made_named_and_depend_on_an_answer(self) -> None:
        self.session.edit("f", lambda s: add_field(s, FORM, Role.CHOICE))
        choice = self.form().fields[-1].id
        self.session.edit("s", lambda s: add_step(s, FORM))
        _, then = self.form().steps
        self.choose("field", EMAIL)
        self.pick("Step", then.id)
        self.assertEqual([f.id for f in self.form().asked_in(then.id)], [EMAIL])
        self.choose("step", then.id)
        self.write("Name of the step", "Where can we write?")
        self.pick("Depends on", choice)
        self.assertEqual(self.form().steps[1].only, Only(choice, ("One",)))
        self.settled()
        self.assertIn("only if Which one? is One", self.shown_words())
        self.choose("field", choice)
        QTest.keyClick(APP.focusWidget(), Qt.Key.Key_Down, Qt.KeyboardModifier.AltModifier)
        self.assertEqual(self.form().step_of(self.form().field(choice)), then.id)

    def test_what_follows_sending_is_changed(self) -> None:
        self.choose("after")
        self.pick("What follows", "message")
        self.assertIsInstance(self.form().after, ShowMessage)
        self.write("Message", "See you soon.")
        self.assertEqual(self.form().after, ShowMessage("See you soon."))
        self.pick("What follows", "page")
        self.pick("Page", PAGE)
        self.assertEqual(self.form().after, ThankPage(PAGE))

    def test_a_letter_and_a_question_to_confirm_are_set_up(self) -> None:
        self.choose("letter")
        for words in ("A letter with what was promised",
                      "Goes on only once the link in a letter was followed"):
            QTest.qWait(100)
            QTest.mouseClick(self.named(QCheckBox, words), Qt.MouseButton.LeftButton,
                             pos=QPoint(8, 8))
        self.write("Subject of the letter", "Your calendar")
        self.assertEqual(self.form().letter.subject, "Your calendar")
        self.assertEqual(self.form().confirmation.service, "mailbox")

    def test_a_site_without_a_form_offers_kinds_of_them(self) -> None:
        self.session.edit("none", lambda site: msgspec.structs.replace(site, forms=()))
        self.until(self.stage.forms.first.isVisible)
        self.press_button("Waiting list")
        [made] = self.session.site.forms
        self.assertEqual(made.submit, "Put me on the list")
        self.assertFalse(self.stage.forms.first.isVisible())
        self.assertEqual(self.stage.forms.form, made)
        self.window.commands.run("edit.undo")
        self.assertEqual(self.session.site.forms, ())
        self.until(self.stage.forms.first.isVisible)

    def test_a_new_form_asks_for_an_address_and_can_go_again(self) -> None:
        self.press_button("New form")
        made = self.session.site.forms[-1]
        self.assertEqual([f.role for f in made.fields], [Role.EMAIL])
        self.stage.forms.show_below("deliveries")
        self.assertIn("No lead has come", self.shown_words())
        self.window.commands.run("connect.delete")
        self.assertEqual(len(self.session.site.forms), 1)
        self.window.commands.run("connect.delete")
        self.assertIn("shows this form", self.window.last_words)

    def test_deliveries_show_what_became_of_each_lead_and_its_wire(self) -> None:
        for key, signs in (("good", ()), ("robot", ("filled in 0.2 s",))):
            take_lead(self.window.outcomes.engine, NewLead(
                key=key, at_ms=int(time.time() * 1000), visitor=key, form=FORM, form_name="Places",
                page=PAGE, variant="A", email=f"{key}@mail.example", answers=[], signs=signs,
                robot=bool(signs), routes=("route1",)))
        engine = self.window.outcomes.engine
        (due,) = take_due(engine, int(time.time() * 1000))
        record(engine, [(due, Outcome("waiting", "Lists answered 503", "PUT x", "503 no"))],
               int(time.time() * 1000))
        self.window.outcomes.look()
        table = self.stage.forms.deliveries.table
        rows = {table.item(r, 1).text(): table.item(r, 2).text() for r in range(table.rowCount())}
        self.assertIn("Lists answered 503, kept, next try", rows["good@mail.example"])
        self.assertIn("looks like a robot (filled in 0.2 s): kept, not sent",
                      rows["robot@mail.example"])
        table.selectRow([table.item(r, 1).text() for r in range(2)].index("good@mail.example"))
        self.window.commands.run("connect.wire")
        dialog = self.stage.forms.deliveries.dialog
        self.assertEqual((dialog.request.toPlainText(), dialog.answer.toPlainText()),
                         ("PUT x", "503 no"))
        dialog.send_again()
        self.assertEqual(len(take_due(engine, int(time.time() * 1000) + 50)), 1)
        dialog.close()

    def test_ones_own_service_takes_the_place_of_the_practice_one(self) -> None:
        services = self.stage.services
        self.stage.show_part("Services")
        services.choose("listsrv")
        QTest.qWait(100)
        address = self.named(QLineEdit, "Base address")
        QTest.keyClicks(address, "lists.example")
        self.press_button("Use these settings")
        self.assertIn("begins with https://", self.window.last_words)
        address.setText("https://lists.example/api/")
        QTest.keyClicks(self.named(QLineEdit, "Key"), "my key")
        self.press_button("Use these settings")
        service = self.session.site.service("listsrv")
        self.assertEqual((service.practice, service.address), (False, "https://lists.example/api/"))
        self.assertEqual(read_key("listsrv"), "my key")
        self.assertNotIn("my key", (self.folder / "site.json").read_text())
        self.session.undo()
        self.assertTrue(self.session.site.service("listsrv").practice)
        self.settled()
        self.press_button("Delete the service")
        self.assertIn("sends to this service", self.window.last_words)

    def test_a_service_is_added_and_a_thread_drawn_to_it_by_names(self) -> None:
        self.stage.show_part("Services")
        self.stage.services.add("file")
        made = self.session.site.services[-1]
        for fault, words in (("down", "cannot be written"), ("none", "0 leads in it")):
            self.settled()
            self.pick("What Practice file does", fault)
            self.until(lambda w=words: w in self.stage.reader.facts(made).words)
        self.stage.show_part("Forms")
        add_thread(self.session, self.stage.reader, self.form(), made)
        self.assertEqual(dict(self.form().routes[-1].fields),
                         {"your_name": NAME, "e_mail": EMAIL, "source": "src1"})

    def test_an_unreachable_list_is_said_in_words(self) -> None:
        add_thread(self.session, self.stage.reader, self.form(),
                    self.session.site.service("listsrv"))
        self.assertIn("cannot be read", self.window.last_words)
        self.assertIsInstance(self.form().routes[0], FieldRoute)

    def test_a_campaign_link_and_its_picture(self) -> None:
        self.window.commands.run("connect.link")
        dialog = self.stage.links
        dialog.address.setText("https://hill.example/night?a=1")
        QTest.keyClicks(dialog.parts["utm_source"], "Hill Letter")
        self.assertEqual(dialog.link.toPlainText(),
                         "https://hill.example/night?a=1&utm_source=hill-letter")
        self.assertFalse(dialog.picture.pixmap().isNull())
        dialog.save(self.folder / "link.svg")
        self.assertIn("<svg", (self.folder / "link.svg").read_text())
        dialog.address.setText("hill")
        self.assertEqual(dialog.link.toPlainText(), "")
        dialog.close()

    def test_codes_are_made_and_consent_is_asked(self) -> None:
        self.stage.show_part("Tracking")
        self.press_button("New code")
        self.write("Name of the code", "Counter")
        self.pick("Runs on", PAGE)
        self.pick("Purpose", "needed")
        (code,) = self.session.site.tracking
        self.assertEqual((code.name, code.reach, code.purpose), ("Counter", PAGE, "needed"))
        box = self.named(QCheckBox, "Ask visitors; codes wait for the answer")
        QTest.mouseClick(box, Qt.MouseButton.LeftButton, pos=QPoint(8, 8))
        self.assertTrue(self.session.site.consent.asked)
        self.window.commands.run("connect.visit")
        self.assertIn("No page is live yet", self.window.last_words)

    def shown_words(self) -> str:
        return " ".join(label.text() for label in self.window.findChildren(QLabel)
                        if label.isVisible())


class PublishTest(StageTest):
    def setUp(self) -> None:
        super().setUp()
        self.window.show_stage("Publish")
        self.stage = self.window.stages["Publish"]

    def state(self, row: int) -> str:
        return self.stage.pages.item(row, 4).text()

    def lines(self) -> list[str]:
        """What the list of snags shows of those that are open."""
        model = self.stage.snags.model
        return [str(model.data(model.index(place))) for place, row in enumerate(model.rows)
                if not row.done]

    def has(self, words: str) -> bool:
        return any(words in line for line in self.lines())

    def choose_snag(self, words: str) -> None:
        place = next(place for place, line in enumerate(self.lines()) if words in line)
        self.stage.snags.list.setCurrentIndex(self.stage.snags.model.index(place))

    def test_send_change_send_again_and_take_off(self) -> None:
        self.assertEqual([self.state(0), self.state(1)], ["never sent", "never sent"])
        self.press_button("Send 2 pages")
        self.assertEqual(self.state(0), "same as live")
        self.assertFalse(self.named(QPushButton, "Send").isEnabled())
        self.stage.show_part("Search and sharing")
        self.write("Title of the page", "Another title")
        self.stage.show_part("Send")
        self.window.refresh()
        self.assertEqual(self.state(0), "title or description")
        self.press_button("Send 1 page")
        self.assertEqual(self.state(0), "same as live")
        with mock.patch.object(LeavingDialog, "exec", return_value=False):
            self.press_button("Take off…")
        self.assertEqual(len(read_live(self.folder).pages), 2)
        with mock.patch.object(LeavingDialog, "exec", return_value=True):
            self.press_button("Take off…")
        live = read_live(self.folder)
        self.assertEqual([p.id for p in live.pages], [THANKS])
        self.assertEqual(live.moved_from("night").page, THANKS)
        self.assertEqual(self.state(0), "never sent")
        self.press_button("Take off…")
        self.assertIn("is not live", self.window.last_words)

    def test_a_snag_leads_to_its_place_and_goes_when_it_is_put_right(self) -> None:
        snags = self.stage.snags
        few = len(find_snags(self.session.site))
        self.until(lambda: len(snags.progress.open) == few)
        self.session.edit("x", lambda site: set_field(site, "button1", "actions", ()))
        self.window.refresh()
        self.until(lambda: self.lines() and "A button does nothing" in self.lines()[0])
        snags.list.activated.emit(snags.model.index(0))
        self.assertEqual(self.session.selection, "button1")
        self.assertIs(self.window._stack.currentWidget(), self.window.build)
        self.session.undo()
        self.window.show_stage("Publish")
        self.until(lambda: len(snags.progress.open) == few)
        (mended,) = [row for row in snags.model.rows if row.done]
        self.assertEqual(mended.snag.words, "A button does nothing")
        self.assertIn("1 mended", snags._count.text())
        self.session.redo()  # It is not mended any more.
        self.window.refresh()
        self.until(lambda: self.has("A button does nothing"))
        self.assertFalse([row for row in snags.model.rows if row.done])

    def test_many_snags_of_one_rule_fold_and_a_key_steps_through_all(self) -> None:
        snags = self.stage.snags
        self.until(lambda: not self.stage.checker.busy)
        for number in range(6):
            self.session.edit("x", lambda site, n=number: insert(site, Button(
                id=f"empty{n}", words=text(f"Press {n}")), "button1", "after"))
        self.window.refresh()
        self.until(lambda: self.has("and 5 more"))
        place = next(place for place, line in enumerate(self.lines()) if "5 more" in line)
        snags.list.setCurrentIndex(snags.model.index(place))
        QTest.keyClick(snags.list, Qt.Key.Key_Right)
        self.assertEqual(sum("A button does nothing" in line for line in self.lines()), 6)
        QTest.keyClick(snags.list, Qt.Key.Key_Left)
        self.assertTrue(self.has("and 5 more"))
        went = []
        for _ in snags.progress.open:
            self.window.commands.run("go.snag.next")
            self.until(lambda: not snags._steps)
            went.append(snags._chosen())
        self.assertEqual(set(went), set(snags.progress.open))
        self.assertEqual(len(went), len(set(went)))

    def test_rules_run_beside_the_window_and_only_while_they_are_shown(self) -> None:
        self.until(lambda: not self.stage.checker.busy)
        threads: list[int] = []
        look = self.stage.checker.look_apart
        self.stage.checker.look_apart = lambda site: (threads.append(threading.get_ident()),
                                                      look(site))
        self.session.edit("x", lambda site: set_field(site, "button1", "actions", ()))
        self.window.refresh()
        self.until(lambda: threads and not self.stage.checker.busy)
        self.assertNotIn(threading.get_ident(), threads)
        count = len(threads)
        self.window.show_stage("Build")
        self.session.undo()
        self.window.refresh()
        QTest.qWait(300)
        self.assertEqual(len(threads), count)

    def test_pages_are_laid_out_once_and_what_does_not_fit_is_a_snag(self) -> None:
        self.session.edit("wide", lambda site: change_code(
            site, "page", PAGE, css="h1{width:900px}"))
        self.window.refresh()
        self.until(lambda: self.has("Sticks out"))
        self.until(lambda: not self.stage.checker.busy)
        (found,) = [line for line in self.lines() if "Sticks out" in line]
        self.assertIn("390 px wide", found)
        kept = len(list((self.folder / ".cache" / "laid").iterdir()))
        self.session.undo()
        self.window.refresh()
        self.until(lambda: not self.stage.checker.busy and not self.has("Sticks out"))
        self.session.redo()
        self.window.refresh()
        self.until(lambda: not self.stage.checker.busy and self.has("Sticks out"))
        # What had been measured came from the cache.
        self.assertLessEqual(len(list((self.folder / ".cache" / "laid").iterdir())), kept + 4)

    def test_a_snag_with_a_mend_is_mended_as_one_step_of_undo(self) -> None:
        snags = self.stage.snags
        self.session.edit("x", lambda site: set_field(site, "head2", "rank", 4))
        self.window.refresh()
        self.until(lambda: self.has("Heading 4 follows"))
        self.choose_snag("Heading 4 follows")
        self.assertTrue(snags.mend.isVisible())
        snags.mend.click()
        self.assertEqual(self.session.node("head2").rank, 2)
        self.assertIn("mend", self.session.undo_label)

    def test_a_snag_is_let_pass_with_a_reason_shown_and_taken_back(self) -> None:
        snags = self.stage.snags
        few = len(find_snags(self.session.site))
        self.until(lambda: len(self.lines()) == few and not self.stage.checker.busy)
        words = self.lines()[0]
        self.choose_snag(words)
        self.assertTrue(snags.pass_by.isVisible())
        with mock.patch.object(QInputDialog, "getText", return_value=("  ", True)):
            snags._one.trigger()
        self.assertIn("Say why it may stay", self.window.last_words)
        with mock.patch.object(QInputDialog, "getText", return_value=("asked at the door", True)):
            snags._one.trigger()
        self.assertEqual(len(self.lines()), few - 1)
        self.assertEqual(snags.shows_passed.text(), "1 let pass")
        self.assertTrue(snags._count.text().startswith(f"{few - 1} open"), snags._count.text())
        snags.shows_passed.click()
        self.assertEqual(self.lines(), [words])
        self.choose_snag(words)
        self.assertEqual(snags._reason.text(), "Let pass: asked at the door")
        snags.back.click()
        self.assertEqual(len(self.lines()), few)
        self.assertFalse(snags.shows_passed.isVisible())
        self.session.undo()
        self.assertEqual(len(self.session.site.passed), 1)

    def test_an_unticked_page_is_left_out(self) -> None:
        self.stage.pages.item(1, 0).setCheckState(Qt.CheckState.Unchecked)
        self.press_button("Send 1 page")
        self.assertEqual([p.id for p in read_live(self.folder).pages], [PAGE])

    def test_a_page_deleted_here_but_still_live_is_pointed_out(self) -> None:
        self.press_button("Send 2 pages")
        self.session.show_page(THANKS)
        self.window.commands.run("page.delete")
        self.window.show_stage("Publish")
        words = [label.text() for label in self.stage.findChildren(QLabel)]
        self.assertTrue(any("Still live though deleted here: Thanks" in w for w in words))


class MeasureTest(StageTest):
    def site(self) -> Site:
        return split_page(small_site(), PAGE, BEGAN)

    def setUp(self) -> None:
        super().setUp()
        send_pages(self.session.site, self.folder, [PAGE], at=BEGAN)
        engine = self.window.outcomes.engine
        now = int(time.time() * 1000)
        # Who came before the test began, all to A, is none of its visitors.
        for number in range(40):
            take_visit(engine, at_ms=int(BEGAN.timestamp() * 1000) - 5000, visitor=f"old{number}",
                       page=PAGE, variant="A")
            take_visit(engine, at_ms=now, visitor=f"old{number}", page=PAGE, variant="A")
        for number in range(60):
            key = "AB"[number % 2]
            take_visit(engine, at_ms=now, visitor=f"v{number}", page=PAGE, variant=key)
            if number % 5 == 0:
                take_lead(engine, NewLead(
                    key=f"k{number}", at_ms=now, visitor=f"v{number}", form=FORM,
                    form_name="Places", page=PAGE, variant=key, email=f"p{number}@mail.example",
                    answers=[(NAME, "Your name", f"=Person {number}")]))
        self.window.outcomes.look()
        self.until(lambda: not self.window.outcomes.counting)
        self.window.show_stage("Measure")
        self.window.stages["Measure"].show_part("Split tests")
        self.stage = self.window.stages["Measure"]

    def cells(self, table, row: int) -> list[str]:
        return [table.item(row, column).text() for column in range(table.columnCount())]

    def test_variants_are_counted_apart_and_the_winner_is_kept(self) -> None:
        table = self.stage.splits.table
        self.assertEqual(self.cells(table, 0)[1:4], ["50 %", "30", "6"])
        self.assertEqual(self.cells(table, 1)[1:5], ["50 %", "30", "6", "20.00 %"])
        self.press_button("Keep B, archive A")
        page = self.session.site.page(PAGE)
        self.assertEqual([v.key for v in page.variants], ["B"])
        self.assertEqual([v.key for v in page.archive], ["A"])
        self.assertEqual(self.stage.splits._says.text(), "Counting…")
        self.until(lambda: self.stage.splits._says.text() == "B was kept.")
        self.assertEqual(self.cells(table, 1)[1:4], ["50 %", "30", "6"])
        # What comes after its end does not change a finished test.
        take_visit(self.window.outcomes.engine, at_ms=int(time.time() * 1000) + 5000,
                   visitor="late", page=PAGE, variant="B")
        self.window.outcomes.look()
        self.until(lambda: not self.window.outcomes.counting and sum(
            count.visitors for count in self.window.outcomes.counts(PAGE)) == 101)
        self.assertEqual(self.cells(table, 1)[1:4], ["50 %", "30", "6"])
        splits = self.stage.splits
        splits.show_diary()
        self.addCleanup(splits.diary.reject)
        self.assertEqual(splits.diary.list.count(), 1)
        self.assertIn("B was kept.", splits.diary.says.text())
        self.until(lambda: splits.diary.pictures.count() == 3)
        with mock.patch.object(QFileDialog, "getSaveFileName",
                               return_value=(str(self.folder / "d.md"), "")):
            splits.diary.ask_save()
        self.assertIn("| B | 30 | 6 | 20.00% |", (self.folder / "d.md").read_text("utf-8"))
        self.session.undo()
        self.assertTrue(self.session.site.page(PAGE).tested)

    def test_how_it_is_meant_is_asked_and_said_and_shares_can_lean(self) -> None:
        splits = self.stage.splits
        splits.refresh()
        dialog = MeaningDialog(self.session, self.session.site.page(PAGE), self.window)
        dialog.believed.setText("B is warmer.")
        dialog.counts.show_value(FORM)
        dialog.sources.setText("poster, , letter")
        for box in dialog.devices.values():
            box.setChecked(False)
        dialog._take()
        self.assertIn("choose one", dialog.said.text())
        dialog.devices["phone"].setChecked(True)
        dialog.ends.there.setChecked(True)
        dialog._take()
        plan = self.session.site.page(PAGE).plan
        self.assertEqual((plan.believed, plan.counts, plan.sources, plan.devices),
                         ("B is warmer.", FORM, ("poster", "letter"), ("phone",)))
        self.until(lambda: "It is about “Places”. Only visitors on phones from poster, letter." in
                   splits._why.text())
        self.assertIn("Believed: B is warmer.", splits._why.text())
        self.session.undo()
        self.assertEqual(self.session.site.page(PAGE).plan.sources, ())
        with mock.patch("needle.ui.measure.splits.agreed", return_value=True) as asks:
            splits.lean()
        self.assertIn("times as many visitors", asks.call_args.args[2])
        self.assertEqual(sum(v.share for v in self.session.site.page(PAGE).variants), 100)
        deeper = DeeperDialog(self.session, splits._test, [], {FORM: {"A": 90, "B": 9}},
                              self.window)
        self.assertEqual(self.cells(deeper.table, 0)[:4], ["Places", "B", "9", "90"])
        self.assertIn("●", self.cells(deeper.table, 0)[4])

    def test_eight_variants_fit_and_one_is_kept_from_a_menu(self) -> None:
        for _ in range(6):
            self.session.edit("add", lambda site: split_page(site, PAGE, BEGAN))
        splits = self.stage.splits
        self.until(lambda: splits.table.rowCount() == 8)
        self.assertLess(splits.minimumSizeHint().width(), 1000)
        numbers = splits.shares.numbers
        numbers["B"].setFocus()
        numbers["B"].selectAll()
        QTest.keyClicks(numbers["B"], "44")
        QTest.keyClick(numbers["B"], Qt.Key.Key_Return)
        shares = [v.share for v in self.session.site.page(PAGE).variants]
        self.assertEqual((shares[1], sum(shares)), (44, 100))
        self.until(lambda: [int(edit.text()) for edit in numbers.values()] == shares)
        numbers["C"].setText("many")
        QTest.keyClick(numbers["C"], Qt.Key.Key_Return)
        self.assertEqual([v.share for v in self.session.site.page(PAGE).variants], shares)
        self.assertFalse(splits.shares.slider.isVisible())

        def offered() -> list[QPushButton]:
            return [made for made in splits.findChildren(QPushButton)
                    if made.text() == "Keep one…" and made.isVisible()]

        self.until(offered)
        offered()[0].menu().actions()[2].trigger()
        self.assertEqual([v.key for v in self.session.site.page(PAGE).variants], ["C"])
        self.session.undo()

    def test_an_archived_variant_is_brought_back_and_its_test_begins_when_it_is_sent(self) -> None:
        self.press_button("Keep B, archive A")
        self.press_button("Bring A back")
        self.assertEqual([v.key for v in self.session.site.page(PAGE).variants], ["B", "A"])
        self.assertEqual(self.stage.splits._says.text(), "Not begun yet.")
        self.assertEqual(self.stage.splits.list.count(), 2)
        self.session.undo()
        self.assertEqual([v.key for v in self.session.site.page(PAGE).archive], ["A"])

    def test_the_share_is_changed_by_keys_and_undone_as_one_step(self) -> None:
        slider = self.stage.splits.shares.slider
        slider.setFocus()
        for _ in range(3):
            QTest.keyClick(slider, Qt.Key.Key_Right)
        self.assertEqual([v.share for v in self.session.site.page(PAGE).variants], [53, 47])
        self.session.undo()
        self.assertEqual([v.share for v in self.session.site.page(PAGE).variants], [50, 50])

    def test_a_share_that_was_changed_is_read_apart_once_it_is_live(self) -> None:
        self.session.edit("share", lambda site: set_share(site, PAGE, "A", 80))
        splits = self.stage.splits
        self.until(lambda: "You set A 80 % · B 20 %" in splits._why.text())
        self.assertEqual(self.cells(splits.table, 0)[1:4], ["50 %", "30", "6"])
        send_pages(self.session.site, self.folder, [PAGE],
                   at=datetime.now(UTC) + timedelta(seconds=2))
        self.window.outcomes.look()
        self.until(lambda: splits.list.count() == 2 and splits._says.text().startswith("Nobody"))
        self.assertEqual(self.cells(splits.table, 0)[1:4], ["80 %", "0", "0"])
        splits.list.setCurrentRow(1)
        self.until(lambda: self.cells(splits.table, 0)[1:4] == ["50 %", "30", "6"])
        self.assertIn("what came since is read apart", splits._why.text())
        self.assertFalse(splits.shares.slider.isEnabled())

    def test_results_by_page(self) -> None:
        self.stage.show_part("Pages")
        table = self.stage.pages.table
        self.assertEqual(self.cells(table, 0)[:5], ["Night", "A", "70", "6", "8.57 %"])
        self.assertTrue(table.isColumnHidden(5), "nothing is sold here")

    def test_visits_and_conversions_are_exported(self) -> None:
        self.stage.show_part("Pages")
        out = Path(self._folder.name) / "visits.csv"
        self.stage.pages.export(out)
        self.until(out.exists)
        lines = out.read_text("utf-8-sig").splitlines()
        self.assertEqual(lines[0].split(",")[:4], ["When (UTC)", "What", "Page", "Variant"])
        self.assertGreater(sum(",visit,Night," in line for line in lines), 60)
        self.until(lambda: "Visits and conversions are in" in self.window.last_words)

    def test_the_lead_book_is_searched_and_exported(self) -> None:
        self.stage.show_part("Leads")
        leads = self.stage.leads
        self.assertEqual(leads.model.rowCount(), 12)
        QTest.keyClicks(leads.line, "p15")
        self.until(lambda: leads.model.rowCount() == 1)
        self.assertIn("=Person 15", leads.model.index(0, 2).data())
        out = Path(self._folder.name) / "leads.csv"
        leads.export(out)
        self.until(out.exists)
        self.assertIn("'=Person 15", out.read_text("utf-8-sig"))
        leads.export(out / "below-a-file.csv")
        self.until(lambda: "cannot be written" in self.window.last_words)

    def test_a_lead_is_marked_kept_in_a_filter_and_its_person_erased(self) -> None:
        self.stage.show_part("Leads")
        leads, panel = self.stage.leads, self.stage.leads.panel
        leads.table.selectRow(0)
        email = leads.model.rows[0].email
        panel.tags.setFocus()
        QTest.keyClicks(panel.tags, "guide, autumn")
        QTest.keyClick(panel.tags, Qt.Key.Key_Return)
        self.assertEqual(leads.model.rows[0].tags, ("guide", "autumn"))
        self.pick("Tag", "guide")
        self.assertEqual(leads.model.rowCount(), 1)
        change_filters(self.folder, lambda _: {"Guides": leads.filter})
        leads.show_filter(Filter())
        self.assertEqual(leads.model.rowCount(), 12)
        leads.show_filter(kept_filters(self.folder)["Guides"])
        self.assertEqual(leads.model.rowCount(), 1)
        leads.table.selectRow(0)
        receipt = Path(self._folder.name) / "receipt.txt"
        panel.erase_person(email, receipt)
        leads.show_filter(Filter())
        self.assertEqual(leads.model.rowCount(), 11)
        self.assertIn("Leads with their answers: 1", receipt.read_text())
        self.assertNotIn(email, receipt.read_text())

    def test_leads_come_in_from_a_table_and_go_out_as_contacts(self) -> None:
        self.stage.show_part("Leads")
        table = Path(self._folder.name) / "old.csv"
        table.write_text("Mail;Who\nfar@mail.example;Far Away\nnear@mail.example;'=Near\n")
        for said in ("2 leads came in", "2 were there already"):
            self.stage.leads.take_file(table)
            self.assertIn(said, self.window.last_words)
        self.assertEqual(self.stage.leads.model.rowCount(), 14)
        table.write_text("nothing")
        self.stage.leads.take_file(table)
        self.assertIn("no line below its header", self.window.last_words)
        out = Path(self._folder.name) / "all.vcf"
        words, fault = export_cards(self.window.outcomes.engine, self.session.site, Filter(), out)
        self.assertFalse(fault, words)
        self.assertEqual(out.read_text().count("BEGIN:VCARD"), 14)
        self.assertIn("far@mail.example", out.read_text())

    def test_without_a_test_the_screen_says_how_to_start_one(self) -> None:
        self.press_button("Keep A, archive B")
        self.until(lambda: self.stage.splits._says.text() == "A was kept.")


class BriefTest(StageTest):
    def test_brief_colours_and_pictures(self) -> None:
        self.window.show_stage("Brief")
        self.write("The one thing a visitor should do", "Book a chair")
        self.assertEqual(self.session.site.brief.call_to_action, "Book a chair")
        before = self.style(self.desktop, "button1", "background-color")
        self.window.stages["Brief"].brand.palette_card.set_colour("main", "#aa2200")
        self.until(lambda: self.style(self.phone, "button1", "background-color")
                   == "rgb(170, 34, 0)")
        self.session.undo()
        self.until(lambda: self.style(self.desktop, "button1", "background-color") == before)
        picture = Path(self._folder.name) / "hill.png"
        out = io.BytesIO()
        Image.new("RGB", (80, 40), "navy").save(out, "PNG")
        picture.write_bytes(out.getvalue())
        self.window.stages["Brief"].media.add_files([picture])
        self.assertEqual(self.session.site.media[0].name, "hill.png")
        picture.write_bytes(b"no picture")
        self.window.stages["Brief"].media.add_files([picture])
        self.assertIn("not a picture", self.window.last_words)


class WindowTest(StageTest):
    def test_the_finder_finds_commands_pages_words_and_settings(self) -> None:
        for words, holds in (
                ("see you", lambda: self.session.selection == "thead"),
                ("Old words", lambda: self.session.selection == "head1"),
                ("Measure", lambda: self.window._stack.currentWidget()
                 is self.window.stages["Measure"])):
            with self.subTest(words):
                self.window.open_finder()
                QTest.keyClicks(self.window.finder.line, words)
                QTest.keyClick(self.window.finder.line, Qt.Key.Key_Return)
                self.until(holds)

    def test_what_begins_with_all_that_was_typed_goes_before_what_is_like_it(self) -> None:
        self.window.open_finder()
        finder = self.window.finder
        QTest.keyClicks(finder.line, "read a table")
        first = finder.list.item(0)
        self.assertIn("Read a CSV file as a table", first.text() if first is not None else "")
        finder.reject()

    def test_every_command_has_words_and_no_two_share_a_shortcut(self) -> None:
        commands = self.window.commands.all()
        keys = [c.keys for c in commands if c.keys]
        self.assertEqual(len(keys), len(set(keys)))
        self.assertTrue(all(c.words for c in commands))
        menus = {action.text() for action in self.window.menuBar().actions()}
        self.assertEqual({c.menu for c in commands}, menus)

    def test_undo_names_what_it_takes_back_in_the_menu(self) -> None:
        self.session.select("head1")
        self.window.commands.run("node.copy")
        self.window.commands.refresh()
        self.assertEqual(self.window.commands.action("edit.undo").text(), "Undo: duplicate")

    def test_everything_that_can_be_used_has_a_name_for_those_who_cannot_see_it(self) -> None:
        for stage in self.window.stages:
            self.window.show_stage(stage)
            self.session.select("button1" if stage == "Build" else "")
            for kind in (QToolButton, QPushButton, QLineEdit, QComboBox):
                for widget in self.window.stages[stage].findChildren(kind):
                    if isinstance(widget.parentWidget(), QComboBox) or not widget.isVisible():
                        continue
                    words = widget.text() if hasattr(widget, "text") else ""
                    named = widget.accessibleName() or words or widget.placeholderText()
                    self.assertTrue(named, f"{stage}: {kind.__name__} without a name")

    def test_nothing_is_cut_off_at_1280_by_800_and_at_1024_by_700(self) -> None:
        for size in ((1280, 800), (1024, 700)):
            self.window.resize(*size)
            for stage in self.window.stages:
                self.window.show_stage(stage)
                QTest.qWait(60)
                self.assertLessEqual(self.window.width(), size[0], stage)
                for button in self.window.stages[stage].findChildren(QPushButton):
                    if button.isVisible() and button.text():
                        needs = QFontMetrics(button.font()).horizontalAdvance(button.text())
                        self.assertGreaterEqual(button.width(), needs, button.text())

    def test_both_themes_dress_the_window(self) -> None:
        self.window.commands.run("go.theme")
        self.assertIn("#161f1c", APP.styleSheet())
        self.window.commands.run("go.theme")
        self.assertIn("#ffffff", APP.styleSheet())

    def test_pages_are_made_copied_and_deleted_with_undo(self) -> None:
        self.window.commands.run("page.copy")
        self.assertEqual(self.session.page.name, "Night copy")
        self.window.commands.run("page.delete")
        self.assertEqual(len(self.session.site.pages), 2)
        self.session.undo()
        self.session.undo()
        self.assertEqual(self.session.site, small_site())

    def test_a_split_is_started_and_each_variant_edited_apart(self) -> None:
        self.loaded_anew(lambda: self.window.commands.run("page.split"))
        self.assertEqual(self.session.variant.key, "B")
        heading = next(n.id for n in self.session.variant.nodes() if hasattr(n, "rank"))
        self.until(lambda: self.text(self.desktop, heading) == "Old words")
        self.click(self.desktop, heading)
        self.press(Qt.Key.Key_A, CTRL)
        self.type("Variant words")
        self.until(lambda: "Variant words" in self.text(self.phone, heading))
        self.session.show_page(PAGE, "A")
        self.until(lambda: self.text(self.desktop, "head1") == "Old words")

    def test_a_part_is_tested_by_itself(self) -> None:
        self.session.select("popup1")
        self.loaded_anew(lambda: self.window.commands.run("page.split.part"))
        self.assertEqual(self.session.variant.key, "B")
        chosen = self.session.node()
        self.assertEqual((type(chosen).__name__, chosen.name), ("Popup", "Sign-up"))
        self.window.commands.run("page.split.part")
        self.assertEqual(len(self.session.page.variants), 2, "a copy is made of A alone")

    def test_an_empty_project_offers_the_first_step(self) -> None:
        self.session.select("")
        words = " ".join(label.text() for label in self.window.build.tray.findChildren(QLabel))
        self.assertIn("Ins adds a section", words)


class StyleTest(StageTest):
    def test_a_text_style_changes_every_item_that_follows_it(self) -> None:
        self.session.select("")
        styles = self.window.build.tray.styles
        styles.choice.setCurrentIndex(styles.choice.findData("title"))
        styles.refresh()
        size = styles.editors["size"]
        size.setFocus()
        size.selectAll()
        QTest.keyClicks(size, "44")
        QTest.keyClick(size, Qt.Key.Key_Return)
        for node in ("head1", "head2"):
            self.until(lambda n=node: self.style(self.desktop, n, "font-size") == "44px")
        self.assertEqual(self.style(self.phone, "head1", "font-size"), "37px")


if __name__ == "__main__":
    unittest.main()
