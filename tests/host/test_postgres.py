"""Hosts over one real PostgreSQL: they share everything, and outlive its restarts."""

import threading
import time
import unittest
from concurrent.futures import ThreadPoolExecutor

import httpx

from needle.core.leads.people import normal_address
from needle.core.site.site import Site
from needle.host.clock import now_ms
from needle.host.visitors import VISITOR_COOKIE
from needle.running.children import Child
from needle.store.results.book import Filter, count_leads, list_leads
from needle.store.results.counting import page_counts
from needle.store.results.deliveries import behind
from needle.store.results.erasing import erase_person
from needle.store.results.ordered import NewOrder, OrderLine
from needle.store.results.orders import list_orders
from needle.store.results.place import database_of, remember_database
from needle.store.results.stock import left_of
from needle.store.results.tables import open_results
from needle.store.results.taking import NewLead, take_leads
from needle.store.seals import Seals
from tests.host.cluster import Cluster, programs
from tests.host.stall import BRIEFLY, BROWSER, StallTest, wait_for
from tests.shops import small_shop
from tests.sites import EMAIL, FORM, NAME, PAGE


class TwoHosts(StallTest):
    """Two hosts over one PostgreSQL."""

    cluster: Cluster

    @classmethod
    def setUpClass(cls) -> None:
        cls.cluster = Cluster()
        cls.addClassCleanup(cls.cluster.remove)

    def setUp(self) -> None:
        super().setUp()
        self.visitor.close()
        self.stand.stop()
        self.engine.dispose()
        remember_database(self.folder, self.cluster.address)
        self.addCleanup(remember_database, self.folder, "")
        self.engine = open_results(self.cluster.address)
        self.addCleanup(self.engine.dispose)
        self.start()
        self.second = Child("needle.host", [str(self.folder), "--port", "0"])
        self.addCleanup(self.second.stop)

    def answers(self, email: str = "ro@mail.example", **more: str) -> dict[str, str]:
        key = f"{abs(hash((email, time.time_ns()))):032d}"[:32]
        seal = Seals(self.folder, self.engine).seal("filling", now_ms() - 8000, FORM, key)
        return {NAME: "Ro", EMAIL: email, "src1": "poster", "_page": PAGE, "_variant": "A",
                "_took": "9000", "_felt": "24,3,0", "_token": seal, "_key": key} | more

    def other(self) -> httpx.Client:
        client = httpx.Client(
            base_url=f"http://127.0.0.1:{self.second.facts['port']}", trust_env=False, timeout=240,
            headers={"Host": f"{self.made.address}.localhost"} | BROWSER,
            cookies={VISITOR_COOKIE: "0" * 24}, limits=BRIEFLY)
        self.addCleanup(client.close)
        return client


@unittest.skipIf(programs() is None, "PostgreSQL is not installed")
class PostgresTest(TwoHosts):
    def test_two_hosts_know_each_others_visitors_and_leads(self) -> None:
        self.assertEqual(database_of(self.folder), self.cluster.address)
        before = count_leads(self.engine)
        other = self.other()
        slug = self.made.page(PAGE).slug
        for here, there, email in ((self.visitor, other, "a@mail.example"),
                                   (other, self.visitor, "b@mail.example")):
            # The page comes from one host, everything after it goes to the other.
            served = here.get(f"/{slug}")
            there.cookies.update(served.cookies)
            report = {"page": PAGE, "variant": "A", "query": "?utm_source=poster", "from": ""}
            self.assertEqual(there.post("/_needle/visit", json=report).status_code, 204)
            token = here.get(f"/_needle/token/{FORM}", params={"key": "k" * 32}).json()["token"]
            sent = self.answers(email, _token=token, _key="k" * 31 + email[0])
            self.assertNotIn("forged", there.post(f"/_needle/lead/{FORM}", data=sent).text)
            kept = there.post(f"/_needle/lead/{FORM}", data=self.answers(email))
            self.assertEqual(kept.status_code, 303, kept.text)
        self.assertEqual(count_leads(self.engine, Filter(robots="without")) - before, 2)
        self.assertTrue(wait_for(lambda: behind(self.engine).waiting == 0))
        self.assertTrue(any(count.visitors for count in page_counts(self.engine)))
        (found,) = list_leads(self.engine, Filter(words="a@mail.example"))
        self.assertEqual(normal_address(found.email), "a@mail.example")
        self.assertEqual(erase_person(self.engine, self.folder, "A@Mail.example").leads, 2)

    def test_odd_words_are_kept_there_too(self) -> None:
        sent = self.answers("odd@mail.example") | {
            NAME: "N\x00U\x00L and \U0001f52d", "_query": "?utm_source=a%00b" + "&x=1" * 900,
            "_referrer": "http://[x"}
        self.assertEqual(self.post(sent).status_code, 200)
        self.assertEqual(list_leads(self.engine, Filter(words="odd@mail"))[0].answers[0][2],
                         "N\ufffdU\ufffdL and \U0001f52d")

    def test_deliveries_go_on_after_the_server_was_restarted(self) -> None:
        for number in range(3):
            self.cluster.restart()
            address = f"after{number}@mail.example"
            sent = self.answers(address)
            self.assertTrue(wait_for(lambda s=sent: self.post(s).status_code == 200))
            self.assertTrue(wait_for(lambda a=address: a in str(self.members())))
        self.assertTrue(wait_for(
            lambda: self.visitor.get("/_needle/health").status_code == 200))

    def test_while_the_server_is_away_nobody_is_thanked_and_health_says_so(self) -> None:
        sent = self.answers("away@mail.example")
        self.cluster.stop()
        try:
            answer = self.post(sent)
            self.assertEqual(answer.status_code, 507)
            self.assertTrue(wait_for(
                lambda: self.visitor.get("/_needle/health").status_code == 503))
        finally:
            self.cluster.start()
        self.assertTrue(wait_for(
            lambda: self.visitor.get("/_needle/health").status_code == 200))
        self.assertEqual(list_leads(self.engine, Filter(words="away@mail")), [])


