"""Orders paid through the practice payment service, with each of its faults."""

import json
import re
import time
from concurrent.futures import ThreadPoolExecutor
from decimal import Decimal

import httpx
import msgspec

from needle.core.site.site import Service, Site
from needle.core.values.shop import PayWay
from needle.host.clock import now_ms
from needle.running.addresses import practice_folder, read_address
from needle.running.signing import signature
from needle.store.refusing import StoreError
from needle.store.results.ordered import Order
from needle.store.results.orders import list_orders, order_at, set_state
from needle.store.results.payments import ask_refund, payments_of, refundable, refunds_of
from needle.store.results.tables import orders, payments
from tests.host.stall import wait_for
from tests.host.test_shop import ShopTest, key_of
from tests.shops import small_shop
from tests.sites import FORM

DESK = "paydesk"
PAYS = (PayWay(id="card", name="At once", kind="service", service=DESK),
        PayWay(id="bill", name="By transfer", words="To GB00 0000"))


class PayTest(ShopTest):
    practice = ("list", "mail", "pay")

    def site(self) -> Site:
        site = small_shop(pays=PAYS)
        return msgspec.structs.replace(site, services=(
            *site.services, Service(id=DESK, name="Pay desk", does="pay", practice=True)))

    def ordered(self, who: httpx.Client, thing: str = "Torch", email: str = "ro@mail.example",
                count: str = "1", pay: str = "card") -> str:
        """Order something, and return where the form leads to."""
        self.put(who, thing, count)
        who.post("/_needle/cart", data={"way": "fetch", "pay": pay})
        answer = self.order(who, email)
        self.assertEqual(answer.status_code, 200, answer.text)
        return str(answer.json().get("go", ""))

    def onward(self, who: httpx.Client, path: str) -> str:
        """Return where the payment service has the order paid."""
        page = who.get(path)
        found = re.search(r'content="0;url=([^"]+)"', page.text)
        self.assertIsNotNone(found, page.text)
        return found[1] if found else ""

    def pays(self, who: httpx.Client, path: str, **sent: str) -> httpx.Response:
        """Pay on the service's page, and come back."""
        answer = httpx.post(self.onward(who, path), data={"do": "pay"} | sent, trust_env=False,
                            timeout=240)
        if answer.status_code == 200:
            return answer
        return who.get(httpx.URL(answer.headers["location"]).path)

    def only(self) -> Order:
        (order,) = list_orders(self.engine)
        return order

    def desk(self) -> dict[str, str]:
        facts = read_address(practice_folder(self.folder, "pay"))
        assert facts is not None
        return {name: str(value) for name, value in facts.items()}

    def at_desk(self, what: str) -> list[dict[str, str]]:
        """Return the payments, or what was paid back, as the service has them."""
        desk = self.desk()
        found: list[dict[str, str]] = httpx.get(f"{desk['url']}/{what}", trust_env=False, headers={
            "Authorization": f"Bearer {desk['key']}"}, timeout=240).json()
        return found

    def call(self, told: dict[str, str], key: str = "", at_s: int = 0) -> int:
        body = json.dumps(told).encode()
        return self.visitor.post(f"/_needle/paid/{DESK}", content=body, headers={
            "X-Signature": signature(key or self.desk()["key"], at_s or int(time.time()), body),
        }).status_code

    def set_due(self, at_ms: int) -> None:
        with self.engine.begin() as connection:
            connection.execute(orders.update().values(due=at_ms))


