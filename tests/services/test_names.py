"""Domains read over the real protocol, each fault named, with the records that mend it."""

import contextlib
import shutil
import subprocess
import tempfile
import time
import unittest
from collections.abc import Iterator
from pathlib import Path

from needle.core.domains.diagnosis import Report, diagnose, zone_lines
from needle.core.domains.found import Wanted
from needle.practice.zones import Zone
from needle.services.names import Net, reached_by, read_domain
from tests.services.namesnet import HOST, HOST_A, HOST_AAAA, NamesNet

BARE = "quillmoor.example"


class NamesTest(unittest.TestCase):
    def setUp(self) -> None:
        self.net = NamesNet(self)

    def report(self, elsewhere: tuple[str, ...] = (), **wanted: object) -> Report:
        asked = Wanted(**({"host": HOST} | wanted))  # type: ignore[arg-type]
        found, asked = reached_by(read_domain(f"www.{BARE}", self.net.net, elsewhere), asked,
                                  self.net.net)
        return diagnose(found, asked)

    def faults(self, **given: object) -> list[str]:
        return [fault.id for fault in self.report(**given).faults]  # type: ignore[arg-type]

    def test_one_that_is_right_is_right_at_every_step(self) -> None:
        report = self.report()
        self.assertEqual([(step.id, step.state) for step in report.steps], [
            *((step, "done") for step in ("name", "servers", "trust", "way", "records", "seen")),
            ("safe", "waits")])
        self.assertTrue(report.leads)
        self.assertEqual((report.place, report.delete, report.add), ("hollin.example", (), ()))
        self.assertEqual([one.type for one in report.left], ["MX", "TXT"])

    def test_each_fault_of_a_zone_is_named_and_goes_when_it_is_mended(self) -> None:
        zone = self.net.zone
        cases = (
            ("apex-cname", [("@", "CNAME", f"{HOST}.")], [("@", "CNAME")]),
            ("apex-old-a", [("@", "A", "203.0.113.7")], [("@", "A", HOST_A)]),
            ("apex-old-a", [("@", "A", HOST_A, "203.0.113.7")], [("@", "A", HOST_A)]),
            ("apex-old-aaaa", [("@", "AAAA", "2001:db8::bad")], [("@", "AAAA", HOST_AAAA)]),
            ("apex-missing", [("@", "A")], [("@", "A", HOST_A)]),
            ("www-missing", [("www", "CNAME")], [("www", "CNAME", f"{HOST}.")]),
            ("www-elsewhere", [("www", "CNAME", "shop.hollin.example.")],
             [("www", "CNAME", f"{HOST}.")]),
            ("cname-loop", [("www", "CNAME", "www")], [("www", "CNAME", f"{HOST}.")]),
            ("cname-beside", [("www", "TXT", '"x"')], [("www", "TXT")]),
            ("www-old-a", [("www", "CNAME"), ("www", "A", "203.0.113.7")],
             [("www", "A"), ("www", "CNAME", f"{HOST}.")]),
            ("caa", [("@", "CAA", '0 issue "other-ca.example"')], [("@", "CAA")]),
            ("wildcard", [("*", "A", "203.0.113.9")], [("*", "A")]),
            ("doubled", [("www.quillmoor.example", "CNAME", f"{HOST}.")],
             [("www.quillmoor.example", "CNAME")]),
            ("mail", [("@", "CNAME", f"{HOST}.")], [("@", "CNAME")]))
        for fault, broken, mended in cases:
            with self.subTest(fault, broken=broken):
                for one in broken:
                    zone.put(*one)
                self.assertIn(fault, self.faults(authority="practice-ca.example"))
                for one in mended:
                    zone.put(*one)
                self.assertEqual(self.faults(authority="practice-ca.example"), [])

    def test_each_fault_of_the_servers_is_named(self) -> None:
        for state, fault in (("silent", "server-silent"), ("refused", "server-lame"),
                             ("lame", "server-lame"), ("failed", "server-failed")):
            with self.subTest(state):
                self.net.second = Zone(BARE)
                self.net.second.fault = state
                self.assertIn(fault, self.faults())
                self.net.second = self.net.zone
        self.net.second = Zone(BARE)
        self.net.second.put("@", "A", "203.0.113.1")
        self.assertIn("servers-disagree", self.faults())
        self.net.second = self.net.zone
        self.net.zone.put("@", "NS", "ns1.hollin.example.", "old1.hollin.example.")
        self.assertIn("servers-differ", self.faults())

    def test_a_record_that_was_made_where_nobody_asks_is_found_there(self) -> None:
        self.net.old.put("www", "CNAME", f"{HOST}.")
        self.net.zone.put("www", "CNAME")
        report = self.report(elsewhere=("old1.hollin.example",))
        fault = next(one for one in report.faults if one.id == "wrong-place")
        self.assertIn("old1.hollin.example, which nobody asks. Make it at hollin.example",
                      str(fault.words))

    def test_a_name_that_is_not_registered_and_a_net_that_is_away(self) -> None:
        self.net.tld.put("quillmoor", "NS")
        report = self.report()
        self.assertEqual([fault.id for fault in report.faults], ["not-registered"])
        self.assertEqual([step.state for step in report.steps][1:], ["waits"] * 6)
        away = Net(("127.0.0.10",), 1, ())
        self.assertEqual([fault.id for fault in diagnose(
            read_domain(BARE, away), Wanted(HOST)).faults], ["no-answer"])

    def test_every_server_is_silent(self) -> None:
        self.net.zone.fault = "silent"
        self.assertEqual(self.faults()[0], "server-silent")

    def test_what_resolvers_remember_is_said_with_how_long(self) -> None:
        self.net.zone.put("@", "A", "203.0.113.7", ttl=900)
        self.net.learn()
        self.net.zone.put("@", "A", HOST_A)
        report = self.report()
        (fault,) = report.faults
        self.assertEqual((fault.id, report.steps[-2].state), ("resolver-old", "fault"))
        self.assertIn("203.0.113.7, for 900 seconds more", str(fault.words))
        self.net.learn()
        self.assertTrue(self.report().leads)

    def test_what_to_delete_and_add_makes_it_right(self) -> None:
        zone = self.net.zone
        zone.put("@", "A", "203.0.113.7")
        zone.put("www", "CNAME")
        zone.put("www", "A", "203.0.113.7")
        report = self.report()
        self.assertEqual([(one.name, one.type, one.value) for one in report.delete],
                         [(BARE, "A", "203.0.113.7"), (f"www.{BARE}", "A", "203.0.113.7")])
        self.assertEqual([(one.name, one.type, one.value) for one in report.add],
                         [(BARE, "A", HOST_A), (f"www.{BARE}", "CNAME", HOST)])
        self.assertEqual(zone_lines(report.add, BARE), (
            f"$ORIGIN {BARE}.\n@ 3600 IN A {HOST_A}\nwww 3600 IN CNAME {HOST}.\n"))
        for one in report.delete:
            zone.put(f"{one.name}.", one.type)
        for one in report.add:
            zone.put(f"{one.name}.", one.type,
                     f"{one.value}." if one.type == "CNAME" else one.value)
        self.net.learn()
        self.assertTrue(self.report().leads)

    def test_addresses_alone_do_as_well_as_a_host(self) -> None:
        self.net.zone.put("www", "CNAME")
        report = self.report(host="", addresses=(HOST_A, HOST_AAAA))
        self.assertEqual([(one.type, one.value) for one in report.add],
                         [("A", HOST_A), ("AAAA", HOST_AAAA)])
        self.net.zone.put("www", "CNAME", f"{BARE}.")
        self.assertEqual(self.faults(host="", addresses=(HOST_A, HOST_AAAA)), [])

    def test_a_host_that_leads_nowhere_is_said(self) -> None:
        self.assertIn("host-leads-nowhere", self.faults(host="gone.needle-practice.example"))


