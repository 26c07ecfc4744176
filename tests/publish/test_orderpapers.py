"""What invoices and packing lists say."""

import dataclasses
import unittest
from unittest import mock

import msgspec

from needle.publish import orderpapers
from needle.store.results.ordered import Invoice, Order, OrderLine, PaidBy, Tip, UsedCoupon
from tests.shops import small_shop

ORDER = Order(
    lines=[OrderLine("a", "Torch <b>", "T-1", 2, "19.00", "38.00"),
           OrderLine("b", "Book", "", 1, "12.00", "12.00")],
    way="By post", things="50.00", carriage="3.90", tax="7.83", total="50.90", currency="GBP",
    discount="5.00", coupon=UsedCoupon("c1", "TEN", 0, False),
    tip=Tip("For the roof", "2.00"), land="DE",
    taxes=[("20", "31.42", "6.28"), ("7", "10.47", "0.73")], pay=PaidBy("b", "By bill", "later"),
    id=1, number=12, lead=3, at_ms=1_800_000_000_000, state="paid", states=[("paid", 1)],
    email="ann@mail.example", answers=[("Name", "Ann <i>Lee"), ("E-mail", "ann@mail.example"),
                                       ("Street", "Lane 3"), ("Your order", "2 ×\n1 ×")])


class PaperTest(unittest.TestCase):
    def said(self, make: str, language: str = "en", order: Order = ORDER) -> str:
        site = msgspec.structs.replace(small_shop(seller="Barn & Co\nMoor Lane"),
                                       language=language)
        told: list[str] = []
        with mock.patch.object(orderpapers, "pdf_of", lambda html: told.append(html) or b"%PDF"):
            if make == "packing":
                orderpapers.packing_pdf(order, site)
            else:
                made = Invoice(7, 1_800_086_400_000, orderpapers.billed_to(order))
                orderpapers.invoice_pdf(order, made, site)
        return told[0].partition("<body>")[2]

    def test_an_invoice_says_who_what_and_the_tax_of_each_rate(self) -> None:
        said = self.said("invoice")
        for words in ("Barn &amp; Co\nMoor Lane", "Ann &lt;i&gt;Lee\nLane 3", "Invoice 7",
                      "Order no. 12 of 2027-01-15", "<td>Torch &lt;b&gt;</td><td>2</td>",
                      "<td>£19</td><td>£38</td>", "<dt>Coupon TEN</dt><dd>-£5</dd>",
                      "<dt>For the roof</dt><dd>£2</dd>",
                      "<dt>Net, at 20 %</dt><dd>£31.42</dd>", "<dt>Tax, 7 %</dt><dd>£0.73</dd>",
                      '<dt class="total">Total</dt><dd class="total">£50.90</dd>'):
            self.assertIn(words, said)
        self.assertNotIn("ann@mail.example", said)

    def test_it_is_in_the_language_of_the_site_and_tells_who_owes_the_tax(self) -> None:
        firm = dataclasses.replace(ORDER, firm="DE136695976")
        said = self.said("invoice", "de", firm)
        self.assertIn("Rechnung 7", said)
        self.assertIn("Steuerschuldnerschaft des Leistungsempfängers: DE136695976.", said)
        self.assertIn("50,90\xa0£", said)

    def test_a_packing_list_has_no_prices(self) -> None:
        said = self.said("packing")
        self.assertIn("<td>Torch &lt;b&gt;</td><td>T-1</td><td>2</td><td>[  ]</td>", said)
        self.assertNotIn("£", said)
