"""The own domain over https: got from an authority, shown by name, renewed, and what goes wrong."""

import json
import os
import shutil
import socket
import ssl
import subprocess
import time
import unittest
import unittest.mock

import httpx
import trustme

from needle.core.edit.domain import set_domain
from needle.core.site.site import Site
from needle.host.certifying import names_of
from needle.practice.faults import set_fault
from needle.practice.zones import free_ports
from needle.running.addresses import practice_folder, read_address
from needle.services.authority import new_key
from needle.store.certificates import Certificates, State, read_certificate
from tests.host.stall import StallTest, wait_for
from tests.sites import small_site

_WWW, _BARE = "www.quillmoor.example", "quillmoor.example"


class CertificateTest(StallTest):
    practice = ("authority",)

    def site(self) -> Site:
        return set_domain(small_site(), _WWW)

    def setUp(self) -> None:
        super().setUp()
        self.certificates = Certificates(self.folder)
        self.authority = practice_folder(self.folder, "authority")

    def directory(self) -> str:
        facts = read_address(self.authority)
        assert facts is not None
        return str(facts["url"])

    def ask(self, fault: str = "none") -> State:
        """Ask for a certificate, and return how the try ended."""
        set_fault(self.authority, fault)
        before = self.certificates.state().tried_ms
        self.certificates.want(self.directory(), int(time.time() * 1000))
        self.assertTrue(wait_for(lambda: self.certificates.state().tried_ms > before))
        return self.certificates.state()

    def trusting(self) -> ssl.SSLContext:
        context = ssl.create_default_context()
        root = (self.authority / "root.pem").read_text()
        context.load_verify_locations(cadata=root[root.index("-----BEGIN CERT"):])
        return context

    def shown(self, name: str) -> int:
        """Return the serial of what is shown for a name; it must hold for it."""
        with socket.create_connection(("127.0.0.1", self.stand.tls_port), 30) as plain, (
                self.trusting().wrap_socket(plain, server_hostname=name)) as safe:
            told = safe.getpeercert()
            assert told is not None
            return int(str(told["serialNumber"]), 16)

    def over_https(self, name: str, path: str = "/night") -> httpx.Response:
        with httpx.Client(verify=self.trusting(), trust_env=False, timeout=240) as visitor:
            return visitor.get(f"https://127.0.0.1:{self.stand.tls_port}{path}",
                               headers={"Host": name}, extensions={"sni_hostname": name})

    def over_http(self, name: str, path: str = "/night") -> httpx.Response:
        return self.visitor.get(path, headers={"Host": name})

    def test_from_nothing_to_https_under_one_name(self) -> None:
        self.assertEqual(self.over_http(_WWW).status_code, 200)
        moved = self.over_http(_BARE, "/night?utm_source=a%20b")
        self.assertEqual((moved.status_code, moved.headers["location"]),
                         (301, f"http://{_WWW}/night?utm_source=a%20b"))

        state = self.ask()
        self.assertEqual(state.fault, "")
        assert state.certified is not None
        self.assertEqual(set(state.certified.names), {_WWW, _BARE})
        self.assertEqual(self.certificates.file.stat().st_mode & 0o777, 0o600)

        self.assertTrue(wait_for(lambda: self.over_http(_WWW).status_code == 301))
        self.assertEqual(self.over_http(_WWW).headers["location"], f"https://{_WWW}/night")
        # Who names the port of this host stays at it.
        self.assertEqual(self.over_http(f"{_WWW}:{self.stand.port}").headers["location"],
                         f"https://{_WWW}:{self.stand.tls_port}/night")
        self.assertNotIn("strict-transport-security", self.over_http(_WWW).headers)
        page = self.over_https(_WWW)
        self.assertEqual(page.status_code, 200)
        self.assertIn("Old words", page.text)
        self.assertNotIn("set-cookie", page.headers, "no split test, no cookie")
        self.assertEqual(page.headers["strict-transport-security"], "max-age=86400")
        bare = self.over_https(_BARE)
        self.assertEqual((bare.status_code, bare.headers["location"]),
                         (301, f"https://{_WWW}/night"))
        self.assertTrue(wait_for(lambda: self.certificates.state().worked_ms))
        # The test address stays as it was.
        self.assertEqual(self.visitor.get("/night").status_code, 200)
        with self.assertRaises(ssl.SSLError):
            self.shown("elsewhere.example")

        first = self.shown(_WWW)
        self.ask()
        self.assertTrue(wait_for(lambda: self.shown(_WWW) != first), "renewed without a restart")

    def test_what_the_authority_does_wrong_is_said_and_costs_nothing(self) -> None:
        good = self.ask().certified
        for fault, words in (("limit", "no more requests"), ("other", "other names"),
                             ("nonsense", "does not answer as an authority"),
                             ("down", "does not answer as an authority")):
            with self.subTest(fault):
                state = self.ask(fault)
                self.assertIn(words, state.fault)
                self.assertEqual(state.certified, good)
                self.assertGreater(state.next_ms, state.tried_ms)
        self.assertGreaterEqual(state.tries, 4)
        self.assertEqual(self.over_https(_WWW).status_code, 200)
        self.assertEqual(self.ask().fault, "")

    def test_a_certificate_that_ends_is_an_alarm_where_it_is_not_renewed(self) -> None:
        self.ask("short")
        self.assertEqual(self.visitor.get("/_needle/health").json()["faults"], [])
        self.ask("limit")

        def alarmed() -> bool:
            return any("the certificate ends on" in one
                       for one in self.visitor.get("/_needle/health").json()["faults"])

        self.assertTrue(wait_for(alarmed))

    def test_a_challenge_answers_only_what_was_offered(self) -> None:
        self.certificates.offer("a" * 20, "words")
        there = "/.well-known/acme-challenge/"
        self.assertEqual(self.over_http(_WWW, there + "a" * 20).text, "words")
        for path in ("b" * 20, "..%2fwanted.json", "a"):
            self.assertEqual(self.over_http(_WWW, there + path).status_code, 404, path)
        with self.assertRaises(ValueError):
            self.certificates.offer("../state.json", "x")


