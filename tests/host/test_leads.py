import os
import signal
import time

from needle.core.edit.pages import split_page
from needle.core.site.site import Site
from needle.practice.mailbox import messages
from needle.publish.live import send_pages, take_off
from needle.running.addresses import practice_folder
from needle.store.results.book import Filter, list_leads
from needle.store.results.counting import page_counts
from needle.store.results.tables import outbox
from tests.host.stall import StallTest, wait_for
from tests.sites import EMAIL, PAGE, small_site


class LeadTest(StallTest):
    def test_a_lead_reaches_lead_book_list_and_mailbox_and_counts_once(self) -> None:
        self.visitor.get("/night")
        visit = {"page": PAGE, "variant": "A", "from": "", "query": "?utm_source=poster"}
        for _ in range(2):
            self.assertEqual(self.visitor.post("/_needle/visit", json=visit).status_code, 204)
        answer = self.post(self.answers())
        self.assertEqual(answer.json(), {"go": "/thanks"})
        self.assertTrue(wait_for(lambda: self.members() and self.mail()))
        self.assertEqual(self.members()[0]["fields"],
                         {"EMAIL": "ro@mail.example", "FULL_NAME": "Ro"})
        self.assertEqual(self.mail(), ["New lead from Places: ro@mail.example"])
        (letter,) = messages(practice_folder(self.folder, "mail"))
        html = letter.get_body(("html",))
        assert html is not None
        main = small_site().brand.colours()["main"]
        self.assertIn(f"background:{main}", html.get_content())
        self.assertIn("ro@mail.example", html.get_content())
        (count,) = page_counts(self.engine)
        self.assertEqual((count.visitors, count.conversions), (1, 1))

    def test_a_bare_post_is_kept_as_a_robot_and_neither_sent_nor_counted(self) -> None:
        answer = self.visitor.post("/_needle/lead/form1", data={EMAIL: "bot@mail.example"})
        self.assertEqual(answer.status_code, 303)
        (lead,) = list_leads(self.engine, Filter(robots="with"))
        self.assertTrue(lead.robot)
        self.assertIn("without the page's script", lead.signs)
        time.sleep(1)
        self.assertEqual((self.members(), self.mail()), ([], []))
        self.assertEqual(sum(c.conversions for c in page_counts(self.engine)), 0)
        self.assertEqual(list_leads(self.engine), [])

    def test_from_another_site_is_put_aside(self) -> None:
        self.post(self.answers(), Origin="https://elsewhere.example")
        (lead,) = list_leads(self.engine, Filter(robots="with"))
        self.assertIn("another site", lead.signs)

    def test_bad_answers_are_refused_in_words_and_nothing_is_kept(self) -> None:
        for sent, words in ((self.answers(email=""), "“E-mail” is needed"),
                            (self.answers(email="not one"), "does not look like an e-mail"),
                            (self.answers(name1="x" * 301), "at most 300 characters")):
            with self.subTest(words):
                answer = self.post(sent)
                self.assertEqual(answer.status_code, 422)
                self.assertIn(words, answer.json()["words"])
        form = "application/x-www-form-urlencoded"
        latin = self.visitor.post("/_needle/lead/form1", content=b"mail1=ro%40mail.example",
                                  headers={"Content-Type": f"{form}; charset=punycode"})
        self.assertEqual(latin.status_code, 400)
        self.assertIn("UTF-8", latin.text)
        huge = self.visitor.post("/_needle/lead/form1", data={EMAIL: "x" * 300_000})
        self.assertEqual(huge.status_code, 400)
        self.assertEqual(list_leads(self.engine, Filter(robots="with")), [])

class DeliveryTest(StallTest):
    def test_a_list_that_is_down_gets_the_lead_once_when_it_is_back(self) -> None:
        self.break_service("list", "down")
        self.post(self.answers())
        self.assertTrue(wait_for(self.mail))
        self.assertTrue(wait_for(lambda: any("503" in r for r in self.results())))
        self.break_service("list", "none")
        self.assertTrue(wait_for(self.members))
        time.sleep(1.5)
        self.assertEqual([m["writes"] for m in self.members()], [1])

    def test_each_fault_is_said_in_words(self) -> None:
        for fault, words in (("key", "refused the key"), ("nonsense", "not its protocol")):
            self.break_service("list", fault)
            self.post(self.answers(f"{fault}@mail.example"))
            with self.subTest(fault):
                self.assertTrue(wait_for(lambda w=words: any(w in r for r in self.results())))

    def test_a_killed_host_delivers_after_it_is_started_again(self) -> None:
        self.break_service("list", "down")
        self.post(self.answers())
        self.assertTrue(wait_for(lambda: any("503" in r for r in self.results())))
        os.kill(self.stand.child("host").pid, signal.SIGKILL)
        self.stand.stop()
        self.start()
        time.sleep(0.5)
        self.assertEqual(len(list_leads(self.engine)), 1)
        self.break_service("list", "none")
        self.assertTrue(wait_for(self.members))
        self.assertEqual([m["writes"] for m in self.members()], [1])
        self.assertTrue(wait_for(self.mail))
        self.assertEqual(len(self.mail()), 1)

    def results(self) -> list[str]:
        with self.engine.connect() as connection:
            return [row.result for row in connection.execute(outbox.select())]


class SplitTest(StallTest):
    def site(self) -> Site:
        from datetime import UTC, datetime

        return split_page(small_site(), PAGE, datetime(2026, 11, 1, tzinfo=UTC))

    def test_unknown_pages_and_pages_taken_off_are_said_in_words(self) -> None:
        self.assertIn("There is no page at /nowhere", self.visitor.get("/nowhere").text)
        take_off(self.folder, [PAGE])
        self.assertEqual(self.visitor.get("/night").status_code, 404)
        self.assertEqual(self.visitor.get("/thanks").status_code, 200)
        self.assertFalse((self.folder / "live" / "night").exists())
        send_pages(self.made, self.folder, [PAGE])
        self.assertEqual(self.visitor.get("/night").status_code, 200)
