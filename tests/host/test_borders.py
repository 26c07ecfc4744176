"""Where the host draws its lines for what comes in, each tried from both sides."""

import json
import tempfile
import time
import unittest
from pathlib import Path
from typing import Any
from unittest import mock

import msgspec
from starlette.applications import Starlette
from starlette.middleware import Middleware
from starlette.requests import Request
from starlette.responses import PlainTextResponse
from starlette.routing import Route

from needle.core.leads.attachments import SentFile
from needle.core.leads.checking import Checked
from needle.core.values.form import Form, FormField, Role
from needle.core.values.language import ENGLISH
from needle.host import clock, health
from needle.host.attaching import drop_files, keep_files
from needle.host.clock import now_ms
from needle.host.exchanging import Exchanging
from needle.host.headers import SafeHeaders
from needle.host.judging import Judge, good_key, key_of
from needle.host.limits import BodyLimits
from needle.host.oddities import fields_of, host_of, name_of_host
from needle.host.ownname import OwnName
from needle.host.postbody import read_post
from needle.host.ranges import Ranges
from needle.host.recognising import _told_of
from needle.host.supervising import Supervisor
from needle.host.visitors import Seen, device_of, variant_for
from needle.publish.headers import HSTS
from needle.publish.release import LivePage, LiveVariant
from needle.store.results.tables import open_results
from tests.host.inside import FILE, PLAIN, SEALS, ask, request, run
from tests.sites import FORM


