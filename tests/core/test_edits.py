import random
import unittest
from datetime import UTC, datetime, timedelta

import msgspec
from hypothesis import given, settings

from needle.core.edit.clipping import clip, clip_words, paste
from needle.core.edit.forms import (
    add_field,
    delete_field,
    delete_form,
    move_field,
    set_field_of,
)
from needle.core.edit.history import History
from needle.core.edit.looks import alike, clear_at, resolved, set_look
from needle.core.edit.nodes import (
    delete,
    duplicate,
    insert,
    move,
    nudge,
    set_hidden,
    set_words,
    split_row,
)
from needle.core.edit.pages import (
    add_page,
    bring_back,
    delete_page,
    duplicate_page,
    keep_variant,
    rename_page,
    set_share,
    set_slug,
    slug_for,
    split_page,
)
from needle.core.edit.place import EditError, find, node_at, path_to
from needle.core.kinds.divider import Divider
from needle.core.site.site import Site
from needle.core.site.tree import Column, Row, Section
from needle.core.values.form import Role
from needle.core.values.widths import Width
from needle.core.values.words import text
from tests.randomly import KINDS_OF_EDIT, SIDES, STEPS, ids, random_edit
from tests.sites import EMAIL, FORM, PAGE, THANKS, long_page, small_site


class NodeEditTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = small_site()

    def path(self, site: Site, node: str) -> list[object]:
        return path_to(site, find(site, node))

    def test_an_edit_shares_every_branch_beside_it(self) -> None:
        after = set_words(self.site, "head1", (text("New"),))
        old, new = self.site.pages[0].variants[0], after.pages[0].variants[0]
        self.assertIs(new.children[1], old.children[1])
        self.assertIs(new.popups, old.popups)
        self.assertIs(after.pages[1], self.site.pages[1])
        self.assertEqual(node_at(self.site, find(self.site, "head1")).words, text("Old words"))

    def test_an_edit_that_changes_nothing_gives_back_the_same_site(self) -> None:
        self.assertIs(set_words(self.site, "head1", (text("Old words"),)), self.site)
        self.assertIs(set_hidden(self.site, "head1", Width.PHONE, False), self.site)

    def test_a_hint_that_went_stale_is_not_believed(self) -> None:
        find(self.site, "head2")
        swapped = nudge(self.site, self.site.pages[0].variants[0].children[1].id, -1)
        self.assertEqual(node_at(swapped, find(swapped, "head2")).id, "head2")

    def test_dropping_beside_another_makes_columns(self) -> None:
        after = move(self.site, "list1", "head1", "left")
        section, row = self.path(after, "list1")[:2]
        self.assertEqual([[i.id for i in c.children] for c in row.children],
                         [["list1"], ["head1"]])
        self.assertEqual(len(section.children), 2)  # The text and the button keep a row below.
        alone = move(after, "head2", "list1", "right")
        self.assertEqual(len(self.path(alone, "list1")[1].children), 3)

    def test_what_is_emptied_goes_and_the_moved_part_keeps_its_id(self) -> None:
        after = move(move(self.site, "head2", "head1", "after"), "list1", "head1", "before")
        self.assertEqual(sorted(ids(after)), sorted(set(ids(after))))
        self.assertIn("head2", ids(after))

    def test_a_part_cannot_go_into_itself_nor_where_it_cannot_stand(self) -> None:
        section = self.site.pages[0].variants[0].children[0]
        with self.assertRaisesRegex(EditError, "into itself"):
            move(self.site, section.id, "head1", "after")
        with self.assertRaisesRegex(EditError, "cannot stand inside"):
            insert(self.site, Divider(id="d"), "head1", "inside")
        with self.assertRaisesRegex(EditError, "inside the popup"):
            insert(self.site, Section(id="s"), "popup1", "after")

    def test_inserting_makes_the_holders_that_lack(self) -> None:
        section = self.site.pages[0].variants[0].children[0]
        after = insert(self.site, Divider(id="d"), section.id, "after")
        self.assertEqual([type(n) for n in self.path(after, "d")],
                         [Section, Row, Column, Divider])
        inside = insert(self.site, Divider(id="d"), section.id, "inside")
        self.assertEqual(self.path(inside, "d")[0].id, section.id)

    def test_a_copy_has_ids_of_its_own_and_points_inside_itself(self) -> None:
        after, copy = duplicate(self.site, "button1")
        self.assertEqual(len(ids(after)), len(set(ids(after))))
        self.assertEqual(self.path(after, copy)[-1].actions,
                         self.path(self.site, "button1")[-1].actions)

    def test_fewer_columns_keep_every_item(self) -> None:
        two = move(self.site, "list1", "head1", "left")
        row = self.path(two, "list1")[1]
        one = split_row(two, row.id, 1)
        self.assertEqual([i.id for i in self.path(one, "list1")[2].children], ["list1", "head1"])
        self.assertEqual(len(self.path(split_row(one, row.id, 3), "list1")[1].children), 3)

    def test_nudging_past_the_end_goes_on_into_the_next_section(self) -> None:
        after = nudge(self.site, "button1", 1)
        self.assertEqual([i.id for i in self.path(after, "button1")[2].children],
                         ["button1", "head2", "list1"])
        self.assertEqual(ids(nudge(after, "button1", -1)), ids(self.site))

    def test_deleting_what_is_gone_is_refused_in_words(self) -> None:
        with self.assertRaisesRegex(EditError, "no longer on the page"):
            delete(delete(self.site, "head1"), "head1")


