"""Faults planted in whole pages: every ready-made page, one after another, in item upon item.

Each is found at its item and setting, speaks of nothing else, and is gone once it is mended.
"""

import unittest
from collections.abc import Callable, Iterator
from typing import Any

import msgspec

from needle.core.edit.nodes import change
from needle.core.kinds.button import Button
from needle.core.kinds.countdown import Countdown
from needle.core.kinds.heading import Heading
from needle.core.kinds.passage import Passage
from needle.core.readymade.templates import TEMPLATES, page_of
from needle.core.site.site import Site
from needle.core.snags.finding import RULES, find_snags
from needle.core.values.actions import Dial, GoAddress, GoSection, Write
from needle.core.values.ids import IdSource
from needle.core.values.node import Node
from needle.core.values.widths import Width
from needle.core.values.words import Run, text
from tests.core.test_snags import clean_site

_replace = msgspec.structs.replace
Plant = Callable[[Any], Node]


def _sized(node: Any, size: int) -> Node:
    return _replace(node, words=(text("word " * 40),),
                    look=node.look.with_value("size", size, Width.PHONE))


# What is planted: the rule, the kind of item it can be planted in, how, and where it is mended.
PLANTS: tuple[tuple[str, type, Plant, str], ...] = (
    ("shouting", Heading, lambda n: _replace(n, words=text("COME UP THE HILL TONIGHT")), ""),
    ("filler-words", Heading, lambda n: _replace(n, words=text("Lorem ipsum dolor")), ""),
    ("claim-without-proof", Passage, lambda n: _replace(
        n, words=(text("Award-winning, and we say so."),)), ""),
    ("mixed-languages", Passage, lambda n: _replace(n, words=(text(
        "Wir sind für Sie da und freuen uns auf die Nacht mit dem Fernrohr."),)), ""),
    ("wall-of-text", Passage, lambda n: _replace(n, words=(text("word " * 130),)), ""),
    ("vague-link", Passage, lambda n: _replace(
        n, words=((Run("See "), Run("here", link="https://x.example")),)), ""),
    ("plain-http", Passage, lambda n: _replace(
        n, words=((Run("See "), Run("the barn", link="http://x.example/a")),)), ""),
    ("small-type", Passage, lambda n: _sized(n, 11), "size"),
    ("vague-button", Button, lambda n: _replace(n, words=text("Click here")), ""),
    ("idle-button", Button, lambda n: _replace(n, actions=()), "actions"),
    ("no-address", Button, lambda n: _replace(n, actions=(GoAddress(""),)), "actions"),
    ("phone-number", Button, lambda n: _replace(n, actions=(Dial("call us"),)), "actions"),
    ("mail-address", Button, lambda n: _replace(n, actions=(Write("desk at hill"),)), "actions"),
    ("dead-click", Button, lambda n: _replace(n, actions=(GoSection("gone"),)), "actions"),
    ("false-urgency", Countdown, lambda n: _replace(n, hours=5), ""),
)

# Not so where a customer's words stand in the same section, or in the small print of a footer.
_EXCUSED = ("claim-without-proof", "small-type")


def _sites() -> Iterator[tuple[str, Site]]:
    """Yield a site for each ready-made page, with that page alone in front of its others."""
    site = clean_site()
    for template in TEMPLATES:
        arrived = page_of(template, site, IdSource(5), framed=False)
        page, whole = arrived.part, arrived.site
        slug = template.key.replace("_", "-")
        yield template.key, _replace(whole, pages=(*whole.pages, _replace(page, slug=slug)))


def _two(site: Site, kind: type) -> list[Node]:
    """Return the first and the last item of a kind on the page that was added."""
    found = [node for node in site.pages[-1].variants[0].nodes() if type(node) is kind]
    return found if len(found) < 3 else [found[0], found[-1]]


class PlantedTest(unittest.TestCase):
    def test_two_hundred_and_more(self) -> None:
        planted = 0
        for name, site in _sites():
            before = set(find_snags(site))
            for rule, kind, plant, setting in PLANTS:
                for node in _two(site, kind):
                    broken = change(site, node.id, plant)
                    if rule in {snag.rule for snag in before if snag.target == node.id}:
                        continue
                    with self.subTest(page=name, rule=rule, node=node.id):
                        found = set(find_snags(broken)) - before
                        own = [snag for snag in found if snag.rule == rule]
                        if rule in _EXCUSED and not own:
                            continue
                        planted += 1
                        self.assertEqual({snag.target for snag in own}, {node.id})
                        if setting:
                            self.assertEqual({snag.setting for snag in own}, {setting})
                        self.assertEqual({snag.target for snag in found if snag.kind == "node"
                                          and RULES[snag.rule].scope == "item"}, {node.id})
                        mended = change(broken, node.id, lambda _, was=node: was)
                        self.assertEqual(set(find_snags(mended)), before)
        self.assertGreater(planted, 400)
