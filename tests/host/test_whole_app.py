"""The whole host in this process, without a net: what each address answers, and to whom."""

import json
import tempfile
import unittest
from collections.abc import Sequence
from datetime import UTC, datetime
from pathlib import Path
from typing import Any
from unittest import mock

import httpx
import msgspec
from lxml import html
from sqlalchemy import func, select

from needle.core.edit.domain import set_domain
from needle.core.edit.media import add_medium
from needle.core.edit.pages import set_page, set_slug, split_page
from needle.core.edit.testing import set_plan
from needle.core.readymade.lostpage import add_lost_page
from needle.core.values.form import Letter
from needle.core.values.media import Medium
from needle.core.values.outside import OutsidePart
from needle.core.values.testplan import TestPlan
from needle.host import certifying, counting, recognising
from needle.host.app import make_app
from needle.host.certifying import CertificateKeeper
from needle.host.clock import now_ms
from needle.host.setting import HostSetting
from needle.host.visitors import is_for
from needle.publish.live import send_pages, take_off
from needle.services.authority import AuthorityError
from needle.store.certificates import State
from needle.store.project import Project
from needle.store.results.tables import events, leads, open_results
from needle.store.seals import Seals
from tests.host.inside import ask, run
from tests.host.stall import BROWSER
from tests.sites import EMAIL, FORM, NAME, PAGE, THANKS, small_site

_HALF_YEAR = 180 * 86_400


class AppCase(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory())) / "p"
        self.site = set_domain(small_site(), "www.hill.example")
        Project.create(self.folder, self.site).close()
        self.engine = open_results(f"sqlite:///{self.folder}/results.db")
        self.addCleanup(self.engine.dispose)
        self.seals = Seals(self.folder, self.engine)
        self.make()

    def make(self, setting: HostSetting = HostSetting()) -> None:
        self.app = make_app(self.folder, self.engine, setting)

    def send(self, *pages: str) -> None:
        send_pages(self.site, self.folder, pages or [page.id for page in self.site.pages])

    def ask(self, path: str, method: str = "GET", base: str = "http://localhost", **more: Any,
            ) -> httpx.Response:
        if more.get("alive"):
            self.make()
        return ask(self.app, path, method, base=base, **more)

    def rows(self, table: Any) -> int:
        with self.engine.connect() as connection:
            return int(connection.execute(select(func.count()).select_from(table)).scalar_one())


