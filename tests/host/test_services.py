"""Leads on their way to all five kinds of services, through every fault."""

import asyncio
import csv
import hashlib
import hmac
import io
import json
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any

import httpx
import msgspec
from sqlalchemy import event

from needle.core.edit.forms import change_form
from needle.core.site.site import Medium, Site
from needle.core.values.form import Confirmation, FormField, Letter, Role
from needle.host.keeping import Keeper, NotKeptError
from needle.practice.contacts import BOOKS
from needle.practice.faults import FAULTS
from needle.practice.mailbox import messages
from needle.practice.shelf import put_away
from needle.running.addresses import practice_folder, read_address
from needle.running.signing import signature
from needle.services.adapter import Access, Parcel, ServiceError
from needle.services.contacts import AddressBooks
from needle.services.files import LeadFile
from needle.services.hooks import WebHook
from needle.services.lists import MailingList
from needle.services.mail import MailServer
from needle.store.results.book import list_leads, list_unfinished
from needle.store.results.deliveries import deliveries_of, take_due
from needle.store.results.tables import open_results
from needle.store.results.taking import NewLead, take_leads
from tests.host.stall import StallTest, wait_for
from tests.sites import EMAIL, FORM, NAME, wired_site

EVERY = ("list", "mail", "hook", "contacts")


class WiredTest(StallTest):
    practice = EVERY

    def site(self) -> Site:
        return wired_site()

    def change(self, **changes: object) -> None:
        self.made = change_form(self.made, FORM, lambda form: msgspec.structs.replace(
            form, **changes))
        self.publish()

    def entries(self) -> list[dict[str, Any]]:
        return httpx.get(f"{self.address('hook')['url']}", trust_env=False, timeout=240).json()

    def address(self, kind: str) -> dict[str, Any]:
        facts = read_address(practice_folder(self.folder, kind))
        assert facts is not None
        return facts

    def rows(self) -> list[list[str]]:
        path = practice_folder(self.folder, "file") / "leads.csv"
        return list(csv.reader(io.StringIO(path.read_text("utf-8")))) if path.is_file() else []

    def cards(self) -> list[Path]:
        return sorted((practice_folder(self.folder, "contacts") / "guests").glob("*.vcf"))

    def everywhere(self, count: int) -> bool:
        return (len(self.members()) == len(self.mail()) == len(self.entries())
                == len(self.cards()) == len(self.rows()) - 1 == count)

    def visit(self, email: str = "ro@mail.example", **more: str) -> httpx.Response:
        return self.post(self.answers(email, kind="school", year="7") | more)


