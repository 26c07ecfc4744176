"""Where the host draws its lines for what it does by itself, each tried from both sides."""

import asyncio
import dataclasses
import io
import os
import ssl
import tempfile
import time
import unittest
from collections.abc import Callable, Sequence
from contextlib import redirect_stderr
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any
from unittest import mock

import msgspec
from sqlalchemy.exc import OperationalError
from starlette.applications import Starlette

from needle.core.edit.pages import set_page
from needle.core.values.form import Confirmation, FieldRoute, Form, Letter
from needle.host import __main__ as host_main
from needle.host import certifying, delivery, health, supervising
from needle.host.certifying import CertificateKeeper, names_of
from needle.host.delivery import Deliverer
from needle.host.forms import FormDesk
from needle.host.health import health_route
from needle.host.keeping import Keeper, NotKeptError
from needle.host.letters import confirmation_letter, notice_letter, promised_letter
from needle.host.live import LiveReader
from needle.host.openapi import openapi
from needle.host.recognising import Known
from needle.host.setting import HostSetting, SettingError
from needle.host.supervising import Supervised, Supervisor
from needle.publish.live import send_pages
from needle.publish.release import Live, PromisedFile
from needle.services.adapter import Parcel, Receipt, ServiceError
from needle.store.certificates import Certified, State, WantedCertificate
from needle.store.project import Project
from needle.store.results.deliveries import Due
from needle.store.results.taking import Kept, NewLead
from tests.host.inside import LEAD, PLAIN, SEALS, ask, request, run
from tests.sites import FORM, PAGE, SERVICES, small_site


class KeeperTest(unittest.TestCase):
    def kept(self, take: Callable[[Sequence[NewLead]], list[Kept]], count: int) -> list[Any]:
        async def go() -> list[Any]:
            keeper = Keeper("leads", take)
            runner = asyncio.create_task(keeper.run())
            leads = [keeper.keep(dataclasses.replace(LEAD, key=f"{n:020}"))
                     for n in range(count)]
            try:
                return await asyncio.wait_for(
                    asyncio.gather(*leads, return_exceptions=True), 30)
            finally:
                runner.cancel()

        return list(run(go()))

    def test_many_share_one_write(self) -> None:
        sizes: list[int] = []

        def take(leads: Sequence[NewLead]) -> list[Kept]:
            sizes.append(len(leads))
            return [mock.sentinel.kept for _ in leads]

        self.assertEqual(self.kept(take, 450), [mock.sentinel.kept] * 450)
        self.assertEqual(sizes, [200, 200, 50])

    def test_one_that_cannot_be_stored_takes_no_other_with_it(self) -> None:
        def take(leads: Sequence[NewLead]) -> list[Kept]:
            if len(leads) > 1:
                raise ValueError
            if take.calls == 1:  # type: ignore[attr-defined]
                take.calls += 1  # type: ignore[attr-defined]
                raise OperationalError("x", {}, Exception("database or disk is full"))
            take.calls += 1  # type: ignore[attr-defined]
            return [mock.sentinel.kept]

        take.calls = 0  # type: ignore[attr-defined]
        given = self.kept(take, 3)
        self.assertEqual(given.count(mock.sentinel.kept), 2)
        (refused,) = [one for one in given if isinstance(one, NotKeptError)]
        self.assertIn("full", str(refused).lower())

        def broken(leads: Sequence[NewLead]) -> list[Kept]:
            raise OperationalError("x", {}, Exception("locked"))

        (refused,) = self.kept(broken, 1)
        self.assertNotIn("full", str(refused).lower())

    def test_a_queue_that_is_full_says_so(self) -> None:
        async def go() -> None:
            keeper = Keeper("leads", mock.Mock())
            with mock.patch("needle.host.keeping._MOST_WAITING", 2):
                waiting = [asyncio.ensure_future(keeper.keep(LEAD)) for _ in range(2)]
                await asyncio.sleep(0)
                with self.assertRaises(NotKeptError):
                    await keeper.keep(LEAD)
            for one in waiting:
                one.cancel()

        run(go())