class PageTest(AppCase):
    def test_before_anything_is_live(self) -> None:
        for path in ("/", "/night", "/robots.txt", "/assets/x.js", "/_needle/on/x1"):
            self.assertEqual(self.ask(path).status_code, 404, path)
        self.send()
        (self.folder / "live" / "live.json").write_bytes(b"{")
        self.make()
        self.assertEqual(self.ask("/night").status_code, 503)
        self.assertEqual(self.ask("/_needle/health").status_code, 503)

    def test_only_its_own_names_are_answered(self) -> None:
        self.send()
        ours = ("localhost", "127.0.0.1:8420", "HILL.localhost", "www.hill.example",
                "hill.localhost.")
        for name in ours:
            with self.subTest(name):
                answer = self.ask("/night", base=f"http://{name}")
                self.assertEqual(answer.status_code, 200)
        for name in ("x.example", "other.localhost", "night.hill.localhost"):
            self.assertEqual(self.ask("/night", base=f"http://{name}").status_code, 404, name)
            self.assertEqual(self.ask("/robots.txt", base=f"http://{name}").status_code, 404, name)
        self.assertEqual(self.ask("/night", base="http://hill.example").headers["location"],
                         "http://www.hill.example/night")
        self.make(HostSetting("https://pages.example:8443"))
        for name, status in (("pages.example", 200), ("pages.example:8443", 200),
                             ("x.example", 404), ("localhost", 200)):
            self.assertEqual(self.ask("/night", base=f"http://{name}").status_code, status, name)

    def test_what_a_browser_is_asked_to_remember(self) -> None:
        self.send()
        self.assertEqual(self.ask("/night").headers.get_list("set-cookie"), [], "nothing to keep")
        self.site = split_page(self.site, PAGE, datetime(2026, 3, 1, tzinfo=UTC))
        self.send()
        for asks_not in ({"sec_gpc": "1"}, {"dnt": "1"}):
            self.assertEqual(self.ask("/night", **asks_not).headers.get_list("set-cookie"), [])
        for base, secure in (("http://localhost", False), ("https://localhost", True)):
            told = self.ask("/night", base=base).headers.get_list("set-cookie")
            self.assertEqual([one.partition("=")[0] for one in told],
                             ["needle_visitor", "needle_seen", "needle_v_page1"])
            for one in told:
                self.assertIn(f"Max-Age={_HALF_YEAR};", one)
                self.assertIn("HttpOnly", one)
                self.assertIn("SameSite=lax", one)
                self.assertEqual("Secure" in one, secure)
        self.assertEqual(self.ask("/night").headers["cache-control"], "private, no-cache")
        self.assertIn("frame-ancestors", self.ask("/night").headers["content-security-policy"])

    def test_addresses_of_before_lead_on_or_are_gone_for_good(self) -> None:
        self.send()
        self.site = set_slug(self.site, PAGE, "evening")
        self.send()
        answer = self.ask("/night?utm_source=x")
        self.assertEqual((answer.status_code, answer.headers["location"]),
                         (301, "/evening?utm_source=x"))
        self.assertEqual(self.ask("/night").headers["location"], "/evening")
        self.assertEqual(self.ask("/night").headers["cache-control"], "max-age=3600")
        take_off(self.folder, [PAGE], {PAGE: ""})
        self.assertEqual(self.ask("/evening").status_code, 410)
        self.assertEqual(self.ask("/nowhere").status_code, 404)

    def test_the_sites_own_page_for_wrong_addresses(self) -> None:
        self.site, _ = add_lost_page(self.site)
        self.send()
        answer = self.ask("/nowhere")
        self.assertEqual(answer.status_code, 404)
        self.assertIn("This page is not here", answer.text)
        self.assertEqual(answer.headers["cache-control"], "no-cache")

    def test_what_pages_load_and_searches_read(self) -> None:
        self.send()
        html = self.ask("/night").text
        name = html.partition('src="')[2].partition('"')[0].rpartition("/")[2]
        answer = self.ask(f"/assets/{name}")
        self.assertEqual(answer.status_code, 200)
        self.assertEqual(answer.headers["cache-control"], "public, max-age=31536000, immutable")
        for wrong in ("..%2flive.json", "x", "needle-000000000000.js"):
            self.assertEqual(self.ask(f"/assets/{wrong}").status_code, 404, wrong)
        self.assertEqual(self.ask("/sitemap.xml").headers["content-type"], "application/xml")
        self.assertIn("text/plain", self.ask("/robots.txt").headers["content-type"])
        self.assertEqual(self.ask("/robots.txt").headers["cache-control"], "max-age=3600")

    def test_a_trial_reaches_the_practice_receiver_with_a_seal_alone(self) -> None:
        self.send()
        reach = "http://127.0.0.1:9999"
        good = self.seals.seal("reach", 2**52, reach)
        for seal, told in ((good, True), ("x", False),
                           (self.seals.seal("reach", 2**52, "http://127.0.0.1:1"), False)):
            policy = self.ask("/night", x_needle_reach=reach, x_needle_seal=seal).headers[
                "content-security-policy"]
            self.assertEqual(reach in policy, told, seal)


