"""Odd and hostile requests to a running host."""

import contextlib
import os
import socket
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

import httpx
import msgspec

from needle.core.site.site import Medium
from needle.core.values.form import Confirmation, FormField, Letter, Role
from needle.publish.releases import live_folder
from needle.store.results.book import Filter, list_leads
from tests.host.stall import StallTest, wait_for
from tests.sites import EMAIL, FORM, PAGE

ODD_ADDRESSES = {
    "many parameters": "?" + "&".join(f"p{n}={n}" for n in range(5000)),
    "half a surrogate pair": "?utm_source=\ud800",
    "NUL": "?utm_source=a%00b",
    "no UTF-8": "?utm_source=%E9%FF",
    "very long": "?utm_source=" + "x" * 100_000,
}


class OddRequestsTest(StallTest):
    def test_nothing_odd_loses_a_lead(self) -> None:
        odd_headers = (
            {"Origin": "http://[x"}, {"Referer": "http://[::::"}, {"Cookie": "needle_visitor=\x01"},
            {"Cookie": "=;;;=;" * 500}, {"User-Agent": "\xff" * 2000}, {"Accept-Language": "\xff"},
            {"X-Forwarded-For": "'; DROP TABLE leads; --"})
        count = 0
        for name, query in ODD_ADDRESSES.items():
            sent = self.answers(f"{count}@mail.example") | {
                "_query": query.encode("utf-8", "surrogatepass").decode("latin-1"),
                "_referrer": "http://[x"}
            with self.subTest(name):
                self.assertEqual(self.post(sent).status_code, 200)
                count += 1
        for headers in odd_headers:
            raw = {key: value.encode("latin-1") for key, value in headers.items()}
            with self.subTest(headers):
                answer = self.visitor.post(
                    f"/_needle/lead/{FORM}", data=self.answers(f"{count}@mail.example"),
                    headers={"Accept": "application/json"} | raw)  # type: ignore[arg-type]
                self.assertEqual(answer.status_code, 200)
                count += 1
        self.assertEqual(len(list_leads(self.engine, Filter(robots="with"))), count)

    def test_a_body_with_very_many_fields_and_odd_signs_is_kept(self) -> None:
        sent = "&".join([*(f"{key}={value}" for key, value in self.answers().items()),
                         *(f"x{n}=%E9%00" for n in range(3000))])
        answer = self.visitor.post(f"/_needle/lead/{FORM}", content=sent.encode(), headers={
            "Content-Type": "application/x-www-form-urlencoded", "Accept": "application/json"})
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(len(list_leads(self.engine, Filter(robots="with"))), 1)

    def test_odd_reports_are_refused_in_words(self) -> None:
        for body in (b"[" * 15_000, b'{"page":"\\ud800"}', b"{", b"null", b'{"page":{}}',
                     b'{"page":"p","variant":"' + b"A" * 5000 + b'"}', b"\xff\xfe"):
            for path in ("/_needle/visit", "/_needle/goal"):
                with self.subTest(body[:20], path=path):
                    self.assertEqual(self.visitor.post(path, content=body).status_code, 400)

    def test_no_body_is_read_beyond_its_limit(self) -> None:
        self.assertEqual(self.visitor.post("/_needle/visit", content=b"x" * 50_000).status_code,
                         413)

        def endless():  # type: ignore[no-untyped-def]
            for _ in range(40):
                yield b"y" * 10_000

        with contextlib.suppress(httpx.HTTPError):  # The line may be cut, which ends it as well.
            self.assertEqual(self.visitor.post("/_needle/visit", content=endless()).status_code,
                             413)
        self.assertEqual(self.visitor.get("/_needle/health").status_code, 200)

    def test_every_answer_carries_the_headers_that_fit_it(self) -> None:
        page = self.visitor.get(f"/{self.made.page(PAGE).slug}")
        self.assertEqual(page.status_code, 200)
        for answer in (page, self.visitor.get("/nothing"), self.visitor.get("/_needle/health")):
            self.assertEqual(answer.headers["x-content-type-options"], "nosniff")
            self.assertIn("frame-ancestors", answer.headers["content-security-policy"])
            self.assertIn("referrer-policy", answer.headers)
            self.assertIn("permissions-policy", answer.headers)
            self.assertNotIn("server", answer.headers)
        self.assertIn("script-src 'self'", page.headers["content-security-policy"])


