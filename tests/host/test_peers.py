"""Real peers: a CardDAV server that is not ours, and a signature checked by another program."""

import http.server
import socket
import subprocess
import sys
import tempfile
import threading
import unittest
from email.message import Message
from pathlib import Path

import httpx

from needle.services.adapter import Access, Parcel, ServiceError
from needle.services.contacts import AddressBooks
from needle.services.hooks import WebHook
from tests.host.stall import wait_for

_BOOK = ('<?xml version="1.0"?><mkcol xmlns="DAV:" xmlns:C="urn:ietf:params:xml:ns:carddav"><set>'
         "<prop><resourcetype><collection/><C:addressbook/></resourcetype>"
         "<displayname>Guests</displayname></prop></set></mkcol>")


def free_port() -> int:
    with socket.socket() as probe:
        probe.bind(("127.0.0.1", 0))
        return int(probe.getsockname()[1])


class AddressBookServerTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        place, port = Path(folder.name), free_port()
        (place / "users").write_text("desk:secret\n")
        server = subprocess.Popen(
            [sys.executable, "-m", "radicale", "--server-hosts", f"127.0.0.1:{port}",
             "--storage-filesystem-folder", str(place / "books"), "--auth-type", "htpasswd",
             "--auth-htpasswd-filename", str(place / "users"),
             "--auth-htpasswd-encryption", "plain"],
            stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
        self.addCleanup(server.wait)
        self.addCleanup(server.terminate)
        self.url = f"http://127.0.0.1:{port}/desk/"
        self.assertTrue(wait_for(self.answers))
        self.request("MKCOL", content=_BOOK)

    def answers(self) -> bool:
        try:
            return self.request("OPTIONS").status_code < 500
        except httpx.HTTPError:
            return False

    def request(self, method: str, **more: str) -> httpx.Response:
        return httpx.request(method, f"{self.url}guests/", auth=("desk", "secret"),
                             trust_env=False, **more)  # type: ignore[arg-type]

    def test_contacts_arrive_change_and_go_again(self) -> None:
        book = AddressBooks(Access("Book", self.url, "secret", {"user": "desk"}))
        self.assertEqual(dict(book.targets()), {"/desk/guests/": "Guests"})
        for email, words in (("ro@mail.example", "added"), ("ilse@mail.example", "added"),
                             ("ro@mail.example", "updated")):
            said = book.deliver(Parcel("k", "/desk/guests/", {
                "EMAIL": email, "FN": "Ro Ünterwald", "NOTE": "a\nb, c; d"}))
            self.assertEqual(said.words, f"Book {words}")
        held = self.request("GET").text
        self.assertEqual((held.count("BEGIN:VCARD"), "Ünterwald" in held), (2, True))
        book.remove(Parcel("k", "/desk/guests/", {"EMAIL": "ro@mail.example"}))
        self.assertEqual(self.request("GET").text.count("BEGIN:VCARD"), 1)
        with self.assertRaisesRegex(ServiceError, "refused the key"):
            AddressBooks(Access("Book", self.url, "wrong", {"user": "desk"})).targets()


class SignatureTest(unittest.TestCase):
    def test_openssl_makes_the_same_signature(self) -> None:
        taken: list[tuple[Message, bytes]] = []

        class Hook(http.server.BaseHTTPRequestHandler):
            def do_POST(self) -> None:
                taken.append((self.headers, self.rfile.read(int(self.headers["content-length"]))))
                self.send_response(204)
                self.end_headers()

            def log_message(self, *_: object) -> None:
                return

        server = http.server.HTTPServer(("127.0.0.1", 0), Hook)
        thread = threading.Thread(target=server.serve_forever)
        thread.start()
        self.addCleanup(thread.join)
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        WebHook(Access("Hook", f"http://127.0.0.1:{server.server_port}/x", "secret")).deliver(
            Parcel("k1", values={"Näme": "Zoë"}))
        ((headers, body),) = taken
        told = dict(part.split("=") for part in headers["x-signature"].split(","))
        with tempfile.NamedTemporaryFile() as file:
            file.write(f"{told['t']}.".encode() + body)
            file.flush()
            said = subprocess.run(["openssl", "dgst", "-sha256", "-hmac", "secret", file.name],
                                  capture_output=True, text=True, check=True).stdout
        self.assertEqual(said.split()[-1], told["v1"])
        self.assertEqual(headers["idempotency-key"], "k1")