class ReportTest(AppCase):
    """What pages report is kept by a piece of work of its own, as leads are."""

    def reports(self, what: str, told: Sequence[object], cookie: str = "",
                agent: str = BROWSER["User-Agent"]) -> list[int]:
        """Report things one after another, and return how each was answered."""
        async def go() -> list[int]:
            transport = httpx.ASGITransport(app=self.app)
            more = {"User-Agent": agent} | ({"cookie": cookie} if cookie else {})
            async with self.app.router.lifespan_context(self.app), httpx.AsyncClient(
                    transport=transport, base_url="http://localhost", headers=more) as client:
                return [(await client.post(f"/_needle/{what}", content=one if isinstance(
                    one, bytes) else json.dumps(one).encode())).status_code for one in told]

        self.make()
        answers: list[int] = run(go())
        return answers

    def cookie(self) -> str:
        told = self.ask("/night").headers.get_list("set-cookie")
        return "; ".join(one.partition(";")[0] for one in told)

    def kinds(self) -> list[tuple[str, str, int]]:
        with self.engine.connect() as connection:
            return [(row.kind, row.what, row.amount) for row in connection.execute(
                events.select().order_by(events.c.id))]

    def test_what_is_told_counts_for_who_was_served_the_page(self) -> None:
        self.site = split_page(self.site, PAGE, datetime(2026, 3, 1, tzinfo=UTC))
        self.send()
        cookie = self.cookie()
        key = cookie.partition(f"needle_v_{PAGE}=")[2][0]
        visit = {"page": PAGE, "variant": key, "query": "?utm_source=post"}
        good = {"visit": visit, "goal": visit | {"goal": "call"},
                "events": visit | {"told": [["open", FORM], ["popup", "p1", 3]]}}
        for what, told in good.items():
            self.assertEqual(self.reports(what, [told], cookie), [204], what)
        self.assertEqual(self.kinds(), [("visit", "", 0), ("goal", "call", 0), ("open", FORM, 0),
                                        ("popup", "p1", 3)])
        for what, told in good.items():
            bad = [told | {"page": "gone"}, told | {"variant": "BA"[key == "B"]}, b"{", b"[]",
                   told | {"page": THANKS, "variant": "B"}, {"page": PAGE},
                   told | {"page": "x" * 121}]
            self.assertEqual(self.reports(what, bad, cookie), [400] * len(bad), what)
        self.assertEqual(self.rows(events), 4)

    def test_without_a_cookie_a_visitor_is_known_for_a_day_and_only_from_our_pages(self) -> None:
        self.send()
        visit = {"page": PAGE, "variant": "A"}
        agents = (BROWSER["User-Agent"], BROWSER["User-Agent"] + " x")
        for agent in (*agents, agents[0]):
            self.assertEqual(self.reports("visit", [visit, visit | {"page": THANKS}], "", agent),
                             [204, 204])
        forged = "needle_visitor=" + "a" * 24 + "; needle_seen=page1.A.x"
        self.assertEqual(self.reports("visit", [visit], forged), [204], "nobody believes it")
        with self.engine.connect() as connection:
            people = list(connection.execute(select(events.c.visitor)).scalars())
        self.assertEqual((len(set(people)), len(people)), (2, 7))
        with mock.patch.object(recognising, "now_ms", lambda: now_ms() + 86_400_000):
            self.assertEqual(self.reports("visit", [visit]), [204])
        with self.engine.connect() as connection:
            self.assertEqual(len(set(connection.execute(select(events.c.visitor)).scalars())), 3)
        for headers, status in (({"origin": "https://other.example"}, 204),
                                ({"sec_fetch_site": "cross-site"}, 400),
                                ({"sec_fetch_site": "same-origin"}, 204)):
            self.assertEqual(self.ask("/_needle/visit", "POST", content=json.dumps(visit).encode(),
                                      alive=True, **headers).status_code, status)
        self.assertEqual(self.ask(
            "/_needle/visit", "POST", base="http://hill.localhost", alive=True,
            content=json.dumps(visit).encode(), origin="https://other.example").status_code, 400)

    def test_whom_a_split_test_is_not_for_is_aside_and_cannot_say_otherwise(self) -> None:
        now = datetime(2026, 3, 1, tzinfo=UTC)
        self.site = set_plan(split_page(self.site, PAGE, now), PAGE, devices=("phone",))
        self.send()
        visit, got = {"page": PAGE, "variant": "A"}, set()
        for number in range(12):
            cookie = self.cookie()
            self.assertNotIn("needle_v_", cookie, "a desktop")
            self.assertEqual(self.reports("visit", [visit], cookie, "Mozilla Mobile"), [204])
            answer = self.ask("/night", user_agent=f"Mozilla Mobile {number}")
            got.add(next(one for one in answer.headers.get_list("set-cookie")
                         if "needle_v_" in one).split("=")[1][0])
        self.assertEqual(got, {"A", "B"})
        with self.engine.connect() as connection:
            self.assertEqual(set(connection.execute(select(events.c.aside)).scalars()), {True})
        plan = TestPlan(sources=("Poster",), begins="2026-03-02T00:00+00:00",
                        ends="2026-03-03T00:00+00:00")
        for source, at, fits in (("poster", 1_772_438_400_000, True),
                                 ("direct", 1_772_438_400_000, False),
                                 ("poster", 1_772_300_000_000, False),
                                 ("poster", 1_772_496_000_000, False)):
            self.assertEqual(is_for(plan, source, "phone", at), fits, (source, at))

    def test_of_how_somebody_went_on_only_what_can_be_is_taken(self) -> None:
        self.send()
        cookie, page = self.cookie(), {"page": PAGE, "variant": "A"}
        form = next(form for form in self.site.forms if form.id == FORM)
        field = f"{FORM}.{form.fields[0].id}"
        taken = page | {"told": [["field", field, 900], ["stop", field], ["open", "other"],
                                 ["fault", f"{FORM}.made-up"]]}
        self.assertEqual(self.reports("events", [taken], cookie), [204])
        self.assertEqual(self.kinds(), [("field", field, 900), ("stop", field, 0)])
        refused = [page | {"told": [one]} for one in (
            ["lead", FORM], ["visit", ""], ["goal", "x"], ["popup", "<b>"], ["popup", "a.b.c"],
            ["popup", "a", -1], ["popup", "a", 600_001], ["popup", "a", 1.5], ["popup"], "popup")]
        refused.append(page | {"told": [["popup", "a"]] * 41})
        self.assertEqual(self.reports("events", refused, cookie), [400] * len(refused))

    def test_a_robot_that_says_so_is_told_apart_and_converts_nobody(self) -> None:
        self.send()
        cookie, visit = self.cookie(), {"page": PAGE, "variant": "A"}
        for what, told in (("visit", visit), ("goal", visit | {"goal": "call"}),
                           ("events", visit | {"told": [["open", FORM]]})):
            self.assertEqual(self.reports(what, [told], cookie, "curl/8.5.0"), [204], what)
        self.assertEqual(self.kinds(), [("robot", "", 0)])

    def test_a_full_disk_is_said_and_counts_nothing(self) -> None:
        self.send()
        cookie = self.cookie()
        with mock.patch.object(counting, "take_events", side_effect=OSError("full")), \
                self.assertLogs("needle.host.keeping", "ERROR"):
            self.assertEqual(self.reports("visit", [{"page": PAGE, "variant": "A"}], cookie), [503])

    def test_practice_visitors_are_marked_by_a_seal_that_only_we_make(self) -> None:
        self.send()
        cookie, visit = self.cookie(), {"page": PAGE, "variant": "A"}
        for seal, mark in ((self.seals.seal("practice", 2**52), "practice"),
                           (self.seals.seal("practice", 5), ""), ("x", "")):
            self.assertEqual(self.ask("/_needle/visit", "POST", content=json.dumps(visit).encode(),
                                      cookie=cookie, x_needle_practice=seal, alive=True
                                      ).status_code, 204)
            with self.engine.connect() as connection:
                self.assertEqual(connection.execute(select(events.c.mark).order_by(
                    events.c.id.desc())).scalar(), mark)

    def test_before_anything_is_live_nothing_counts(self) -> None:
        self.assertEqual(self.reports("visit", [{"page": PAGE, "variant": "A"}]), [400])

    def test_so_many_from_one_range(self) -> None:
        self.send()
        cookie, visit = self.cookie(), {"page": PAGE, "variant": "A"}
        with mock.patch.object(counting, "take_events", lambda _, told: [None] * len(told)):
            told = self.reports("visit", [visit] * 902, cookie)
            goals_told = self.reports("goal", [visit | {"goal": "x"}] * 122, cookie)
        self.assertEqual((told.count(204), told[-2:]), (900, [429, 429]))
        self.assertEqual((goals_told.count(204), goals_told[-2:]), (120, [429, 429]))