class VisitorsTest(unittest.TestCase):
    def test_a_cookie_is_believed_only_with_a_seal_of_ours_for_that_visitor(self) -> None:
        good, other = "0123456789abcdef01234567", "f" * 24
        entry = Seen(SEALS, good, "").with_page("p", "A", True)
        self.assertTrue(Seen(SEALS, good, entry).known())
        for who, held in ((other, entry), ("", entry), (good, ""), (good, "p.A.x"), (good, "..")):
            self.assertFalse(Seen(SEALS, who, held).known(), (who, held))
        seen = Seen(SEALS, good, entry)
        self.assertTrue(seen.holds("p", "A") and seen.aside("p", "A"))
        self.assertFalse(Seen(SEALS, good, Seen(SEALS, good, "").with_page("p", "A")
                              ).aside("p", "A"))

    def test_who_is_told_apart_without_a_cookie(self) -> None:
        def told(address: str, **headers: str) -> str:
            asked = request(**headers)
            asked.scope["client"] = (address, 4000)
            return _told_of(asked)

        self.assertEqual(told("2001:db8:1:2:aaaa::1"), told("2001:db8:1:2:bbbb::9"))
        for one, other in ((told("2001:db8:1:2::1"), told("2001:db8:1:3::1")),
                           (told("203.0.113.5"), told("203.0.113.6")),
                           (told("127.0.0.1", x_forwarded_for="198.51.100.1"),
                            told("127.0.0.1", x_forwarded_for="198.51.100.2")),
                           (told("127.0.0.1", user_agent="a"), told("127.0.0.1", user_agent="b")),
                           (told("127.0.0.1", accept_language="de"), told("127.0.0.1"))):
            self.assertNotEqual(one, other)
        self.assertIn("unix", told("unix"))

    def test_hosts_tell_each_other_what_came_from_a_range(self) -> None:
        here, there, elsewhere = Ranges(), Ranges(), Ranges()
        folder = self.enterContext(tempfile.TemporaryDirectory())
        engine = open_results(Path(folder) / "r.db")
        self.addCleanup(engine.dispose)
        hosts = [Exchanging(engine, {"visits": one}) for one in (here, there)]
        self.assertEqual([here.count("203.0.113.5", 1000 + n) for n in range(6)][-1], 6)
        there.count("203.0.113.9", now_ms())
        for moment in range(6):
            here.count("203.0.113.5", now_ms() + moment)
        for one in (*hosts, *hosts):
            one.exchange()
        self.assertEqual(there.count("203.0.113.77", now_ms()), 2 + 6, "one range, two hosts")
        self.assertEqual(there.count("198.51.100.1", now_ms()), 1)
        self.assertEqual(elsewhere.count("203.0.113.5", now_ms()), 1)
        again = Exchanging(engine, {"visits": elsewhere})
        with mock.patch("needle.host.exchanging.now_ms", lambda: now_ms() + 700_000):
            again.exchange()
        self.assertEqual(elsewhere.count("203.0.113.5", now_ms()), 2, "what is old is forgotten")

    def test_shares_are_kept_and_the_same_visitor_gets_the_same(self) -> None:
        page = LivePage("p", "P", "p", "", (LiveVariant("A", 20, FILE), LiveVariant("B", 80, FILE),
                                            LiveVariant("C", 0, FILE)))
        got = [variant_for(page, f"v{n}", None).key for n in range(4000)]
        self.assertEqual(got, [variant_for(page, f"v{n}", None).key for n in range(4000)])
        self.assertAlmostEqual(got.count("A") / 4000, 0.2, delta=0.03)
        self.assertEqual(got.count("C"), 0)
        self.assertEqual(variant_for(page, "v1", "C").key, "C")
        self.assertIn(variant_for(page, "v1", "D").key, "AB")
        nobody = msgspec.structs.replace(page, variants=(LiveVariant("A", 0, FILE),
                                                         LiveVariant("B", 0, FILE)))
        self.assertEqual(variant_for(nobody, "v1", None).key, "A")

    def test_what_was_seen_is_proved_for_sixteen_pages(self) -> None:
        cookie = ""
        for n in range(17):
            cookie = Seen(SEALS, "v", cookie).with_page(f"p{n}", "A")
        seen = Seen(SEALS, "v", cookie)
        self.assertFalse(seen.holds("p0", "A"))
        self.assertTrue(seen.holds("p1", "A"))
        self.assertTrue(seen.holds("p16", "A"))
        self.assertFalse(seen.holds("p16", "B"))
        self.assertFalse(Seen(SEALS, "w", cookie).holds("p16", "A"))
        again = seen.with_page("p5", "A").split("|")
        self.assertEqual(len(again), 16)
        self.assertTrue(again[-1].startswith("p5.A."))

    def test_a_ticket_stands_for_a_cookie_and_only_for_its_visitor(self) -> None:
        who = "0123456789abcdef01234567"
        ticket = Seen(SEALS, who, None).ticket("p1", "B")
        told = Seen.of_report(SEALS, ticket, {})
        self.assertEqual(told.visitor, who)
        self.assertTrue(told.holds("p1", "B"))
        self.assertFalse(told.holds("p1", "A"))
        cookies = {"needle_visitor": who, "needle_seen": Seen(SEALS, who, "").with_page("p2", "A")}
        self.assertTrue(Seen.of_report(SEALS, "", cookies).holds("p2", "A"))
        self.assertEqual(Seen.of_report(SEALS, "nobody:x", cookies).visitor, "")

    def test_devices(self) -> None:
        for agent, device in (("iPad; CPU OS", "tablet"), ("Android 14; Tablet", "tablet"),
                              ("Android 14; Mobile", "phone"), ("iPhone Mobi", "phone"),
                              ("X11; Linux", "desktop"), ("", "desktop")):
            self.assertEqual(device_of(agent), device, agent)


