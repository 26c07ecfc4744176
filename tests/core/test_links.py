import unittest

import msgspec

from needle.core.edit.changes import as_sent, changes_since
from needle.core.edit.linked import (
    drop_kept,
    fitted,
    follow_links,
    keep_section,
    linked_uses,
    rename_kept,
    unlink,
    update_kept,
    use_kept,
)
from needle.core.edit.looks import set_look
from needle.core.edit.nodes import add_top, delete, duplicate, insert, set_words
from needle.core.edit.pages import add_page
from needle.core.edit.place import EditError, find, node_at
from needle.core.kinds.heading import Heading
from needle.core.render.texts import plain_lines
from needle.core.site.site import Site
from needle.core.site.tree import Section, walk
from needle.core.values.actions import OpenPopup
from needle.core.values.words import text
from tests.sites import PAGE, small_site


def nine_pages() -> tuple[Site, str]:
    """A site of nine pages, each with the same linked section at its end."""
    site = small_site()
    while len(site.pages) < 9:
        site, _ = add_page(site, f"Page {len(site.pages)}")
    more = site.page(PAGE).variants[0].children[1]
    site, kept = keep_section(site, more.id, "More", True)
    for page in site.pages:
        if page.id != PAGE:
            site = add_top(site, page.id, "A", use_kept(site, kept))
    return site, kept


def words_of(section: Section) -> list[str]:
    return [line for node in walk(section) for line in plain_lines(node)]


def linked(site: Site, kept: str) -> list[Section]:
    return [s for p in site.pages for v in p.variants for s in v.children if s.linked == kept]


class LinkTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site, self.kept = nine_pages()

    def edited(self, how) -> Site:
        return follow_links(self.site, how(self.site))

    def test_an_edit_reaches_all_nine_pages_and_all_nine_are_changed(self) -> None:
        after = self.edited(lambda site: set_words(site, "head2", (text("Even more"),)))
        self.assertEqual(len(linked(after, self.kept)), 9)
        for section in linked(after, self.kept):
            self.assertIn("Even more", words_of(section))
        stale = [page.name for page in after.pages if changes_since(
            as_sent(self.site, self.site.page(page.id)), as_sent(after, page))]
        self.assertEqual(len(stale), 9)
        self.assertIn("Even more", words_of(after.kept_section(self.kept).section))

    def test_a_kept_section_shows_the_name_it_is_kept_under_wherever_it_stands(self) -> None:
        site, kept = keep_section(small_site(), next(
            s.id for s in small_site().pages[0].variants[0].children if s.name == "More"),
            "Footer for all", True)
        self.assertEqual(site.kept_section(kept).section.name, "Footer for all")
        self.assertEqual(linked(site, kept)[0].name, "Footer for all")
        site = rename_kept(site, kept, "Footer")
        self.assertEqual({site.kept_section(kept).name, site.kept_section(kept).section.name,
                          linked(site, kept)[0].name}, {"Footer"})

    def test_an_edit_in_any_of_them_reaches_the_first(self) -> None:
        far = linked(self.site, self.kept)[5]
        heading = next(n for n in walk(far) if isinstance(n, Heading))
        after = self.edited(lambda site: set_look(site, [heading.id], "size", 41))
        self.assertEqual(node_at(after, find(after, "head2")).look.base["size"], 41)

    def test_new_moved_and_deleted_parts_follow_and_the_rest_keeps_its_ids(self) -> None:
        fresh = Heading(id="fresh9", words=text("Fresh"))
        after = self.edited(lambda site: insert(site, fresh, "head2", "after"))
        before = {s.id: {n.id for n in walk(s)} for s in linked(self.site, self.kept)}
        for section in linked(after, self.kept):
            now = {n.id for n in walk(section)}
            self.assertEqual(len(now - before[section.id]), 1)
            self.assertFalse(before[section.id] - now)
        every = [n.id for p in after.pages for v in p.variants for n in v.nodes()]
        self.assertEqual(len(every), len(set(every)))
        less = follow_links(after, delete(after, "list1"))
        self.assertTrue(all("One" not in words_of(s) for s in linked(less, self.kept)))
        for section in linked(less, self.kept):
            self.assertEqual(words_of(section), words_of(linked(less, self.kept)[0]))

    def test_edits_elsewhere_touch_nothing(self) -> None:
        after = set_words(self.site, "head1", (text("Other"),))
        self.assertIs(follow_links(self.site, after), after)

    def test_one_that_is_unlinked_or_deleted_goes_its_own_way(self) -> None:
        alone = linked(self.site, self.kept)[3]
        site = unlink(self.site, alone.id)
        after = follow_links(site, set_words(site, "head2", (text("New"),)))
        self.assertNotIn("New", words_of(node_at(after, find(after, alone.id))))
        self.assertEqual(len(linked_uses(after, self.kept)), 8)
        opening = after.pages[0].variants[0].children[0].id
        both, other = keep_section(after, opening, "Opening for all", True)
        self.assertEqual([use.name for use in linked_uses(both, other)], [both.pages[0].name])
        self.assertEqual(len(linked_uses(both, self.kept)), 8)
        gone = follow_links(self.site, delete(self.site, linked(self.site, self.kept)[0].id))
        self.assertEqual(len(linked(gone, self.kept)), 8)

    def test_a_section_kept_no_longer_stays_on_its_pages(self) -> None:
        after = drop_kept(self.site, self.kept)
        self.assertEqual((after.kept, linked(after, self.kept)), ((), []))
        self.assertIn("One", words_of(after.pages[4].variants[0].children[-1]))

    def test_a_click_opens_the_popup_of_its_own_page(self) -> None:
        site = msgspec.structs.replace(self.site)
        opening = site.page(PAGE).variants[0].children[0]
        site, kept = keep_section(site, opening.id, "Opening", True)
        copy = use_kept(site, kept)
        other = site.pages[2]
        site = add_top(site, other.id, "A", copy)
        button = next(n for n in walk(copy) if getattr(n, "actions", ()))
        mine = msgspec.structs.replace(button, actions=(OpenPopup("own"),))
        from needle.core.edit.place import put
        site = put(site, find(site, button.id), mine)
        popup = msgspec.structs.replace(site.page(PAGE).variants[0].popups[0], id="own",
                                        children=())
        site = add_top(site, other.id, "A", popup)
        after = follow_links(site, set_words(site, "head1", (text("Hello"),)))
        held = node_at(after, find(after, button.id))
        self.assertEqual(held.actions[0], OpenPopup("own"))
        self.assertEqual(node_at(after, find(after, "button1")).actions[0], OpenPopup("popup1"))