@unittest.skipIf(programs() is None, "PostgreSQL is not installed")
class UpgradeTest(unittest.TestCase):
    def test_it_is_made_once_however_many_open_it_at_once(self) -> None:
        cluster = Cluster()
        self.addCleanup(cluster.remove)
        children = [Child("tests.host.opening", [cluster.address]) for _ in range(4)]
        for child in children:
            self.addCleanup(child.stop)
            self.assertEqual(child.facts["opened"], True)


@unittest.skipIf(programs() is None, "PostgreSQL is not installed")
class TurnsTest(unittest.TestCase):
    def test_orders_stored_together_in_any_order_never_end_each_other(self) -> None:
        cluster = Cluster()
        self.addCleanup(cluster.remove)
        engines = [open_results(cluster.address) for _ in range(2)]
        for engine in engines:
            self.addCleanup(engine.dispose)
        things = ["rare", "chart", "torch"]

        def store(which: int) -> None:
            for turn in range(25):
                named = things if which else reversed(things)
                take_leads(engines[which], [_ordering(f"{which}-{turn}-{name}", name)
                                            for name in named])

        with ThreadPoolExecutor(2) as pool:
            list(pool.map(store, range(2)))
        self.assertEqual([order.number for order in list_orders(engines[0])],
                         list(range(150, 0, -1)))
        self.assertEqual(left_of(engines[0], dict.fromkeys(things, 100)),
                         dict.fromkeys(things, 50))


def _ordering(key: str, thing: str) -> NewLead:
    order = NewOrder(lines=[OrderLine(thing, thing, "", 1, "5.00", "5.00", counted=100)], way="",
                     things="5.00", carriage="0.00", tax="0.00", total="5.00", currency="GBP")
    return NewLead(key=key, at_ms=1, visitor=key, form=FORM, form_name="Order", page=PAGE,
                   variant="A", email=f"{key}@mail.example", answers=[], order=order)


@unittest.skipIf(programs() is None, "PostgreSQL is not installed")
class ShopOnTwoHostsTest(TwoHosts):
    def site(self) -> Site:
        return small_shop()

    def test_two_hosts_sell_the_last_piece_once_and_number_orders_without_a_gap(self) -> None:
        rare, chart = (next(row.id for row in self.made.tables[0].rows if row.cells[0] == name)
                       for name in ("Rare", "Chart"))
        buyers = []
        for number in range(20):
            who = self.other() if number % 2 else httpx.Client(
                base_url=self.visitor.base_url, headers=self.visitor.headers, trust_env=False,
                timeout=240, limits=BRIEFLY)
            self.addCleanup(who.close)
            thing = chart if number % 5 == 0 else rare
            who.post("/_needle/cart", data={"row": thing, "count": "1"})
            who.post("/_needle/cart", data={"way": "fetch"})
            buyers.append(who)
        ready = threading.Barrier(len(buyers))

        def buy(number: int) -> int:
            ready.wait()
            return buyers[number].post(f"/_needle/lead/{FORM}", headers={
                "Accept": "application/json"}, data=self.answers(f"b{number}@mail.example"),
                ).status_code

        with ThreadPoolExecutor(len(buyers)) as pool:
            told = list(pool.map(buy, range(len(buyers))))
        self.assertEqual(sorted(told), [200] * 5 + [409] * 15)
        orders = list_orders(self.engine)
        self.assertEqual([order.number for order in orders], [5, 4, 3, 2, 1])
        self.assertEqual(sum(order.lines[0].thing == "Rare" for order in orders), 1)