class OdditiesTest(unittest.TestCase):
    def test_fields(self) -> None:
        self.assertEqual(fields_of("a=1&&b=2&a=3&c"), {"a": ["1", "3"], "b": ["2"], "c": [""]})
        self.assertEqual(fields_of("x=%ff&y=a+b%26"), {"x": ["�"], "y": ["a b&"]})
        many = "&".join(f"f{n}=1" for n in range(600))
        self.assertEqual(len(fields_of(many)), 500)
        self.assertEqual(list(fields_of("a=1&b=2&c=3", 2)), ["a", "b"])
        self.assertEqual(fields_of("a=1=2"), {"a": ["1=2"]})

    def test_hosts(self) -> None:
        for address, host in (("https://A.Example:8443/x", "a.example:8443"),
                              ("http://me:pw@hill.example/", "hill.example"), ("nothing", ""),
                              ("http://[half/", ""), ("//x.example", "x.example")):
            self.assertEqual(host_of(address), host, address)
        for header, name in (("Hill.Example:80", "hill.example"), ("hill.example.", "hill.example"),
                             ("[::1]:80", "::1"), ("a b", ""), ("", ""), ("x" * 256, ""),
                             ("x" * 255, "x" * 255), ("hill.example:12345", "hill.example")):
            self.assertEqual(name_of_host(header), name, header)


class RangesTest(unittest.TestCase):
    def test_ten_minutes_of_one_range(self) -> None:
        ranges = Ranges()
        self.assertEqual([ranges.count("203.0.113.7", n) for n in range(3)], [1, 2, 3])
        self.assertEqual(ranges.count("198.51.100.1", 2), 1)
        # What is older than ten minutes counts no more; what is just as old still does.
        self.assertEqual(ranges.count("203.0.113.7", 600_000), 4)
        self.assertEqual(ranges.count("203.0.113.7", 600_001), 4)
        self.assertEqual(ranges.count("203.0.113.7", 10_000_000), 1)

    def test_no_more_is_kept_than_fits(self) -> None:
        ranges = Ranges()
        for n in range(1200):
            counted = ranges.count("203.0.113.7", n)
        self.assertEqual(counted, 1000)
        with mock.patch("needle.host.ranges._MOST_RANGES", 3):
            for n in range(4):
                ranges.count(f"198.51.{n}.1", 5000)
            self.assertEqual(len(ranges._seen), 3)
            ranges.count("198.51.1.1", 5001)
            ranges.count("198.51.9.1", 5002)  # The one that was silent the longest goes.
            self.assertEqual(ranges.count("198.51.1.1", 5003), 3)


class LimitsTest(unittest.TestCase):
    def setUp(self) -> None:
        async def echo(request: Request) -> PlainTextResponse:
            return PlainTextResponse(str(len(await request.body())))

        self.app = Starlette(
            routes=[Route("/{path:path}", echo, methods=["GET", "POST"])],
            middleware=[Middleware(BodyLimits, {"/wide": 100}, 10)])

    def post(self, path: str, size: int, **headers: str) -> int:
        return ask(self.app, path, "POST", b"x" * size, **headers).status_code

    def test_each_address_takes_as_much_as_it_may(self) -> None:
        for path, size, status in (("/wide", 100, 200), ("/wide", 101, 413), ("/x", 10, 200),
                                   ("/x", 11, 413), ("/wider", 100, 200)):
            self.assertEqual(self.post(path, size), status, (path, size))
        answer = ask(self.app, "/x", "POST", b"x" * 11)
        self.assertEqual(answer.headers["connection"], "close")

    def test_what_lies_about_its_length_is_cut_all_the_same(self) -> None:
        self.assertEqual(self.post("/x", 2, content_length="many"), 413)
        self.assertEqual(self.post("/x", 11, content_length="2"), 413)
        self.assertEqual(self.post("/x", 2, content_length="9" * 40), 413)

    def test_what_is_no_request_is_passed_on(self) -> None:
        seen: list[str] = []

        async def app(scope: Any, _receive: Any, _send: Any) -> None:
            seen.append(scope["type"])

        async def receive() -> Any:
            return {}

        async def send(_: Any) -> None:
            return None

        for layer in (BodyLimits(app, {}, 1), SafeHeaders(app), OwnName(app, mock.Mock())):
            run(layer({"type": "lifespan"}, receive, send))
        self.assertEqual(seen, ["lifespan"] * 3)