class KeptCopyTest(unittest.TestCase):
    def test_a_copy_is_free_of_its_origin_until_it_is_updated(self) -> None:
        site = small_site()
        more = site.page(PAGE).variants[0].children[1]
        site, kept = keep_section(site, more.id, "  My   more ", False)
        self.assertEqual(site.kept[0].name, "My more")
        changed = set_words(site, "head2", (text("Newer"),))
        self.assertIs(follow_links(site, changed), changed)
        self.assertNotIn("Newer", words_of(use_kept(changed, kept)))
        updated = update_kept(changed, kept, more.id)
        self.assertIn("Newer", words_of(use_kept(updated, kept)))
        self.assertEqual(use_kept(updated, kept).linked, "")

    def test_what_cannot_be_kept_is_refused_in_words(self) -> None:
        site = small_site()
        more = site.page(PAGE).variants[0].children[1]
        site, kept = keep_section(site, more.id, "More", True)
        for run, words in ((lambda: keep_section(site, "head1", "x", False), "Only a section"),
                           (lambda: keep_section(site, more.id, " ", False), "needs a name"),
                           (lambda: keep_section(site, more.id, "more", False), "already"),
                           (lambda: keep_section(site, more.id, "Two", True), "linked already"),
                           (lambda: rename_kept(site, kept, ""), "needs a name"),
                           (lambda: use_kept(site, "gone"), "is gone")):
            with self.subTest(words), self.assertRaisesRegex(EditError, words):
                run()

    def test_a_page_has_one_heading_of_the_first_rank(self) -> None:
        site = small_site()
        opening = site.page(PAGE).variants[0].children[0]
        ranks = [n.rank for n in walk(fitted(opening, site.page(PAGE).variants[0]))
                 if isinstance(n, Heading)]
        self.assertEqual(ranks, [2])
        empty = msgspec.structs.replace(site.page(PAGE).variants[0], children=(), popups=())
        self.assertIs(fitted(opening, empty), opening)

    def test_a_copied_linked_section_follows_too(self) -> None:
        site, kept = nine_pages()
        site, _ = duplicate(site, linked(site, kept)[0].id)
        after = follow_links(site, set_words(site, "head2", (text("Ten"),)))
        self.assertEqual(sum("Ten" in words_of(s) for s in linked(after, kept)), 10)
