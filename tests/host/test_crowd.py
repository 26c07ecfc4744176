"""Practice visitors over real HTTP: what the host counts is what they did."""

import os
import signal
import threading
import unittest
from collections import Counter
from datetime import UTC, datetime

from needle.core.edit.pages import split_page
from needle.core.site.site import Site
from needle.crowd.ledger import Ledger, counted_events, differences, take_out
from needle.crowd.people import Crowd, people_of
from needle.crowd.walking import Walkers
from needle.host.clock import now_ms
from needle.practice.zones import free_ports
from needle.publish.releases import read_live
from needle.running.children import Child
from needle.store.results.book import Filter, count_leads
from needle.store.results.counting import page_counts, reached, robot_visits
from needle.store.results.deliveries import behind
from needle.store.results.journeys import field_counts, way_counts
from needle.store.results.place import remember_database
from needle.store.results.tables import open_results
from needle.store.seals import Seals
from tests.host.cluster import Cluster, programs
from tests.host.stall import StallTest
from tests.sites import FORM, PAGE, small_site

DAYS = range(0, 40_000)


class CrowdTest(StallTest):
    practice = ()

    def site(self) -> Site:
        return split_page(small_site(), PAGE, datetime(2026, 11, 1, tzinfo=UTC))

    def walkers(self, crowd: Crowd, *ports: int) -> Walkers:
        live = read_live(self.folder)
        assert live is not None
        hosts = [f"http://127.0.0.1:{port}" for port in ports or (self.stand.port,)]
        seal = Seals(self.folder, self.engine).seal("practice", now_ms() + 600_000)
        return Walkers(hosts, f"{live.address}.localhost", live, crowd, seal)

    def check(self, ledger: Ledger) -> None:
        """Hold every figure that screens show against what the visitors noted themselves."""
        self.assertEqual(ledger.failed, Counter())
        self.assertEqual(list(differences(ledger, self.engine)), [])
        counts = page_counts(self.engine)
        self.assertEqual({(c.page, c.variant): c.visitors for c in counts}, ledger.came)
        self.assertEqual({(c.page, c.variant): c.conversions for c in counts if c.conversions},
                         ledger.won)
        ways: Counter[tuple[str, str, str]] = Counter()
        for way in way_counts(self.engine, DAYS[0], DAYS[-1]):
            ways[way.source, way.device, way.path] += way.visits
        self.assertEqual(ways, ledger.ways)
        fields = field_counts(self.engine, DAYS[0], DAYS[-1])
        self.assertEqual({f"field {key}": told.times for key, told in fields.items()} | {
            f"stop {key}": told.stops for key, told in fields.items() if told.stops},
            ledger.fields)
        self.assertEqual(robot_visits(self.engine), ledger.robots)
        self.assertEqual(count_leads(self.engine, Filter(robots="without")), ledger.events["lead"])
        self.assertEqual(reached(self.engine)[FORM].visitors, len(ledger.people_won))

    def test_every_figure_is_what_they_did_and_all_of_it_can_be_taken_out(self) -> None:
        crowd = Crowd(260, days=9, rate=0.12, gains={"B": 0.6}, robots=0.1, seed=5)
        now = now_ms()
        people = list(people_of(crowd, now))
        self.assertEqual(people, list(people_of(crowd, now)), "the same seed, the same people")
        walkers = self.walkers(crowd)
        told: list[int] = []
        walkers.told = told.append
        ledger = walkers.run(people)
        self.assertEqual(told[-1], 260)
        self.check(ledger)
        self.assertGreater(ledger.robots, 5)
        # Which variant each gets is the host's chance, so only what is true of them is certain.
        self.assertEqual([round(crowd.rate_of(key), 3) for key in "ABC"], [0.12, 0.192, 0.12])
        self.assertEqual({key for page, key in ledger.won if page == PAGE}, {"A", "B"})
        self.assertGreater(ledger.events["stop"], 0)
        self.assertEqual(behind(self.engine).waiting, 0, "nothing of it is delivered")
        days = {moment // 86_400_000 for person in people for moment in person.visits}
        self.assertGreater(len(days), 6)
        self.assertEqual(take_out(self.engine), sum(ledger.events.values()))
        self.assertEqual(page_counts(self.engine), [])
        self.assertEqual(count_leads(self.engine, Filter(robots="with")), 0)

    def test_stopped_half_way_it_has_counted_what_was_done(self) -> None:
        walkers = self.walkers(Crowd(5000, seed=6))
        walkers.told = lambda done: walkers.stop() if done == 40 else None
        ledger = walkers.run(people_of(walkers.crowd, now_ms()))
        self.assertLess(sum(ledger.came.values()), 200)
        self.check(ledger)

    @unittest.skipUnless(programs(), "PostgreSQL is not installed")
    def test_two_hosts_over_one_database_count_as_one(self) -> None:
        cluster = Cluster()
        self.addCleanup(cluster.remove)
        self.stand.stop()
        self.engine.dispose()
        remember_database(self.folder, cluster.address)
        self.addCleanup(remember_database, self.folder, "")
        self.engine = open_results(cluster.address)
        self.addCleanup(self.engine.dispose)
        self.start()
        second = Child("needle.host", [str(self.folder), "--port", "0"])
        self.addCleanup(second.stop)
        walkers = self.walkers(Crowd(160, rate=0.3, seed=7), self.stand.port,
                               int(str(second.facts["port"])))
        self.check(walkers.run(people_of(walkers.crowd, now_ms())))

    def test_a_host_that_is_killed_has_what_it_answered(self) -> None:
        self.stand.stop()
        port = free_ports(["127.0.0.1"])
        command = [str(self.folder), "--port", str(port)]
        host = Child("needle.host", command)
        walkers = self.walkers(Crowd(150, rate=0.4, robots=0, seed=8), port)
        done = threading.Event()
        marks = iter((40, 90))
        due = next(marks)
        kill = threading.Event()

        def told(count: int) -> None:
            nonlocal due
            if count == due:
                due = next(marks, 0)
                kill.set()

        walkers.told = told

        def walk() -> None:
            walkers.run(people_of(walkers.crowd, now_ms()))
            done.set()
            kill.set()

        thread = threading.Thread(target=walk)
        thread.start()
        killed = 0
        while True:
            kill.wait()
            kill.clear()
            if done.is_set():
                break
            os.kill(host.pid, signal.SIGKILL)
            host.stop()
            killed += 1
            host = Child("needle.host", command)
        thread.join()
        host.stop()
        self.assertEqual(killed, 2)
        ledger, counted = walkers.ledger, counted_events(self.engine)
        unanswered = sum(ledger.failed.values())
        for kind, count in ledger.events.items():
            self.assertGreaterEqual(counted[kind], count, f"{kind}: answered, so counted")
        self.assertLessEqual(sum(counted.values()) - sum(ledger.events.values()), unanswered)