class LeadTest(AppCase):
    """Leads are kept by a piece of work of its own, which runs beside the asking here."""

    def post(self, path: str, content: bytes, **headers: str) -> httpx.Response:
        async def go() -> httpx.Response:
            transport = httpx.ASGITransport(app=self.app)
            async with self.app.router.lifespan_context(self.app), httpx.AsyncClient(
                    transport=transport, base_url="http://localhost") as client:
                return await client.post(path, content=content, headers={
                    "content-type": "application/x-www-form-urlencoded", **headers})

        answer: httpx.Response = run(go())
        return answer

    def test_a_lead_is_kept_and_thanked_as_the_form_says(self) -> None:
        self.send()
        form = next(form for form in self.site.forms if form.id == FORM)
        fields = {field.role.value: field.id for field in form.fields}
        good = f"{fields['name']}=Ann&{fields['email']}=ann@mail.example&_page={PAGE}".encode()
        page = self.post(f"/_needle/lead/{FORM}", good)
        self.assertIn(page.status_code, (200, 303))
        quiet = self.post(f"/_needle/lead/{FORM}", good, accept="application/json")
        self.assertEqual(quiet.status_code, 200)
        self.assertEqual(self.rows(leads), 2)
        for path, body, status in (("gone", good, 404), (FORM, b"", 422), (FORM, b"x=1", 422)):
            self.assertEqual(self.post(f"/_needle/lead/{path}", body).status_code, status)
        odd = self.post(f"/_needle/lead/{FORM}", good, **{"content-type": "text/plain"})
        self.assertEqual(odd.status_code, 400)
        self.assertEqual(self.rows(leads), 2)

    def test_a_fault_comes_back_on_the_page_with_what_was_typed(self) -> None:
        self.send()
        typed = f"{NAME}=Ann+%3Cb%3E%26+Co%07&{EMAIL}=ann%40&src1=paper&website_url="
        answer = self.post(f"/_needle/lead/{FORM}", f"{typed}&_page={PAGE}&_variant=Q".encode())
        self.assertEqual(answer.status_code, 422)
        page = html.fromstring(answer.text)
        (form,) = page.forms
        self.assertEqual(form.fields[NAME], "Ann <b>& Co")
        self.assertEqual((form.fields[EMAIL], form.fields["src1"]), ("ann@", "paper"))
        (fault,) = page.xpath(f"//*[@data-asked='{EMAIL}']//small[not(@hidden)]")
        self.assertEqual(fault.text, "“E-mail” does not look like an e-mail address.")
        (focused,) = page.xpath("//*[@autofocus]")
        self.assertEqual((focused.get("name"), focused.get("aria-invalid")), (EMAIL, "true"))
        self.assertTrue(page.xpath("//dialog[@data-back]//form"), "its popup is shown")
        self.assertEqual(page.xpath("//base/@href"), ["/night"])
        self.assertIn("look again", page.findtext(".//title"))
        self.assertEqual(answer.headers["cache-control"], "no-store")
        self.assertIn("base-uri 'self'", answer.headers["content-security-policy"])
        self.assertIn("script-src 'self'", answer.headers["content-security-policy"])
        self.assertEqual(self.rows(leads), 0)
        for where, more in (("", {}), (f"&_page={THANKS}", {}),
                            (f"&_page={PAGE}", {"sec-fetch-dest": "iframe"})):
            bare = self.post(f"/_needle/lead/{FORM}", f"{typed}{where}".encode(), **more)
            self.assertEqual((bare.status_code, "<form" in bare.text), (422, False))

    def test_a_token_takes_a_key(self) -> None:
        self.assertEqual(self.ask(f"/_needle/token/{FORM}?key={'k' * 16}").status_code, 200)
        self.assertEqual(self.ask(f"/_needle/token/{FORM}?key={'k' * 16}").headers[
            "cache-control"], "no-store")
        for key in ("", "k" * 15, "k" * 65):
            self.assertEqual(self.ask(f"/_needle/token/{FORM}?key={key}").status_code, 400)

    def test_nobody_who_stops_is_kept_unless_the_form_says_so(self) -> None:
        self.send()
        self.assertEqual(self.ask(f"/_needle/part/{FORM}", "POST").status_code, 404)


