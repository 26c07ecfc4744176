import csv
import io
import unittest
from datetime import date

import vobject

from needle.core.leads.attachments import SentFile, file_problem, tidy_name
from needle.core.leads.campaigns import campaign_link, qr_picture
from needle.core.leads.checking import check_answers
from needle.core.leads.contacts import contact_card
from needle.core.leads.export import csv_parts, safe_cell, to_csv
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
                                     ("l", "x" * 5001, "at most 5,000")):
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
                said = str(file_problem(field, SentFile(name, data)) or "")
                self.assertIn(words, said)
                self.assertEqual(bool(words), bool(said))
        self.assertNotIn("/", tidy_name("a/b\\c\u202efdp.exe"))


def evidence(**more: object) -> Evidence:
    values: dict[str, object] = {
        "sent": {"_took": "9000", "_felt": "20,2,0"}, "texts": ("Ro",), "filling_ms": 8000,
        "headers": {"host": "h", "user-agent": "Mozilla/5.0 Firefox", "accept-language": "en",
                    "sec-fetch-site": "same-origin"},
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


    def weighed(self, **more: object) -> list[str]:
        return [str(sign) for sign in robot_signs(evidence(**more))]

    def test_each_sign_has_its_weight_and_its_borders(self) -> None:
        sent, head = dict(evidence().sent), dict(evidence().headers)
        link, long = "see https://x.example", "letters " * 8
        for more, told in (
                ({"filling_ms": 0}, ["filled in 0.0 s (1)"]),
                ({"filling_ms": 1499}, ["filled in 1.5 s (1)"]),
                ({"filling_ms": 1500}, []),
                ({"sent": sent | {"_took": "1499"}}, ["filled in 1.5 s (1)"]),
                ({"sent": sent | {"_took": "1500"}, "filling_ms": 1500}, []),
                ({"filling_ms": 11_000}, []),
                ({"filling_ms": 11_001}, ["claims a time that cannot be (0.6)"]),
                ({"filling_ms": 2999, "texts": (long,)}, ["typed 64 letters in 3.0 s (0.5)"]),
                ({"filling_ms": 3000, "texts": (long,)}, []),
                ({"filling_ms": 2500, "texts": ("l" * 60,)}, []),
                ({"filling_ms": 2500, "texts": ("l" * 61,)}, ["typed 61 letters in 2.5 s (0.5)"]),
                ({"sent": sent | {"_felt": "1,2"}}, ["nothing told of keys and touches (0.6)"]),
                ({"sent": sent | {"_felt": "1,x,0"}}, ["nothing told of keys and touches (0.6)"]),
                ({"sent": sent | {"_felt": "0,0,0"}}, ["no key and no touch (0.8)"]),
                ({"sent": sent | {"_felt": "0,1,3"}}, ["answers set by a program (0.3)"]),
                ({"headers": head | {"origin": "https://x.example", "host": "hill.example"}},
                 ["posted from another site (x.example) (1)"]),
                ({"headers": head | {"origin": "http://[x", "host": "hill.example"}},
                 ["posted from another site (http://[x) (1)"]),
                ({"headers": head | {"origin": "https://HILL.example", "host": "hill.example"}},
                 []),
                ({"headers": head | {"user-agent": "curl/8 " + "x" * 60}},
                 [f"a program's name (curl/8 {'x' * 33}) (0.6)"]),
                ({"headers": head | {"sec-fetch-site": ""}},
                 ["tells no page that it is sent from (0.4)"]),
                ({"headers": {"host": "h", "accept-language": "en", "sec-fetch-site": "x"}},
                 ["a program's name (none) (0.6)"]),
                ({"headers": head | {"accept-language": ""}},
                 ["a browser without a language (0.4)"]),
                ({"texts": (link,)}, []),
                ({"texts": (link + " 1", link + " 2")}, ["2 links in the answers (0.4)"]),
                ({"texts": (link * 3,)}, ["3 links in the answers (0.4)"]),
                ({"texts": (link * 4,)}, ["4 links in the answers (0.8)"]),
                ({"texts": ("<b>Hi",)}, ["markup in the answers (0.5)"]),
                ({"texts": ("abc", "abc")}, []),
                ({"texts": ("abcd", "abcd")}, ["the same words in several fields (0.4)"]),
                ({"from_range": 10}, []),
                ({"from_range": 11}, ["11 leads from these addresses in ten minutes (0.3)"]),
                ({"from_range": 40}, ["40 leads from these addresses in ten minutes (0.3)"]),
                ({"from_range": 41}, ["41 leads from these addresses in ten minutes (0.5)"])):
            with self.subTest(more):
                self.assertEqual(self.weighed(**more), told)


class AttachmentTest(unittest.TestCase):
    GOOD_FILES = (
        ("pdf", b" " * 1019 + b"%PDF-"), ("png", b"\x89PNG\r\n\x1a\n"), ("jpg", b"\xff\xd8\xff"),
        ("jpeg", b"\xff\xd8\xff"), ("gif", b"GIF89a"), ("gif", b"GIF87a"),
        ("webp", b"RIFF1234WEBP"), ("heic", b"1234ftypheic"), ("docx", b"PK\x03\x04"),
        ("xlsx", b"PK\x03\x04"), ("odt", b"PK\x03\x04"), ("ods", b"PK\x03\x04"),
        ("txt", "grün".encode()), ("csv", b"a;b"))
    # Signs that come before and after the true ones in the order of bytes.
    BAD_FILES = (
        ("pdf", b" " * 1020 + b"%PDF-"), ("png", b"\x89PNF"), ("gif", b"GIF88a"),
        ("webp", b"RIFF1234WEBA"), ("webp", b"RIFF1234WEBZ"), ("webp", b"RIFA1234WEBP"),
        ("webp", b"RIFZ1234WEBP"), ("heic", b"1234ftya"), ("heic", b"1234ftyz"),
        ("docx", b"MZ"), ("txt", b"a\0b"), ("csv", b"\xff\xfe"))

    def test_every_kind_of_file_is_known_by_its_content(self) -> None:
        for told, wanted in ((self.GOOD_FILES, True), (self.BAD_FILES, False)):
            for ending, data in told:
                field = FormField("x", Role.FILE, "CV", choices=(ending,))
                with self.subTest(ending=ending, data=data[-12:]):
                    fault = file_problem(field, SentFile(f"cv.{ending}", data))
                    self.assertEqual(fault is None, wanted)

    def test_a_file_is_measured_in_whole_kilobytes(self) -> None:
        field = FormField("x", Role.FILE, "CV", choices=("txt",), most=4)
        self.assertIsNone(file_problem(field, SentFile("a.txt", b"x" * 4096)))
        self.assertEqual(str(file_problem(field, SentFile("a.txt", b"x" * 6144))),
                         "“CV” takes at most 4 kB; “a.txt” has 6 kB.")
        self.assertIsNotNone(file_problem(field, SentFile("a.txt", b"x" * 4097)))

    def test_a_long_name_keeps_its_beginning_and_its_end(self) -> None:
        name = tidy_name("a" * 70 + "b" * 60 + ".pdf")
        self.assertEqual(name, "a" * 60 + "…" + "b" * 26 + ".pdf")
        self.assertEqual(tidy_name("a" * 96 + ".pdf"), "a" * 96 + ".pdf")


class ImportBordersTest(unittest.TestCase):
    def test_a_time_is_read_where_there_is_one(self) -> None:
        one, two, three = read_leads(
            b"E-mail;When;Note\r\na@x.example;2026-03-01T12:00:00+01:00;'=1\r\n"
            b"b@x.example;2026-03-01;one\r\nc@x.example;soon;two\r\n")
        self.assertEqual([lead.at_ms for lead in (one, two, three)],
                         [1_772_362_800_000, 1_772_323_200_000, 0])
        self.assertEqual(one.answers[-1], ("", "Note", "=1"))
        (bare,) = read_leads(b"E-mail;Note\r\nd@x.example;\"two\r\nlines\"\r\n")
        self.assertEqual((bare.at_ms, bare.email), (0, "d@x.example"))
        self.assertEqual(bare.answers[-1], ("", "Note", "two\nlines"))

    def test_a_table_is_written_in_parts_that_make_the_whole(self) -> None:
        rows = [[str(number)] for number in range(7)]
        parts = list(csv_parts(["n"], rows, at_once=3))
        self.assertEqual(parts, ["n\r\n0\r\n1\r\n2\r\n", "3\r\n4\r\n5\r\n", "6\r\n"])
        self.assertEqual("".join(parts), to_csv(["n"], rows))


class CampaignTest(unittest.TestCase):
    def test_a_link_is_tidy_and_its_picture_is_a_code(self) -> None:
        link = campaign_link(" https://hill.example/n?utm_source=old&x=1#top",
                             {"utm_source": "Star Club", "utm_medium": " "})
        self.assertEqual(link, "https://hill.example/n?x=1&utm_source=star-club#top")
        self.assertTrue(qr_picture(link).startswith(b"\x89PNG"))
        for wrong in ("javascript:1", "https:///path", "ftp://hill.example"):
            with self.assertRaisesRegex(ValueError, "https://"):
                campaign_link(wrong, {})


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
