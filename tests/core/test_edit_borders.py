"""Edits right at their borders: steps, threads, order, doubles, sizes, what stands behind words."""

import unittest
from datetime import UTC, datetime

import msgspec

from needle.core.edit.doubles import doubled_ids
from needle.core.edit.forms import (
    add_field,
    add_form,
    add_step,
    delete_form,
    delete_step,
    set_field_of,
)
from needle.core.edit.grouping import wrap
from needle.core.edit.legibility import text_contrast
from needle.core.edit.nodes import insert_near, set_field
from needle.core.edit.pages import bring_back, keep_variant, split_page
from needle.core.edit.place import EditError, find, path_to
from needle.core.edit.threads import Wanted, route_faults
from needle.core.kinds.passage import Passage
from needle.core.site.site import Site
from needle.core.site.tree import Section
from needle.core.values.form import FieldRoute, Form, FormField, Role
from needle.core.values.widths import Width
from needle.core.values.words import text
from tests.sites import EMAIL, FORM, NAME, PAGE, small_site

NOW = datetime(2026, 3, 1, tzinfo=UTC)


class StepTest(unittest.TestCase):
    def setUp(self) -> None:
        site = small_site()
        for _ in range(2):
            site = add_step(site, FORM)
        self.site = site
        self.steps = [step.id for step in site.form(FORM).steps]

    def in_steps(self, site: Site) -> dict[str, int]:
        form = site.form(FORM)
        names = [step.id for step in form.steps] or [""]
        return {field.id: names.index(form.step_of(field)) if form.steps else 0
                for field in form.fields}

    def test_the_fields_of_a_step_that_goes_are_asked_in_the_one_before(self) -> None:
        site = set_field_of(self.site, FORM, NAME, step=self.steps[1])
        site = set_field_of(site, FORM, EMAIL, step=self.steps[2])
        fewer = delete_step(site, FORM, self.steps[1])
        self.assertEqual([step.id for step in fewer.form(FORM).steps],
                         [self.steps[0], self.steps[2]])
        where = self.in_steps(fewer)
        self.assertEqual((where[NAME], where[EMAIL]), (0, 1))
        first = delete_step(site, FORM, self.steps[0])
        where = self.in_steps(first)
        self.assertEqual((where[NAME], where[EMAIL]), (0, 1))
        last = delete_step(fewer, FORM, self.steps[2])
        self.assertEqual(last.form(FORM).steps, ())
        self.assertEqual({field.step for field in last.form(FORM).fields}, {""})

    def test_a_form_that_is_deleted_is_that_one(self) -> None:
        site, made = add_form(small_site(), "Another")
        self.assertEqual([form.id for form in delete_form(site, made).forms], [FORM])

    def test_a_new_role_brings_what_it_needs_and_drops_what_it_does_not(self) -> None:
        site = add_field(small_site(), FORM, Role.LINE)
        key = site.form(FORM).fields[-1].id
        hidden = set_field_of(site, FORM, key, role=Role.HIDDEN)
        self.assertEqual(hidden.form(FORM).field(key).source, "utm_source")
        line = set_field_of(hidden, FORM, key, role=Role.LINE)
        self.assertEqual(line.form(FORM).field(key).source, "")


class ThreadTest(unittest.TestCase):
    def faults(self, role: Role, kind: str, *, choices: tuple[str, ...] = (),
               known: tuple[str, ...] = ("a", "b")) -> str:
        form = Form(id="f", name="F", fields=(
            FormField("x", role, "X", required=True, choices=choices),))
        route = FieldRoute("r1", "listsrv", fields={"KEY": "x"})
        wanted = Wanted("KEY", kind, True, known if kind == "choice" else ())
        return route_faults(form, route, [wanted]).get("KEY", "")

    def test_what_a_service_takes_is_what_the_field_gives(self) -> None:
        for role, kind, said in (
                (Role.EMAIL, "email", ""), (Role.LINE, "email", "takes an e-mail address"),
                (Role.LONG, "email", "takes an e-mail address"), (Role.LINE, "text", ""),
                (Role.NUMBER, "number", ""), (Role.LINE, "number", "takes a number"),
                (Role.DATE, "number", "takes a number"), (Role.NUMBER, "date", "takes a date"),
                (Role.DATE, "date", ""), (Role.PHONE, "phone", ""),
                (Role.HIDDEN, "number", ""), (Role.LONG, "phone", "takes a phone"),
                (Role.LINE, "choice", "takes one of a, b"), (Role.LONG, "choice",
                                                             "takes one of a, b"),
                (Role.LINE, "zip", "")):
            with self.subTest(role=role, kind=kind):
                self.assertEqual(self.faults(role, kind), said)
        self.assertEqual(self.faults(Role.CHOICE, "choice", choices=("b", "a")), "")
        self.assertEqual(self.faults(Role.CHOICE, "choice", choices=("a", "c")),
                         "does not know “c”")


