"""A page that somebody else wrote by hand, read in as it is pasted: what is said of it is true."""

import unittest

from needle.core.edit.nodes import delete, insert
from needle.core.kinds.heading import Heading
from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.core.snags.finding import find_snags
from needle.core.wording.pasted import items_from_html
from tests.core.test_snags import clean_site
from tests.sites import PAGE

FAULTY = """<!DOCTYPE html PUBLIC "-//W3C//DTD HTML 4.01//EN"><html><head><title>Boats</title>
<style>h1 {color: red}</style></head><body bgcolor=white>
<center><h1>Boats for hire on the long lake</h1></center>
<p>Row out before breakfast and <b>have the water to yourself</b>. <a href="http://boats.example/map">
The map of the lake</a> shows every landing.
<h4>What a morning costs</h4>
<table><tr><td>Two hours cost nineteen pounds, with two life jackets.</td></tr></table>
<p>For the prices of a whole day <A HREF='https://boats.example/day'>click here</A>.
<h2>CALL US BEFORE YOU COME</h2>
<p>Lorem ipsum dolor sit amet, consectetur adipiscing elit.
<h1>Boats for hire in autumn</h1>
<p>""" + "The lake is quiet then and the mornings are cold and clear. " * 12 + """
<p>Wir sind für Sie da und freuen uns auf einen Morgen mit Ihnen auf dem Wasser.
<p>We are the best boat hire in the country, and everybody says so.
<script>alert("never")</script></body></html>"""

# What a careful reader finds: the rule, and words of the place.
FOUND = {("plain-http", "The map of the lake"), ("heading-order", "What a morning costs"),
         ("vague-link", "click here"), ("shouting", "CALL US"), ("filler-words", "Lorem ipsum"),
         ("wall-of-text", "The lake is quiet"),
         ("mixed-languages", "Wir sind"), ("claim-without-proof", "the best boat hire")}

SOUND = """<h1>Boats for hire on the long lake</h1>
<p>Row out before breakfast and have the water to yourself. <a href="https://boats.example/map">The
map of the lake</a> shows every landing.</p>
<h2>What a morning costs</h2><ul><li>Two hours: nineteen pounds</li><li>A whole day: forty</li></ul>
<h2>Before you come</h2><p>NASA says that the moon is full on Friday, so bring a light.</p>
<p>At the Café du Nord, five minutes away, there is breakfast from seven.</p>"""


def read_in(html: str) -> Site:
    """Return the sound site with a page pasted under its main heading, as in Build."""
    site, before = clean_site(), "text1"
    for item in items_from_html(html):
        site = insert(site, item, before, "after")
        before = item.id
    return delete(site, "text1")


class HandMadeTest(unittest.TestCase):
    def said(self, html: str) -> set[tuple[str, str]]:
        """Return what is said of items: the rule, and the words of the item."""
        site = read_in(html)
        page = site.page(PAGE)
        assert page is not None
        words = {node.id: " ".join(plain_lines(node)) for node in page.variants[0].nodes()}
        self.assertTrue(any(isinstance(node, Heading) for node in page.variants[0].nodes()))
        return {(snag.rule, words.get(snag.target, snag.where)) for snag in find_snags(site)}

    def test_every_fault_is_found_at_its_place_and_nothing_else_is_said(self) -> None:
        said = self.said(FAULTY)
        for rule, words in FOUND:
            with self.subTest(rule):
                self.assertEqual(len([one for one in said if one[0] == rule]), 1)
                self.assertTrue([one for one in said if one[0] == rule and words in one[1]])
        self.assertEqual({rule for rule, _ in said}, {rule for rule, _ in FOUND})

    def test_of_a_sound_page_nothing_is_said(self) -> None:
        self.assertEqual(self.said(SOUND), set())