class SupervisorTest(unittest.TestCase):
    def test_when_it_is_well(self) -> None:
        self.assertTrue(Supervised().well)
        with mock.patch.object(supervising.time, "monotonic", return_value=1000.0):
            long_ago = 2 * supervising._LONGEST_PAUSE_S
            self.assertFalse(Supervised(1, "x", 1000 - long_ago).well)
            self.assertTrue(Supervised(1, "x", 999.9 - long_ago).well)
            self.assertFalse(Supervised(1, "x", 1000.0).well)

    def pauses(self, lasted_s: float) -> list[float]:
        told: list[float] = []
        clock = [0.0]

        async def sleep(seconds: float) -> None:
            told.append(seconds)
            if len(told) == 14:
                raise asyncio.CancelledError
            await asyncio.sleep(0)

        async def piece() -> None:
            clock[0] += lasted_s
            raise ValueError

        with mock.patch.object(supervising.anyio, "sleep", sleep), mock.patch.object(
                supervising.time, "monotonic", lambda: clock[0]), self.assertRaises(
                asyncio.CancelledError):
            run(self._alone(piece))
        return told

    async def _alone(self, piece: Callable[[], Any]) -> None:
        supervisor = Supervisor()
        supervisor.work["x"] = Supervised()
        await supervisor._keep_up("x", piece)

    def test_pauses_grow_and_end_growing(self) -> None:
        first, longest = supervising._FIRST_PAUSE_S, supervising._LONGEST_PAUSE_S
        self.assertEqual(self.pauses(0.0)[:3], [first, first * 2, first * 4])
        self.assertEqual(self.pauses(0.0)[-1], min(first * 2 ** 10, longest))
        self.assertEqual(self.pauses(30.0)[1], first * 2)
        self.assertEqual(self.pauses(30.1)[:3], [first] * 3)


class HealthTest(unittest.TestCase):
    def told(self, waiting: int, failed: int, oldest_s: int, **work: Supervised) -> Any:
        supervisor = Supervisor()
        supervisor.work |= work
        late = mock.Mock(waiting=waiting, failed=failed,
                         oldest_ms=1_000_000_000 - oldest_s * 1000 if oldest_s else 0)
        with mock.patch.object(health, "behind", return_value=late), mock.patch.object(
                health, "now_ms", return_value=1_000_000_000):
            return ask(Starlette(routes=[health_route(mock.Mock(), supervisor, lambda: "")]),
                       "/_needle/health")

    def test_when_it_is_worth_an_alarm(self) -> None:
        for waiting, failed, oldest, well in ((5, 0, 5000, True), (5, 1, 900, True),
                                              (5, 1, 901, False), (300, 200, 10, True),
                                              (300, 201, 10, False), (0, 0, 0, True)):
            answer = self.told(waiting, failed, oldest)
            with self.subTest(failed=failed, oldest=oldest):
                self.assertEqual(answer.status_code, 200 if well else 503)
                self.assertEqual(answer.json()["ok"], well)
                self.assertEqual(answer.json()["oldest_s"], oldest)
                self.assertEqual(answer.headers["cache-control"], "no-store")
        failing = self.told(0, 0, 0, outbox=Supervised(1, "ValueError", time.monotonic()))
        self.assertIn("outbox failed (ValueError)", failing.json()["faults"][0])

    def test_it_looks_once_a_second_at_most(self) -> None:
        fault = mock.Mock(return_value="broken")
        app = Starlette(routes=[health_route(mock.Mock(), Supervisor(), fault)])
        away = OperationalError("x", {}, Exception())
        with mock.patch.object(health, "behind", side_effect=away):
            for clock, looks in ((100.0, 1), (101.0, 1), (101.1, 2)):
                with mock.patch.object(health.time, "monotonic", return_value=clock):
                    answer = ask(app, "/_needle/health")
                self.assertEqual(fault.call_count, 2 * looks, clock)
        self.assertEqual(len(answer.json()["faults"]), 2)


