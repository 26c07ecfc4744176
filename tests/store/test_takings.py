"""What orders brought in, by page, variant, form and split test."""

import tempfile
import unittest
from decimal import Decimal
from pathlib import Path

from needle.core.measure.events import Event, EventKind
from needle.core.measure.period import SplitPeriod
from needle.store.results.ordered import NewOrder, OrderLine
from needle.store.results.orders import list_orders, set_state
from needle.store.results.payments import ask_refund
from needle.store.results.stream import take_events
from needle.store.results.tables import open_results
from needle.store.results.taking import NewLead, take_lead
from needle.store.results.takings import Takings, form_takings, page_takings, split_takings


class TakingsTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.engine = open_results(Path(folder.name) / "results.db")
        self.addCleanup(self.engine.dispose)

    def visit(self, visitor: str, page: str, at_ms: int, variant: str = "A") -> None:
        take_events(self.engine, [Event(at_ms=at_ms, visitor=visitor, kind=EventKind.VISIT,
                                        page=page, variant=variant)])

    def order(self, visitor: str, at_ms: int, total: str, currency: str = "GBP") -> int:
        take_lead(self.engine, NewLead(
            key=f"{visitor}-{at_ms}", at_ms=at_ms, visitor=visitor, form="f1", form_name="F",
            page="cart", variant="A", email=f"{visitor}@mail.example", answers=[],
            order=NewOrder(lines=[OrderLine("a", "A", "", 1, total, total)], way="", things=total,
                           carriage="0.00", tax="0.00", total=total, currency=currency)))
        return list_orders(self.engine)[0].id

    def test_an_order_counts_on_each_page_that_its_person_was_on_before(self) -> None:
        self.visit("ann", "home", 10)
        self.visit("ann", "thing", 20, "B")
        self.visit("ben", "home", 30)
        self.visit("cy", "home", 900)  # After they ordered.
        self.order("ann", 100, "19.00")
        self.order("ann", 200, "5.50")
        self.order("cy", 300, "7.00", "EUR")
        gone = self.order("ben", 400, "99.00")
        set_state(self.engine, gone, "cancelled", 401)
        both = Takings(2, {"GBP": Decimal("24.50")})
        self.assertEqual(page_takings(self.engine), {
            ("home", "A"): both, ("thing", "B"): both, ("cart", "A"): Takings(3, {
                "GBP": Decimal("24.50"), "EUR": Decimal("7.00")})})
        self.assertEqual(form_takings(self.engine), {"f1": Takings(3, {
            "GBP": Decimal("24.50"), "EUR": Decimal("7.00")})})

    def test_what_was_paid_back_is_not_taken(self) -> None:
        self.visit("ann", "home", 10)
        order = self.order("ann", 100, "19.00")
        set_state(self.engine, order, "paid", 101)
        ask_refund(self.engine, order, Decimal("4.00"), "wish", 102)
        self.assertEqual(form_takings(self.engine)["f1"].sums, {"GBP": Decimal("15.00")})

    def test_a_test_has_what_its_visitors_ordered_in_its_time(self) -> None:
        for visitor, at_ms, variant in (("old", 10, "A"), ("ann", 60, "A"), ("ben", 70, "B"),
                                        ("late", 80, "B")):
            self.visit(visitor, "home", at_ms, variant)
        for visitor, at_ms in (("old", 100), ("ann", 110), ("ben", 120), ("late", 500)):
            self.order(visitor, at_ms, "10.00")
        test = SplitPeriod(page="home", arms=(("A", 50), ("B", 50)), began_ms=50,
                           ended_ms=400)
        ten = Takings(1, {"GBP": Decimal("10.00")})
        self.assertEqual(split_takings(self.engine, test), {"A": ten, "B": ten})
