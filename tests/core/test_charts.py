import unittest
import xml.etree.ElementTree as ET

from needle.core.charts.drawing import SHAPES, chart_svg
from needle.core.charts.numbers import NumbersError, Table, read_table
from needle.core.messages.formats import amount_in


class NumbersTest(unittest.TestCase):
    def test_as_people_type_them_and_spreadsheets_copy_them(self) -> None:
        for words, values in (
                ("May; 31\nJune; 12.5", (31.0, 12.5)), ("May\t31\nJune\t12,5", (31.0, 12.5)),
                ("May 1,234.5\nJune 1234", (1234.5, 1234.0)), ("A; 1 234,5\nB; € 12", (1234.5, 12)),
                ("A: 12 %\n\nB: −3", None), ("A; 1,234\nB; 2,345,678", (1234.0, 2345678.0))):
            with self.subTest(words):
                table = read_table(words) if values else read_table("A; 12 %\n\nB; −3")
                self.assertEqual(table.series[0], values or (12.0, -3.0))

    def test_a_head_line_names_several_series(self) -> None:
        table = read_table("Month\tOld\tNew\nMay\t3\t4\nJune\t5\t6")
        self.assertEqual(table, Table(("May", "June"), ("Old", "New"), ((3, 5), (4, 6))))

    def test_text_is_refused_with_the_line(self) -> None:
        for words, told in (("", "no numbers yet"), ("May; many", "Line 1: “many”"),
                            ("May; 3\nJune", "Line 2"), ("a; 1; 2\nb; 3", "more numbers"),
                            ("a; 1; 2; 3; 4; 5", "at most 4"),
                            ("\n".join(f"x{n}; {n}" for n in range(99)), "at most 60"),
                            ("May; nan", "“nan”"), ("May; 1e999", "“1e999”")):
            with self.subTest(told), self.assertRaisesRegex(NumbersError, told):
                read_table(words)


class DrawingTest(unittest.TestCase):
    def test_every_shape_is_whole_svg_that_says_its_title(self) -> None:
        for shape in SHAPES:
            for words in ("A; 1", "A; 0\nB; 0", "A; -5\nB; 5", "a; 1; 2\nb; 3; 4",
                          "\n".join(f"Label {n}; {n * 1e6}" for n in range(60))):
                svg = str(chart_svg(read_table(words), shape, "en", 'Rain & "shine"'))
                root = ET.fromstring(svg)
                self.assertEqual(root.get("aria-label"), 'Rain & "shine"')
                self.assertNotIn("nan", svg)

    def test_bars_are_as_high_as_their_numbers(self) -> None:
        root = ET.fromstring(str(chart_svg(read_table("A; 10\nB; 20\nC; 0"), "bar", "en", "")))
        heights = [float(r.get("height")) for r in root.iter("rect")]
        self.assertAlmostEqual(heights[1], 2 * heights[0], places=0)
        self.assertLess(heights[2], 1)

    def test_a_rings_parts_make_the_whole_way_round(self) -> None:
        svg = ET.fromstring(str(chart_svg(read_table("A; 1\nB; 3"), "ring", "en", "")))
        parts = [float(c.get("stroke-dasharray").split()[0]) + 2 for c in svg.iter("circle")]
        self.assertAlmostEqual(parts[1], 3 * parts[0], places=1)
        self.assertAlmostEqual(sum(parts), 2 * 3.14159 * 70, places=1)

    def test_numbers_are_written_for_people(self) -> None:
        self.assertEqual([amount_in("en", *pair) for pair in (
            (1234.0, ""), (12.5, "h"), (3.0, "£"), (0.333, "%"))],
                         ["1,234", "12.5 h", "£3", "0.33 %"])