class RoutesTest(WiredTest):
    def test_answers_and_facts_arrive_under_each_services_own_names(self) -> None:
        self.assertEqual(self.visit().status_code, 200)
        self.assertTrue(wait_for(lambda: self.everywhere(1)))
        self.assertEqual(self.members()[0]["fields"], {
            "EMAIL": "ro@mail.example", "FULL_NAME": "Ro", "SOURCE": "poster"})
        (entry,) = self.entries()
        self.assertEqual(entry["body"]["fields"], {
            "mail": "ro@mail.example", "who": "Ro", "kind": "school", "year": "7",
            "from": "poster", "on": "Night"})
        self.assertEqual(self.rows()[0], ["lead_key", "when", "mail", "year"])
        self.assertEqual(self.rows()[1][2:], ["ro@mail.example", "7"])
        self.assertIn("NOTE:school", self.cards()[0].read_text())
        (lead,) = list_leads(self.engine)
        told = {sent.route: sent for sent in deliveries_of(self.engine, lead.id)}
        self.assertIn("PUT http://", told["r-list"].request)
        self.assertIn("•••", told["r-list"].request)
        for kind in EVERY:
            self.assertNotIn(self.address(kind)["key"], "".join(
                sent.request + sent.answer for sent in told.values()))

    def test_what_a_branch_leaves_out_is_not_sent(self) -> None:
        self.post(self.answers(kind="club", year="99"))
        self.assertTrue(wait_for(lambda: self.everywhere(1)))
        self.assertNotIn("year", self.entries()[0]["body"]["fields"])

    def test_every_fault_in_turn_loses_nothing_and_doubles_nothing(self) -> None:
        sent = 0
        for fault in [one for one in FAULTS if one not in ("none", "slow")]:
            for kind in EVERY:
                self.break_service(kind, fault)
            for _ in range(3):
                sent += 1
                self.assertEqual(self.visit(f"v{sent}@mail.example").status_code, 200)
            self.assertTrue(wait_for(self.something_waits))
            for kind in EVERY:
                self.break_service(kind, "none")
        self.assertTrue(wait_for(lambda: self.everywhere(sent)), "not everywhere")
        time.sleep(1)
        self.assertTrue(self.everywhere(sent))
        self.assertEqual({one["writes"] for one in self.members()}, {1})
        self.assertEqual(len({one["key"] for one in self.entries()}), sent)
        self.assertEqual(len({row[0] for row in self.rows()}), sent + 1)

    def something_waits(self) -> bool:
        return any(one.state == "waiting" and one.tries for lead in list_leads(self.engine)
                   for one in deliveries_of(self.engine, lead.id))

    def test_a_file_out_of_reach_gets_its_leads_when_it_is_back(self) -> None:
        shelf = practice_folder(self.folder, "file")
        self.visit("one@mail.example")
        self.assertTrue(wait_for(lambda: len(self.rows()) == 2))
        put_away(shelf, True)
        self.visit("two@mail.example")
        self.assertTrue(wait_for(self.something_waits))
        put_away(shelf, False)
        self.assertTrue(wait_for(lambda: len(self.rows()) == 3))

    def test_a_persons_leads_arrive_in_their_order(self) -> None:
        self.break_service("hook", "down")
        for number in range(4):
            self.post(self.answers("ann@mail.example", kind="school", year=str(number + 1),
                                   _key=f"{number:032d}"))
        self.break_service("hook", "none")
        self.assertTrue(wait_for(lambda: len(self.entries()) == 4))
        self.assertEqual([one["body"]["fields"]["year"] for one in self.entries()],
                         ["1", "2", "3", "4"])