class LetterTest(unittest.TestCase):
    LIVE = Live("hill", "Hill", files={"g1": PromisedFile("guide.pdf", "media/guide.pdf")})

    def test_headers_are_one_line_and_answers_go_to_the_lead(self) -> None:
        told = notice_letter("desk@hill.example", "k1", "Places\r\nBcc: x", "ann@x.example",
                             [("Name", "Ann")], self.LIVE, " Hill <hill@hill.example>\n")
        self.assertEqual(told["Subject"], "New lead from Places Bcc: x: ann@x.example")
        self.assertEqual(told["Reply-To"], "ann@x.example")
        self.assertEqual(told["From"], "Hill <hill@hill.example>")
        self.assertEqual(told["Auto-Submitted"], "auto-generated")
        self.assertIn("<k1@", told["Message-ID"])
        nobody = notice_letter("d@x.example", "k", "Places", "", [], self.LIVE, "")
        self.assertEqual((nobody["Subject"], nobody["From"], nobody["Reply-To"]),
                         ("New lead from Places", "needle@localhost", None))
        long = notice_letter("d@x.example", "k", "P" * 400, "", [], self.LIVE, "")
        self.assertEqual(len(long["Subject"]), 180)

    def test_what_was_promised_is_linked_or_attached(self) -> None:
        letter = Letter(service="mailbox", subject="Guide", words="Here.\n \nIt is.", file="g1",
                        days=3)
        linked = promised_letter(letter, "a@x.example", "k", self.LIVE, "", "https://l", Path("."))
        text = linked.get_body(("plain",)).get_content()
        self.assertIn("https://l", text)
        self.assertIn("3", text)
        self.assertNotIn("\n \n", text)
        self.assertEqual(linked["List-Unsubscribe"],
                         "<mailto:needle@localhost?subject=unsubscribe>")
        with tempfile.TemporaryDirectory() as made:
            (Path(made) / "media").mkdir()
            (Path(made) / "media" / "guide.pdf").write_bytes(b"%PDF")
            attached = promised_letter(msgspec.structs.replace(letter, attach=True), "a@x.example",
                                       "k", self.LIVE, "", "https://l", Path(made))
        (file,) = attached.iter_attachments()
        self.assertEqual((file.get_filename(), file.get_content()), ("guide.pdf", b"%PDF"))
        self.assertNotIn("https://l", attached.get_body(("plain",)).get_content())
        gone = promised_letter(msgspec.structs.replace(letter, file="x1"), "a@x.example", "k",
                               self.LIVE, "", "https://l", Path("."))
        self.assertNotIn("https://l", gone.get_body(("plain",)).get_content())
        asked = confirmation_letter(Confirmation(service="mailbox", subject="Yes?", words="Do?"),
                                    "a@x.example", "k", self.LIVE, "", "https://c")
        self.assertIn("https://c", asked.get_body(("plain",)).get_content())