class LinkTest(AppCase):
    def test_a_promised_file_is_handed_out_while_its_link_is_good(self) -> None:
        (self.folder / "media").mkdir(exist_ok=True)
        (self.folder / "media" / "guide.pdf").write_bytes(b"%PDF")
        self.site = add_medium(self.site, Medium(id="g1", name="Guide.pdf", file="guide.pdf",
                                                 width=0, height=0))
        letter = Letter(service="mailbox", subject="x", words="x", file="g1")
        self.site = msgspec.structs.replace(self.site, forms=tuple(
            msgspec.structs.replace(form, letter=letter) for form in self.site.forms))
        self.send()
        good = self.seals.seal("file", 2**52, "g1")
        answer = self.ask(f"/_needle/file/g1/{good}")
        self.assertEqual((answer.status_code, answer.content), (200, b"%PDF"))
        self.assertIn("Guide.pdf", answer.headers["content-disposition"])
        self.assertEqual(answer.headers["cache-control"], "private")
        for file, seal in (("g1", "x"), ("g2", good), ("g1", self.seals.seal("file", 1, "g1"))):
            self.assertEqual(self.ask(f"/_needle/file/{file}/{seal}").status_code, 410)

    def test_confirming_takes_a_press_and_a_good_seal(self) -> None:
        seal = self.seals.seal("confirm", 2**52, "lead1")
        asked = self.ask(f"/_needle/confirm/lead1/{seal}")
        self.assertEqual(asked.status_code, 200)
        self.assertIn("<button", asked.text)
        self.assertEqual(self.ask("/_needle/confirm/lead1/x").status_code, 410)
        self.assertEqual(self.ask(f"/_needle/confirm/lead1/{seal}", "POST").status_code, 410)

    def test_a_part_elsewhere_is_shown_to_its_sites_alone(self) -> None:
        self.site = msgspec.structs.replace(self.site, outside=(OutsidePart(
            id="o1", page=PAGE, node="formbox", sites=("https://shop.example",)),))
        self.send()
        answer = self.ask("/_needle/on/o1")
        self.assertEqual(answer.status_code, 200)
        self.assertIn("frame-ancestors 'self' https://shop.example",
                      answer.headers["content-security-policy"])
        self.assertEqual(answer.headers["cache-control"], "private, no-store")
        self.assertIn('data-ticket="', answer.text)
        self.assertNotIn("set-cookie", answer.headers)
        self.assertEqual(self.ask("/_needle/on/o2").status_code, 404)
        self.assertEqual(self.ask("/_needle/on/o1", base="http://x.example").status_code, 404)
        script = self.ask("/_needle/elsewhere.js")
        self.assertEqual(script.headers["cross-origin-resource-policy"], "cross-origin")
        self.assertEqual(script.headers["cache-control"], "public, max-age=3600")


