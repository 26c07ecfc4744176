"""The one letter to whoever left a cart."""

import msgspec

from needle.core.edit.forms import change_form
from needle.core.site.site import Site
from needle.core.values.form import FormField, Role
from needle.core.values.shop import LeftCart
from needle.host.clock import now_ms
from needle.host.leftcarts import LeftCarts
from needle.host.orderpaths import OrderPaths
from needle.practice.mailbox import messages
from needle.running.addresses import practice_folder
from needle.store.results.leftcarts import left_behind
from needle.store.results.tables import unfinished
from needle.store.seals import Seals
from tests.host.test_shop import ShopTest
from tests.shops import small_shop
from tests.sites import FORM

TICK = "tick"


class LeftCartTest(ShopTest):
    def site(self) -> Site:
        site = small_shop(left=LeftCart(
            consent=TICK, service="mailbox", subject="Your cart", words="It still stands here.",
            hours=2))
        return change_form(site, FORM, lambda form: msgspec.structs.replace(
            form, keep_unfinished=True, fields=(*form.fields, FormField(
                id=TICK, role=Role.CONSENT, label="Write to me about this cart"))))

    def leave(self, email: str, ticked: bool = True, thing: str = "Torch") -> None:
        who = self.buyer()
        self.put(who, thing)
        sent = self.answers(email) | ({TICK: "yes"} if ticked else {})
        self.assertEqual(who.post(f"/_needle/part/{FORM}", data=sent).status_code, 204)

    def look(self, hours: int = 3) -> None:
        """Have some hours pass, and the host look."""
        with self.engine.begin() as connection:
            connection.execute(unfinished.update().where(unfinished.c.at > 1e12).values(
                at=now_ms() - hours * 3_600_000))
        paths = OrderPaths(self.folder, Seals(self.folder, self.engine))
        LeftCarts(self.folder, self.engine, self.live, paths).look()

    def letters(self) -> list[tuple[str, str]]:
        return [(str(one["to"]), one.get_body(("plain",)).get_content())  # type: ignore[union-attr]
                for one in messages(practice_folder(self.folder, "mail"))
                if str(one["subject"]) == "Your cart"]

    def test_who_agreed_is_written_to_once_and_their_cart_comes_back(self) -> None:
        self.leave("ann@mail.example")
        self.leave("ben@mail.example", ticked=False)
        self.assertEqual(left_behind(self.engine, FORM, TICK, now_ms() - 1000 * 3600), [])
        for _ in range(2):
            self.look()
        ((to, words),) = self.letters()
        self.assertEqual(to, "ann@mail.example")
        self.assertIn("It still stands here.", words)
        link = next(word for word in words.split() if "/_needle/cart?c=" in word)
        page = self.buyer().get(link.partition("/_needle")[1] + link.partition("/_needle")[2])
        self.assertIn("1 × Torch", page.text)
        self.leave("ann@mail.example", thing="Chart")  # Another cart of theirs: once is once.
        self.look()
        self.assertEqual(len(self.letters()), 1)

    def test_who_ordered_since_or_left_long_ago_is_not(self) -> None:
        self.leave("ann@mail.example")
        who = self.buyer()
        self.put(who, "Chart")
        who.post("/_needle/cart", data={"way": "fetch"})
        sent = self.answers("ann@mail.example", _key="k" * 32)
        self.assertEqual(who.post(f"/_needle/lead/{FORM}", data=sent).status_code, 200)
        self.leave("cy@mail.example")
        self.look(hours=24 * 20)
        self.assertEqual(self.letters(), [])

    def test_one_that_cannot_be_sent_is_tried_again(self) -> None:
        self.leave("ann@mail.example")
        self.break_service("mail", "down")
        self.look()
        self.break_service("mail", "none")
        self.look()
        self.assertEqual(len(self.letters()), 1)
