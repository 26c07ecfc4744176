import csv
import io
import unittest
from datetime import date

import vobject

from needle.core.leads.attachments import SentFile, file_problem, tidy_name
from needle.core.leads.campaigns import campaign_link, qr_picture
from needle.core.leads.checking import check_answers
from needle.core.leads.contacts import contact_card
from needle.core.leads.export import safe_cell, to_csv
from needle.core.leads.importing import LeadFileError, read_leads
from needle.core.leads.robots import Evidence, is_robot, robot_signs
from needle.core.values.form import Form, FormField, Only, Role, Step

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


class RolesTest(unittest.TestCase):
    def check(self, field: FormField, answer: str, **more: str) -> str:
        form = Form(id="f", name="F", fields=(field,))
        checked = check_answers(form, {"x": answer} | more, today=date(2026, 11, 23))
        return checked.problems.get("x", "") or f"= {checked.answers.get('x', '')}"

    def test_each_role_takes_what_it_means(self) -> None:
        def field(role: Role, **more: object) -> FormField:
            return FormField("x", role, "X", **more)  # type: ignore[arg-type]

        number = field(Role.NUMBER, least=2, most=9)
        day = field(Role.DATE, not_past=True)
        phone = field(Role.PHONE, choices=("GB", "DE"))
        several = field(Role.CHOICES, choices=("a", "b, c"))
        for one, answer, words in (
                (number, "2,5", "= 2,5"), (number, "1", "2 or more"), (number, "x", "a number"),
                (number, "nan", "2 or more"), (field(Role.NUMBER), "inf", "a number"),
                (day, "2026-11-22", "= 2026"), (day, "2026-11-20", "past"), (day, "soon", "a date"),
                (phone, "020 7946 0000", "= +44 20 7946 0000"), (phone, "12", "country"),
                (field(Role.PHONE), "+353 1 555 0100", "= +353 1 555 0100"),
                (several, "b, c", "= b, c"), (several, "z", "one of"),
                (field(Role.EMAIL, message="Please your address."), "a@b", "Please your address.")):
            with self.subTest(answer):
                self.assertIn(words, self.check(one, answer))
        self.assertEqual(self.check(phone, "030 555 0100", **{"x.country": "DE"}),
                         "= +49 30 5550100")

    def test_what_a_step_does_not_ask_is_neither_needed_nor_kept(self) -> None:
        steps = (Step("s1", "A"), Step("s2", "B", Only("k", ("school",))))
        form = Form(id="f", name="F", steps=steps,
                    fields=(FormField("k", Role.CHOICE, "Kind", choices=("school", "club")),
                            FormField("y", Role.LINE, "Year", required=True, step="s2")))
        self.assertFalse(check_answers(form, {"k": "club"}).problems)
        self.assertEqual(list(check_answers(form, {"k": "school"}).problems), ["y"])
        self.assertEqual(dict(check_answers(form, {"k": "club", "y": "7"}).answers), {"k": "club"})

    def test_files_are_what_they_say_or_are_refused(self) -> None:
        field = FormField("x", Role.FILE, "CV", choices=("pdf", "png"), most=4)
        for name, data, words in (
                ("cv.pdf", b"%PDF-1.7 x", ""), ("cv.pdf.exe", b"%PDF-", "takes pdf, png"),
                ("run.sh.pdf", b"%PDF-", "none of these"), ("cv.pdf", b"MZ", "its ending says"),
                ("cv.pdf", b"", "is empty"), ("cv.pdf", b"%PDF-" + b"x" * 5000, "at most 4 kB"),
                ("../../etc/passwd", b"x", "“passwd”")):
            with self.subTest(name):
                said = file_problem(field, SentFile(name, data))
                self.assertIn(words, said)
                self.assertEqual(bool(words), bool(said))
        self.assertNotIn("/", tidy_name("a/b\\c\u202efdp.exe"))


