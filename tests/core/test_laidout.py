"""Laid-out pages: what stands where, the structure that follows, the look that is taken."""

import unittest
from typing import Any

import msgspec

from needle.core.kinds.heading import Heading
from needle.core.seeing.archives import read_archive
from needle.core.seeing.building import build_sections
from needle.core.seeing.laidout import LaidOut, node_at, read_laid, told
from needle.core.seeing.laidstructure import laid_structure
from needle.core.seeing.takenlook import taken_look
from needle.core.site.tree import walk
from needle.core.values.ids import IdSource
from needle.core.values.styletable import look_faults
from tests.sites import small_site

_PLAIN: dict[str, Any] = {
    "colour": "#102030", "solid": 1, "fill": "#000000", "filled": 0, "picture": "",
    "face": "IBM Plex Sans, sans-serif", "size": 16, "weight": 400, "slanted": False, "line": 24,
    "spacing": 0, "align": "start", "capitals": "none", "pad": [0, 0, 0, 0],
    "margin": [0, 0, 0, 0], "edge": [0, 0, 0, 0], "edge_colour": "#102030", "radius": 0,
    "shadow": False, "opacity": 1, "display": "block"}
_CARD = {**_PLAIN, "fill": "#ffeecc", "filled": 1, "pad": [20, 24, 20, 24], "radius": 12,
         "edge": [2, 2, 2, 2], "edge_colour": "#884400"}
_TITLE = {**_PLAIN, "size": 40, "weight": 700, "line": 46, "spacing": -0.8, "align": "center"}
_LOOKS = [_PLAIN, _CARD, _TITLE, {**_PLAIN, "fill": "#000000", "filled": 0.5}]


def node(tag: str, up: int, rect: list[float], look: int = 0, words: str = "",
         **more: Any) -> dict[str, Any]:
    inked: dict[str, Any] = {"words": words, "ink": rect, "lines": 1, "first": rect[1],
                             "last": rect[1]} if words else {}
    return {"tag": tag, "up": up, "rect": rect, "look": look, **inked, **more}


def a_page(*nodes: dict[str, Any]) -> LaidOut:
    return read_laid({"width": 1000, "height": 2600, "shown": 2600, "nodes": list(nodes),
                      "looks": _LOOKS, "left_out": 0})


SAID = a_page(
    node("body", -1, [0, 0, 1000, 900]), node("header", 0, [0, 0, 1000, 80]),
    node("p", 1, [20, 20, 300, 44], words="A name"),
    node("section", 0, [0, 80, 1000, 500]),
    node("h1", 3, [100, 120, 900, 166], 2, "What it is about", level=1),
    node("div", 3, [100, 200, 500, 400], 1), node("p", 5, [126, 222, 474, 246], words="In a card"),
    node("img", 3, [560, 200, 900, 400], shows=True),
    node("footer", 0, [0, 500, 1000, 900]), node("p", 8, [20, 540, 300, 564], 0, "At the foot"))