class ReadTest(unittest.TestCase):
    def test_a_key_that_is_not_its_own_and_nonsense_are_no_certificate(self) -> None:
        made = trustme.CA().issue_cert(_WWW)
        chain = made.cert_chain_pems[0].bytes()
        found = read_certificate(made.private_key_pem.bytes() + chain)
        assert found is not None
        self.assertEqual(found.names, (_WWW,))
        self.assertTrue(found.holds_for(_WWW, found.since))
        self.assertFalse(found.holds_for(_WWW, found.until))
        self.assertFalse(found.holds_for(_BARE, found.since))
        for wrong in (new_key() + chain, b"", b"-----BEGIN CERTIFICATE-----\nx",
                      new_key()):
            self.assertIsNone(read_certificate(wrong))

    def test_the_other_name_of_a_domain(self) -> None:
        self.assertEqual(names_of(_WWW), (_WWW, _BARE))
        self.assertEqual(names_of(_BARE), (_BARE, _WWW))
        self.assertEqual(names_of(""), ())


@unittest.skipUnless(shutil.which("pebble"), "pebble is not installed")
class OutsideAuthorityTest(StallTest):
    """An authority of other people's making, over https and with a root of its own."""

    practice = ()

    def site(self) -> Site:
        return set_domain(small_site(), _WWW)

    def start(self) -> None:
        root = trustme.CA()
        root.cert_pem.write_to_path(str(self.folder.parent / "root.pem"))
        own = root.issue_cert("localhost")
        own.private_key_and_cert_chain_pem.write_to_path(str(self.folder.parent / "own.pem"))
        bundle = {"REQUESTS_CA_BUNDLE": str(self.folder.parent / "root.pem")}
        with unittest.mock.patch.dict(os.environ, bundle):
            super().start()
        self.port = free_ports(["127.0.0.1"])
        names = free_ports(["127.0.0.1"])
        self.run_beside("pebble-challtestsrv", "-http01", "", "-https01", "", "-tlsalpn01", "",
                        "-dns01", f"127.0.0.1:{names}", "-defaultIPv6", "",
                        "-management", f"127.0.0.1:{free_ports(['127.0.0.1'])}")
        told = self.folder.parent / "pebble.json"
        told.write_text(json.dumps({"pebble": {
            "listenAddress": f"127.0.0.1:{self.port}", "httpPort": self.stand.port,
            "managementListenAddress": f"127.0.0.1:{free_ports(['127.0.0.1'])}",
            "certificate": str(self.folder.parent / "own.pem"), "tlsPort": 1,
            "privateKey": str(self.folder.parent / "own.pem"), "ocspResponderURL": ""}}))
        self.run_beside("pebble", "-config", str(told), "-dnsserver", f"127.0.0.1:{names}")

    def run_beside(self, *command: str) -> None:
        process = subprocess.Popen(command, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL,
                                   env=os.environ | {"PEBBLE_VA_NOSLEEP": "1",
                                                     "PEBBLE_WFE_NONCEREJECT": "40"})
        self.addCleanup(process.wait)
        self.addCleanup(process.kill)

    def listens(self) -> bool:
        with socket.socket() as tried:
            return tried.connect_ex(("127.0.0.1", self.port)) == 0

    def test_it_issues_and_the_host_shows_it(self) -> None:
        self.assertTrue(wait_for(self.listens))
        kept = Certificates(self.folder)
        kept.want(f"https://localhost:{self.port}/dir", int(time.time() * 1000))
        self.assertTrue(wait_for(lambda: kept.state().tried_ms))
        state = kept.state()
        self.assertEqual(state.fault, "")
        assert state.certified is not None
        self.assertEqual(set(state.certified.names), {_WWW, _BARE})
        self.assertTrue(wait_for(lambda: self.visitor.get(
            "/night", headers={"Host": _WWW}).status_code == 301))
