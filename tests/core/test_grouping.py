import unittest

from needle.core.edit.grouping import (
    add_cell,
    delete_all,
    even_cells,
    move_all,
    outermost,
    reorder_at,
    set_shares,
    wrap,
)
from needle.core.edit.looks import paste_look, plain_look, set_look, take_look
from needle.core.edit.nodes import split_row
from needle.core.edit.place import EditError, find, node_at, path_to
from needle.core.site.tree import Row, children_of
from needle.core.values.look import Look
from needle.core.values.widths import Width
from tests.sites import PAGE, small_site


class SeveralTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = small_site()
        self.section = self.site.page(PAGE).variants[0].children[0]

    def column_of(self, site, node):
        return [child.id for child in children_of(path_to(site, find(site, node))[-2])]

    def test_what_is_inside_another_chosen_part_is_left_to_it(self) -> None:
        self.assertEqual(outermost(self.site, ["button1", self.section.id, "head2", "head1"]),
                         [self.section.id, "head2"])

    def test_several_are_deleted_at_once(self) -> None:
        after = delete_all(self.site, ["head1", "button1"])
        self.assertEqual(self.column_of(after, "text1"), ["text1"])

    def test_several_move_together_in_their_order(self) -> None:
        after = move_all(self.site, ["button1", "head1"], "list1", "after")
        self.assertEqual(self.column_of(after, "list1"), ["head2", "list1", "head1", "button1"])
        before = move_all(self.site, ["head1", "text1"], "head2", "before")
        self.assertEqual(self.column_of(before, "head2"), ["head1", "text1", "head2", "list1"])

    def test_a_selection_is_wrapped_and_what_is_around_it_stays(self) -> None:
        after, row = wrap(self.site, ["text1", "button1"], as_row=True)
        wrapped = node_at(after, find(after, row))
        self.assertIsInstance(wrapped, Row)
        self.assertEqual([[i.id for i in c.children] for c in wrapped.children],
                         [["text1"], ["button1"]])
        self.assertEqual(self.column_of(after, "head1"), ["head1"])
        boxed, box = wrap(self.site, ["text1"], as_row=False)
        self.assertEqual([i.id for i in children_of(node_at(boxed, find(boxed, box)))], ["text1"])
        rows = path_to(boxed, find(boxed, "text1"))[0].children
        self.assertEqual([i.id for r in rows for c in r.children for i in c.children],
                         ["head1", "text1", "button1"])

    def test_what_cannot_be_wrapped_is_refused_in_words(self) -> None:
        apart = split_row(self.site, path_to(self.site, find(self.site, "head1"))[1].id, 2)
        for site, ids, words in ((self.site, ["head1", "head2"], "one column"),
                                 (self.site, [self.section.id], "Choose items"),
                                 (apart, ["head1"], "a box already")):
            with self.subTest(words), self.assertRaisesRegex(EditError, words):
                wrap(site, ids, as_row=True)

    def test_shares_are_set_in_twelfths(self) -> None:
        row = path_to(self.site, find(self.site, "head1"))[1]
        site = split_row(self.site, row.id, 2)
        after = set_shares(site, row.id, [300, 900])
        columns = node_at(after, find(after, row.id)).children
        self.assertEqual([column.look.base["share"] for column in columns], [3, 9])
        with self.assertRaisesRegex(EditError, "other columns"):
            set_shares(site, row.id, [1, 2, 3])

    def test_reordered_at_one_width_the_others_stay(self) -> None:
        after = reorder_at(self.site, "button1", Width.PHONE, -1)
        orders = {i: node_at(after, find(after, i)).look for i in ("head1", "text1", "button1")}
        self.assertEqual({i: look.phone["order"] for i, look in orders.items()},
                         {"head1": 0, "button1": 1, "text1": 2})
        self.assertTrue(all(not look.base and not look.desktop for look in orders.values()))
        self.assertIs(reorder_at(self.site, "head1", Width.PHONE, -1), self.site)
        with self.assertRaisesRegex(EditError, "Items and columns"):
            reorder_at(self.site, self.section.id, Width.PHONE, 1)


class CellTest(unittest.TestCase):
    def test_lines_are_as_even_as_can_be(self) -> None:
        self.assertEqual([even_cells(n, 4) for n in range(1, 10)], [1, 2, 3, 4, 3, 3, 4, 4, 3])

    def test_an_added_cell_evens_out_the_rest_at_each_width(self) -> None:
        site = small_site()
        row = path_to(site, find(site, "head1"))[1]
        cell = "head1"
        for count in (2, 3, 4, 5):
            site, made = add_cell(site, cell)
            grid = node_at(site, find(site, row.id))
            self.assertEqual(len(grid.children), count)
            self.assertEqual(grid.children[1].id, made)
            self.assertEqual(grid.look.base["cells"], even_cells(count, 4))
            self.assertEqual(grid.look.tablet["cells"], even_cells(count, 2))
        with self.assertRaisesRegex(EditError, "Choose a cell"):
            add_cell(site, site.page(PAGE).variants[0].children[0].id)


class CarriedLookTest(unittest.TestCase):
    def setUp(self) -> None:
        site = set_look(small_site(), ["head1"], "size", 44)
        site = set_look(site, ["head1"], "size", 30, Width.PHONE)
        site = set_look(site, ["head1"], "fill", "mist")
        self.site = set_look(site, ["head1"], "pad_top", 12)

    def look(self, site, node) -> Look:
        return node_at(site, find(site, node)).look

    def test_whole_or_only_a_part_with_what_differs_at_a_width(self) -> None:
        data = take_look(node_at(self.site, find(self.site, "head1")))
        site = set_look(self.site, ["head2"], "margin_top", 5)
        whole = paste_look(site, ["head2"], data)
        self.assertEqual(self.look(whole, "head2"), self.look(site, "head1"))
        self.assertEqual(node_at(whole, find(whole, "head2")).style,
                         node_at(site, find(site, "head1")).style)
        letters = self.look(paste_look(site, ["head2"], data, "type"), "head2")
        self.assertEqual((letters.base, letters.phone), ({"margin_top": 5, "size": 44},
                                                         {"size": 30}))
        box = self.look(paste_look(site, ["head2"], data, "box"), "head2")
        self.assertEqual(box.base, {"pad_top": 12})

    def test_only_what_the_other_kind_can_take(self) -> None:
        from needle.core.edit.nodes import insert
        from needle.core.kinds.picture import Picture
        site = insert(self.site, Picture(id="pic1"), "head1", "after")
        data = take_look(node_at(site, find(site, "head1")))
        self.assertNotIn("size", self.look(paste_look(site, ["pic1"], data), "pic1").base)

    def test_set_back_to_the_style_wholly_or_at_a_width(self) -> None:
        self.assertEqual(self.look(plain_look(self.site, ["head1"]), "head1"), Look())
        phone = self.look(plain_look(self.site, ["head1"], Width.PHONE), "head1")
        self.assertEqual((phone.phone, phone.base["size"]), ({}, 44))

    def test_what_is_no_look_is_refused(self) -> None:
        for data in (b"", b"{}", b'{"look":{"base":{"glow":1}}}', b"\xff"):
            with self.subTest(data), self.assertRaises(EditError):
                paste_look(self.site, ["head2"], data)
