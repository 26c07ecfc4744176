"""Asking outside links: a server that answers in every manner that a link can come out."""

import contextlib
import http.server
import socket
import unittest
from typing import Any, ClassVar
from unittest import mock

import httpx

from needle.core.snags.beyond import LinkAnswer
from needle.services import links
from needle.services.links import ask_link, ask_links
from tests.apart import serve_http


class _Manners(http.server.BaseHTTPRequestHandler):
    """Answers as its paths say; counts what is asked."""

    asked: ClassVar[list[tuple[str, str]]] = []

    def _answer(self) -> None:
        self.asked.append((self.command, self.path))
        part, _, rest = self.path[1:].partition("/")
        if part == "no-head":
            self.send_response(200 if self.command == "GET" else 405)
        elif part in ("301", "302", "308"):
            self.send_response(int(part))
            self.send_header("Location", rest if "://" in rest or ":" in rest else f"/{rest}")
        elif part == "cut":
            self.close_connection = True
            return
        else:
            self.send_response(int(part))
        self.send_header("Content-Length", "0")
        self.end_headers()

    def do_GET(self) -> None:
        self._answer()

    def do_HEAD(self) -> None:
        self._answer()

    def log_message(self, *_: Any) -> None:
        """Say nothing."""


class LinksTest(unittest.TestCase):
    def setUp(self) -> None:
        _Manners.asked.clear()
        self.at = serve_http(self, _Manners)
        self.client = self.enterContext(httpx.Client(trust_env=False, timeout=60))

    def ask(self, path: str) -> LinkAnswer:
        return ask_link(self.client, f"{self.at}/{path}")

    def test_how_links_come_out(self) -> None:
        for path, answer in (
                ("200", LinkAnswer(200)), ("404", LinkAnswer(404)), ("410", LinkAnswer(410)),
                ("no-head", LinkAnswer(200)), ("301/200", LinkAnswer(200, f"{self.at}/200")),
                ("308/301/200", LinkAnswer(200, f"{self.at}/200")),
                ("302/200", LinkAnswer(200)), ("302/301/200", LinkAnswer(200)),
                ("301/302/200", LinkAnswer(200, f"{self.at}/302/200")),
                ("301/404", LinkAnswer(404, f"{self.at}/404")),
                ("301/ftp://x.example/", LinkAnswer(301)),
                ("301/mailto:x", LinkAnswer(fault="silent")),
                ("cut", LinkAnswer(fault="silent"))):
            with self.subTest(path):
                self.assertEqual(self.ask(path), answer)

    def test_a_circle_ends(self) -> None:
        self.assertEqual(self.ask("302/" * 40 + "200"), LinkAnswer(fault="silent"))
        self.assertLess(len(_Manners.asked), 10)

    def test_names_and_ports_where_nothing_is(self) -> None:
        self.assertEqual(ask_link(self.client, "http://127.0.0.1:1/").fault, "silent")
        self.assertEqual(ask_link(self.client, "http://nowhere.invalid/").fault, "name")
        self.assertEqual(ask_link(self.client, "http://[half/").fault, "name")

    def test_many_are_asked_at_once_and_stopped(self) -> None:
        told: dict[str, LinkAnswer] = {}
        many = [f"{self.at}/200/{number}" for number in range(60)]
        ask_links(many, lambda address, answer: not told.update({address: answer}))
        self.assertEqual(told, dict.fromkeys(many, LinkAnswer(200)))
        told.clear()
        ask_links(many, lambda address, answer: bool(told.update({address: answer})))
        self.assertEqual(len(told), 1)

    def test_one_that_hangs_is_given_up(self) -> None:
        with contextlib.closing(_silent_listener()) as listener, mock.patch.object(
                links, "_TIMEOUT_S", 0.3):
            told: list[LinkAnswer] = []
            port = listener.getsockname()[1]
            ask_links([f"http://127.0.0.1:{port}/"], lambda _, answer: not told.append(answer))
        self.assertEqual(told, [LinkAnswer(fault="silent")])


def _silent_listener() -> socket.socket:
    """Return a socket that takes connections and never answers."""
    listener = socket.socket()
    listener.bind(("127.0.0.1", 0))
    listener.listen()
    return listener