class SignedTest(unittest.TestCase):
    def setUp(self) -> None:
        self.net = NamesNet(self, signed=True)

    def faults(self) -> list[str]:
        found, wanted = reached_by(read_domain(BARE, self.net.net), Wanted(HOST), self.net.net)
        self.trust = found.dnssec
        return [fault.id for fault in diagnose(found, wanted).faults]

    def test_signatures_are_followed_from_the_root(self) -> None:
        self.assertEqual((self.faults(), self.trust), ([], "secure"))

    def test_a_ds_record_of_another_key_breaks_it(self) -> None:
        self.net.tld.put("quillmoor", "DS", Zone(BARE, signed=True).ds())
        self.assertEqual(self.faults(), ["dnssec"])
        self.net.tld.put("quillmoor", "DS")
        self.assertEqual((self.faults(), self.trust), ([], "insecure"))

    def test_a_zone_that_is_not_signed_any_more_breaks_it(self) -> None:
        plain = Zone(BARE)
        for one in (("@", "NS", "ns1.hollin.example."), ("@", "A", HOST_A),
                    ("@", "AAAA", HOST_AAAA), ("www", "CNAME", f"{HOST}.")):
            plain.put(*one)
        self.net.zone.answer = plain.answer  # type: ignore[method-assign]
        self.assertIn("dnssec", self.faults())


