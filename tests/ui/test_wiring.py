"""A form in three steps is built and connected to three services with the window's own widgets,
sent, and filled in by somebody: everything arrives under the right names."""

import csv
import io

import httpx
from PyQt6.QtCore import Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QToolButton

from needle.core.edit.nodes import set_field
from needle.core.values.form import Only
from needle.host.clock import now_ms
from needle.publish.live import send_pages
from needle.running.addresses import practice_folder, read_address
from needle.running.stand import Stand
from needle.store.seals import Seals
from tests.host.stall import BROWSER
from tests.sites import PAGE
from tests.ui.test_stages import StageTest


class BuiltFormTest(StageTest):
    def setUp(self) -> None:
        super().setUp()
        self.stand = Stand(self.folder, 0, ("list", "mail"))
        self.addCleanup(self.stand.stop)
        self.window.outcomes.stand = self.stand
        self.window.show_stage("Connect")
        self.stage = self.window.stages["Connect"]

    def settle(self) -> None:
        self.window.refresh()
        QTest.qWait(200)

    def menu(self, button: str, entry: str) -> None:
        self.settle()
        made = self.named(QToolButton, button)
        action = next(one for one in made.menu().actions() if one.text() == entry)
        action.trigger()
        self.settle()

    def choose(self, *name: str) -> None:
        self.settle()
        self.stage.forms.board.focus_row(name)
        QTest.qWait(100)

    @property
    def form(self):
        return self.session.site.forms[-1]

    def id_of(self, label: str) -> str:
        return next(field.id for field in self.form.fields if field.label == label)

    def build(self) -> None:
        self.press_button("New form")
        for entry in ("A step", "A step", "Choice", "Name", "Number", "Hidden"):
            self.menu("Add a field or step", entry)
        first, middle, last = (step.id for step in self.form.steps)
        for label, step in (("Which one?", first), ("How many?", middle), ("Your name", last),
                            ("Your e-mail", last)):
            self.choose("field", self.id_of(label))
            self.pick("Step", step)
        self.choose("step", middle)
        self.pick("Depends on", self.id_of("Which one?"))
        self.choose("form")
        self.write("Name of the form", "Visit")
        self.assertEqual(self.form.steps[1].only, Only(self.id_of("Which one?"), ("One",)))

    def connect_services(self) -> None:
        self.stage.show_part("Services")
        for does in ("hook", "file"):
            self.stage.services.add(does)
        self.stage.show_part("Forms")
        self.stage.forms.choose(self.form.id)
        lists = self.session.site.service("listsrv")
        self.until(lambda: (self.stage.reader.facts(lists) or lists) is not lists
                   and self.stage.reader.facts(lists).targets)
        for entry in ("Lists (mailing list)", "Practice web hook (web hook)",
                      "Practice file (file)"):
            self.menu("Add a thread to…", entry)
        route = self.form.routes[0]
        self.assertEqual(dict(route.fields), {
            "EMAIL": self.id_of("Your e-mail"), "FULL_NAME": self.id_of("Your name"),
            "SOURCE": self.id_of("Where they came from")})
        row = self.stage.forms.board.row_of(("wire", route.id, "FULL_NAME"))
        row.setFocus()
        QTest.keyClick(row, Qt.Key.Key_Delete)
        self.choose("field", self.id_of("Your name"))
        board = self.stage.forms.board
        QTest.keyClick(board.row_of(("field", self.id_of("Your name"))), Qt.Key.Key_Return)
        QTest.keyClick(board.row_of(("wire", route.id, "FULL_NAME")), Qt.Key.Key_Return)
        self.settle()

    def rename(self) -> None:
        routes = self.form.routes
        for label in ("Your name", "Your e-mail", "How many?"):
            self.choose("field", self.id_of(label))
            self.write("Label of the field", f"{label} please")
        self.assertEqual(self.form.routes, routes)

    def post(self) -> httpx.Response:
        key = "7" * 32
        seal = Seals(self.folder).seal("filling", now_ms() - 9000, self.form.id, key)
        field = {f.label: f.id for f in self.form.fields}
        return httpx.post(
            f"http://127.0.0.1:{self.stand.port}/_needle/lead/{self.form.id}", trust_env=False,
            timeout=240, headers=BROWSER | {"Accept": "application/json"},
            cookies={"needle_visitor": "0" * 24}, data={
                field["Which one?"]: "One", field["How many? please"]: "7",
                field["Your name please"]: "Ilse Ruß",
                field["Your e-mail please"]: "ilse@post.example",
                field["Where they came from"]: "poster", "_page": PAGE, "_variant": "A",
                "_took": "10000", "_felt": "30,2,0", "_key": key, "_token": seal})

    def test_it_is_built_connected_renamed_sent_and_arrives(self) -> None:
        self.build()
        self.connect_services()
        self.rename()
        self.session.edit("form", lambda site: set_field(site, "formbox", "form", self.form.id))
        send_pages(self.session.site, self.folder, [PAGE])
        self.assertEqual(self.post().status_code, 200)
        file = practice_folder(self.folder, "file") / "leads.csv"
        self.until(file.exists)
        (row,) = csv.DictReader(io.StringIO(file.read_text("utf-8")))
        self.assertEqual({key: row[key] for key in row if key not in ("lead_key", "when")}, {
            "your_e_mail": "ilse@post.example", "which_one": "One", "your_name": "Ilse Ruß",
            "how_many": "7", "where_they_came": "poster"})
        ledger = read_address(practice_folder(self.folder, "hook"))
        self.until(lambda: httpx.get(ledger["url"], trust_env=False, timeout=240).json())
        (entry,) = httpx.get(ledger["url"], trust_env=False, timeout=240).json()
        self.assertEqual(entry["body"]["fields"]["where_they_came"], "poster")
        lists = read_address(practice_folder(self.folder, "list"))
        found = httpx.get(f"{lists['url']}/lists/meteor-guests/members", trust_env=False,
                          timeout=240, headers={"Authorization": f"Bearer {lists['key']}"}).json()
        self.assertEqual(found[0]["fields"], {
            "EMAIL": "ilse@post.example", "FULL_NAME": "Ilse Ruß", "SOURCE": "poster"})


del StageTest  # Its own tests run where it stands.