class HeadersTest(unittest.TestCase):
    def test_an_answers_own_headers_stay_and_https_says_so(self) -> None:
        async def page(_: Request) -> PlainTextResponse:
            return PlainTextResponse("x", headers={"Content-Security-Policy": "own"})

        app = SafeHeaders(Starlette(routes=[Route("/own", page), Route("/", lambda _: (
            PlainTextResponse("x")))]), {"X-More": "1"})
        plain, own = ask(app), ask(app, "/own")
        self.assertEqual(plain.headers["x-more"], "1")
        self.assertIn("default-src", plain.headers["content-security-policy"])
        self.assertEqual(own.headers["content-security-policy"], "own")
        self.assertNotIn("strict-transport-security", plain.headers)
        self.assertEqual(ask(app, base="https://hill.example").headers[
            "strict-transport-security"], HSTS)


class OwnNameTest(unittest.TestCase):
    def app(self, safe: bool, worked_ms: int = 0) -> OwnName:
        keeper = mock.Mock(tls_port=8443)
        keeper.names.return_value = ("www.hill.example", "hill.example")
        keeper.holds_for.return_value = safe
        keeper.worked_ms.return_value = worked_ms
        keeper.offered.side_effect = lambda token: "proof" if token == "t1" else ""
        self.keeper = keeper
        return OwnName(Starlette(routes=[Route("/{path:path}", lambda _: PlainTextResponse("x"),
                                               methods=["GET", "POST"])]), keeper)

    def test_there_is_one_true_address(self) -> None:
        for safe, base, there in (
                (True, "http://www.hill.example", "https://www.hill.example/a?q=1"),
                (True, "http://hill.example", "https://www.hill.example/a?q=1"),
                (True, "https://hill.example", "https://www.hill.example/a?q=1"),
                (False, "http://hill.example", "http://www.hill.example/a?q=1"),
                (True, "http://hill.example:8000", "https://www.hill.example:8443/a?q=1"),
                (True, "https://www.hill.example", ""), (False, "http://www.hill.example", ""),
                (True, "http://hill.localhost", ""), (False, "https://www.hill.example", "")):
            answer = ask(self.app(safe), "/a?q=1", base=base)
            with self.subTest(base=base, safe=safe):
                self.assertEqual(answer.headers.get("location", ""), there)
                self.assertEqual(answer.status_code, 301 if there else 200)
        posted = ask(self.app(True), "/a", "POST", base="http://hill.example")
        self.assertEqual(posted.status_code, 308)
        self.assertEqual(ask(self.app(True), "http://hill.example//x.example/").headers[
            "location"], "https://www.hill.example/x.example/")

    def test_the_authority_is_answered_what_was_offered(self) -> None:
        there = "/.well-known/acme-challenge/"
        self.assertEqual(ask(self.app(True), there + "t1").text, "proof")
        self.assertEqual(ask(self.app(True), there + "t2").status_code, 404)

    def test_browsers_are_bound_for_a_day_in_the_first_week(self) -> None:
        with mock.patch("needle.host.ownname.now_ms", return_value=7 * 86_400_000 + 2):
            for since, told in ((0, "max-age=86400"), (2, "max-age=86400"), (1, HSTS)):
                answer = ask(self.app(True, since), base="https://www.hill.example")
                self.assertEqual(answer.headers["strict-transport-security"], told, since)
            self.assertEqual(self.keeper.works.call_count, 1)
            ask(self.app(True), base="https://elsewhere.example")
            self.assertFalse(self.keeper.works.called)
            ask(self.app(False), base="https://www.hill.example")
            self.assertFalse(self.keeper.works.called)