class WayThereTest(PayTest):
    def test_an_order_is_paid_at_the_service_and_its_person_comes_back_to_it(self) -> None:
        who = self.buyer()
        go = self.ordered(who)
        self.assertRegex(go, r"\A/_needle/pay/\w+/\S+\Z")
        self.assertEqual((self.only().state, self.only().pay.name), ("new", "At once"))
        self.assertEqual(self.left()[self.keys["Torch"]], 2)
        back = self.pays(who, go)
        self.assertIn("Order no. 1 is paid.", back.text)
        self.assertNotIn("Pay now", back.text)
        self.assertEqual(self.only().state, "paid")
        (payment,) = payments_of(self.engine, self.only().id)
        (there,) = self.at_desk("payments")
        self.assertEqual((payment.state, payment.amount, payment.reference, there["state"]),
                         ("paid", "19.00", there["id"], "paid"))
        # Whoever goes there again pays nothing more.
        self.assertIn("is paid", who.get(go).text)
        self.assertEqual(len(self.at_desk("payments")), 1)

    def test_without_a_script_the_form_leads_there_too(self) -> None:
        who = self.buyer()
        self.put(who, "Torch")
        who.post("/_needle/cart", data={"way": "fetch", "pay": "card"})
        page = who.post(f"/_needle/lead/{FORM}", data=self.answers())
        self.assertIn("/pay/p_", page.text)
        self.assertIn("Order No. 1", page.text)

    def test_one_that_is_paid_later_says_how_in_the_letter(self) -> None:
        who = self.buyer()
        self.put(who, "Torch")
        who.post("/_needle/cart", data={"way": "fetch"})
        self.assertEqual(self.order(who).json()["words"], "Choose how you pay.")
        go = self.ordered(who, "Chart", pay="bill")
        self.assertNotIn("_needle/pay", go)
        self.assertIn("By transfer\nTo GB00 0000", dict(self.only().answers)["Your order"])
        self.assertEqual(self.only().due_ms, 0)

    def test_two_tabs_with_one_cart_order_it_once(self) -> None:
        who = self.buyer()
        self.put(who, "Torch")
        who.post("/_needle/cart", data={"way": "fetch", "pay": "card"})
        cookies = dict(who.cookies)

        def send(number: int) -> int:
            return httpx.post(f"{who.base_url}/_needle/lead/{FORM}", headers=dict(
                who.headers) | {"Accept": "application/json"}, cookies=cookies, timeout=240,
                data=self.answers(f"n{number}@mail.example"), trust_env=False).status_code

        with ThreadPoolExecutor(6) as tabs:
            told = sorted(tabs.map(send, range(6)))
        self.assertEqual(told, [303, 409, 409, 409, 409, 409])
        self.assertEqual(self.only().total, "19.00")