class StallingTest(StallTest):
    def site(self):  # type: ignore[no-untyped-def]
        site = super().site()
        form = site.form(FORM)
        taking = FormField("cv", Role.FILE, "Your paper", choices=("pdf",))
        return msgspec.structs.replace(site, forms=tuple(
            msgspec.structs.replace(one, fields=(*one.fields, taking)) if one is form else one
            for one in site.forms))

    def test_a_charset_of_the_senders_choosing_stalls_nobody(self) -> None:
        body = (b'--x\r\nContent-Disposition: form-data; name="mail1"\r\n'
                b"Content-Type: text/plain; charset=punycode\r\n\r\n" + b"a-" * 90_000
                + b"\r\n--x--\r\n")
        kind = "multipart/form-data; boundary=x"
        before = _worked_s(self.stand.child("host").pid)
        with ThreadPoolExecutor(4) as pool:
            slow = [pool.submit(self.visitor.post, f"/_needle/lead/{FORM}", content=body,
                                timeout=240, headers={"Content-Type": kind + more})
                    for more in ("; charset=punycode", "; charset=idna", "")]
            self.assertEqual(self.visitor.get("/_needle/health").status_code, 200)
            self.assertLess(max(one.result().status_code for one in slow), 500)
        self.assertLess(_worked_s(self.stand.child("host").pid) - before, 5)

    def test_a_retry_with_another_file_leaves_the_one_that_was_taken(self) -> None:
        for data in (b"%PDF-1 first", b"%PDF-1 second"):
            answer = self.visitor.post(
                f"/_needle/lead/{FORM}", data=self.answers(_key="k" * 32),
                files={"cv": ("paper.pdf", data)}, headers={"Accept": "application/json"})
            self.assertEqual(answer.status_code, 200)
        (kept,) = (self.folder / "attachments").iterdir()
        self.assertEqual(kept.read_bytes(), b"%PDF-1 first")
        self.assertEqual(kept.stat().st_mode & 0o777, 0o600)
        self.assertEqual((self.folder / "results.db").stat().st_mode & 0o777, 0o600)

    def test_connections_that_never_finish_keep_no_visitor_out(self) -> None:
        idle = []
        self.addCleanup(lambda: [one.close() for one in idle])
        for number in range(700):
            one = socket.create_connection(("127.0.0.1", self.stand.port))
            idle.append(one)
            if number % 2:
                one.sendall(b"POST /_needle/lead/form1 HTTP/1.1\r\nHost: x\r\nContent-Le")
        self.assertEqual(self.visitor.get("/_needle/health").status_code, 200)


def _worked_s(pid: int) -> float:
    """Return for how many seconds a process has had a processor, whatever else the machine does."""
    fields = Path(f"/proc/{pid}/stat").read_text().rpartition(")")[2].split()
    return (int(fields[11]) + int(fields[12])) / os.sysconf("SC_CLK_TCK")


class LettersTest(StallTest):
    def site(self):  # type: ignore[no-untyped-def]
        site = super().site()
        guide = Medium(id="guide", name="Guide.pdf", file="guide.pdf", width=0, height=0)
        return msgspec.structs.replace(site, media=(*site.media, guide), forms=tuple(
            msgspec.structs.replace(form, letter=Letter("mailbox", "Your guide", "Here.", "guide"),
                                    confirmation=Confirmation("mailbox", "Please confirm", "Go."))
            for form in site.forms))

    def publish(self) -> None:
        (self.folder / "media").mkdir(exist_ok=True)
        (self.folder / "media" / "guide.pdf").write_bytes(b"%PDF-1.7 a guide")
        super().publish()

    def test_nobody_has_a_stranger_flooded(self) -> None:
        for number in range(60):
            address = ("Stranger@Hügel.example", "stranger@hügel.EXAMPLE")[number % 2]
            self.post(self.answers(_key=f"{number:032d}") | {EMAIL: address})
        self.assertEqual(len(list_leads(self.engine)), 60)
        self.assertTrue(wait_for(lambda: self.mail().count("Please confirm") >= 3))
        time.sleep(1.5)
        self.assertEqual(self.mail().count("Please confirm"), 3)


class BrokenLiveTest(StallTest):
    def test_what_was_live_is_served_on_and_said(self) -> None:
        slug = self.made.page(PAGE).slug
        self.assertEqual(self.visitor.get(f"/{slug}").status_code, 200)
        (live_folder(self.folder) / "live.json").write_text('{"address": "cut sho')
        self.assertEqual(self.visitor.get(f"/{slug}").status_code, 200)
        self.assertEqual(self.post(self.answers()).status_code, 200)
        self.assertTrue(wait_for(lambda: self.visitor.get("/_needle/health").status_code == 503))
        self.assertIn("live pages is broken", self.visitor.get("/_needle/health").text)
