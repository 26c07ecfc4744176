"""Drawings that would fetch, pictures that are too much, and pasted words without end."""

import io
import time
import unittest

import tinycss2
from hypothesis import given, settings
from hypothesis import strategies as st
from lxml import etree
from PIL import Image

from needle.core.images.picturefile import PictureError, take_in
from needle.core.images.vector import clean_svg
from needle.core.wording.pasted import items_from_html, items_from_words

_HEAD = '<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 9 9">'
STYLES = (
    "<style>a{{}}<title/>@import '{0}';</style>",
    "<style>@import url({0});</style>",
    "<style>@\\69mport '{0}';</style>",
    "<style>rect{{fill:image-set('{0}' 1x)}}</style>",
    "<style>rect{{fill:-webkit-image-set(url({0}) 1x)}}</style>",
    "<style>rect{{background:u\\72l({0})}}</style>",
    "<style>rect{{fill:url({0}</style>",
    "<style>@font-face{{font-family:x;src:url({0})}}</style>",
    "<style>rect{{fill:cross-fade(url({0}),red)}}</style>",
    "<style>@media all{{rect{{fill:url({0})}}}}</style>",
    "<style>rect{{--x:url({0});fill:var(--x)}}</style>",
    '<rect style="fill:u\\72l({0})"/>', '<rect style="fill:url({0}"/>',
    '<rect fill="u\\72l({0})"/>', '<rect fill="url({0}"/>', '<rect fill=" URL( {0})"/>',
    '<rect filter="url(&#10;\'{0}\')"/>', '<rect mask="image({0})"/>',
    '<image href="{0}"/>', '<use href="{0}#x"/>', '<a href="{0}"><rect/></a>',
    '<animate attributeName="href" to="{0}"/>', '<script href="{0}"/>',
)
TARGET = "https://evil.example/p"


def _all(tokens):  # type: ignore[no-untyped-def]
    for token in tokens:
        yield token
        yield from _all(getattr(token, "content", None) or getattr(token, "arguments", None) or ())


class DrawingTest(unittest.TestCase):
    def test_nothing_in_a_cleaned_drawing_leads_outside(self) -> None:
        for pattern in STYLES:
            with self.subTest(pattern):
                clean, _, _ = clean_svg((_HEAD + pattern.format(TARGET) + "</svg>").encode(), "x")
                self.assertNotIn(b"evil", clean)
                self.assertNotIn(b"import", clean)

    def test_what_is_kept_can_be_read_again_whatever_its_names_are(self) -> None:
        for name in ("wid\ufeffth", "\u00e9t\u00e9", "x\u0301"):
            clean, _, _ = clean_svg(f'{_HEAD}<rect {name}="9" id="\u00e9"/></svg>'.encode(), "x")
            self.assertEqual(list(etree.fromstring(clean)[0].attrib), ["id"])

    def test_sound_looks_stay(self) -> None:
        sound = (_HEAD + "<style>.a{fill:#123456;stroke:url(#g)}</style><defs><linearGradient "
                 'id="g"/></defs><rect class="a" style="opacity:.5;fill:url(\'#g\')" '
                 'fill="rgb(1,2,3)" transform="translate(1 2)"/></svg>')
        clean, _, _ = clean_svg(sound.encode(), "x")
        for words in (b"fill:#123456", b"stroke:url(#g)", b"opacity:.5", b'fill="rgb(1,2,3)"',
                      b"translate(1 2)", b'"a"'):
            self.assertIn(words, clean)

    @settings(max_examples=150, deadline=None)
    @given(st.text(alphabet="url(){};:'\"\\@import -/*#<>&\n " + "ars", max_size=60))
    def test_whatever_stands_in_a_style_is_read_as_css_or_left_out(self, words: str) -> None:
        root = etree.Element("{http://www.w3.org/2000/svg}svg", nsmap={
            None: "http://www.w3.org/2000/svg"})
        style = etree.SubElement(root, "{http://www.w3.org/2000/svg}style")
        style.text = f"rect{{fill:{words}}} {words} @import '{TARGET}'; x{{fill:url({TARGET})}}"
        clean, _, _ = clean_svg(etree.tostring(root), "x")
        kept = "".join(etree.fromstring(clean).itertext())
        rules = tinycss2.parse_stylesheet(kept)
        self.assertEqual([rule for rule in rules if rule.type == "at-rule"], [])
        tokens = tinycss2.parse_component_value_list(kept)
        self.assertEqual([token for token in _all(tokens) if token.type == "url"
                          and not token.value.startswith("#")], [])


class TooMuchTest(unittest.TestCase):
    def test_more_pixels_than_a_camera_takes_are_refused_before_they_are_read(self) -> None:
        out = io.BytesIO()
        Image.new("1", (11_000, 7_000)).save(out, "PNG")
        with self.assertRaisesRegex(PictureError, "too large"):
            take_in(out.getvalue(), "wide.png")

    def test_pasted_words_without_end_are_cut(self) -> None:
        for html in ("<div>" * 400_000, "<b>x</b>" * 250_000, "<p>a</p>" * 250_000,
                     "<ul><li>a" * 200_000, "<" * 1_000_000, "&" * 1_000_000):
            with self.subTest(html[:9]):
                began = time.process_time()
                items = items_from_html(html)
                lines = sum(len(getattr(item, "words", ())) for item in items)
                self.assertLessEqual(lines, 3_000)
                self.assertLess(time.process_time() - began, 10)
        self.assertLessEqual(len(items_from_words("a\n" * 900_000)[0].words), 3_000)