class JudgeTest(unittest.TestCase):
    def test_keys(self) -> None:
        for key, good in (("k" * 16, True), ("k" * 15, False), ("k" * 64, True),
                          ("k" * 65, False), ("k" * 15 + "-", False), ("ü" * 16, False)):
            self.assertEqual(good_key(key), good, key)
            self.assertEqual(key_of({"_key": key}), key if good else "")
        self.assertEqual(key_of({}), "")

    def filling(self, began_ms: int, now: int, key: str = "k" * 16) -> int | None:
        token = SEALS.seal("filling", began_ms, FORM, "k" * 16)
        return Judge(SEALS)._filling_ms(PLAIN, {"_token": token, "_key": key}, now)

    def test_how_long_a_filling_took(self) -> None:
        self.assertEqual(self.filling(1_000_000, 1_004_000), 4000)
        self.assertEqual(self.filling(1_000_000, 999_500), 0)
        self.assertIsNone(self.filling(1_001_001, 1_000_000))
        self.assertEqual(self.filling(1_001_000, 1_000_000), 0)
        self.assertEqual(self.filling(0, 86_400_000), 86_400_000)
        self.assertEqual(self.filling(0, 86_400_001), -1)
        self.assertEqual(self.filling(0, 1, "x" * 16), -1)
        self.assertIsNone(Judge(SEALS)._filling_ms(PLAIN, {}, 0))

    def test_signs_are_looked_for_only_where_the_form_asks(self) -> None:
        form = Form(id=FORM, name="F", fields=(), check_robots=False)
        posted = mock.Mock(sent={"_hp": "x"})
        self.assertEqual(Judge(SEALS).signs(request(), form, None, posted, Checked({}, {}),
                                            frozenset()), ())
        asking = msgspec.structs.replace(form, check_robots=True)
        with mock.patch("needle.host.judging.robot_signs", side_effect=ValueError):
            self.assertEqual(Judge(SEALS).signs(request(), asking, None, posted, Checked({}, {}),
                                                frozenset()), ())

    def test_a_trial_is_of_its_own_form(self) -> None:
        seal = SEALS.seal("trial", 2**52, FORM)
        judge = Judge(SEALS)
        self.assertTrue(judge.is_trial(PLAIN, {"_trial": seal}))
        self.assertFalse(judge.is_trial(Form(id="other", name="F", fields=()), {"_trial": seal}))
        self.assertFalse(judge.is_trial(PLAIN, {}))

    def test_work_is_asked_for_in_words_or_on_a_page(self) -> None:
        judge, sent = Judge(SEALS), {"_key": "k" * 16, "f1": "Ann", "_work": "old"}
        quiet = judge.ask_for_work(True, request("/_needle/lead/f"), sent, ENGLISH)
        self.assertEqual(quiet.status_code, 428)
        told = json.loads(bytes(quiet.body))
        self.assertTrue(SEALS.holds(told["work"], int(time.time() * 1000), "work", "k" * 16))
        self.assertFalse(SEALS.holds(told["work"], int(time.time() * 1000) + 901_000, "work",
                                     "k" * 16))
        page = bytes(judge.ask_for_work(False, request("/_needle/lead/f"), sent,
                                        ENGLISH).body).decode()
        self.assertIn('name="f1" value="Ann"', page)
        self.assertNotIn('value="old"', page)
        self.assertFalse(judge.has_worked({"_key": "k" * 16, "_work": told["work"]}))


