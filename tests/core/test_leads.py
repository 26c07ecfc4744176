import csv
import io
import unittest

from needle.core.leads.checking import check_answers
from needle.core.leads.export import safe_cell, to_csv
from needle.core.leads.robots import robot_signs
from needle.core.site.form import Form, FormField, Role

FORM = Form(id="f", name="F", fields=(
    FormField(id="n", role=Role.NAME, label="Name", required=True),
    FormField(id="e", role=Role.EMAIL, label="E-mail", required=True),
    FormField(id="p", role=Role.PHONE, label="Phone"),
    FormField(id="c", role=Role.CHOICE, label="How many", choices=("1", "2")),
    FormField(id="l", role=Role.LONG, label="Words"),
    FormField(id="h", role=Role.HIDDEN, label="Source", source="utm_source")))
GOOD = {"n": " Ro ", "e": "ro@mail.example"}


class CheckingTest(unittest.TestCase):
    def test_good_answers_are_kept_and_what_was_not_asked_is_dropped(self) -> None:
        checked = check_answers(FORM, GOOD | {"x": "stray", "l": "a\r\nb\x00"})
        self.assertEqual(dict(checked.answers), {"n": "Ro", "e": "ro@mail.example", "l": "a\nb"})
        self.assertFalse(checked.problems)

    def test_each_problem_is_said_beside_its_field(self) -> None:
        for field, answer, words in (("n", "", "needed"), ("e", "a@b", "e-mail"),
                                     ("p", "12", "phone"), ("c", "9", "one of: 1, 2"),
                                     ("n", "x" * 301, "at most 300"),
                                     ("l", "x" * 5001, "at most 5000")):
            with self.subTest(words):
                problems = check_answers(FORM, GOOD | {field: answer}).problems
                self.assertEqual(list(problems), [field])
                self.assertIn(words, problems[field])

    def test_an_over_long_address_parameter_never_stops_a_lead(self) -> None:
        checked = check_answers(FORM, GOOD | {"h": "x" * 9000})
        self.assertFalse(checked.problems)
        self.assertEqual(len(checked.answers["h"]), 300)


class RobotTest(unittest.TestCase):
    def test_a_person_has_no_signs(self) -> None:
        own = "h.localhost:1"
        self.assertEqual(robot_signs({"_took": "6200"}, f"http://{own}", own), ())
        self.assertEqual(robot_signs({"_took": "6200"}, "", "h"), ())

    def test_each_sign_is_named(self) -> None:
        for sent, origin, words in (({}, "", "script"), ({"_took": "200"}, "", "0.2 s"),
                                    ({"_took": "-1"}, "", "script"),
                                    ({"_took": "9000", "website_url": "x"}, "", "trap"),
                                    ({"_took": "9000"}, "https://x.example", "another site"),
                                    ({"_took": "9000"}, "null", "another site")):
            with self.subTest(words):
                self.assertIn(words, " ".join(robot_signs(sent, origin, "h.localhost")))


class ExportTest(unittest.TestCase):
    def test_no_cell_is_a_formula(self) -> None:
        for cell in ("=1+1", "+cmd|x", "-2+3", "@SUM(A1)", "\t=1", "＝1", "  =1", "\n=1"):
            with self.subTest(cell):
                self.assertEqual(safe_cell(cell), "'" + cell)
        for cell in ("ro@mail.example", "+44 20 7946 0000", "3–6", ""):
            self.assertEqual(safe_cell(cell), cell)

    def test_the_table_reads_back(self) -> None:
        rows = [["a,b", 'say "x"\nmore'], ["=1", "é"]]
        read = list(csv.reader(io.StringIO(to_csv(["A", "B"], rows), newline="")))
        self.assertEqual(read, [["A", "B"], rows[0], ["'=1", "é"]])