class FaultTest(PayTest):
    def test_one_that_is_declined_can_be_paid_again_and_is_paid_once(self) -> None:
        who = self.buyer()
        go = self.ordered(who)
        self.break_service("pay", "declines")
        back = self.pays(who, go)
        self.assertIn("It waits to be paid.", back.text)
        self.assertIn("Pay now", back.text)
        self.break_service("pay", "second")
        self.assertIn("second step", self.pays(who, go).text)
        self.assertEqual(self.only().state, "new")
        self.assertIn("is paid", self.pays(who, go, code="123456").text)
        self.assertEqual([one.state for one in payments_of(self.engine, self.only().id)],
                         ["failed", "paid"])

    def test_calls_that_come_twice_early_wrongly_or_never(self) -> None:
        for number, fault in enumerate(("twice", "early", "signature", "never")):
            with self.subTest(fault):
                who = self.buyer()
                self.break_service("pay", fault)
                go = self.ordered(who, "Chart", f"n{number}@mail.example")
                # They close the page of the service, and never come back.
                httpx.post(self.onward(who, go), data={"do": "pay"}, trust_env=False, timeout=240)
                self.assertTrue(wait_for(lambda: list_orders(self.engine)[0].state == "paid"))
                (payment,) = payments_of(self.engine, list_orders(self.engine)[0].id)
                self.assertEqual(payment.state, "paid")
        self.assertEqual(self.at_desk("refunds"), [])

    def test_a_service_that_is_down_keeps_the_order_and_is_tried_again(self) -> None:
        who = self.buyer()
        self.break_service("pay", "down")
        go = self.ordered(who)
        page = who.get(go)
        self.assertEqual(page.status_code, 503)
        self.assertIn("Your order No. 1 is stored.", page.text)
        self.break_service("pay", "none")
        self.assertIn("is paid", self.pays(who, go).text)
        self.assertEqual(len(self.at_desk("payments")), 1)

    def test_while_the_disk_is_full_nobody_is_told_otherwise_and_then_it_is_paid(self) -> None:
        who = self.buyer()
        go = self.ordered(who)
        shown = go.replace("/pay/", "/order/", 1)
        desk = self.onward(who, go)
        with self.engine.begin() as connection:
            connection.exec_driver_sql(
                "CREATE TRIGGER disk_full BEFORE UPDATE ON payments BEGIN "
                "SELECT RAISE(ABORT, 'database or disk is full'); END")
        (there,) = self.at_desk("payments")
        httpx.post(desk, data={"do": "pay"}, trust_env=False, timeout=240)
        back = who.get(shown)
        self.assertEqual(back.status_code, 200)
        self.assertIn("It waits to be paid.", back.text)
        again = who.get(go)
        self.assertEqual((again.status_code, again.headers["retry-after"]), (503, "60"))
        self.assertIn("cannot be kept or looked up just now", again.text)
        told = {"id": there["id"], "state": "paid", "amount": "19.00", "currency": "GBP"}
        self.assertEqual(self.call(told), 503, "the service is to call again")
        with self.engine.begin() as connection:
            connection.exec_driver_sql("DROP TRIGGER disk_full")
        self.assertTrue(wait_for(lambda: self.only().state == "paid"))
        self.assertEqual([one.state for one in payments_of(self.engine, self.only().id)],
                         ["paid"])

    def test_another_amount_never_counts_as_paid(self) -> None:
        who = self.buyer()
        self.break_service("pay", "other")
        back = self.pays(who, self.ordered(who))
        self.assertIn("Something else was paid", back.text)
        self.assertEqual(self.only().state, "new")
        (payment,) = payments_of(self.engine, self.only().id)
        self.assertEqual((payment.state, payment.words), ("odd", "18.99 GBP"))

    def test_calls_that_are_forged_replayed_or_for_another_order(self) -> None:
        who = self.buyer()
        self.break_service("pay", "never")
        self.onward(who, self.ordered(who))
        (there,) = self.at_desk("payments")
        told = {"id": there["id"], "state": "paid", "amount": "19.00", "currency": "GBP"}
        self.assertEqual(self.call(told, key="guessed"), 401)
        self.assertEqual(self.call(told, at_s=int(time.time()) - 900), 401)
        self.assertEqual(self.call(told | {"id": "p_other"}), 404)
        self.assertEqual(self.call(told | {"state": "given"}), 401)
        self.assertEqual(self.call(told | {"amount": "-19.00"}), 401)
        self.assertEqual(self.visitor.post("/_needle/paid/none", content=b"{}").status_code, 404)
        self.assertEqual(self.only().state, "new")
        other = self.buyer()
        self.break_service("pay", "never")
        self.onward(other, self.ordered(other, "Chart", "ann@mail.example"))
        for _ in range(3):
            self.assertEqual(self.call(told), 204)
        self.assertEqual([one.state for one in list_orders(self.engine)], ["new", "paid"])
        self.assertEqual(self.at_desk("refunds"), [])