class CertifyTest(AppCase):
    NOW = asked_ms = 2_000_000_000_000

    def look(self, *answers: object) -> State:
        """Let the authority answer so, and return how the certificate fares then."""
        self.send()
        keeper = CertificateKeeper(self.folder, lambda: send_pages(
            self.site, self.folder, [THANKS]))
        self.asked_ms += 1
        keeper._kept.want("https://authority.example/directory", self.asked_ms)
        with mock.patch.object(certifying, "obtain", side_effect=answers) as self.obtain, \
                mock.patch.object(certifying, "now_ms", return_value=self.NOW):
            keeper.look()
        return keeper._state

    def test_one_name_does_not_wait_for_the_other(self) -> None:
        other = AuthorityError("authority-away", directory="x", why="x")
        other.names = ("hill.example",)
        issued = mock.Mock(key=b"", chain=b"")
        state = self.look(other, issued)
        self.assertEqual(state.left_out, ("hill.example",))
        self.assertEqual(state.next_ms, self.NOW + 6 * 3600 * 1000)
        self.assertEqual([call.args[2] for call in self.obtain.call_args_list],
                         [("www.hill.example", "hill.example"), ("www.hill.example",)])
        whole = self.look(issued)
        self.assertEqual((whole.left_out, whole.next_ms, whole.tried_ms), ((), 0, self.NOW))

    def test_its_own_name_alone_stops_it(self) -> None:
        own = AuthorityError("authority-away", directory="x", why="x")
        own.names = ("www.hill.example",)
        state = self.look(own)
        self.assertEqual(self.obtain.call_count, 1)
        self.assertEqual((state.tries, state.next_ms), (1, self.NOW + 60_000))
        self.assertEqual(self.look(OSError(28, "No space left")).fault, "No space left")


class UnlistedTest(AppCase):
    def test_a_page_that_is_off_the_list_is_served_all_the_same(self) -> None:
        self.site = set_page(self.site, PAGE, unlisted=True)
        self.send()
        self.assertEqual(self.ask("/night").status_code, 200)
        self.assertNotIn("night", self.ask("/sitemap.xml").text)
