import unittest

from needle.core.render.holders import KINDS
from needle.core.values.look import Look
from needle.core.values.styletable import PROPERTIES, TABLE, look_faults, measured
from needle.core.values.widths import Width


class StyleTableTest(unittest.TestCase):
    def test_every_row_is_whole_and_some_kind_takes_it(self) -> None:
        traits = frozenset().union(*(kind.traits for kind in KINDS))
        for row in PROPERTIES:
            with self.subTest(row.name):
                self.assertIn(row.needs, traits)
                self.assertTrue(row.label)
                values = {"number": (row.low, row.high), "colour": ("ink", "#a1b2c3"),
                          "choice": tuple(row.choices),
                          "face": (*row.choices, "DM Sans")}[row.editor]
                for value in values:
                    self.assertIsNone(row.fault(value))
                    self.assertRegex(row.declarations(value), r"^[-a-z]+:[^{}]+$")
                for default in (row.default, row.phone):
                    self.assertTrue(default is None or row.fault(default) is None)

    def test_every_row_refuses_what_is_no_value_of_it(self) -> None:
        for row in PROPERTIES:
            for value in ("red;}body{display:none", None, True, row.high + 1, (), "#12345"):
                with self.subTest(f"{row.name}={value!r}"):
                    if not (row.editor == "choice" and value in row.choices):
                        self.assertIsNotNone(row.fault(value))

    def test_names_are_used_once(self) -> None:
        self.assertEqual(len(TABLE), len(PROPERTIES))


class MeasuredTest(unittest.TestCase):
    def test_what_a_browser_computes_comes_back_in_the_units_of_the_table(self) -> None:
        computed = {"font-size": "20px", "line-height": "24px", "letter-spacing": "normal",
                    "padding-top": "15px", "margin-left": "-8px", "max-width": "none",
                    "opacity": "0.5", "order": "2", "border-width": "1px 2px"}
        self.assertEqual(measured(computed), {
            "size": 20, "line_height": 1.2, "pad_top": 15, "margin_left": -8, "opacity": 0.5,
            "order": 2})

    def test_rows_that_set_more_than_one_thing_are_not_measured(self) -> None:
        self.assertEqual([TABLE[name].css_name for name in ("cells", "inner", "edge", "face")],
                         ["", "", "", ""])


class LookTest(unittest.TestCase):
    def test_a_value_for_one_width_is_seen_there_alone(self) -> None:
        look = Look(base={"size": 20}).with_value("size", 15, Width.PHONE)
        self.assertEqual([look.value("size", w) for w in Width], [15, 20, 20])
        self.assertEqual(look.differs("size"), (Width.PHONE,))
        self.assertEqual(look.with_value("size", None, Width.PHONE), Look(base={"size": 20}))

    def test_what_the_table_does_not_allow_is_named(self) -> None:
        self.assertIn("glow", str(look_faults(Look(base={"glow": 1}))[0]))
        self.assertIn("8 to 200 px", str(look_faults(Look(phone={"size": 900}))[0]))