def evidence(**more: object) -> Evidence:
    values: dict[str, object] = {
        "sent": {"_took": "9000", "_felt": "20,2,0"}, "texts": ("Ro",), "filling_ms": 8000,
        "headers": {"host": "h", "user-agent": "Mozilla/5.0 Firefox", "accept-language": "en"},
        "known_visitor": True}
    return Evidence(**(values | more))  # type: ignore[arg-type]


class RobotTest(unittest.TestCase):
    def test_a_person_has_no_signs(self) -> None:
        self.assertEqual(robot_signs(evidence()), ())

    def test_one_weak_sign_is_not_enough_and_two_are(self) -> None:
        weak = robot_signs(evidence(known_visitor=False))
        self.assertEqual([str(sign) for sign in weak], ["no cookie of the page (0.4)"])
        self.assertFalse(is_robot(weak))
        self.assertTrue(is_robot(robot_signs(evidence(
            known_visitor=False, filling_ms=None))))

    def test_each_sign_is_named(self) -> None:
        base = evidence()
        head, sent = dict(base.headers), dict(base.sent)
        for more, words, enough in (
                ({"sent": {}}, "without the page's script", True),
                ({"sent": sent | {"_took": "200"}}, "filled in 0.2 s", True),
                ({"filling_ms": 300}, "filled in 0.3 s", True),
                ({"filling_ms": -1}, "forged seal", True),
                ({"filling_ms": 60_000}, "a time that cannot be", False),
                ({"sent": sent | {"website_url": "x"}}, "trap", True),
                ({"headers": head | {"origin": "https://x.example"}}, "another site", True),
                ({"headers": head | {"origin": "null"}}, "another site", True),
                ({"headers": head | {"user-agent": "python-httpx"}}, "program's name", False),
                ({"sent": sent | {"_felt": "0,0,9"}}, "no key and no touch", True),
                ({"texts": ("http://a http://b http://c www.d",)}, "4 links", False),
                ({"texts": ("[url=x]", "[url=x]")}, "the same words", False),
                ({"from_range": 12}, "12 leads from these addresses", False)):
            with self.subTest(words):
                signs = robot_signs(evidence(**more))
                self.assertIn(words, " ".join(map(str, signs)))
                self.assertEqual(is_robot(signs), enough)


class CampaignTest(unittest.TestCase):
    def test_a_link_is_tidy_and_its_picture_is_a_code(self) -> None:
        link = campaign_link(" https://hill.example/n?utm_source=old&x=1#top",
                             {"utm_source": "Star Club", "utm_medium": " "})
        self.assertEqual(link, "https://hill.example/n?x=1&utm_source=star-club#top")
        self.assertTrue(qr_picture(link).startswith(b"\x89PNG"))
        with self.assertRaisesRegex(ValueError, "https://"):
            campaign_link("javascript:1", {})


class ContactTest(unittest.TestCase):
    def test_a_contact_holds_what_was_said_and_nothing_breaks_out(self) -> None:
        words = contact_card("u1", {"FN": "Ro Wren", "EMAIL": "ro@mail.example",
                                    "NOTE": "a\nTEL:1"}, "Night")
        card = vobject.readOne(words)
        self.assertEqual((card.n.value.given, card.n.value.family), ("Ro", "Wren"))
        self.assertEqual(card.note.value, "a\nTEL:1")
        self.assertNotIn("tel", card.contents)


class ImportingTest(unittest.TestCase):
    def test_tables_of_any_kind_are_read_and_others_refused_in_words(self) -> None:
        one, two = read_leads("When;Mail;Who\n2026-01-02;ro@x.example;'=Ro\n;;Z\n".encode("cp1252"))
        self.assertEqual((one.email, one.answers[2], one.at_ms),
                         ("ro@x.example", ("", "Who", "=Ro"), 1_767_312_000_000))
        self.assertEqual(two.email, "")
        for raw, words in ((b"a,b\n1,2\n", "No column"), (b"Mail\n", "no line below"),
                           (b"\x00\x01,b\n", "not a CSV")):
            with self.subTest(words), self.assertRaisesRegex(LeadFileError, words):
                read_leads(raw)


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