class PlaceTest(unittest.TestCase):
    def test_a_fresh_item_goes_into_what_holds_such_else_after_it(self) -> None:
        site = small_site()
        column = path_to(site, find(site, "head1"))[-2]
        inside = insert_near(site, Passage(id="new1", words=(text("New"),)), PAGE, "A", column.id)
        self.assertEqual(path_to(inside, find(inside, "new1"))[-2].children[-1].id, "new1")
        after = insert_near(site, Passage(id="new1", words=(text("New"),)), PAGE, "A", "head1")
        self.assertEqual([one.id for one in path_to(after, find(after, "new1"))[-2].children][:2],
                         ["head1", "new1"])
        top = insert_near(site, Section(id="new2"), PAGE, "A", "head1")
        self.assertEqual(top.page(PAGE).variants[0].children[1].id, "new2")
        popup = insert_near(site, Section(id="new2"), PAGE, "A", "pophead")
        self.assertEqual(popup.page(PAGE).variants[0].children[-1].id, "new2")
        self.assertEqual(insert_near(site, Section(id="new2"), PAGE, "A", "")
                         .page(PAGE).variants[0].children[-1].id, "new2")

    def test_items_in_one_box_have_room_on_every_side(self) -> None:
        site = small_site()
        grouped, made = wrap(site, ["head1", "text1"], as_row=False)
        column = next(node for node in grouped.page(PAGE).variants[0].nodes()
                      if node.id == made)
        self.assertEqual({column.look.value(f"pad_{side}", Width.DESKTOP)
                          for side in ("top", "right", "bottom", "left")}, {24})
        ids = [node.id for node in grouped.page(PAGE).variants[0].nodes()]
        self.assertEqual(len(ids), len(set(ids)))

    def test_the_ninth_variant_is_refused_and_the_eighth_is_not(self) -> None:
        site = small_site()
        for _ in range(2):
            site = split_page(site, PAGE, NOW)
        site = keep_variant(site, PAGE, "A", NOW)
        self.assertEqual([one.key for one in site.page(PAGE).archive], ["B", "C"])
        full = site
        for _ in range(7):
            full = split_page(full, PAGE, NOW)
        self.assertEqual(len(full.page(PAGE).variants), 8)
        with self.assertRaises(EditError):
            bring_back(full, PAGE, "B", NOW)
        seven = site
        for _ in range(6):
            seven = split_page(seven, PAGE, NOW)
        self.assertEqual(len(bring_back(seven, PAGE, "B", NOW).page(PAGE).variants), 8)


class BehindTest(unittest.TestCase):
    def test_words_on_a_picture_have_no_contrast_that_is_known(self) -> None:
        site = small_site()
        section = path_to(site, find(site, "head1"))[0]
        path = path_to(site, find(site, "head1"))
        self.assertIsNotNone(text_contrast(site, path, Width.DESKTOP))
        dark = set_field(site, section.id, "picture", "night1")
        path = path_to(dark, find(dark, "head1"))
        self.assertIsNone(text_contrast(dark, path, Width.DESKTOP))


class DoubleTest(unittest.TestCase):
    def test_every_id_that_two_have_is_told(self) -> None:
        site = small_site()
        self.assertEqual(list(doubled_ids(site)), [])
        field = site.form(FORM).fields[0]
        twice = msgspec.structs.replace(site, forms=tuple(msgspec.structs.replace(
            form, fields=(*form.fields, field)) for form in site.forms))
        (one,) = doubled_ids(twice)
        self.assertEqual(one.id, field.id)
        self.assertIn("the field “Your name” of “Places”", one.second)
        head = msgspec.structs.replace(site, pages=tuple(
            msgspec.structs.replace(page, variants=tuple(
                msgspec.structs.replace(variant, children=(*variant.children, Section(
                    id="text1"))) for variant in page.variants))
            if page.id == PAGE else page for page in site.pages))
        self.assertEqual([one.id for one in doubled_ids(head)], ["text1"])




if __name__ == "__main__":
    unittest.main()
