import asyncio
import smtplib
import ssl
import tempfile
import time
import unittest
from email.message import EmailMessage
from pathlib import Path

import httpx

from needle.practice.faults import read_fault, set_fault
from needle.practice.mailbox import messages
from needle.practice.mailing import LISTS, make_app
from needle.running.addresses import read_address
from needle.running.children import Child, ChildError


class Client:
    """Calls the service in-process, with its key unless told otherwise."""

    def __init__(self, folder: Path) -> None:
        self._app = make_app(folder, "key")

    def request(self, method: str, path: str, headers: dict[str, str] | None = None,
                **more: object) -> httpx.Response:
        async def run() -> httpx.Response:
            transport = httpx.ASGITransport(self._app)
            async with httpx.AsyncClient(transport=transport, base_url="http://list") as client:
                return await client.request(
                    method, path, headers={"Authorization": "Bearer key"} | (headers or {}),
                    **more)  # type: ignore[arg-type]
        return asyncio.run(run())

    def get(self, path: str, **more: object) -> httpx.Response:
        return self.request("GET", path, **more)  # type: ignore[arg-type]

    def post(self, path: str, **more: object) -> httpx.Response:
        return self.request("POST", path, **more)  # type: ignore[arg-type]

    def put(self, path: str, **more: object) -> httpx.Response:
        return self.request("PUT", path, **more)  # type: ignore[arg-type]


class MailingTest(unittest.TestCase):
    def setUp(self) -> None:
        name = tempfile.TemporaryDirectory()
        self.addCleanup(name.cleanup)
        self.folder = Path(name.name)
        self.client = Client(self.folder)

    def put(self, email: str, key: str, **fields: str) -> tuple[int, str]:
        answer = self.client.put(f"/lists/sky-calendar/members/{email}", json={"fields": fields},
                                 headers={"Idempotency-Key": key})
        return answer.status_code, answer.json()["result"]

    def test_lists_and_fields_are_described(self) -> None:
        self.assertEqual({one["key"] for one in self.client.get("/lists").json()}, set(LISTS))
        fields = self.client.get("/lists/meteor-guests/fields").json()
        self.assertEqual(fields[0], {"key": "EMAIL", "type": "email", "required": True})
        self.assertEqual(self.client.get("/lists/none/fields").status_code, 404)

    def test_a_member_is_added_once_then_changed_and_a_repeat_does_nothing(self) -> None:
        self.assertEqual(self.put("a@b.example", "k1", EMAIL="a@b.example"), (201, "added"))
        self.assertEqual(self.put("a@b.example", "k1", EMAIL="other"), (200, "repeated"))
        self.assertEqual(self.put("a@b.example", "k2", FULL_NAME="Ro"), (200, "updated"))
        (member,) = self.client.get("/lists/sky-calendar/members").json()
        self.assertEqual((member["fields"], member["writes"]), ({"FULL_NAME": "Ro"}, 2))

    def test_the_key_is_asked_for(self) -> None:
        wrong = self.client.get("/lists", headers={"Authorization": "Bearer other"})
        self.assertEqual(wrong.status_code, 401)

    def test_faults_are_switched_on_and_stay_on_after_a_restart(self) -> None:
        for fault, status in (("down", 503), ("key", 401), ("quota", 429), ("nonsense", 200),
                              ("none", 200)):
            set_fault(self.folder, fault)
            again = Client(self.folder)
            with self.subTest(fault):
                self.assertEqual(again.get("/lists").status_code, status)
                self.assertEqual(read_fault(self.folder), fault)
        self.assertEqual(read_fault(self.folder / "nowhere"), "none")

    def test_a_list_that_lost_a_field_and_one_that_fails_after_taking(self) -> None:
        set_fault(self.folder, "field")
        fields = self.client.get("/lists/sky-calendar/fields").json()
        self.assertEqual([field["key"] for field in fields], ["EMAIL"])
        answer = self.client.put("/lists/sky-calendar/members/a@b.example",
                                 json={"fields": {"FULL_NAME": "Ro"}})
        self.assertEqual((answer.status_code, answer.json()["error"]),
                         (422, "unknown field FULL_NAME"))
        set_fault(self.folder, "twice")
        answer = self.client.put("/lists/sky-calendar/members/a@b.example", json={"fields": {}},
                                 headers={"Idempotency-Key": "k"})
        self.assertEqual(answer.status_code, 500)
        set_fault(self.folder, "none")
        self.assertEqual(self.put("a@b.example", "k"), (200, "repeated"))
        gone = self.client.request("DELETE", "/lists/sky-calendar/members/a@b.example")
        self.assertEqual(gone.status_code, 204)
        self.assertEqual(self.client.get("/lists/sky-calendar/members").json(), [])


class MailboxTest(unittest.TestCase):
    def setUp(self) -> None:
        name = tempfile.TemporaryDirectory()
        self.addCleanup(name.cleanup)
        self.folder = Path(name.name) / "mail"
        self.child = Child("needle.practice.mailbox", [str(self.folder)])
        self.addCleanup(self.child.stop)

    def send(self, subject: str, password: str = "") -> None:
        message = EmailMessage()
        message["From"], message["To"], message["Subject"] = "a@b.example", "c@d.example", subject
        message.set_content("Grüße")
        message["Message-ID"] = f"<{subject}@b.example>"
        facts = read_address(self.folder)
        context = ssl.create_default_context(cafile=facts["trust"])
        with smtplib.SMTP("127.0.0.1", self.child.facts["port"], timeout=60) as smtp:
            smtp.starttls(context=context)
            smtp.login(facts["user"], password or facts["key"])
            smtp.send_message(message)

    def test_messages_are_kept_newest_first_and_refused_while_it_is_down(self) -> None:
        self.send("First")
        self.send("Second")
        self.assertEqual([m["subject"] for m in messages(self.folder)], ["Second", "First"])
        self.assertIn("Grüße", messages(self.folder)[0].get_content())
        for fault in ("down", "quota", "field", "twice"):
            set_fault(self.folder, fault)
            with self.subTest(fault), self.assertRaises(smtplib.SMTPException):
                self.send("Third")
        set_fault(self.folder, "none")
        self.send("Third")  # It was kept while its answer was a fault, and is one letter still.
        self.assertEqual(len(messages(self.folder)), 3)

    def test_nobody_gets_in_without_the_log_in_and_none_in_the_open(self) -> None:
        with self.assertRaises(smtplib.SMTPAuthenticationError):
            self.send("First", "wrong")
        with smtplib.SMTP("127.0.0.1", self.child.facts["port"], timeout=60) as smtp:
            self.assertEqual(smtp.docmd("MAIL FROM:<a@b.example>")[0], 530)

    def test_it_writes_down_where_it_is(self) -> None:
        self.assertEqual(read_address(self.folder)["url"],
                         f"127.0.0.1:{self.child.facts['port']}")
        self.assertIsNone(read_address(self.folder / "nowhere"))


class ChildTest(unittest.TestCase):
    def test_a_child_ends_when_its_parent_lets_go(self) -> None:
        with tempfile.TemporaryDirectory() as name:
            child = Child("needle.practice.mailbox", [name])
            child._process.stdin.close()
            end = time.monotonic() + 240
            while child.alive and time.monotonic() < end:
                time.sleep(0.05)
            self.assertFalse(child.alive)
            child.stop()

    def test_a_child_that_cannot_start_says_why(self) -> None:
        with self.assertRaisesRegex(ChildError, "No module named"):
            Child("needle.nothing", [])
