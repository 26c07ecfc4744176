import time
import unittest

from hypothesis import given, settings
from hypothesis import strategies as st

from needle.core.edit.nodes import set_words
from needle.core.edit.place import EditError, find, node_at
from needle.core.kinds.heading import Heading
from needle.core.kinds.listing import Listing
from needle.core.kinds.passage import Passage
from needle.core.render.texts import plain_lines, read_lines
from needle.core.values.words import Run, plain, text, tidy
from needle.core.wording.finding import (
    Search,
    find_hits,
    reading_minutes,
    replace_hits,
    word_count,
)
from needle.core.wording.markdown import markdown_of, read_markdown
from needle.core.wording.pasted import items_from_html, items_from_words
from tests.sites import PAGE, small_site

OFFICE = """<html xmlns:o="urn:schemas"><head><style>p.MsoNormal{mso-style:x}</style></head><body>
<!--StartFragment--><h1 style="color:red">A <b>big</b> day</h1><p class=MsoNormal><span
style='font:11pt Calibri'>One<o:p></o:p></span> <i>and</i>
<a href="javascript:alert(1)">two</a> <a href="https://a.example/x">three</a></p>
<ul><li><p>first</p></li><li>second<ul><li>inner</li></ul></li></ul><ol><li>one</li></ol>
<script>alert("no")</script><svg><text>no</text></svg><img src=x onerror="no()">
<table><tr><td>cell</td></tr></table><!--EndFragment--></body></html>"""


class PastedTest(unittest.TestCase):
    def test_headings_lists_links_and_emphasis_come_and_nothing_else(self) -> None:
        heading, passage, dots, numbers, cell = items_from_html(OFFICE)
        self.assertEqual((type(heading), plain(heading.words)), (Heading, "A big day"))
        self.assertTrue(heading.words[1].strong)
        self.assertEqual(plain(passage.words[0]), "One and two three")
        self.assertEqual([r.link for r in passage.words[0] if r.link], ["https://a.example/x"])
        self.assertEqual([plain(line) for line in dots.words], ["first", "second", "inner"])
        self.assertEqual((type(numbers), numbers.mark), (Listing, "number"))
        self.assertEqual(plain_lines(cell), ["cell"])
        self.assertNotRegex(str([heading, passage, dots, numbers, cell]), "alert|Calibri|onerror")

    def test_hostile_markup_of_any_size_is_read_in_time(self) -> None:
        started = time.process_time()
        for evil in ("<div>" * 40_000 + "x", "<p>a" * 60_000, "<" * 100_000, "<a href=" * 20_000,
                     "<!--" + "-" * 100_000, "<li><ul>" * 20_000, "\0\ud800<b>x"):
            items = items_from_html(evil)
            self.assertLess(len(items), 70_000)
        self.assertLess(time.process_time() - started, 30)

    @settings(max_examples=60, deadline=None)
    @given(st.text(alphabet="<>/bipulhdsct123 =\"'&;-!", max_size=120))
    def test_no_markup_breaks_it(self, html: str) -> None:
        for item in items_from_html(html):
            self.assertTrue(any(line.strip() for line in plain_lines(item)))

    def test_plain_words_are_paragraphs(self) -> None:
        [item] = items_from_words("One\r\n\r\n  Two   three \n")
        self.assertIsInstance(item, Passage)
        self.assertEqual(plain_lines(item), ["One", "Two three"])
        self.assertEqual(items_from_words(" \n "), [])


class MarkdownTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = small_site()
        self.page = self.site.page(PAGE)

    def out(self, site) -> str:
        page = site.page(PAGE)
        return markdown_of(page, page.variants[0])

    def test_out_and_in_again_is_the_very_same(self) -> None:
        read = read_markdown(self.site, self.out(self.site))
        self.assertIs(read.site, self.site)
        self.assertEqual((read.changed, read.unknown), (0, ()))

    def test_changed_words_find_their_text_by_its_id(self) -> None:
        words = self.out(self.site).replace("# Old words", "# *New* [words](page:thanks)")
        words = words.replace("- One\n- Two", "- One\n- **Two**\n- Three")
        read = read_markdown(self.site, words)
        self.assertEqual(read.changed, 2)
        heading = node_at(read.site, find(read.site, "head1"))
        self.assertEqual(heading.words, (Run("New", emphasis=True), Run(" "),
                                         Run("words", link="page:thanks")))
        self.assertEqual([plain(line) for line in node_at(
            read.site, find(read.site, "list1")).words], ["One", "Two", "Three"])

    @settings(max_examples=120, deadline=None)
    @given(st.lists(st.tuples(st.text("ab *_[]()\\#-1.<>!`\n&=+~", min_size=1, max_size=12),
                              st.booleans(), st.booleans()), min_size=1, max_size=3))
    def test_any_words_come_back(self, parts: list) -> None:
        """Words with every sign that means something in Markdown are themselves again."""
        runs = tidy(Run(words.strip() or "x", strong=s, emphasis=e) for words, s, e in parts)
        site = set_words(self.site, "text1", (runs,))
        written = self.out(site)
        blank = set_words(self.site, "text1", (text("something else"),))
        back = read_markdown(blank, written).site
        lines = read_lines(node_at(back, find(back, "text1")), "words")
        squeezed = " ".join(" ".join(plain(line) for line in lines).split())
        self.assertEqual(squeezed, " ".join(plain(runs).split()))

    def test_a_text_that_is_gone_is_told_and_others_are_taken(self) -> None:
        words = self.out(self.site).replace("needle head1 words", "needle gone1 words")
        words = words.replace("Keep me a place", "Come up")
        read = read_markdown(self.site, words)
        self.assertEqual((read.changed, read.unknown), (1, ("gone1",)))

    def test_a_file_without_marks_is_refused(self) -> None:
        with self.assertRaisesRegex(EditError, "marks no texts"):
            read_markdown(self.site, "# Just a heading")


class FindTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = set_words(small_site(), "text1", (
            (Run("Dark "), Run("dark", strong=True), Run(" darkness")), text("So dark.")))

    def places(self, **how) -> list:
        return find_hits(self.site.pages, Search("dark", **how))

    def test_by_case_and_whole_words(self) -> None:
        self.assertEqual([len(self.places()), len(self.places(case=True)),
                          len(self.places(whole=True))], [4, 3, 3])
        self.assertEqual(find_hits(self.site.pages, Search("")), [])

    def test_replaced_words_keep_the_marks_of_what_they_replace(self) -> None:
        search = Search("dark", whole=True)
        site, count = replace_hits(self.site, find_hits(self.site.pages, search), search, "clear")
        node = node_at(site, find(site, "text1"))
        self.assertEqual(count, 3)
        self.assertEqual(plain_lines(node), ["clear clear darkness", "So clear."])
        self.assertEqual([r.words for r in node.words[0] if r.strong], ["clear"])

    def test_one_alone_and_a_place_that_is_gone(self) -> None:
        hits = self.places()
        site, count = replace_hits(self.site, [hits[2]], Search("dark"), "light")
        self.assertEqual((plain_lines(node_at(site, find(site, "text1")))[0], count),
                         ("Dark dark lightness", 1))
        again, none = replace_hits(site, [hits[2]], Search("dark"), "light")
        self.assertEqual((again, none), (site, 0))

    def test_signs_that_mean_something_elsewhere_are_just_signs(self) -> None:
        site = set_words(self.site, "text1", (text("a.b (c) \\1 $"),))
        search = Search("(c) \\1")
        after, _ = replace_hits(site, find_hits(site.pages, search), search, "\\2 [x]")
        self.assertEqual(plain_lines(node_at(after, find(after, "text1"))), ["a.b \\2 [x] $"])

    def test_counts(self) -> None:
        self.assertEqual(word_count([Heading(id="x", words=text("one two  three"))]), 3)
        self.assertEqual([reading_minutes(n) for n in (0, 1, 238, 2380)], [0, 1, 1, 10])
