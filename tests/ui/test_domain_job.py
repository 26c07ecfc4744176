"""From nothing to https under one's own name, by the keyboard alone and with practice services."""

import base64
import hashlib
import os
import subprocess
import sys
import tempfile
import unittest

from cryptography import x509
from cryptography.hazmat.primitives import serialization

from needle.practice.faults import set_fault
from needle.practice.names import DOMAIN
from needle.running.addresses import port_80_file, practice_folder
from needle.store.certificates import Certificates
from tests.host.test_browser import chromium
from tests.ui.atspi import installed
from tests.ui.hands import HandsTest
from tests.ui.screen import ROOT

_WWW = f"www.{DOMAIN}"


@unittest.skipUnless(installed(), "AT-SPI is not installed")
class DomainJobTest(HandsTest):
    def surround(self) -> dict[str, str]:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.names = practice_folder(self.project, "names")
        self.names.mkdir(parents=True)
        set_fault(self.names, "old address")
        net = subprocess.Popen([sys.executable, "-m", "needle.practice.names", str(self.names)],
                               env=os.environ | {"PYTHONPATH": str(ROOT / "src")},
                               stdout=subprocess.PIPE, text=True)
        assert net.stdout is not None
        self.addCleanup(net.stdout.close)
        self.addCleanup(self.end, net)
        told = net.stdout.readline().partition("=")[2].strip().strip('"')
        return {"NEEDLE_NAMES": told}

    def said(self, words: str) -> bool:
        """Whether the window says so somewhere."""
        return any(words in part.name for window in self.windows()
                   for part in self.buses.walk(window.place))

    def test_from_nothing_to_https_with_www_and_without(self) -> None:
        self.key("ctrl+4")
        self.find("Own domain")
        self.to("Domain of the site")
        self.write(_WWW)
        self.key("Return")
        self.to("Where the pages stand")
        self.write("pages.needle-practice.example")
        self.key("Return")
        self.saved(lambda site: site.domain == _WWW and bool(site.served_at))
        self.until(lambda: self.said("An old address is in the way"))
        # Whoever runs the domain does what the lists say.
        set_fault(self.names, "none")
        self.find("Send the chosen pages")
        self.until(lambda: (self.project / "live" / "live.json").exists())
        self.find("Own domain")
        self.until(lambda: self.said("leads here, with www and without")
                   or self.said("Nobody answers at"))
        self.to("Practice authority")
        self.key("space")
        self.to("Get a certificate")
        self.key("space")
        kept = Certificates(self.project)
        self.until(lambda: kept.state().certified)
        self.until(lambda: self.said(f"https://{_WWW} is open"))
        self.visit(kept)

    def visit(self, kept: Certificates) -> None:
        root = (practice_folder(self.project, "authority") / "root.pem").read_bytes()
        key = x509.load_pem_x509_certificate(
            root[root.index(b"-----BEGIN CERT"):]).public_key().public_bytes(
                serialization.Encoding.DER, serialization.PublicFormat.SubjectPublicKeyInfo)
        pin = base64.b64encode(hashlib.sha256(key).digest()).decode()
        profile = tempfile.TemporaryDirectory(ignore_cleanup_errors=True)
        self.addCleanup(profile.cleanup)
        browser = chromium(profile.name, 800, False, f"--host-resolver-rules=MAP *.{DOMAIN} "
                           f"127.0.0.1, MAP {DOMAIN} 127.0.0.1",
                           f"--ignore-certificate-errors-spki-list={pin}")
        self.addCleanup(browser.quit)
        port = port_80_file(self.project).read_text()
        for name in (_WWW, DOMAIN):
            browser.get(f"http://{name}:{port}/night")
            self.assertTrue(browser.current_url.startswith(f"https://{_WWW}:"),
                            browser.current_url)
            self.assertIn("Old words", browser.page_source)
            self.assertTrue(browser.execute_script("return window.isSecureContext"))
        self.until(lambda: kept.state().worked_ms)
