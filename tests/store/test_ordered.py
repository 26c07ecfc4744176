"""What an order says of itself."""

import dataclasses
import unittest

from needle.store.results.ordered import NewOrder, OrderLine, Tip

ORDER = NewOrder(lines=[OrderLine("a", "Torch", "", 1, "19.00", "19.00")], way="By post",
                 things="19.00", carriage="3.90", tax="3.82", total="24.90", currency="GBP",
                 tip=Tip("For the roof", "2.00"))


class OrderedTest(unittest.TestCase):
    def test_what_a_coupon_takes_off_is_below_zero_or_nothing(self) -> None:
        self.assertEqual(ORDER.off, "0.00")
        self.assertEqual(dataclasses.replace(ORDER, discount="1.90").off, "-1.90")

    def test_tax_comes_on_top_where_the_total_is_more_than_what_it_is_made_of(self) -> None:
        self.assertFalse(ORDER.taxed_on_top)
        self.assertTrue(dataclasses.replace(ORDER, total="29.48", tax="4.58").taxed_on_top)
        # A business elsewhere pays less than the prices say: no tax is on top.
        self.assertFalse(dataclasses.replace(ORDER, total="21.08", tax="0.00").taxed_on_top)
        self.assertFalse(dataclasses.replace(
            ORDER, discount="1.90", total="23.00").taxed_on_top)


if __name__ == "__main__":
    unittest.main()
