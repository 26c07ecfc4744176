"""An edit changes what it names and nothing beside it: each is tried on the middle one of three,
whose neighbours stand before and after it by place and by id."""

import unittest
from datetime import UTC, datetime

import msgspec

from needle.core.edit.forms import (
    add_step,
    change_form,
    delete_step,
    move_field,
    set_field_of,
    set_route,
)
from needle.core.edit.linked import rename_kept, update_kept
from needle.core.edit.media import replace_medium
from needle.core.edit.outsidecode import code_digest, without_codes
from needle.core.edit.pages import delete_folder, free_slug, rename_folder, set_share, split_page
from needle.core.edit.place import EditError
from needle.core.edit.services import set_service
from needle.core.edit.threads import Wanted, proposed_fields
from needle.core.edit.whole import brief_fault
from needle.core.kinds.picture import Picture
from needle.core.site.site import Folder, Kept, Medium, Page, Service, Site
from needle.core.values.brief import Brief
from needle.core.values.form import FieldRoute, Form, FormField, Role
from needle.core.values.tracking import TrackingCode
from tests.sites import EMAIL, FORM, NAME, PAGE, THANKS, section, small_site

_IDS = ("a1", "m1", "z1")


def three() -> Site:
    """Return the small site with three of everything that has an id."""
    site = small_site()
    band = site.pages[0].variants[0].children[1]
    return msgspec.structs.replace(
        site,
        services=tuple(Service(id=one, name=f"Service {one}", does="hook", practice=True)
                       for one in _IDS),
        folders=tuple(Folder(id=one, name=f"Folder {one}") for one in _IDS),
        kept=tuple(Kept(one, f"Kept {one}", band) for one in _IDS),
        media=tuple(Medium(id=one, name=f"{one}.png", file=f"{one}.png", width=9, height=9)
                    for one in _IDS),
        pages=tuple(msgspec.structs.replace(page, folder=one, share=one)
                    for page, one in zip((*site.pages, Page(
                        id="zpage", name="Z", slug="z", variants=site.pages[1].variants)),
                        _IDS, strict=True)))


class MiddleTest(unittest.TestCase):
    def setUp(self) -> None:
        self.before = three()

    def only(self, after: Site, part: str) -> object:
        """Return the middle one as it is now; its neighbours must be the same values."""
        was, now = getattr(self.before, part), getattr(after, part)
        self.assertEqual([one.id for one in now], [one.id for one in was])
        self.assertEqual((now[0], now[2]), (was[0], was[2]))
        self.assertNotEqual(now[1], was[1])
        return now[1]

    def test_a_service(self) -> None:
        after = set_service(self.before, "m1", name="Ours", practice=False,
                            address="https://hooks.example", options={"key": " k "})
        told = self.only(after, "services")
        self.assertEqual((told.name, told.address, told.options),
                         ("Ours", "https://hooks.example", {"key": "k"}))

    def test_kinds_of_services_ask_for_their_own_address(self) -> None:
        for does, good, bad in (("mail", "mail.example:25", "https://x.example"),
                                ("file", "/tmp/leads.csv", "https://x.example"),
                                ("contacts", "https://x.example", "/tmp/leads.csv"),
                                ("list", "https://x.example", "/tmp/leads.csv")):
            one = Service(id="s", name="S", does=does)
            site = msgspec.structs.replace(self.before, services=(one,))
            made = set_service(site, "s", name="S", practice=False, address=good, options={})
            self.assertEqual(made.services[0].address, good)
            with self.assertRaises(EditError, msg=does):
                set_service(site, "s", name="S", practice=False, address=bad, options={})

    def test_a_folder_and_the_pages_in_it(self) -> None:
        self.assertEqual(self.only(rename_folder(self.before, "m1", "New"), "folders").name, "New")
        gone = delete_folder(self.before, "m1")
        self.assertEqual([folder.id for folder in gone.folders], ["a1", "z1"])
        self.assertEqual([page.folder for page in gone.pages], ["a1", "", "z1"])

    def test_a_kept_section(self) -> None:
        first = self.before.pages[0].variants[0].children[0]
        fresh = self.only(update_kept(self.before, "m1", first.id), "kept")
        self.assertEqual((fresh.name, fresh.section.name), ("Kept m1", "Kept m1"))
        self.assertNotEqual(fresh.section.children, self.before.kept[1].section.children)
        self.assertEqual(self.only(rename_kept(self.before, "m1", "Foot"), "kept").name, "Foot")

    def test_a_picture_that_another_one_replaces(self) -> None:
        ids = iter(("p1", "p2", "p3", "p4", "p5", "p6"))
        band = section(ids.__next__, "Band", *(  # type: ignore[arg-type]
            Picture(id=f"pic{one}", medium=one) for one in _IDS))
        page = self.before.pages[0]
        site = msgspec.structs.replace(self.before, pages=(msgspec.structs.replace(
            page, variants=(msgspec.structs.replace(page.variants[0], children=(band,)),)),
            *self.before.pages[1:]))
        there = msgspec.structs.replace(site.media[2], name="again.png")
        after = replace_medium(site, "m1", there)
        self.assertEqual([page.share for page in after.pages], ["a1", "z1", "z1"])
        shown = [node.medium for node in after.pages[0].variants[0].nodes()
                 if isinstance(node, Picture)]
        self.assertEqual(shown, ["a1", "z1", "z1"])
        self.assertEqual([medium.id for medium in after.media], ["a1", "z1"])

    def test_code_that_is_not_allowed_goes_and_all_else_stays(self) -> None:
        codes = tuple(TrackingCode(id=one, name=one, html=f"<i>{one}</i>", on=on)
                      for one, on in zip(_IDS, (True, True, False), strict=True))
        site = msgspec.structs.replace(self.before, tracking=codes)
        after = without_codes(site, lambda digest: digest != code_digest("<i>m1</i>"))
        self.assertEqual([code.on for code in after.tracking], [True, False, False])


