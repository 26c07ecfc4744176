"""Forms as values: their steps, their threads, and what a trial visit says of codes."""

import re
import unittest

import html5lib

from needle.core.edit.forms import (
    add_field,
    add_step,
    copy_form,
    delete_field,
    delete_step,
    move_field,
    move_step,
    set_field_of,
    set_step,
    wire,
)
from needle.core.edit.nodes import insert
from needle.core.edit.place import EditError
from needle.core.edit.services import add_service, delete_service, set_service
from needle.core.edit.threads import Wanted, proposed_fields, route_faults
from needle.core.edit.tracking import add_code, delete_code, set_code, set_consent
from needle.core.kinds.embed import Embed
from needle.core.leads.firing import Asked, Complaint, code_lines, firings
from needle.core.render.document import Assets, live_body, live_page, runtime_parts
from needle.core.site.site import Site
from needle.core.values.form import FieldRoute, Form, FormField, Only, Role
from needle.store.upgrading import upgraded_site
from tests.core.test_render import context
from tests.sites import EMAIL, FORM, NAME, PAGE, small_site


class StepsTest(unittest.TestCase):
    def setUp(self) -> None:
        site = add_field(small_site(), FORM, Role.CHOICE)
        self.site = add_step(site, FORM, "Then")
        self.choice = self.form.fields[-1].id

    @property
    def form(self) -> Form:
        form = self.site.form(FORM)
        assert form is not None
        return form

    def test_fields_go_from_step_to_step_and_stay_in_order(self) -> None:
        first, then = (step.id for step in self.form.steps)
        self.assertEqual(len(self.form.asked_in(first)), 3)
        self.site = move_field(self.site, FORM, self.choice, 1)
        self.assertEqual([f.id for f in self.form.asked_in(then)], [self.choice])
        self.site = move_field(self.site, FORM, self.choice, -1)
        self.assertEqual([f.id for f in self.form.asked_in(first)], [NAME, EMAIL, self.choice])
        self.site = move_field(self.site, FORM, self.choice, -1)
        self.assertEqual([f.id for f in self.form.asked_in(first)], [NAME, self.choice, EMAIL])

    def test_a_step_depends_on_earlier_answers_only(self) -> None:
        first, then = (step.id for step in self.form.steps)
        only = Only(self.choice, ("One",))
        with self.assertRaisesRegex(EditError, "earlier step"):
            set_step(self.site, FORM, first, only=only)
        self.site = set_step(self.site, FORM, then, only=only)
        self.assertEqual(self.form.skipped({self.choice: "Two"}), {then})
        self.assertEqual(self.form.skipped({self.choice: "One"}), frozenset())
        with self.assertRaisesRegex(EditError, "would come after"):
            move_step(self.site, FORM, then, -1)
        self.site = delete_field(self.site, FORM, self.choice)
        self.assertIsNone(self.form.steps[1].only)

    def test_the_last_step_but_one_makes_one_step_again(self) -> None:
        self.site = delete_step(self.site, FORM, self.form.steps[1].id)
        self.assertEqual(self.form.steps, ())
        self.assertEqual(len(self.form.asked_in("")), 3)

    def test_a_copy_shares_no_id_and_keeps_its_threads(self) -> None:
        self.site, made = copy_form(self.site, FORM)
        copy = self.site.form(made)
        self.assertFalse({f.id for f in copy.fields} & {f.id for f in self.form.fields})
        route = copy.routes[0]
        self.assertEqual([copy.field(f).label for f in route.fields.values()],
                         ["E-mail", "Your name"])

    def test_every_role_gives_valid_html(self) -> None:
        for role in Role:
            self.site = add_field(self.site, FORM, role)
        html = live_page(context(self.site), Assets(), live_body(context(self.site)))
        parser = html5lib.HTMLParser(strict=True)
        parser.parse(html)
        self.assertRegex(html, 'type="date"(?! maxlength)')
        ids = re.findall(r' id="([^"]+)"', html)
        self.assertEqual(len(ids), len(set(ids)))

    def test_steps_are_fieldsets_that_work_without_a_script(self) -> None:
        self.site = set_step(self.site, FORM, self.form.steps[1].id,
                             only=Only(self.choice, ("One",)))
        self.site = add_field(self.site, FORM, Role.EMAIL, step=self.form.steps[1].id)
        html = str(live_body(context(self.site)))
        self.assertEqual(html.count("<fieldset class=\"form-step\""), 2)
        # What may not be asked at all, no browser may insist on.
        conditional = html.split('class="form-step"')[2]
        self.assertIn("data-required", conditional)
        self.assertNotIn(" required", conditional.split("</fieldset>")[0])