class LaidOutTest(unittest.TestCase):
    def test_the_innermost_element_at_a_place_is_told_in_the_words_of_css(self) -> None:
        place = node_at(SAID, 200, 230)
        assert place is not None
        self.assertEqual(SAID.nodes[place].words, "In a card")
        lines = dict(told(SAID, 5))
        self.assertEqual((lines["width"], lines["height"]), ("400 px", "200 px"))
        self.assertEqual(lines["padding"], "20 px, 24 px")
        self.assertEqual(lines["border"], "2 px #884400")
        self.assertEqual((lines["on"], dict(told(SAID, 6))["on"]), ("#ffeecc", "#ffeecc"))
        self.assertEqual(dict(told(SAID, 4))["letter-spacing"], "-0.8 px")
        self.assertIsNone(node_at(SAID, 5000, 10))

    def test_half_clear_grounds_are_laid_over_each_other(self) -> None:
        page = a_page(node("body", -1, [0, 0, 1000, 900]), node("p", 0, [0, 0, 9, 9], 3, "x"))
        self.assertEqual(page.ground(1), "#808080")

    def test_what_an_engine_may_not_say_is_refused(self) -> None:
        good = msgspec.to_builtins(SAID)
        for change in ({"width": "wide"}, {"nodes": [node("p", 0, [0, 0, 9, 9])]},
                       {"nodes": [node("p", -1, [0, 0, 9, 9], 7)]}, {"more": 1},
                       {"looks": [{**_PLAIN, "colour": "red"}]},
                       {"nodes": [node("p", -1, [0, 0, 9])]}):
            with self.assertRaises(ValueError):
                read_laid({**good, **change})
        self.assertEqual(read_laid(msgspec.json.encode(SAID)), SAID)

    def test_sections_boxes_pictures_and_texts_are_exact(self) -> None:
        found = laid_structure(SAID)
        self.assertEqual([(band.rect.top, band.rect.bottom) for band in found.bands],
                         [(0, 80), (80, 500), (500, 900)])
        middle = found.bands[1]
        self.assertEqual([text.words for text in middle.texts], ["What it is about"])
        self.assertEqual((middle.texts[0].size, middle.texts[0].colour), (40, "#102030"))
        self.assertEqual((middle.boxes[0].fill, middle.boxes[0].edge, middle.boxes[0].radius),
                         ("#ffeecc", "#884400", 12))
        self.assertEqual([text.words for text in middle.boxes[0].texts], ["In a card"])
        self.assertEqual(middle.pictures[0].width, 340)

    def test_what_stands_beside_a_high_part_does_not_hide_its_sections(self) -> None:
        heads = [node("h2", 2, [300, top, 990, top + 40], 2, f"Part {top}", level=2)
                 for top in (0, 900, 1800)]
        page = a_page(node("body", -1, [0, 0, 1000, 2600]), node("nav", 0, [0, 0, 200, 2600]),
                      node("main", 0, [300, 0, 990, 2600]), node("p", 1, [0, 9, 99, 30], 0, "Way"),
                      *heads)
        tops = [band.texts[0].words for band in laid_structure(page).bands]
        self.assertEqual(sorted(tops), ["Part 0", "Part 1800", "Part 900", "Way"])

    def test_words_are_taken_over_only_when_asked(self) -> None:
        site, bands = small_site(), laid_structure(SAID).bands
        for asked in (False, True):
            sections = build_sections(bands, site, IdSource(1), lambda rect, _: "", asked)
            said = [str(one.words) for section in sections for one in walk(section)
                    if isinstance(one, Heading)]
            self.assertEqual(any("What it is about" in words for words in said), asked)

    def test_a_look_comes_in_the_words_and_limits_of_the_style_table(self) -> None:
        site = small_site()
        title = taken_look(SAID, 4, site.brand, site).base
        self.assertEqual((title["size"], title["weight"], title["line_height"], title["align"]),
                         (40, 700, 1.15, "center"))
        self.assertEqual(title["spacing"], -0.02)
        card = taken_look(SAID, 5, site.brand, site).base
        self.assertEqual((card["pad_left"], card["radius"], card["edge"], card["edge_colour"],
                          card["fill"]), (24, 12, 2, "#884400", "#ffeecc"))
        self.assertNotIn("face", taken_look(a_page(node("p", -1, [0, 0, 9, 9])), 0, site.brand,
                                            site).base if site.brand.body_face != "IBM Plex Sans"
                         else {})
        vast = read_laid({**msgspec.to_builtins(SAID), "looks": [
            {**_PLAIN, "size": 900, "spacing": 4000, "pad": [9000, 0, 0, 0]}] * 4})
        self.assertEqual(look_faults(taken_look(vast, 0, site.brand, site)), [])


_ARCHIVE = b"""From: <Saved>
MIME-Version: 1.0
Content-Type: multipart/related; type="text/html"; boundary="--b"

----b
Content-Type: text/html; charset=utf-8
Content-Transfer-Encoding: quoted-printable
Content-Location: https://hill.example/a

<link href=3D"https://hill.example/s.css?a=3D1&amp;b=3D2" rel=3Dstylesheet><img src=3D"cid:pic@x">
<script src=3D"https://hill.example/x.js"></script><p>See https://hill.example/s.css here.
----b
Content-Type: text/css
Content-Location: https://hill.example/s.css?a=1&b=2

@import "more.css"; p { background: url(https://hill.example/g.png) }
----b
Content-Type: text/css
Content-Location: https://hill.example/more.css

p { color: red }
----b
Content-Type: image/png
Content-Transfer-Encoding: base64
Content-ID: <pic@x>
Content-Location: https://hill.example/g.png

iVBORw0KGgo=
----b
Content-Type: text/javascript
Content-Location: https://hill.example/x.js

alert(1)
----b--
"""


class ArchiveTest(unittest.TestCase):
    def test_references_become_names_of_parts_and_no_script_comes_along(self) -> None:
        archive = read_archive(_ARCHIVE)
        assert archive is not None
        self.assertEqual({kind for kind, _ in archive.parts.values()}, {"text/css", "image/png"})
        names = {kind: name for name, (kind, _) in reversed(archive.parts.items())}
        self.assertIn(b'@import "part2"', archive.parts[names["text/css"]][1])
        self.assertIn(f'href="{names["text/css"]}"'.encode(), archive.html)
        self.assertIn(f'src="{names["image/png"]}"'.encode(), archive.html)
        self.assertIn(b"https://hill.example/x.js", archive.html)
        self.assertIn(names["image/png"].encode(), archive.parts[names["text/css"]][1])
        self.assertEqual(archive.kind, "text/html; charset=utf-8")

    def test_what_is_no_archive_is_none(self) -> None:
        for data in (b"", b"<p>Plain", b"\xff\xfe\x00", b"Content-Type: multipart/related\n\nx",
                     _ARCHIVE.replace(b"text/html; charset", b"text/none; charset")):
            self.assertIsNone(read_archive(data))
