"""What opens a web hook is kept with the keys, and shown nowhere."""

import http.server
import tempfile
import threading
import unittest
from pathlib import Path

import msgspec

from needle.core.site.site import Service
from needle.services.adapter import Parcel
from needle.services.hooks import SETTINGS
from needle.services.registry import adapter_for
from needle.services.secrecy import (
    DOTS,
    address_of,
    keep_secrets,
    key_of,
    options_of,
    secret_part,
    shown_address,
)


class _Hook(http.server.BaseHTTPRequestHandler):
    seen: list[tuple[str, str | None]] = []  # noqa: RUF012 - shared by all requests

    def do_POST(self) -> None:
        self.seen.append((self.path, self.headers.get("X-Token")))
        self.rfile.read(int(self.headers["Content-Length"]))
        self.send_response(200)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, *_: object) -> None:
        pass


class SecrecyTest(unittest.TestCase):
    def test_what_is_secret_of_an_address(self) -> None:
        self.assertEqual(shown_address("https://a.example/hook/T0K3N?x=1"), f"https://a.example/{DOTS}")
        self.assertEqual(shown_address("https://me:pw@a.example/"), f"https://a.example/{DOTS}")
        self.assertEqual(shown_address("https://a.example/"), "https://a.example/")
        self.assertEqual(secret_part("https://a.example/p?q=1"), ("/p?q=1",))

    def test_a_secret_is_used_and_told_nowhere(self) -> None:
        server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), _Hook)
        threading.Thread(target=server.serve_forever).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        whole = f"http://127.0.0.1:{server.server_port}/hook/T0K3N"
        service = Service(id="hook1", name="Ledger", does="hook")
        left = keep_secrets(service, SETTINGS, {
            "address": whole, "headers": "X-Token: S3CR3T", "key": "signs", "body": "json"})
        self.assertEqual(left["address"], f"http://127.0.0.1:{server.server_port}/{DOTS}")
        self.assertNotIn("headers", left)
        self.assertNotIn("key", left)
        kept = Service(id="hook1", name="Ledger", does="hook", address=left.pop("address"),
                       options=left)
        self.assertEqual(address_of(kept), whole)
        with tempfile.TemporaryDirectory() as folder:
            adapter = adapter_for(Path(folder), kept)
            receipt = adapter.deliver(Parcel("key1", values={"a": "b"}))
        self.assertEqual(_Hook.seen, [("/hook/T0K3N", "S3CR3T")])
        for secret in ("T0K3N", "S3CR3T", "signs"):
            self.assertNotIn(secret, receipt.request + receipt.answer + str(kept))
        # A project from elsewhere that names the service at another place gets nothing.
        stolen = msgspec.structs.replace(kept, address="https://evil.example/")
        self.assertEqual((key_of(kept), key_of(stolen)), ("signs", ""))
        self.assertNotIn("S3CR3T", str(options_of(stolen, SETTINGS)))
        # Dots that were left standing, and empty secrets, change nothing.
        again = keep_secrets(kept, SETTINGS, {"address": kept.address, "headers": "", "key": ""})
        self.assertEqual((again["address"], address_of(kept)), (kept.address, whole))
