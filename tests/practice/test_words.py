"""The endpoint for words: the client against the practice one, with each of its faults."""

import tempfile
import unittest
from pathlib import Path
from unittest import mock

import httpx

from needle.core.draft.copy import Wish, WriterError
from needle.core.draft.slots import Slots
from needle.core.draft.writing import OfflineWriter
from needle.core.values.brief import Brief
from needle.practice.words import WORD_FAULTS
from needle.running.children import Child
from needle.services.words import ChatWriter

WISH = Wish(Slots(idea="A bakery in Grindle", what="bakery", offer="place", place="in Grindle"),
            Brief(call_to_action="Ring the bell"))


class WordsEndpointTest(unittest.TestCase):
    def setUp(self) -> None:
        held = tempfile.TemporaryDirectory()
        self.addCleanup(held.cleanup)
        self.child = Child("needle.practice.words", [held.name])
        self.addCleanup(self.child.stop)
        self.url = str(self.child.facts["url"])
        import json
        self.key = json.loads((Path(held.name) / "address.json").read_bytes())["key"]

    def writer(self, key: str = "", timeout_s: float = 5) -> ChatWriter:
        return ChatWriter(self.url, key or self.key, "practice", OfflineWriter(), timeout_s)

    def test_words_come_through_the_protocol(self) -> None:
        copy = self.writer().write(WISH)
        self.assertEqual(copy.headlines[0], "A bakery in Grindle")
        self.assertEqual(copy.call, "Ring the bell")
        self.assertEqual(self.writer().write(WISH), copy)
        with_path = ChatWriter(f"{self.url}/chat/completions", self.key, "", OfflineWriter())
        self.assertEqual(with_path.write(WISH), copy)

    def test_every_fault_is_told_in_words(self) -> None:
        told = {"down": "answered 503", "slow": "did not answer within", "key": "refuses the key",
                "quota": "asks to wait", "nonsense": "not chat completions",
                "cut": "did not keep to the shape", "refuses": "refuses to write this: This"}
        self.assertEqual(set(told) | {"none", "invents"}, set(WORD_FAULTS))
        base = self.url.removesuffix("/v1")
        for fault, words in told.items():
            httpx.post(f"{base}/practice/fault", json={"fault": fault}, trust_env=False, timeout=60)
            with self.subTest(fault), self.assertRaisesRegex(WriterError, words):
                self.writer(timeout_s=0.6).write(WISH)
        with self.assertRaisesRegex(WriterError, "begins with https"):
            ChatWriter("ftp://x", "", "", OfflineWriter()).write(WISH)
        with self.assertRaisesRegex(WriterError, "cannot be reached"):
            ChatWriter("http://127.0.0.1:9", "", "", OfflineWriter()).write(WISH)

    def test_a_number_that_nobody_told_is_left_out_and_the_rest_stays(self) -> None:
        base = self.url.removesuffix("/v1")
        httpx.post(f"{base}/practice/fault", json={"fault": "invents"}, trust_env=False, timeout=60)
        writer = self.writer()
        copy = writer.write(WISH)
        self.assertEqual(copy.headlines, ("What was told",))
        self.assertEqual(copy.facts, OfflineWriter().write(WISH).facts)
        self.assertRegex(writer.spent, r"^\d+ tokens$")

    def test_answers_of_the_wrong_shape_are_refused(self) -> None:
        for content, told in (('{"names": 7}', "shape"), ("[1, 2]", "shape"), ("", "without"),
                              ("<b>no</b>", "shape"), (7, "without"), ("[" * 90_000, "shape")):
            answer = httpx.Response(200, json={"choices": [{"message": {"content": content}}]})
            with self.subTest(str(content)[:8]), mock.patch.object(
                    httpx, "post", return_value=answer), self.assertRaisesRegex(WriterError, told):
                self.writer().write(WISH)