class ThreadTest(unittest.TestCase):
    LIST = (Wanted("EMAIL", "email", True), Wanted("FULL_NAME"), Wanted("PHONE", "phone"),
            Wanted("PARTY", "choice", False, ("1", "2")), Wanted("SOURCE"))

    def form(self) -> Form:
        return Form(id="f", name="F", fields=(
            FormField("n", Role.NAME, "Who are you"), FormField("m", Role.EMAIL, "Mail"),
            FormField("c", Role.CHOICE, "How many", choices=("1", "2")),
            FormField("s", Role.HIDDEN, "From", source="utm_source")))

    def test_sensible_threads_are_proposed(self) -> None:
        self.assertEqual(proposed_fields(self.form(), self.LIST),
                         {"EMAIL": "m", "FULL_NAME": "n", "PARTY": "c", "SOURCE": "s"})

    def test_what_is_wrong_with_a_thread_is_said_at_its_field(self) -> None:
        route = FieldRoute("r", "s", fields={"EMAIL": "n", "PARTY": "m", "GONE": "c", "X": "lost"})
        faults = route_faults(self.form(), route, self.LIST)
        self.assertEqual(dict(faults), {
            "GONE": "the service no longer has this field", "X": "the field that filled it is gone",
            "EMAIL": "required, but “Who are you” may be left empty"})
        needed = FieldRoute("r", "s", fields={"EMAIL": "c", "PARTY": "c"})
        self.assertIn("required", route_faults(self.form(), needed, self.LIST)["EMAIL"])
        self.assertEqual(route_faults(self.form(), FieldRoute("r", "s"), self.LIST),
                         {"EMAIL": "required: draw a thread to it"})
        self.assertEqual(route_faults(self.form(), FieldRoute("r", "s", fields={"A": "n"}), None),
                         {})

    def test_renaming_changes_no_mapping_and_a_needed_address_stays(self) -> None:
        site = small_site()
        renamed = set_field_of(site, FORM, EMAIL, label="Anything")
        self.assertEqual(renamed.form(FORM).routes, site.form(FORM).routes)
        for changes in ({"role": Role.LINE}, {"required": False}):
            with self.assertRaisesRegex(EditError, "needs the e-mail"):
                set_field_of(site, FORM, EMAIL, **changes)
        cut = wire(site, FORM, "route1", "EMAIL", "")
        self.assertEqual(set_field_of(cut, FORM, EMAIL, role=Role.LINE).form(FORM).field(
            EMAIL).role, Role.LINE)

    def test_services_are_added_set_and_only_deleted_when_unused(self) -> None:
        site, made = add_service(small_site(), "hook", "Ledger")
        with self.assertRaisesRegex(EditError, "begins with https"):
            set_service(site, made, name="L", practice=False, address="x", options={})
        site = set_service(site, made, name=" My  ledger ", practice=False,
                           address="https://l.example", options={"body": "form", "headers": " "})
        self.assertEqual(site.service(made).options, {"body": "form"})
        self.assertIsNone(delete_service(site, made).service(made))
        with self.assertRaisesRegex(EditError, "Places"):
            delete_service(site, "mailbox")

    def test_a_project_of_an_earlier_needle_keeps_its_threads(self) -> None:
        old = (b'{"site": {"forms": [{"routes": [{"by": "list", "id": "r", "service": "s", '
               b'"list_key": "k", "list_name": "K", "fields": {"f1": "EMAIL"}}]}]}}')
        self.assertIn(b'"target":"k","target_name":"K","fields":{"EMAIL":"f1"}',
                      upgraded_site(old, 1))
        self.assertEqual(upgraded_site(old, 2), old)