class PostTest(unittest.TestCase):
    FILES = Form(id=FORM, name="F", fields=(FormField(id="f1", role=Role.FILE, label="File"),))


    def read(self, kind: str, body: bytes, form: Form = PLAIN) -> Any:
        return run(read_post(request(body=body, content_type=kind), form))

    def test_what_is_taken_and_what_is_not(self) -> None:
        plain = "application/x-www-form-urlencoded"
        self.assertEqual(self.read(plain, b"a=1&a=2").many, {"a": ["1", "2"]})
        self.assertEqual(self.read(f"{plain}; Charset=UTF-8", b"a=1").sent, {"a": "1"})
        self.assertIsNone(self.read(f"{plain};charset=us-ascii", b"a=1").fault)
        for kind in (f"{plain}; charset=utf-7", "text/plain", "", "multipart/form-data",
                     "multipart/form-data; boundary=x"):
            self.assertIsNotNone(self.read(kind, b"a=1").fault, kind)

    def test_how_much_is_read(self) -> None:
        plain = "application/x-www-form-urlencoded"
        self.assertIsNone(self.read(plain, b"a=" + b"x" * 199_998).fault)
        self.assertIsNotNone(self.read(plain, b"a=" + b"x" * 199_999).fault)

    def parts(self, boundary: str = "b") -> Any:
        body = ("--b\r\nContent-Disposition: form-data; name=\"f1\"; filename=\"a.txt\"\r\n\r\nhi"
                "\r\n--b\r\nContent-Disposition: form-data; name=\"f1\"; filename=\"b.txt\"\r\n\r\n"
                "no\r\n--b\r\nContent-Disposition: form-data; name=\"n\"\r\n\r\nAnn\r\n--b--\r\n")
        return self.read(f"multipart/form-data; boundary={boundary}", body.encode(), self.FILES)

    def test_files(self) -> None:
        posted = self.parts()
        self.assertEqual(posted.files["f1"], SentFile("a.txt", b"hi"))
        self.assertEqual(posted.sent, {"n": "Ann"})
        for boundary in ("", '"b c "', "x" * 71, '"b\\"'):
            self.assertIsNotNone(self.parts(boundary).fault, boundary)
        self.assertIsNotNone(self.read("multipart/form-data; boundary=b", b"--b\r\n\r\n--",
                                       self.FILES).fault)

    def test_only_fields_for_files_bring_any(self) -> None:
        with tempfile.TemporaryDirectory() as made:
            folder = Path(made)
            sent = {"f1": SentFile("../a.TXT", b"hi"), "x": SentFile("b.txt", b"no")}
            (kept,) = keep_files(folder, "k1", self.FILES, sent)
            self.assertEqual((kept[0], kept[1]), ("f1", "a.TXT"))
            self.assertRegex(kept[2], r"^attachments/k1-f1-[0-9a-f]{12}\.txt$")
            self.assertEqual((folder / kept[2]).stat().st_mode & 0o777, 0o600)
            before = (folder / kept[2]).stat().st_mtime_ns
            self.assertEqual(keep_files(folder, "k1", self.FILES, sent), [kept])
            self.assertEqual((folder / kept[2]).stat().st_mtime_ns, before)
            drop_files(folder, [kept[2]])
            self.assertFalse((folder / kept[2]).exists())


class ClockTest(unittest.TestCase):
    """A clock that is set back goes on from before; one that is set forward is followed."""

    def at(self, wall_s: int, steady_s: int) -> tuple[int, float]:
        """Return what it is then, by both, and by how much it was set back."""
        with mock.patch.multiple(clock, _BEGAN_NS=1000 * 10**9, _BEGAN_STEADY_NS=0), \
                mock.patch.object(clock.time, "time_ns", return_value=wall_s * 10**9), \
                mock.patch.object(clock.time, "monotonic_ns", return_value=steady_s * 10**9):
            return clock.now_ms(), clock.set_back_s()

    def test_it_never_goes_back(self) -> None:
        self.assertEqual(self.at(1000, 0), (1_000_000, 0))
        self.assertEqual(self.at(1060, 60), (1_060_000, 0))
        self.assertEqual(self.at(5000, 60), (5_000_000, 0), "set forward")
        self.assertEqual(self.at(500, 120), (1_120_000, 620), "set back")

    def test_health_says_that_it_was_set_back(self) -> None:
        engine = open_results("sqlite://")
        self.addCleanup(engine.dispose)
        for behind_s, said in ((59.0, False), (3600.0, True)):
            with mock.patch.object(health, "set_back_s", return_value=behind_s):
                told = health._Health(engine, Supervisor(), lambda: "")._look()
            self.assertEqual("set back by 3,600 s" in str(told["faults"]), said)
            self.assertEqual(told["ok"], not said)
