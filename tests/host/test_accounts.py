"""All orders of a person: asked for by address, seen by letter alone."""

from concurrent.futures import ThreadPoolExecutor

import msgspec

from needle.core.edit.forms import change_form
from needle.core.site.site import Site
from needle.core.values.form import Letter
from needle.core.values.shop import Extra
from needle.host.clock import now_ms
from needle.practice.mailbox import messages
from needle.running.addresses import practice_folder
from needle.store.results.accounts import ask_account, orders_beside
from needle.store.results.erasing import erase_person
from needle.store.results.orders import list_orders
from needle.store.results.tables import outbox
from needle.store.seals import Seals
from tests.host.stall import wait_for
from tests.host.test_shop import ShopTest, key_of
from tests.shops import small_shop
from tests.sites import FORM

SENT = "a letter is on its way to it"


class AccountTest(ShopTest):
    def site(self) -> Site:
        site = small_shop()
        chart = next(row.id for row in site.tables[0].rows if row.cells[0] == "Chart")
        return change_form(msgspec.structs.replace(site, shop=msgspec.structs.replace(
            site.shop, extra=Extra(row=chart, percent="20"))), FORM, lambda form:
            msgspec.structs.replace(form, letter=Letter("mailbox", "Your order", "Thank you.")))

    def buys(self, thing: str, email: str, key: str) -> None:
        who = self.buyer()
        self.put(who, thing)
        who.post("/_needle/cart", data={"way": "fetch"})
        sent = self.answers(email, _key=key)
        self.assertEqual(who.post(f"/_needle/lead/{FORM}", data=sent).status_code, 200)

    def ask(self, email: str) -> str:
        return self.buyer().post("/_needle/orders", data={"email": email}).text

    def letters(self) -> list[tuple[str, str]]:
        return [(str(one["to"]), one.get_body(("plain",)).get_content())  # type: ignore[union-attr]
                for one in messages(practice_folder(self.folder, "mail"))
                if str(one["subject"]).startswith("All your orders")]

    def test_a_letter_leads_to_all_orders_of_its_address_and_no_others(self) -> None:
        self.buys("Torch", "ann@mail.example", "a" * 32)
        self.buys("Rare", "Ann@Mail.example", "b" * 32)
        self.buys("Torch", "ben@mail.example", "d" * 32)
        self.assertIn('name="email"', self.buyer().get("/_needle/orders").text)
        self.assertIn(SENT, self.ask("ann@mail.EXAMPLE"))
        self.assertTrue(wait_for(lambda: len(self.letters()) == 1))
        ((to, words),) = self.letters()
        self.assertEqual(to.casefold(), "ann@mail.example")
        link = next(word for word in words.split() if "/_needle/orders/" in word)
        path = link[link.index("/_needle/"):]
        page = self.buyer().get(path).text
        for shown in ("Order No. 1", "Order No. 2", "is kept", "£19", "£5"):
            self.assertIn(shown, page)
        self.assertNotIn("Order No. 3", page)
        # What is offered beside the newest one is offered here, too.
        self.assertIn("<b>Chart</b> <s>£12.50</s> £10", page)
        action = page.partition('action="')[2].partition('"')[0]
        self.assertIn("Order Chart as well?",
                      self.buyer().post(action, data={"do": "more"}).text)
        order = page.partition('<td><a href="')[2].partition('"')[0]
        self.assertIn("Order no. 2 is kept.", self.buyer().get(order).text)

    def test_whether_somebody_bought_here_is_not_told(self) -> None:
        self.buys("Torch", "ann@mail.example", "a" * 32)
        told = self.ask("ann@mail.example")
        for other in ("nobody@mail.example", "", "x\r\nBcc: y@z.example", "<b>", "a" * 9000):
            self.assertEqual(self.ask(other), told)
        self.assertTrue(wait_for(lambda: len(self.letters()) == 1))

    def test_neither_another_seal_nor_an_erased_person_opens_it(self) -> None:
        self.buys("Torch", "ann@mail.example", key_of("ann@mail.example"))
        key, seals = key_of("ann@mail.example"), Seals(self.folder)
        good = seals.seal("account", now_ms() + 9_000, key)
        for bad in (seals.seal("order", now_ms() + 9_000, key),
                    seals.seal("account", now_ms() - 1, key), good[:-1] + "!"):
            self.assertEqual(self.buyer().get(f"/_needle/orders/{key}/{bad}").status_code, 410)
        self.assertEqual(self.buyer().get(f"/_needle/orders/{key}/{good}").status_code, 200)
        erase_person(self.engine, self.folder, "ann@mail.example")
        self.assertEqual(orders_beside(self.engine, key), [])
        self.assertEqual(self.buyer().get(f"/_needle/orders/{key}/{good}").status_code, 410)
        self.assertEqual(len(list_orders(self.engine)), 1)

    def test_nobody_can_have_a_stranger_flooded(self) -> None:
        self.buys("Torch", "ann@mail.example", "a" * 32)
        asked = [ask_account(self.engine, "ann@mail.example", "orders", now_ms())
                 for _ in range(9)]
        self.assertEqual(asked, [True] * 5 + [False] * 4)
        with self.engine.connect() as connection:
            self.assertEqual(len(connection.execute(outbox.select().where(
                outbox.c.route == "orders")).all()), 5)

    def test_two_who_ask_at_once_are_told_the_same(self) -> None:
        self.buys("Torch", "ann@mail.example", "a" * 32)
        with ThreadPoolExecutor(4) as pool:
            told = list(pool.map(self.ask, ["ann@mail.example"] * 4))
        self.assertEqual(len(set(told)), 1)
        self.assertIn(SENT, told[0])

    def test_very_many_from_one_place_are_refused_in_words(self) -> None:
        codes = [self.buyer().post("/_needle/orders", data={"email": f"n{n}@mail.example"})
                 .status_code for n in range(12)]
        self.assertEqual(codes, [200] * 10 + [429] * 2)

    def test_a_shop_without_letters_says_so(self) -> None:
        self.made = change_form(self.made, FORM, lambda form: msgspec.structs.replace(
            form, letter=None))
        self.publish()
        self.assertEqual(self.buyer().get("/_needle/orders").status_code, 404)