class LapseTest(PayTest):
    def lapsed(self, who: httpx.Client) -> str:
        """Order the last piece, begin to pay, and have the time run out."""
        self.break_service("pay", "never")
        go = self.ordered(who, "Rare")
        self.onward(who, go)
        self.set_due(now_ms() - 1)
        self.assertTrue(wait_for(lambda: self.only().state == "lapsed"))
        self.assertEqual(self.left()[self.keys["Rare"]], 1)
        return go

    def paid(self) -> int:
        (there,) = self.at_desk("payments")
        httpx.post(f"{self.desk()['url'].removesuffix('/v1')}/pay/{there['id']}",
                   data={"do": "pay"}, trust_env=False, timeout=240)
        return self.call({"id": there["id"], "state": "paid", "amount": "5.00",
                          "currency": "GBP"})

    def test_what_is_not_paid_in_time_goes_back_and_is_taken_again_if_it_is_paid_late(self) -> None:
        who = self.buyer()
        go = self.lapsed(who)
        self.assertIn("was not paid in time", who.get(go).text)
        self.assertEqual(self.paid(), 204)
        self.assertEqual(self.only().state, "paid")
        self.assertEqual([state for state, _ in self.only().states], ["new", "lapsed", "paid"])
        self.assertEqual(self.left()[self.keys["Rare"]], 0)

    def test_what_somebody_else_has_by_then_is_paid_back_by_itself(self) -> None:
        who, other = self.buyer(), self.buyer()
        go = self.lapsed(who)
        self.ordered(other, "Rare", "ann@mail.example", pay="bill")
        self.assertEqual(self.paid(), 204)
        self.assertTrue(wait_for(lambda: self.at_desk("refunds")))
        self.assertEqual([one["amount"] for one in self.at_desk("refunds")], ["5.00"])
        self.assertEqual([one.state for one in list_orders(self.engine)], ["new", "lapsed"])
        self.assertTrue(wait_for(lambda: "5.00 GBP was paid back" in who.get(go).text))

    def test_one_that_its_person_took_back_is_paid_back_if_it_is_paid(self) -> None:
        who = self.buyer()
        self.break_service("pay", "never")
        self.onward(who, self.ordered(who, "Rare"))
        set_state(self.engine, self.only().id, "cancelled", now_ms())
        self.assertEqual(self.paid(), 204)
        self.assertTrue(wait_for(lambda: self.at_desk("refunds")))
        self.assertEqual(self.only().state, "cancelled")


class BackTest(PayTest):
    def test_some_of_it_is_paid_back_once_for_each_wish_and_never_more_than_was_paid(self) -> None:
        who = self.buyer()
        self.pays(who, self.ordered(who, "Chart", count="5"))
        (order,) = list_orders(self.engine)
        self.break_service("pay", "down")
        for _ in range(2):
            ask_refund(self.engine, order.id, Decimal("8.00"), "wish-1", now_ms())
        self.assertTrue(wait_for(
            lambda: "answered 503" in refunds_of(self.engine, order.id)[0].words))
        self.break_service("pay", "none")
        self.assertTrue(wait_for(
            lambda: refunds_of(self.engine, order.id)[0].state == "done"))
        self.assertEqual([one["amount"] for one in self.at_desk("refunds")], ["8.00"])
        self.assertEqual(refundable(self.engine, order.id), Decimal("54.50"))
        with self.assertRaisesRegex(StoreError, "54.50 GBP"):
            ask_refund(self.engine, order.id, Decimal("54.51"), "wish-2", now_ms())
        found = order_at(self.engine, order.id)
        assert found is not None
        self.assertEqual(found[1], key_of("ro@mail.example"))

    def test_what_was_paid_otherwise_is_noted_as_paid_back(self) -> None:
        who = self.buyer()
        self.ordered(who, "Chart", pay="bill")
        order = self.only()
        with self.assertRaises(StoreError):
            ask_refund(self.engine, order.id, Decimal("1"), "wish-1", now_ms())
        set_state(self.engine, order.id, "paid", now_ms())
        ask_refund(self.engine, order.id, Decimal("2.50"), "wish-1", now_ms())
        (refund,) = refunds_of(self.engine, order.id)
        self.assertEqual((refund.state, refund.payment), ("done", None))

    def test_a_host_that_ends_before_it_noted_the_payment_begins_it_once(self) -> None:
        who = self.buyer()
        go = self.ordered(who)
        self.onward(who, go)
        with self.engine.begin() as connection:  # As if it had ended right before that.
            connection.execute(payments.update().values(state="asked", reference="", go=""))
        self.assertIn("is paid", self.pays(who, go).text)
        self.assertEqual(len(self.at_desk("payments")), 1)
