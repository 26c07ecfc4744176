"""Going over every node at once."""

import unittest

import msgspec

from needle.core.edit.everywhere import map_nodes, nodes_of, ways
from needle.core.edit.linked import keep_section
from needle.core.edit.nodes import insert
from needle.core.kinds.heading import Heading
from needle.core.kinds.picture import Picture
from needle.core.kinds.team import Member, Team
from needle.core.render.reads import media_of
from needle.core.values.actions import GiveFile, GoAddress
from needle.core.values.node import Node
from needle.core.values.words import text
from tests.sites import small_site


class EverywhereTest(unittest.TestCase):
    def test_nothing_changed_is_the_same_site(self) -> None:
        site = small_site()
        self.assertIs(map_nodes(site, lambda node: node), site)

    def test_every_heading_is_reached_kept_sections_and_popups_too(self) -> None:
        site = small_site()
        site, _ = keep_section(site, site.pages[0].variants[0].children[0].id, "Mine", False)

        def louder(node: Node) -> Node:
            return msgspec.structs.replace(node, words=text("X")) if isinstance(
                node, Heading) else node

        changed = map_nodes(site, louder)
        said = [node.words for _, node in nodes_of(changed) if isinstance(node, Heading)]
        self.assertEqual(said, [text("X")] * 5)
        self.assertIsNot(changed.pages, site.pages)

    def test_what_was_not_touched_is_shared(self) -> None:
        site = small_site()
        changed = map_nodes(site, lambda node: msgspec.structs.replace(node, name="n")
                            if node.id == "head1" else node)
        old, new = (s.pages[0].variants[0].children for s in (site, changed))
        self.assertIsNot(new[0], old[0])
        self.assertIs(new[1], old[1])
        self.assertIs(changed.pages[1], site.pages[1])

    def test_media_are_found_in_fields_entries_and_clicks(self) -> None:
        shown = Picture(id="p", medium="m1", actions=(GoAddress("x"), GiveFile("m2")))
        self.assertEqual(list(media_of(shown)), [("medium", "m1"), ("actions.1.file", "m2")])
        people = Team(id="t", entries=(
            Member(name=text("A"), role=text("B")),
            Member(name=text("C"), role=text("D"), medium="m3")))
        self.assertEqual(dict(media_of(people)),
                         {"entries.0.medium": "", "entries.1.medium": "m3"})

    def test_the_way_to_each_node_begins_at_its_top(self) -> None:
        site = insert(small_site(), Picture(id="p"), "head1", "after")
        paths = {path[-1].id: path for _, _, path in ways(site)}
        self.assertEqual([type(node).__name__ for node in paths["p"]],
                         ["Section", "Row", "Column", "Picture"])
        self.assertEqual(type(paths["pophead"][0]).__name__, "Popup")