class CertifyingTest(unittest.TestCase):
    NOW = 2_000_000_000_000
    NAMES = ("www.hill.example", "hill.example")
    WANTED = WantedCertificate("https://authority.example/directory", 5)

    @classmethod
    def certified(cls, since_days: float, until_days: float,
                  names: tuple[str, ...] = NAMES) -> Certified:
        def iso(days: float) -> str:
            at = datetime.fromtimestamp(cls.NOW / 1000, UTC) + timedelta(days)
            return f"{at:%Y-%m-%dT%H:%M:%SZ}"

        return Certified(names, iso(since_days), iso(until_days))

    def due(self, state: State, asked_ms: int = 5) -> bool:
        with mock.patch.object(certifying, "now_ms", return_value=self.NOW):
            return certifying._due(state, msgspec.structs.replace(self.WANTED, asked_ms=asked_ms),
                                   self.NAMES)

    def test_when_one_is_due(self) -> None:
        tried = State(tried_ms=10)
        replace = msgspec.structs.replace
        for state, asked, due in (
                (tried, 11, True), (tried, 10, True), (replace(tried, next_ms=self.NOW + 1), 10,
                                                       False),
                (replace(tried, next_ms=self.NOW), 10, True),
                (replace(tried, next_ms=self.NOW + 1), 11, True),
                (replace(tried, certified=self.certified(-59, 31)), 10, False),
                (replace(tried, certified=self.certified(-61, 29)), 10, True),
                (replace(tried, certified=self.certified(-1, 89, self.NAMES[:1])), 10, True)):
            with self.subTest(state=state, asked=asked):
                self.assertEqual(self.due(state, asked), due)

    def keeper(self, state: State) -> CertificateKeeper:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        keeper = CertificateKeeper(folder, lambda: Live("hill", "Hill", domain=self.NAMES[0]))
        keeper._state = state
        return keeper

    def test_pauses_double_and_the_authoritys_own_wait_is_kept(self) -> None:
        for tries, wait, pause in ((0, 0, 60), (1, 0, 120), (4, 0, 960), (30, 0, 21_600),
                                   (0, 100, 100), (4, 100, 960)):
            keeper = self.keeper(State(tries=tries))
            with mock.patch.object(certifying, "now_ms", return_value=self.NOW):
                keeper._put_off(7, "why " * 200, wait)
            self.assertEqual(keeper._state.next_ms - self.NOW, pause * 1000, (tries, wait))
            self.assertEqual((keeper._state.tries, keeper._state.tried_ms), (tries + 1, 7))
            self.assertEqual(len(keeper._state.fault), 500)

    def test_what_is_wrong_for_visitors(self) -> None:
        def wrong(certified: Certified | None, fault: str = "") -> str:
            keeper = self.keeper(State(certified, fault))
            now = datetime.fromtimestamp(self.NOW / 1000, UTC)
            with mock.patch.object(certifying, "now_ms", return_value=self.NOW), \
                    mock.patch.object(certifying, "_now",
                                      return_value=f"{now:%Y-%m-%dT%H:%M:%SZ}"):
                return keeper._what_is_wrong(self.NAMES, self.WANTED)

        self.assertEqual(wrong(None, "down"), "")
        self.assertEqual(wrong(self.certified(-60, 15), "down"), "")
        ends = datetime.fromtimestamp(self.NOW / 1000, UTC) + timedelta(13)
        self.assertEqual(wrong(self.certified(-60, 13), "down"),
                         f"the certificate ends on {ends:%Y-%m-%d}: down")
        self.assertEqual(wrong(self.certified(-60, 13)), "")
        self.assertIn("does not hold for www.hill.example now: down",
                      wrong(self.certified(-90, -1), "down"))
        self.assertTrue(wrong(self.certified(-60, 30, ("other.example",))).endswith("now"))
        keeper = self.keeper(State(self.certified(-90, -1)))
        self.assertEqual(keeper._what_is_wrong((), self.WANTED), "")
        self.assertEqual(keeper._what_is_wrong(self.NAMES, None), "")

    def test_names_and_contexts(self) -> None:
        self.assertEqual(names_of("www.hill.example"), ("www.hill.example", "hill.example"))
        self.assertEqual(names_of("hill.example"), ("hill.example", "www.hill.example"))
        self.assertEqual(names_of(""), ())
        keeper = self.keeper(State(self.certified(-1, 30)))
        self.assertEqual(keeper.first_context().minimum_version, ssl.TLSVersion.TLSv1_2)
        self.assertFalse(keeper.holds_for(self.NAMES[0]))
        keeper._context, keeper.tls_port = mock.Mock(), 443
        with mock.patch.object(certifying, "_now", return_value=self.certified(0, 1).since):
            self.assertTrue(keeper.holds_for(self.NAMES[0]))
            self.assertFalse(keeper.holds_for("other.example"))
        sock = mock.Mock()
        self.assertIsNone(keeper._pick(sock, "WWW.Hill.Example.", mock.Mock()))
        self.assertIs(sock.context, keeper._context)
        for name in ("", None, "other.example"):
            self.assertEqual(keeper._pick(sock, name, mock.Mock()),
                             ssl.ALERT_DESCRIPTION_UNRECOGNIZED_NAME)


class DelivererTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "p"
        site = small_site()
        Project.create(self.folder, site).close()
        self.live = send_pages(site, self.folder, [PAGE])
        self.worker = Deliverer(self.folder, mock.Mock(), lambda: self.live, SEALS, lambda: 0)

    def job(self, error: ServiceError | None = None) -> Any:
        adapter = mock.Mock()
        adapter.deliver.return_value = Receipt("taken", "asked", "answered")
        if error is not None:
            adapter.deliver.side_effect = error
        return delivery._Job(mock.Mock(), SERVICES[0], adapter, Parcel("k"))

    def test_a_service_that_is_down_rests_and_is_then_tried_by_one(self) -> None:
        down = ServiceError("answer-none", service="x", seconds="5", down=True)
        clock = [100.0]

        async def go() -> list[str]:
            told = []
            for at, error in ((100.0, down), (100.0, None), (100.9, None), (104.0, down),
                              (104.1, None), (120.0, None), (120.0, None)):
                clock[0] = at
                outcome = await self.worker._hand_over(self.job(error))
                told.append(outcome.words if "waits" in outcome.words else outcome.state)
            return told

        with mock.patch.object(delivery.time, "monotonic", lambda: clock[0]), mock.patch.object(
                delivery, "pause_ms", lambda fails, _: 2000 * (fails + 1)):
            told = run(go())
            waits = f"waits until {SERVICES[0].name} is back"
            self.assertEqual(told, ["waiting", waits, waits, "waiting", waits, "done", "done"])

    def test_what_is_under_way_is_counted_and_counted_off(self) -> None:
        service, seen = SERVICES[0].id, []

        async def go() -> None:
            jobs = [self.job() for _ in range(3)]
            for job in jobs:
                job.adapter.deliver.side_effect = lambda _: seen.append(
                    self.worker._busy[service]) or Receipt("taken")
            failing = self.job()
            failing.adapter.deliver.side_effect = ValueError
            await asyncio.gather(*(self.worker._hand_over(job) for job in jobs))
            with self.assertRaises(ValueError):
                await self.worker._hand_over(failing)

        run(go())
        self.assertEqual(max(seen), 3)
        self.assertGreaterEqual(min(seen), 1)
        self.assertEqual(self.worker._busy[service], 0)

    def test_threads_of_what_rests_or_is_busy_are_left(self) -> None:
        service = SERVICES[0].id
        routes = [route.id for form in self.live.every_form() for route in form.routes
                  if route.service == service]
        self.assertTrue(routes)
        self.assertEqual(self.worker._resting(), [])
        self.worker._busy[service] = delivery._MOST_A_SERVICE
        self.assertEqual(self.worker._resting(), routes)
        self.worker._busy[service] -= 1
        self.assertEqual(self.worker._resting(), [])
        with mock.patch.object(delivery.time, "monotonic", return_value=50.0):
            for trouble, rests in ((delivery._Trouble(1, 51.0), True),
                                   (delivery._Trouble(1, 50.0), False),
                                   (delivery._Trouble(1, 0.0, True), True),
                                   (delivery._Trouble(0, 51.0), False)):
                self.worker._trouble[service] = trouble
                self.assertEqual(bool(self.worker._resting()), rests, trouble)

    def test_what_became_of_a_delivery(self) -> None:
        done = delivery._handed_over(self.job())
        self.assertEqual((done.state, done.words), ("done", "taken"))
        final = ServiceError("answer-none", service="x", seconds="5", final=True)
        self.assertEqual(delivery._handed_over(self.job(final)).state, "refused")
        letter = Parcel("k", letter=mock.Mock())
        told = delivery._handed_over(delivery._Job(mock.Mock(), SERVICES[0], self.job().adapter,
                                                   letter))
        self.assertEqual(told.words, "notice delivered")

    def test_what_can_no_longer_be_made(self) -> None:
        form = next(iter(self.live.every_form()))
        lead = mock.Mock(form=form.id, page=PAGE)
        for lead_is, route, words in ((None, "x", "erased"),
                                      (mock.Mock(form="gone", page=PAGE), "x", "no longer live"),
                                      (lead, "gone", "the thread was cut")):
            with mock.patch.object(self.worker, "_lead", return_value=lead_is):
                outcome = self.worker._job(Due(1, 1, route, "k", 0, 0))
            self.assertIn(words, outcome.words)
            self.assertEqual(outcome.state, "refused")

    def test_a_client_is_made_anew_after_five_seconds_or_for_another_service(self) -> None:
        made = mock.Mock(side_effect=lambda *_: object())
        with mock.patch.object(delivery, "adapter_for", made):
            for at, service, count in ((10.0, SERVICES[0], 1), (15.0, SERVICES[0], 1),
                                       (15.1, SERVICES[0], 2), (15.2, msgspec.structs.replace(
                                           SERVICES[0], name="Other"), 3)):
                with mock.patch.object(delivery.time, "monotonic", return_value=at):
                    self.worker._adapter(service)
                self.assertEqual(made.call_count, count, at)

    def test_links_begin_where_the_host_is_reached(self) -> None:
        self.assertEqual(self.worker._paths.whole(self.live, "x"),
                         f"http://{self.live.address}.localhost/x")
        (self.folder / "live" / "host.address").write_text("https://hill.example\n")
        self.assertEqual(self.worker._paths.whole(self.live, "x"), "https://hill.example/x")

    def test_values_and_facts(self) -> None:
        route = FieldRoute(id="r1", service="s", target="t", fields={"MAIL": "f1", "X": "f2"})
        self.assertEqual(delivery._values(route, {"f1": "a"}), {"MAIL": "a"})
        lead = mock.Mock(page=PAGE, at=0, form_name="F", variant="A", source="direct")
        self.assertEqual(delivery._facts(lead, self.live)["when"], "1970-01-01T00:00:00+00:00")
        self.assertEqual(delivery._facts(mock.Mock(page="gone", at=0), self.live)["page"], "")