class AfterTest(WiredTest):
    def site(self) -> Site:
        site = wired_site()
        guide = Medium(id="guide", name="Guide.pdf", file="guide.pdf", width=0, height=0)
        return msgspec.structs.replace(site, media=(guide,))

    def setUp(self) -> None:
        super().setUp()
        (self.folder / "media").mkdir(exist_ok=True)
        (self.folder / "media" / "guide.pdf").write_bytes(b"%PDF-1.7 the guide")

    def letter(self, subject: str):
        return next(m for m in messages(practice_folder(self.folder, "mail"))
                    if m["subject"] == subject)

    def link_in(self, subject: str) -> str:
        words = self.letter(subject).get_body(("plain",)).get_content()
        return "/_needle/" + words.split("/_needle/")[1].split()[0]

    def test_the_promised_file_comes_by_a_link_that_is_sealed(self) -> None:
        self.change(letter=Letter("mailbox", "Your guide", "Here it is.", "guide"))
        self.visit()
        self.assertTrue(wait_for(lambda: "Your guide" in self.mail()))
        self.assertEqual(self.letter("Your guide")["to"], "ro@mail.example")
        link = self.link_in("Your guide")
        got = self.visitor.get(link)
        self.assertEqual((got.content, got.status_code), (b"%PDF-1.7 the guide", 200))
        self.assertIn("Guide.pdf", got.headers["content-disposition"])
        for broken in (link[:-1] + ("A" if link[-1] != "A" else "B"),
                       "/_needle/file/guide/1." + link.split(".")[-1]):
            self.assertEqual(self.visitor.get(broken).status_code, 410)
        self.change(letter=Letter("mailbox", "Attached", "Here.", "guide", attach=True))
        self.visit("two@mail.example")
        self.assertTrue(wait_for(lambda: "Attached" in self.mail()))
        (part,) = self.letter("Attached").iter_attachments()
        self.assertEqual((part.get_filename(), part.get_content()),
                         ("Guide.pdf", b"%PDF-1.7 the guide"))

    def test_a_lead_waits_for_its_visitor_to_confirm(self) -> None:
        self.change(confirmation=Confirmation("mailbox", "Please confirm", "Follow this."))
        self.visit()
        self.assertTrue(wait_for(lambda: "Please confirm" in self.mail()))
        time.sleep(1)
        self.assertEqual((self.members(), self.entries()), ([], []))
        self.assertEqual(self.visitor.get("/_needle/confirm/" + "0" * 32 + "/1.x").status_code,
                         410)
        link = self.link_in("Please confirm")
        self.assertEqual(self.visitor.head(link).status_code, 200)
        self.assertIn("<button", self.visitor.get(link).text)
        time.sleep(1)
        self.assertEqual((self.members(), self.entries()), ([], []))
        self.assertIn("is confirmed", self.visitor.post(link).text)
        self.assertTrue(wait_for(lambda: self.members() and self.entries()))

    def test_the_promised_letter_waits_for_the_confirmation_too(self) -> None:
        self.change(confirmation=Confirmation("mailbox", "Please confirm", "Follow this."),
                    letter=Letter("mailbox", "Your guide", "Here it is.", "guide"))
        self.visit()
        self.assertTrue(wait_for(lambda: "Please confirm" in self.mail()))
        time.sleep(1)
        self.assertNotIn("Your guide", self.mail())
        self.visitor.post(self.link_in("Please confirm"))
        self.assertTrue(wait_for(lambda: "Your guide" in self.mail()))
        letter = self.letter("Your guide")
        self.assertEqual(letter["Auto-Submitted"], "auto-generated")
        self.assertIn("unsubscribe", letter["List-Unsubscribe"])

    def test_files_that_are_sent_along_are_kept_or_refused_in_words(self) -> None:
        field = FormField("cv", Role.FILE, "Your paper", choices=("pdf",), step="you")
        self.change(fields=(*self.made.form(FORM).fields, field))
        for name, data, status in (("../x.pdf", b"%PDF-1 hello", 200),
                                   ("x.pdf.exe", b"%PDF-1", 422), ("y.pdf", b"GIF89a", 422)):
            answer = self.visitor.post(
                f"/_needle/lead/{FORM}", data=self.answers(f"{len(name)}@mail.example",
                                                           kind="club"),
                files={"cv": (name, data)}, headers={"Accept": "application/json"})
            with self.subTest(name):
                self.assertEqual(answer.status_code, status, answer.text)
        (kept,) = (self.folder / "attachments").iterdir()
        self.assertEqual(kept.read_bytes(), b"%PDF-1 hello")
        self.assertEqual(len(list_leads(self.engine)), 1)

    def test_a_half_is_kept_until_it_is_whole(self) -> None:
        half = {"kind": "school", "year": "7", "_key": "h" * 32}
        self.assertEqual(self.visitor.post(f"/_needle/part/{FORM}", data=half).status_code, 404)
        self.change(keep_unfinished=True)
        whole = self.answers(_key="h" * 32, kind="school", year="7")
        part = {name: value for name, value in whole.items() if name not in (EMAIL, NAME)}
        self.assertEqual(self.visitor.post(f"/_needle/part/{FORM}", data=part).status_code, 204)
        (kept,) = list_unfinished(self.engine)
        self.assertEqual([answer for _, _, answer in kept.answers], ["school", "7", "poster"])
        self.post(whole)
        self.assertEqual(list_unfinished(self.engine), [])

    def test_work_is_asked_for_and_proved(self) -> None:
        self.change(challenge=True)
        sent = self.answers(kind="club")
        asked = self.post(sent)
        self.assertEqual(asked.status_code, 428)
        work, bits = asked.json()["work"], asked.json()["bits"]
        proof = next(n for n in range(10_000_000) if int.from_bytes(hashlib.sha256(
            f"{work}:{n}".encode()).digest()[:4]) >> (32 - bits) == 0)
        self.assertEqual(self.post(sent | {"_work": work, "_proof": "1"}).status_code, 428)
        self.assertEqual(self.post(sent | {"_work": work, "_proof": str(proof)}).status_code, 200)
        other = self.answers("b@mail.example", kind="club")
        self.assertEqual(self.post(other | {"_work": work, "_proof": str(proof)}).status_code, 428)
        self.assertIn("proves that it is no robot", self.visitor.post(
            f"/_needle/lead/{FORM}", data=sent).text)


