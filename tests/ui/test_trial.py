"""The trial lead and the trial visit, through the window and a real host."""

from needle.core.edit.tracking import add_code, set_code, set_consent
from needle.core.site.site import Site
from needle.practice.faults import set_fault
from needle.practice.mailbox import messages
from needle.publish.live import send_pages
from needle.running.addresses import practice_folder
from needle.running.stand import Stand
from needle.store.results.book import Filter, list_leads
from needle.store.results.counting import page_counts
from needle.ui.connect.trial import TrialDialog
from tests.sites import FORM, PAGE, THANKS, wired_site
from tests.ui.desk import DeskTest

_TAG = "<script>(new Image).src='https://c.example/{}'</script>"


class TrialTest(DeskTest):
    def site(self) -> Site:
        site = wired_site()
        for name, html, more in (
                ("everywhere", _TAG.format("hit?id=1"), {}),
                ("advert", _TAG.format("ad?id=2"), {"purpose": "marketing", "reach": PAGE}),
                ("needed", _TAG.format("need?id=3"), {"purpose": "needed", "reach": THANKS}),
                ("mistyped", "<script>\nvar a = 1;\noops(;\n</script>", {"purpose": "needed"}),
                ("unknown", _TAG.format("x?id=unknown"), {"purpose": "needed", "place": "end"}),
                ("off", "<b></b>", {"on": False})):
            site, made = add_code(site, name, html)
            site = set_code(site, made, **more)
        return set_consent(site, asked=True)

    def setUp(self) -> None:
        super().setUp()
        stand = Stand(self.folder, 0, ("list", "mail", "hook", "contacts"))
        self.addCleanup(stand.stop)
        self.assertEqual(stand.faults, [])
        self.window.outcomes.stand = stand
        send_pages(self.session.site, self.folder, [p.id for p in self.session.site.pages])
        self.window.outcomes.look()
        self.window.show_stage("Connect")
        self.stage = self.window.stages["Connect"]

    def send(self) -> TrialDialog:
        self.window.commands.run("connect.trial")
        dialog = self.stage.trial
        self.until(lambda: dialog.done_words)
        return dialog

    def test_a_trial_lead_is_seen_at_every_stop_and_taken_out_again(self) -> None:
        dialog = self.send()
        stops = [(stop, words) for _, stop, words, _ in dialog._rows]
        self.assertEqual(dialog.done_words, "Every stop was reached.")
        self.assertEqual([words for stop, words in stops if stop == "step"],
                         ["Who is coming?", "The class", "Where can we write?"])
        for stop, words in (("Lists", "Lists added"), ("Mailbox", "notice delivered"),
                            ("Hook", "Hook 201"), ("File", "File written"),
                            ("Contacts", "Contacts added"), ("Lists", "taken out again"),
                            ("lead book", "taken out again")):
            self.assertIn((stop, words), stops)
        engine = self.window.outcomes.engine
        self.assertEqual(list_leads(engine, Filter(robots="with")), [])
        self.assertEqual(sum(count.conversions for count in page_counts(engine)), 0)
        (letter,) = messages(practice_folder(self.folder, "mail"))
        self.assertIn("trial-", letter["subject"])
        dialog.reject()

    def test_a_stop_that_does_not_answer_is_said(self) -> None:
        set_fault(practice_folder(self.folder, "hook"), "key")
        self.window.commands.run("connect.trial")
        dialog = self.stage.trial
        self.until(lambda: any("refused the key" in row[2] for row in dialog._rows))
        set_fault(practice_folder(self.folder, "hook"), "none")
        self.until(lambda: dialog.done_words)
        dialog.reject()

    def test_without_a_live_page_it_says_what_to_do(self) -> None:
        self.session.edit("x", lambda site: site.__class__(**{
            name: getattr(site, name) for name in site.__struct_fields__ if name != "pages"},
            pages=site.pages[1:]))
        self.assertIn("No live page shows this form", self.send().done_words)
        self.stage.trial.reject()
        self.assertEqual(self.session.site.form(FORM).name, "Visit")

    def test_the_visit_says_of_each_code_on_each_page_what_became_of_it(self) -> None:
        self.window.commands.run("connect.visit")
        part = self.stage.tracking
        self.until(lambda: part._visit is None)
        found = {}
        for number in range(part.result.topLevelItemCount()):
            top = part.result.topLevelItem(number)
            found[top.text(0)] = {top.child(n).text(0): (top.child(n).text(1), top.child(n).text(2))
                                  for n in range(top.childCount())}
        night, thanks = found["Night"], found["Thanks"]
        self.assertEqual(night["everywhere"][0], "waits for consent")
        self.assertIn("then 1 request to c.example", night["everywhere"][1])
        self.assertIn("(marketing)", night["advert"][1])
        self.assertEqual(thanks["advert"], ("not here", "runs on page Night only"))
        self.assertEqual((thanks["needed"][0], night["needed"][0]), ("fired", "not here"))
        self.assertEqual(night["mistyped"][0], "wrong")
        self.assertIn("(its line 3)", night["mistyped"][1])
        self.assertEqual(night["unknown"], ("wrong", "c.example answered 404"))
        self.assertEqual(night["off"], ("not here", "is switched off"))
        self.assertIn("4 faults", part._note.text())