class ClipTest(unittest.TestCase):
    def test_any_part_comes_back_as_a_fresh_copy_beside_the_target(self) -> None:
        site = small_site()
        for node in ids(site):
            with self.subTest(node):
                data = clip(site, [node])
                after, [made] = paste(site, data, PAGE, "A", node)
                names = ids(after)
                self.assertEqual(len(names), len(set(names)))
                self.assertIn(made, names)
                self.assertEqual(type(node_at(after, find(after, made))),
                                 type(node_at(site, find(site, node))))

    def test_it_goes_to_another_page_and_carries_its_words(self) -> None:
        site = small_site()
        after, [made] = paste(site, clip(site, ["text1"]), THANKS, "A", "thead")
        self.assertEqual(find(after, made).page, 1)
        self.assertEqual(clip_words(site, ["text1"]), "Plain bold\nSecond")
        alone, _ = paste(site, clip(site, ["text1"]), THANKS, "A", "")
        self.assertEqual(len(alone.pages[1].variants[0].children), 2)

    def test_what_is_no_part_of_a_page_is_refused(self) -> None:
        for data in (b"", b"{}", b"\xff", b'{"kind":"glow","id":"x"}', b"[1]"):
            with self.subTest(data), self.assertRaisesRegex(EditError, "no part of a page"):
                paste(small_site(), data, PAGE, "A", "head1")


class LookEditTest(unittest.TestCase):
    def test_resolved_asks_node_then_style_then_default(self) -> None:
        site = small_site()
        heading = node_at(site, find(site, "head2"))
        self.assertEqual(resolved(site, heading, "size", Width.DESKTOP), 56)
        self.assertEqual(resolved(site, heading, "size", Width.PHONE), 37)
        site = set_look(site, ["head2"], "size", 30)
        heading = node_at(site, find(site, "head2"))
        self.assertEqual(resolved(site, heading, "size", Width.PHONE), 30)

    def test_all_alike_change_together_and_the_knot_puts_back(self) -> None:
        site = long_page(1)
        section = site.pages[0].variants[0].children[0]
        texts = list(section.children[0].children[0].children)[1:]
        group = alike([section], texts[0])
        self.assertEqual(len(group), 3)
        after = set_look(site, group, "size", 15, Width.PHONE)
        self.assertEqual(clear_at(after, texts[0].id, "size").pages[0].variants[0].children[0]
                         .children[0].children[0].children[1].look, texts[0].look)

    def test_values_outside_the_table_are_refused(self) -> None:
        with self.assertRaisesRegex(EditError, "8 to 200 px"):
            set_look(small_site(), ["head1"], "size", 2000)


class PageEditTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = small_site()

    def test_names_and_addresses_are_checked_in_words(self) -> None:
        for run, words in (
                (lambda: add_page(self.site, "  "), "needs a name"),
                (lambda: add_page(self.site, "x" * 81), "at most 80"),
                (lambda: rename_page(self.site, PAGE, "thanks"), "already a page called"),
                (lambda: set_slug(self.site, PAGE, "thanks"), "already has the address"),
                (lambda: set_slug(self.site, PAGE, "Ä b"), "small letters"),
                (lambda: set_slug(self.site, PAGE, "assets"), "used by the published site")):
            with self.subTest(words), self.assertRaisesRegex(EditError, words):
                run()

    def test_slugs_are_made_from_names_and_never_clash(self) -> None:
        self.assertEqual(slug_for("  Perséides, août! "), "perseides-aout")
        site, first = add_page(self.site, "Night!")
        self.assertEqual(site.page(first).slug, "night-2")

    def test_a_copied_page_shares_no_id(self) -> None:
        site, copy = duplicate_page(self.site, PAGE)
        mine = {n.id for n in site.page(copy).variants[0].nodes()}
        self.assertFalse(mine & set(ids(self.site)))
        popup = site.page(copy).variants[0].popups[0].id
        button = next(n for n in site.page(copy).variants[0].nodes() if hasattr(n, "looks"))
        self.assertEqual(button.actions[0].popup, popup)

    def test_the_last_page_stays(self) -> None:
        one = delete_page(self.site, THANKS)
        with self.assertRaisesRegex(EditError, "at least one page"):
            delete_page(one, PAGE)

    def test_shares_always_make_a_hundred_and_the_loser_is_archived(self) -> None:
        now = datetime(2026, 1, 2, tzinfo=UTC)
        site = split_page(split_page(self.site, PAGE, now), PAGE, now)
        self.assertEqual([v.share for v in site.page(PAGE).variants], [34, 33, 33])
        site = set_share(site, PAGE, "B", 50)
        self.assertEqual(sum(v.share for v in site.page(PAGE).variants), 100)
        ended = keep_variant(site, PAGE, "B", now + timedelta(days=3))
        kept = ended.page(PAGE)
        self.assertEqual([(v.key, v.share) for v in kept.variants], [("B", 100)])
        self.assertEqual([v.key for v in kept.archive], ["A", "C"])
        (test,) = kept.ended
        self.assertEqual((test.kept, test.shares), ("B", {"A": 25, "B": 50, "C": 25}))
        self.assertEqual((test.started[:10], test.ended[:10]), ("2026-01-02", "2026-01-05"))
        again = split_page(ended, PAGE, now).page(PAGE)
        self.assertEqual([v.key for v in again.variants], ["B", "D"])

    def test_an_archived_variant_comes_back_into_a_test_of_its_own(self) -> None:
        now = datetime(2026, 1, 2, tzinfo=UTC)
        site = keep_variant(split_page(self.site, PAGE, now), PAGE, "B", now)
        back = bring_back(site, PAGE, "A", now + timedelta(days=1)).page(PAGE)
        self.assertEqual([(v.key, v.share) for v in back.variants], [("B", 50), ("A", 50)])
        self.assertEqual((back.archive, back.test_started[:10]), ((), "2026-01-03"))
        self.assertEqual(len(back.ended), 1)
        with self.assertRaisesRegex(EditError, "not in the archive"):
            bring_back(site, PAGE, "C", now)