class LiveReaderTest(unittest.TestCase):
    def test_assets_of_earlier_releases_are_found_and_pages_are_not(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "p"
        site = small_site()
        Project.create(folder, site).close()
        reader = LiveReader(folder)
        self.assertIsNone(reader.live())
        with self.assertRaises(OSError):
            reader.file("assets/x.js")
        send_pages(site, folder, [PAGE])
        release = reader.release()
        assert release is not None
        asset = next(path for path in release.files if path.startswith("assets/"))
        self.assertTrue(reader.file(asset).is_file())
        earlier = msgspec.structs.replace(release, files={})
        with mock.patch.object(reader, "release", return_value=earlier):
            self.assertTrue(reader.file(asset).is_file())
            page = next(path for path in release.files if path.endswith(".html"))
            for path in (page, "assets/never.js"):
                with self.assertRaises(FileNotFoundError):
                    reader.file(path)
        (folder / "live" / "live.json").write_bytes(b"{")
        self.assertIs(reader.release(), release)
        self.assertTrue(reader.fault)

    def test_two_releases_within_one_tick_of_the_disks_clock_are_told_apart(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "p"
        site = small_site()
        Project.create(folder, site).close()
        reader, found = LiveReader(folder), []
        for title in ("First", "Second"):
            send_pages(set_page(site, PAGE, title=title), folder, [PAGE])
            os.utime(folder / "live" / "live.json", ns=(1, 1))
            found.append(reader.release())
        self.assertIsNot(found[0], found[1])


class SettingTest(unittest.TestCase):
    def test_what_makes_no_sense_is_refused(self) -> None:
        for told in ({"public": "hill.example"}, {"public": "ftp://hill.example"},
                     {"public": "https://"}, {"authority": "http://authority.example/"},
                     {"tls": (Path("/nowhere"), Path("/nowhere"))}):
            with self.subTest(told), self.assertRaises(SettingError):
                HostSetting(**told)  # type: ignore[arg-type]
        self.assertEqual(HostSetting("https://Hill.example:444/").public_host, "hill.example:444")

    def test_where_links_in_letters_begin(self) -> None:
        self.assertEqual(HostSetting("https://hill.example/").address("x", 1),
                         "https://hill.example")
        self.assertEqual(HostSetting().address("hill", 8000), "http://hill.localhost:8000")
        self.assertEqual(HostSetting().address("", 8000), "http://localhost:8000")

    def started(self, *words: str) -> tuple[int, str]:
        said = io.StringIO()
        with mock.patch("sys.argv", ["host", *words]), redirect_stderr(said), \
                mock.patch.object(host_main, "set_up_log"), \
                mock.patch.object(host_main, "serve") as serve:
            code = host_main.main()
        self.served = serve.called
        return code, said.getvalue()

    def test_how_it_starts_and_what_it_says_where_it_does_not(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "p"
        Project.create(folder, small_site()).close()
        code, said = self.started(str(folder), "--certificate", "x")
        self.assertEqual((code, self.served), (2, False))
        self.assertIn("--key", said)
        code, said = self.started(str(folder), "--port", "0", "--database", "sqlite:////no/x.db")
        self.assertEqual((code, self.served), (2, False))
        self.assertIn("cannot be opened", said)
        self.assertEqual(self.started(str(folder), "--port", "0")[0], 0)
        self.assertTrue(self.served)
        self.assertRegex((folder / "live" / "host.address").read_text(), r"^http://localhost:\d+$")
        with host_main._door(0, False) as taken:
            port = str(taken.getsockname()[1])
            code, said = self.started(str(folder), "--port", port)
            self.assertEqual((code, self.served), (2, False))
            self.assertIn(port, said)
            self.assertEqual(self.started(str(folder), "--port", port, "--any-port")[0], 0)

    def test_every_answer_that_is_described_has_words(self) -> None:
        paths = openapi()["paths"]
        self.assertEqual(sorted(paths["/_needle/lead/{form}"]["post"]["responses"]),
                         ["200", "303", "400", "404", "413", "422", "428", "507"])
        self.assertEqual(sorted(paths["/_needle/visit"]["post"]["responses"]),
                         ["200", "204", "400", "413", "429", "503"])
        self.assertEqual(sorted(paths["/_needle/health"]["get"]["responses"]), ["200", "503"])
        self.assertEqual(sorted(paths), sorted(
            path for path in paths if path.startswith("/_needle/")))


class LettersOfTest(unittest.TestCase):
    def test_many_letters_from_one_place_are_refused(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        desk, other = (FormDesk(folder, mock.Mock(), lambda: None, SEALS, mock.Mock(),
                                mock.Mock(), frozenset, mock.Mock(), mock.Mock(), mock.Mock())
                       for _ in range(2))
        form = Form(id=FORM, name="F", fields=(),
                    letter=Letter(service="mailbox", subject="x", words="x"),
                    confirmation=Confirmation(service="mailbox", subject="x", words="x"))
        told = [desk._letters_of(request(), Known("v1"), form) for _ in range(60)]
        self.assertEqual(told[0], {"confirm": "waiting", "letter": "held"})
        self.assertEqual(told[-1], {"confirm": "refused", "letter": "refused"})
        plain = msgspec.structs.replace(form, confirmation=None)
        self.assertEqual(other._letters_of(request(), Known("v1"), plain), {"letter": "waiting"})
        self.assertEqual(other._letters_of(request(), Known("v1"), PLAIN), {})