_KNOT = shutil.which("knotd") or "/usr/sbin/knotd"
_SOA = "@ 300 SOA ns host 1 600 300 86400 60\n@ 300 NS ns1.hollin.example.\n"
_ZONES = {
    "hollin.example": _SOA + "ns1 A 127.0.0.12\nns2 A 127.0.0.12\nns A 127.0.0.12\n",
    "needle-practice.example": _SOA + f"pages A {HOST_A}\npages AAAA {HOST_AAAA}\n"}
_REST = (f"@ NS ns2.hollin.example.\n@ A {HOST_A}\n@ AAAA {HOST_AAAA}\n"
         "@ MX 10 mail.hollin.example.\n")
_WWW = f"www CNAME {HOST}.\n"


@unittest.skipUnless(Path(_KNOT).exists(), "takes a name server of the system")
class KnotTest(unittest.TestCase):
    """The same by a name server that others wrote."""

    def setUp(self) -> None:
        self.net = NamesNet(self, decides=False)
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        (self.folder / "run").mkdir()
        for name, words in _ZONES.items():
            (self.folder / name).write_text(f"$ORIGIN {name}.\n$TTL 300\n{words}")

    @contextlib.contextmanager
    def serving(self, zone: str) -> Iterator[None]:
        (self.folder / BARE).write_text(f"$ORIGIN {BARE}.\n$TTL 300\n{_SOA}{zone}")
        zones = "".join(f"  - domain: {name}\n    file: {self.folder / name}\n"
                        f"    zonefile-sync: -1\n    semantic-checks: off\n"
                        for name in (*_ZONES, BARE))
        (self.folder / "knot.conf").write_text(
            f"server:\n  listen: 127.0.0.12@{self.net.port}\n"
            f"  listen: 127.0.0.13@{self.net.port}\n  rundir: {self.folder / 'run'}\n"
            f"  udp-workers: 1\n  tcp-workers: 1\n  background-workers: 1\n"
            f"database:\n  storage: {self.folder / 'run'}\nzone:\n{zones}")
        process = subprocess.Popen([_KNOT, "-c", str(self.folder / "knot.conf")],
                                   stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        try:
            end = time.monotonic() + 240
            while read_domain(BARE, self.net.net).first is None and time.monotonic() < end:
                time.sleep(0.1)
            yield
        finally:
            process.terminate()
            process.wait(30)

    def test_faults_of_its_zones_are_named_rightly(self) -> None:
        for zone, faults in (
                (_REST + _WWW, []),
                (_REST.replace(HOST_A, "203.0.113.7") + _WWW, ["apex-old-a", "apex-missing"]),
                (_REST + "www A 203.0.113.7\n", ["www-old-a", "www-missing"]),
                (_REST + _WWW + "*.quillmoor.example. A 203.0.113.9\n", ["wildcard"]),
                (_REST + _WWW + '@ CAA 0 issue "other-ca.example"\n', ["caa"]),
                (_REST + f"www.quillmoor.example CNAME {HOST}.\n", ["doubled", "www-missing"])):
            with self.subTest(faults), self.serving(zone):
                found, wanted = reached_by(
                    read_domain(BARE, self.net.net),
                    Wanted(HOST, authority="practice-ca.example"), self.net.net)
                told = [fault.id for fault in diagnose(found, wanted).faults
                        if not fault.id.startswith("resolver")]
                self.assertEqual(told, faults)


if __name__ == "__main__":
    unittest.main()