class FormEditTest(unittest.TestCase):
    def test_a_new_label_leaves_the_mapping_alone(self) -> None:
        site = set_field_of(small_site(), FORM, EMAIL, label="Where can we write?")
        self.assertEqual(site.form(FORM).routes, small_site().form(FORM).routes)

    def test_the_address_a_list_needs_and_forms_in_use_stay(self) -> None:
        with self.assertRaisesRegex(EditError, "needs the e-mail address"):
            delete_field(small_site(), FORM, EMAIL)
        with self.assertRaisesRegex(EditError, "shows this form"):
            delete_form(small_site(), FORM)

    def test_fields_are_added_and_moved(self) -> None:
        site = add_field(small_site(), FORM, Role.PHONE, "Phone")
        phone = site.form(FORM).fields[-1].id
        moved = move_field(site, FORM, phone, -1)
        self.assertEqual([f.id for f in moved.form(FORM).fields].index(phone), 1)


class HistoryTest(unittest.TestCase):
    def test_thousands_of_steps_can_all_be_taken_back(self) -> None:
        rng = random.Random(11)
        start = long_page(6)
        history = History(start)
        refused = 0
        for number in range(3000):
            # Deleting twice as often as the rest keeps the page from growing without end.
            kind = rng.choice((*KINDS_OF_EDIT, "delete", "delete", "several"))
            step = (kind, rng.randrange(100), rng.randrange(100), rng.choice(SIDES))
            after = random_edit(history.site, step)
            refused += after is history.site
            history = history.edited(after, kind, group=str(number))
            if len(ids(after)) > 900:
                history = history.edited(start, "begin anew", group=f"anew {number}")
        every = [n.id for p in history.site.pages for v in p.variants for n in v.nodes()]
        self.assertEqual(len(every), len(set(every)))
        self.assertLess(refused, 2700)
        last = history.site
        self.assertEqual(msgspec.json.decode(msgspec.json.encode(last), type=Site), last)
        while history.past:
            history = history.undone()
        self.assertIs(history.site, start)
        while history.future:
            history = history.redone()
        self.assertIs(history.site, last)

    @settings(max_examples=60, deadline=None)
    @given(STEPS)
    def test_undo_all_gives_back_the_very_value_and_redo_all_the_last(self, steps: list) -> None:
        start = small_site()
        history = History(start)
        for number, step in enumerate(steps):
            history = history.edited(random_edit(history.site, step), step[0], group=str(number))
        last = history.site
        self.assertEqual(len(ids(last)), len(set(ids(last))))
        while history.past:
            history = history.undone()
        self.assertIs(history.site, start)
        while history.future:
            history = history.redone()
        self.assertIs(history.site, last)

    def test_one_gesture_is_one_step_until_it_is_closed(self) -> None:
        history = History(small_site())
        for words in ("N", "Ne", "New"):
            site = set_words(history.site, "head1", (text(words),))
            history = history.edited(site, "words", group="type:head1")
        self.assertEqual(len(history.past), 1)
        site = set_words(history.site, "head1", (text("Newer"),))
        history = history.closed().edited(site, "words", group="type:head1")
        self.assertEqual((len(history.past), history.undo_label), (2, "words"))
        self.assertIs(history.edited(history.site, "nothing"), history)