class AdaptersTest(WiredTest):
    """Each client on its own, against its practice counterpart."""

    def fault_of(self, kind: str, fault: str, run) -> str:
        self.break_service(kind, fault)
        with self.assertRaises(ServiceError) as caught:
            run()
        self.break_service(kind, "none")
        return str(caught.exception)

    def test_lists_books_and_their_fields_are_read(self) -> None:
        facts = self.address("list")
        lists = MailingList(Access("Lists", facts["url"], facts["key"]))
        self.assertEqual(lists.check(), "3 lists found")
        self.assertEqual(lists.fields("meteor-guests")[2].choices, ("1", "2", "3–6", "more"))
        facts = self.address("contacts")
        books = AddressBooks(Access("Book", facts["url"], facts["key"], {"user": facts["user"]}))
        self.assertEqual(list(books.targets().values()), list(BOOKS.values()))
        for kind, adapter in (("list", lists), ("contacts", books)):
            for fault, words in (("down", "answered 503"), ("key", "refused the key"),
                                 ("quota", "quota"), ("nonsense", "")):
                with self.subTest(f"{kind} {fault}"):
                    self.assertIn(words, self.fault_of(kind, fault, adapter.targets))

    def test_a_contact_is_one_for_each_person_and_can_go_again(self) -> None:
        facts = self.address("contacts")
        books = AddressBooks(Access("Book", facts["url"], facts["key"], {"user": facts["user"]}))
        for name in ("Ro", "Ro Wren"):
            said = books.deliver(Parcel("k" + name, "/dav/guests/",
                                        {"EMAIL": "ro@mail.example", "FN": name}))
        self.assertEqual(said.words, "Book updated")
        (card,) = self.cards()
        self.assertIn("FN:Ro Wren", card.read_text())
        for fault, words in (("nonsense", "not its protocol"), ("field", "refused the lead"),
                             ("twice", "answered 500")):
            with self.subTest(fault):
                self.assertIn(words, self.fault_of("contacts", fault, lambda: books.deliver(
                    Parcel("k", "/dav/guests/", {"EMAIL": "ro@mail.example", "FN": "Ro Wren"}))))
        self.assertTrue(books.remove(Parcel("k", "/dav/guests/", {"EMAIL": "RO@mail.example"})))
        self.assertEqual(self.cards(), [])

    def test_mail_is_secured_and_asks_who_it_is(self) -> None:
        facts = self.address("mail")
        options = {key: facts[key] for key in ("user", "security", "trust")}
        self.assertIn("knows the log-in", MailServer(Access(
            "Mail", facts["url"], facts["key"], options)).check())
        for change, words in (({"trust": ""}, "not secured as it should be"),
                              ({"user": "other"}, "refused the log-in"),
                              ({"security": "tls"}, "not secured as it should be")):
            with self.subTest(words), self.assertRaisesRegex(ServiceError, words):
                MailServer(Access("Mail", facts["url"], facts["key"], options | change)).check()

    def test_a_hook_is_signed_and_has_the_shape_that_is_asked_for(self) -> None:
        facts = self.address("hook")
        wrong = WebHook(Access("Hook", facts["url"], "other"))
        with self.assertRaisesRegex(ServiceError, "refused the key"):
            wrong.deliver(Parcel("k"))
        own = WebHook(Access("Hook", facts["url"], facts["key"], {
            "body": "own", "template": '{"a": {{A}}, "k": {{lead.key}}}',
            "headers": "X-Shop: hill\nbroken\nX-Bad: a\r\nX-Evil: 1"}))
        self.assertEqual([one.key for one in own.fields("")], ["A"])
        self.assertEqual(own.deliver(Parcel("k1", values={"A": 'q"uote'})).words, "Hook 201")
        self.assertEqual(self.entries()[-1]["body"], {"a": 'q"uote', "k": "k1"})
        self.assertIn("not its protocol", self.fault_of("hook", "nonsense", lambda: WebHook(
            Access("Hook", facts["url"], facts["key"], {"expects": facts["expects"]})).deliver(
                Parcel("k9"))))
        form = WebHook(Access("Hook", facts["url"], facts["key"], {"body": "form"}))
        form.deliver(Parcel("k2", values={"A": "ü"}))
        self.assertIn("A=%C3%BC", self.entries()[-1]["body"])
        told = dict(part.split("=") for part in signature("s", 5, b"body").split(","))
        self.assertEqual(told["v1"], hmac.new(b"s", b"5.body", "sha256").hexdigest())

    def test_a_file_grows_by_whole_lines_and_each_lead_once(self) -> None:
        path = self.folder / "out" / "leads.jsonl"
        file = LeadFile(Access("File", str(path)))
        for key in ("k1", "k2", "k1"):
            file.deliver(Parcel(key, values={"A": "x\ny"}))
        with path.open("ab") as torn:
            torn.write(b'{"lead_key": "k3", "A')
        file.deliver(Parcel("k3", values={"B": "z"}))
        self.assertEqual([json.loads(line)["lead_key"]
                          for line in path.read_text("utf-8").splitlines()],
                         ["k1", "k2", "k3"])
        table = LeadFile(Access("File", str(path.with_suffix(".csv"))))
        table.deliver(Parcel("k1", values={"A": "=1+1"}))
        table.deliver(Parcel("k2", values={"B": "new"}))
        rows = list(csv.reader(io.StringIO(path.with_suffix(".csv").read_text("utf-8"))))
        self.assertEqual(rows[0], ["lead_key", "when", "A", "B"])
        self.assertEqual([row[2:] for row in rows[1:]], [["'=1+1", ""], ["", "new"]])
        table.remove(Parcel("k1"))
        self.assertEqual(table.check(), "1 leads in it")
        with self.assertRaisesRegex(ServiceError, "cannot be written"):
            LeadFile(Access("File", str(path / "below" / "x.csv"))).deliver(Parcel("k"))



class FullDiskTest(unittest.TestCase):
    def test_a_lead_that_does_not_fit_is_not_half_there_and_its_visitor_is_told(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            engine = open_results(Path(name) / "results.db")
            self.addCleanup(engine.dispose)
            event.listen(engine, "connect", lambda connection, _: connection.execute(
                "PRAGMA max_page_count=1"))  # SQLite keeps to what is there already.
            engine.dispose()
            keeper = Keeper("leads", lambda fresh: take_leads(engine, fresh))

            async def run() -> list[object]:
                task = asyncio.create_task(keeper.run())
                try:
                    return await asyncio.gather(*(keeper.keep(NewLead(
                        key=f"k{n:030d}", at_ms=1, visitor="v", form="f", form_name="F", page="",
                        variant="", email="a@mail.example", answers=[("a", "A", "x" * 90_000)],
                        routes=["r1"])) for n in range(3)), return_exceptions=True)
                finally:
                    task.cancel()

            for said in asyncio.run(run()):
                self.assertIsInstance(said, NotKeptError)
                self.assertIn("disk is full", str(said))
            self.assertEqual((list_leads(engine), take_due(engine, 99)), ([], []))
