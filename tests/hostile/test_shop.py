"""Everything that a browser, a stranger or a forged call can send to the shop."""

import json
import random
from decimal import Decimal

import httpx
import msgspec

from needle.core.shop.cart import cart_from
from needle.core.shop.pricing import priced
from needle.core.site.site import Site
from needle.core.values.shop import Coupon, Extra, Land
from needle.host.clock import day
from needle.store.results.orders import list_orders
from tests.host.test_paying import PayTest
from tests.host.test_shop import key_of

_ODD = ("", "-1", "0", "1e9", "10000", "99999999999999999999", "¼", "<b>", "' OR 1=1 --",
        "\r\nX: y", "a" * 3000, "../../etc/passwd", "%00", "é", "null", "{}", "[]", "\x00",
        "DE136695976", "GB")
_FIELDS = ("row", "option", "count", "by", "code", "land", "firm", "tip", "way", "pay", "c",
           "line.x")


class ShopHostileTest(PayTest):
    def site(self) -> Site:
        site = super().site()
        chart = next(row.id for row in site.tables[0].rows if row.cells[0] == "Chart")
        return msgspec.structs.replace(site, shop=msgspec.structs.replace(
            site.shop, reverse=True, tip="For the roof",
            lands=(Land(code="GB", tax="20"), Land(code="DE", tax="19")),
            extra=Extra(row=chart, percent="20"),
            coupons=(Coupon(id="c1", code="TEN", value="10"),)))

    def odd(self, dice: random.Random) -> str:
        return dice.choice((*_ODD, *self.keys.values(), "ten", "post", "card", "o", "1", "3"))

    def test_whatever_is_sent_no_total_is_wrong_and_nothing_fails(self) -> None:
        dice = random.Random(16)
        live = self.live()
        for round_ in range(12):
            who = self.buyer()
            for _ in range(20):
                sent = {field: self.odd(dice) for field in dice.sample(_FIELDS, 3)}
                self.assertLess(who.post("/_needle/cart", data=sent).status_code, 500, sent)
                self.assertLess(who.get("/_needle/cart", params={
                    "c": self.odd(dice)}).status_code, 500)
            if dice.random() < 0.3:  # What a browser keeps can be written by hand.
                kept = f"{self.keys['Torch']}*2:1={dice.choice('ow')}!%TEN!+{dice.choice(_ODD[:8])}"
                who.cookies.clear()
                who.headers["Cookie"] = f"needle_cart={kept.encode('ascii', 'ignore').decode()}"
            self.order(who, f"n{round_}@mail.example")
        for order in list_orders(self.engine):
            # What was ordered is priced as anybody's cart of these things would be.
            things = sum(Decimal(line.unit) * line.pieces for line in order.lines)
            self.assertEqual(Decimal(order.things), things)
            self.assertTrue(all(0 < line.pieces < 100 for line in order.lines))
            tip = Decimal(order.tip.amount) if order.tip is not None else Decimal(0)
            self.assertLess(tip, 10_000)
            self.assertGreaterEqual(Decimal(order.total), tip)
        found = priced(cart_from(f"{self.keys['Torch']}*1:1"), live.sold(), {}, live.shop, day())
        self.assertEqual(found.total, Decimal("19.00"))

    def test_no_foreign_order_is_seen_paid_or_taken_back(self) -> None:
        who = self.buyer()
        self.ordered(who)
        key, dice = key_of("ro@mail.example"), random.Random(4)
        seals = ["", "0", "x" * 200, f"{2 ** 60}.abc", key, "..", "%2e%2e", "\u00e9"]
        for seal in seals:
            for what in ("order", "pay"):
                for method in ("GET", "POST"):
                    answer = who.request(method, f"/_needle/{what}/{key}/{seal or '-'}",
                                         data={"do": dice.choice(("cancel", "again", "more-yes"))})
                    self.assertIn(answer.status_code, (404, 405, 410), seal)
                    self.assertNotIn("Torch", answer.text)
        self.assertEqual(self.only().state, "new")

    def test_calls_about_payments_of_any_shape_change_nothing(self) -> None:
        who = self.buyer()
        self.onward(who, self.ordered(who))
        dice = random.Random(5)
        for _ in range(120):
            body = bytes(dice.randrange(256) for _ in range(dice.randrange(60))) if (
                dice.random() < 0.5) else json.dumps({name: self.odd(dice) for name in (
                    "id", "state", "amount", "currency")}).encode()
            headers = {"X-Signature": dice.choice(("", "t=1,v1=0", "t=,v1=", "v1=" + "0" * 64,
                                                   f"t={10 ** 11},v1={'0' * 64}"))}
            answer = httpx.post(f"{who.base_url}/_needle/paid/{dice.choice(('paydesk', 'x'))}",
                                content=body, headers=dict(who.headers) | headers,
                                trust_env=False, timeout=240)
            self.assertIn(answer.status_code, (400, 401, 404))
        self.assertEqual(self.only().state, "new")