class TrackingTest(unittest.TestCase):
    """Codes in a page, and what a visit says of them."""

    def setUp(self) -> None:
        self.site, self.codes = small_site(), {}
        for name, html, more in (
                ("count", '<script src="https://c.example/a.js?id=1"></script>', {}),
                ("advert", "<script>ask('https://c.example/p?id=2')</script>",
                 {"purpose": "marketing", "place": "end"}),
                ("broken", "<script>oops(</script>", {"purpose": "needed", "place": "start"}),
                ("off", "<b></b>", {"on": False}),
                ("elsewhere", "<b></b>", {"reach": "page2"}),
                ("quiet", "<i></i>", {"purpose": "needed"})):
            self.site, made = add_code(self.site, name, html)
            self.site = set_code(self.site, made, **more)
            self.codes[name] = made

    def html(self, site: Site) -> str:
        return live_page(context(site), Assets(), live_body(context(site)))

    def test_codes_stand_where_they_belong_and_wait_if_asked(self) -> None:
        html = self.html(self.site)
        head, body = html.split("<body", 1)
        self.assertIn("a.js?id=1", head)
        self.assertLess(body.index("oops("), body.index("<main "))
        self.assertGreater(body.index("ask("), body.index("</main>"))
        self.assertNotIn("<template data-purpose", html)
        asked = set_consent(self.site, asked=True)
        waiting = self.html(asked)
        self.assertEqual(waiting.count("<template data-purpose"), 2)
        self.assertIn("data-consent-banner", waiting)
        self.assertNotIn("a.js", str(live_body(context(asked, "walk"))))
        self.assertIn("consent", runtime_parts(context(asked), True))

    def test_no_code_can_end_its_waiting_by_itself(self) -> None:
        asked = set_consent(set_code(self.site, self.codes["count"], html=(
            "</template><script>early()</script>")), asked=True)
        tree = html5lib.parse(self.html(asked), namespaceHTMLElements=False)
        self.assertNotIn("early()", [script.text for script in tree.iter("script")])

    def test_a_visit_tells_of_each_code_what_became_of_it(self) -> None:
        asked = set_consent(self.site, asked=True)
        html = self.html(asked)
        line = code_lines(html)[self.codes["broken"]].start + 1
        seen = [Asked("https://c.example/p?id=2", 2000, True),
                Asked("https://c.example/a.js?id=1", 1900, True)]
        told = {one.code.name: (one.state, one.words) for one in firings(
            asked, asked.page(PAGE), html, seen, [Complaint("SyntaxError: x", line, False)])}
        self.assertEqual(told["count"][0], "waits")
        self.assertIn("1 request to c.example", told["advert"][1])
        self.assertEqual(told["broken"], ("wrong", "SyntaxError: x (its line 1)"))
        self.assertEqual(told["off"], ("absent", "is switched off"))
        self.assertEqual(told["elsewhere"], ("absent", "runs on page Thanks only"))
        self.assertEqual(told["quiet"][0], "silent")
        plain = {one.code.name: one.state for one in firings(
            self.site, self.site.page(PAGE), self.html(self.site),
            [Asked("https://c.example/a.js?id=1", 90, False, 404)], [])}
        self.assertEqual((plain["count"], plain["advert"]), ("wrong", "silent"))
        late = {one.code.name: one.words for one in firings(
            self.site, self.site.page(PAGE), "<html>", [], [])}
        self.assertIn("send the page again", late["count"])

    def test_what_embedded_code_asks_for_is_no_codes_request(self) -> None:
        embed = Embed(id="embed1", code='<iframe src="https://c.example/booking/frame"></iframe>')
        site = insert(self.site, embed, "popup1", "inside")
        asked = [Asked("https://c.example/booking/frame", 90, False, 200)]
        told = {one.code.name: one.state for one in firings(
            site, site.page(PAGE), self.html(site), asked, [])}
        self.assertNotIn("fired", told.values())
        own = [*asked, Asked("https://c.example/a.js?id=1", 95, False, 200)]
        told = {one.code.name: one.words for one in firings(
            site, site.page(PAGE), self.html(site), own, [])}
        self.assertIn("1 request to c.example", told["count"])

    def test_deleting_a_code_takes_it_off_the_pages(self) -> None:
        self.assertNotIn("oops(", self.html(delete_code(self.site, self.codes["broken"])))