class FormTest(unittest.TestCase):
    def setUp(self) -> None:
        site = small_site()
        for _ in range(3):
            site = add_step(site, FORM)
        self.steps = [step.id for step in site.form(FORM).steps]
        for field, step in ((NAME, 1), (EMAIL, 2)):
            site = set_field_of(site, FORM, field, step=self.steps[step])
        self.site = site

    def where(self, site: Site) -> dict[str, str]:
        form = site.form(FORM)
        assert form is not None
        return {field.id: form.step_of(field) for field in form.fields}

    def test_the_fields_of_other_steps_stay_where_they_are(self) -> None:
        for gone in range(len(self.steps)):
            after = self.where(delete_step(self.site, FORM, self.steps[gone]))
            for field, step in ((NAME, 1), (EMAIL, 2)):
                if step != gone:
                    self.assertEqual(after[field], self.steps[step], (field, gone))

    def test_a_field_of_the_first_step_does_not_move_out_at_the_front(self) -> None:
        site = set_field_of(self.site, FORM, NAME, step=self.steps[0])
        self.assertEqual(self.where(move_field(site, FORM, NAME, -1)), self.where(site))
        site = set_field_of(self.site, FORM, NAME, step=self.steps[-1])
        self.assertEqual(self.where(move_field(site, FORM, NAME, 1))[NAME], self.steps[-1])

    def test_a_route_is_added_once_and_changed_in_its_place(self) -> None:
        site = small_site()
        fresh = FieldRoute("m-route", "listsrv", "one", "One", {"EMAIL": EMAIL})
        site = set_route(site, FORM, fresh)
        self.assertEqual([route.id for route in site.form(FORM).routes],
                         ["route1", "route2", "m-route"])
        site = set_route(site, FORM, FieldRoute("route1", "listsrv", "two", "Two", {}))
        self.assertEqual([route.id for route in site.form(FORM).routes],
                         ["route1", "route2", "m-route"])
        self.assertEqual(site.form(FORM).routes[0].target, "two")
        again = set_route(site, FORM, msgspec.structs.replace(fresh, target="three"))
        self.assertEqual(len(again.form(FORM).routes), 3)

    def test_a_form_of_several(self) -> None:
        forms = tuple(Form(id=one, name=one, fields=(FormField("f1", Role.NAME, "N"),))
                      for one in _IDS)
        site = msgspec.structs.replace(small_site(), forms=forms)
        after = change_form(site, "m1", lambda form: msgspec.structs.replace(form, name="New"))
        self.assertEqual([form.name for form in after.forms], ["a1", "New", "z1"])


class NumberTest(unittest.TestCase):
    def test_addresses_that_are_taken_are_counted_up(self) -> None:
        site = small_site()
        for number in range(4):
            slug = free_slug(site, "night")
            self.assertEqual(slug, f"night-{number + 2}")
            site = msgspec.structs.replace(site, pages=(*site.pages, Page(
                id=f"x{number}", name=slug, slug=slug, variants=site.pages[1].variants)))

    def test_shares_of_others_that_had_none_are_even(self) -> None:
        now = datetime(2026, 3, 1, tzinfo=UTC)
        site = split_page(split_page(split_page(small_site(), PAGE, now), PAGE, now), PAGE, now)
        keys = [variant.key for variant in site.pages[0].variants]
        site = set_share(site, PAGE, keys[0], 100)
        self.assertEqual([v.share for v in site.pages[0].variants], [100, 0, 0, 0])
        site = set_share(site, PAGE, keys[0], 10)
        self.assertEqual([v.share for v in site.pages[0].variants], [10, 30, 30, 30])
        self.assertEqual([v.share for v in site.page(THANKS).variants], [100])


class WordTest(unittest.TestCase):
    def test_a_source_is_proposed_for_what_asks_for_one(self) -> None:
        form = Form(id="f", name="F", fields=(
            FormField("s1", Role.HIDDEN, "Where from", source="".join(("utm_", "source"))),
            FormField("p1", Role.HIDDEN, "Page", source=":page")))
        self.assertEqual(proposed_fields(form, (Wanted("SOURCE"), Wanted("MEDIUM"))),
                         {"SOURCE": "s1"})

    def test_a_brief_names_the_link_that_cannot_be_followed(self) -> None:
        fine = Brief(links="\n\nhttps://a.example\n  \n/night\n")
        self.assertIsNone(brief_fault(fine))
        fault = brief_fault(Brief(links="https://a.example\n\njavascript:alert(1)"))
        assert fault is not None
        self.assertIn("javascript:alert(1)", str(fault))
