"""How wide pictures are said to be shown; in a browser, `tests.host.test_browser` holds it."""

import unittest
from typing import Any

from needle.core.kinds.picture import Picture
from needle.core.render.shownwidths import shown_widths
from needle.core.site.tree import Column, Row, Section
from needle.core.values.look import Look


def sizes(*columns: dict[str, Any], row: Look = Look(), inner: Look = Look(), item: Look = Look(),
          letter: int = 0, factor: float = 1) -> str:
    """Return the sizes of a picture in the first of these columns."""
    made = tuple(Column(id=f"c{n}", look=Look(base=base), children=(
        Picture(id=f"p{n}", look=item),)) for n, base in enumerate(columns))
    section = Section(id="s", look=inner, children=(Row(id="r", look=row, children=made),))
    return shown_widths([section], letter)["p0"].sizes(factor)


class ShownWidthsTest(unittest.TestCase):
    def test_alone_it_is_as_wide_as_the_section(self) -> None:
        self.assertEqual(sizes({}), "(min-width:1160px) 1120px, calc(100vw - 40px)")
        self.assertEqual(sizes({}, inner=Look(base={"inner": 600})),
                         "(min-width:640px) 600px, calc(100vw - 40px)")
        self.assertEqual(sizes({}, letter=720), "(min-width:760px) 720px, calc(100vw - 40px)")

    def test_columns_share_what_the_gaps_leave(self) -> None:
        self.assertEqual(
            sizes({"share": 2}, {"share": 1}, row=Look(base={"gap": 40})),
            "(min-width:1160px) 720px, (min-width:700px) calc(66.67vw - 53px), "
            "calc(100vw - 40px)")
        never = Look(base={"stack": "never", "gap": 20})
        self.assertIn(" calc(50vw - 30px)", sizes({}, {}, row=never).split(",")[-1])

    def test_cells_are_alike_and_one_below_another_on_a_phone(self) -> None:
        told = sizes({}, {}, {}, {}, row=Look(base={"cells": 3, "gap": 20}, tablet={"cells": 2}))
        self.assertEqual(told, "(min-width:1160px) 360px, (min-width:1080px) "
                               "calc(33.33vw - 27px), (min-width:700px) calc(50vw - 30px), "
                               "calc(100vw - 40px)")

    def test_padding_and_limits_take_from_it_and_hanging_out_gives(self) -> None:
        self.assertIn("1040px", sizes({"pad_left": 60, "pad_right": 20}))
        self.assertIn("1072px", sizes({"card": "theme"}))
        self.assertEqual(sizes({}, item=Look(base={"max_width": 300})),
                         "(min-width:1160px) 300px, min(calc(100vw - 40px), 300px)")
        hung = sizes({}, {}, item=Look(base={"hang": "left", "hang_by": 50}))
        self.assertEqual(hung.split(",")[0], "(min-width:1160px) 598px")
        self.assertEqual(hung.split(",")[-1], " calc(100vw - 40px)", "on a phone nothing hangs out")

    def test_a_picture_of_which_a_part_is_seen_is_fetched_larger(self) -> None:
        self.assertEqual(sizes({}, factor=1.5),
                         "(min-width:1160px) 1680px, calc(150vw - 60px)")


if __name__ == "__main__":
    unittest.main()
