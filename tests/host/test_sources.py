"""Where a visit came from, and on whose page a form stood."""

import unittest

from needle.host.visitors import outside_of, source_of

_HOST = "www.hill.example"


class SourceTest(unittest.TestCase):
    def test_campaign_words_come_first_then_who_linked(self) -> None:
        there = "https://news.example/a?b"
        for query, referrer, told in (
                ("?utm_source=card&utm_campaign=autumn", there, ("card", "autumn")),
                ("utm_campaign=autumn", there, ("news.example", "autumn")),
                ("", there, ("news.example", "")), ("", "", ("direct", "")),
                ("", "".join(("https://", _HOST, "/")), ("direct", "")),
                ("", "not an address", ("direct", "")), ("", "https://[", ("direct", "")),
                (f"utm_source={'x' * 300}", "", ("x" * 120, ""))):
            with self.subTest(query=query[:40], referrer=referrer):
                self.assertEqual(source_of(query, referrer, "".join(("www.", "hill.example"))),
                                 told)

    def test_only_an_address_of_the_web_is_an_outside_page(self) -> None:
        self.assertEqual(outside_of("?_at=https%3A%2F%2Fshop.example%2Flamps&x=1"),
                         "https://shop.example/lamps")
        self.assertEqual(len(outside_of("_at=https://shop.example/" + "x" * 900)), 400)
        for wrong in ("", "?at=https://shop.example", "?_at=javascript:alert(1)", "?_at=https://",
                      "?_at=//shop.example"):
            self.assertEqual(outside_of(wrong), "", wrong)
