"""What is taken and what is not, right at the borders: answers, files, tables, signs, codes."""

import unittest
from datetime import date
from unittest import mock

from needle.core.edit.tracking import add_code, set_code, set_consent
from needle.core.leads import importing
from needle.core.leads.attachments import SentFile, file_problem
from needle.core.leads.campaigns import qr_picture
from needle.core.leads.checking import Checked, check_answers
from needle.core.leads.firing import Asked, Complaint, code_lines, firings
from needle.core.leads.importing import LeadFileError, read_leads
from needle.core.leads.robots import Evidence, is_robot, robot_signs
from needle.core.values.form import Form, FormField, Role
from tests.sites import PAGE, small_site

PDF = b"%PDF-1.7 a guide"
TODAY = date(2026, 11, 23)


def field(role: Role, **more: object) -> FormField:
    return FormField("x", role, "X", **more)  # type: ignore[arg-type]


def checked(one: FormField, answer: str, file: SentFile | None = None, **more: str) -> Checked:
    return check_answers(Form(id="f", name="F", fields=(one,)), {"x": answer} | more,
                         files={"x": file} if file else None, today=TODAY)


class AnswerTest(unittest.TestCase):
    def taken(self, one: FormField, answer: str, **more: str) -> str | None:
        """What is kept of an answer; nothing if it is refused."""
        found = checked(one, answer, **more)
        return None if found.problems else found.answers.get("x", "")

    def test_one_choice_is_one_and_several_are_each_known(self) -> None:
        one = field(Role.CHOICE, choices=("1", "2", "a, b"))
        self.assertEqual([self.taken(one, said) for said in ("1", "1, 2", "a, b", "0", "3")],
                         ["1", None, "a, b", None, None])
        many = field(Role.CHOICES, choices=("abc", "d", "d, e"))
        for said, fine in (("abc", True), ("abc, d, abc", True), ("d, e, abc", True),
                           ("abc, x", False), ("aaa", False), ("abc,d", False)):
            with self.subTest(said):
                self.assertEqual(self.taken(many, said), said if fine else None)

    def test_numbers_up_to_their_borders(self) -> None:
        number = field(Role.NUMBER, least=2, most=9)
        for said, fine in (("2", True), ("1.99", False), ("9", True), ("5", True), ("9.01", False),
                           ("nan", False), ("inf", False)):
            with self.subTest(said):
                self.assertEqual(self.taken(number, said), said if fine else None)
        anything = field(Role.NUMBER)
        self.assertIsNone(self.taken(anything, "1e15"))
        self.assertEqual(self.taken(anything, "999999999999999"), "999999999999999")
        self.assertIsNone(self.taken(anything, "-1e15"))

    def test_a_number_to_dial_that_no_country_knows(self) -> None:
        anywhere, home = field(Role.PHONE), field(Role.PHONE, choices=("GB",))
        self.assertEqual(self.taken(anywhere, "(020) 7946-00.18"), "(020) 7946-00.18")
        self.assertEqual(self.taken(home, "020 7946 0018"), "+44 20 7946 0018")
        self.assertIsNone(self.taken(home, "+999 12345"))
        for said in ("1234", "1234567890123456", "020x7946", "call 12345"):
            with self.subTest(said):
                self.assertIsNone(self.taken(anywhere, said))
        self.assertEqual(self.taken(anywhere, "12345"), "12345")

    def test_only_a_file_field_looks_at_a_file(self) -> None:
        bad = SentFile("run.exe", b"MZ")
        self.assertIn("x", checked(field(Role.FILE, choices=("pdf",)), "", bad).problems)
        for role in (Role.NAME, Role.PHONE, Role.CHOICES, Role.EMAIL, Role.LONG):
            with self.subTest(role):
                self.assertFalse(checked(field(role), "", bad).problems)
        good = SentFile("guide.pdf", PDF)
        self.assertEqual(checked(field(Role.FILE, choices=("pdf",)), "", good).answers["x"],
                         "guide.pdf")
        needed = field(Role.FILE, required=True, choices=("pdf",))
        self.assertIn("needed", checked(needed, "").problems["x"])


class FileTest(unittest.TestCase):
    def said(self, name: str, data: bytes, *taken: str, most: float | None = None) -> str:
        problem = file_problem(field(Role.FILE, choices=taken, most=most),
                               SentFile(name, data))
        return str(problem) if problem else ""

    def test_the_last_ending_counts_and_no_dangerous_one_hides_before_it(self) -> None:
        self.assertEqual(self.said("a.b.pdf", PDF, "pdf"), "")
        self.assertEqual(self.said("exe.pdf", PDF, "pdf"), "")
        for name in ("a.exe.pdf", "a.pdf.b", "pdf"):
            with self.subTest(name):
                self.assertNotEqual(self.said(name, PDF, "pdf"), "")

    def test_how_heavy_a_file_is_is_said_in_kilobytes(self) -> None:
        self.assertIn("2,000", self.said("a.pdf", PDF + b" " * (2000 * 1024 - len(PDF)), "pdf",
                                         most=1))
        self.assertIn("1,999", self.said("a.pdf", PDF + b" " * (2000 * 1024 - 1 - len(PDF)), "pdf",
                                         most=1))

    def test_a_picture_in_webp_is_known_whatever_follows(self) -> None:
        self.assertEqual(self.said("a.webp", b"RIFF\x10\0\0\0WEBPVP8 rest", "webp"), "")
        self.assertNotEqual(self.said("a.webp", b"RIFF\x10\0\0\0WAVEfmt ", "webp"), "")


class TableTest(unittest.TestCase):
    def test_addresses_are_found_below_the_header_and_cut_to_length(self) -> None:
        rows = read_leads(b"me@home,Mail\nx,ro@mail.example\n")
        self.assertEqual(rows[0].email, "ro@mail.example")
        long = read_leads(b"Mail,Name\n" + b"a" * 320 + b"@b.example,Ro\nno address,Al\n")
        self.assertEqual([len(row.email) for row in long], [320, 0])

    def test_as_many_lines_as_may_be(self) -> None:
        table = b"Mail\n" + b"ro@mail.example\n" * 4
        with mock.patch.object(importing, "_MOST", 5):
            self.assertEqual(len(read_leads(table)), 4)
            with self.assertRaises(LeadFileError):
                read_leads(table + b"al@mail.example\n")


class SignTest(unittest.TestCase):
    def signs(self, host: str = "h", **more: object) -> list[str]:
        values: dict[str, object] = {
            "sent": {"_took": "9000", "_felt": "20,2,0"}, "texts": ("Ro",), "filling_ms": 8000,
            "headers": {"host": host, "user-agent": "Firefox", "accept-language": "en",
                        "origin": "https://h" if host == "h" else "https://x.example"},
            "known_visitor": True} | more
        return [str(sign) for sign in robot_signs(Evidence(**values))]  # type: ignore[arg-type]

    def test_a_host_that_a_proxy_wrote_over_says_nothing(self) -> None:
        for host in ("127.0.0.1:8420", "localhost", "127.0.0.1"):
            with self.subTest(host):
                self.assertEqual(self.signs(host), [])
        self.assertEqual(self.signs("hill.example:8420"),
                         ["posted from another site (x.example) (1)"])
        self.assertEqual(self.signs("localhost", own_hosts=frozenset({"hill.example"})),
                         ["posted from another site (x.example) (1)"])

    def test_as_many_keys_as_touches_are_a_hand(self) -> None:
        took = {"_took": "9000"}
        self.assertEqual(self.signs(sent=took | {"_felt": "3,3,0"}), [])
        self.assertEqual(self.signs(sent=took | {"_felt": "3,3,0,1"}),
                         ["nothing told of keys and touches (0.6)"])

    def test_long_names_are_cut(self) -> None:
        for origin in (f"https://{'x' * 90}", f"x:{'y' * 90}"):
            head = {"host": "h.example", "user-agent": "F", "accept-language": "en",
                    "origin": origin}
            (said,) = self.signs(headers=head)
            with self.subTest(origin):
                self.assertEqual(len(said), len("posted from another site () (1)") + 80)

    def test_without_the_script_is_enough_by_itself_and_just_enough(self) -> None:
        self.assertIn("sent without the page's script (1)", self.signs(sent={}))
        head = {"host": "h", "user-agent": "F", "accept-language": "", "sec-fetch-site": "x"}
        weak = robot_signs(Evidence(sent={"_took": "9000", "_felt": "1,1,1"}, headers=head,
                                    filling_ms=8000, known_visitor=True, from_range=11))
        self.assertEqual(round(sum(sign.weight for sign in weak), 9), 1.0)  # .4 + .3 + .3
        self.assertTrue(is_robot(weak))
        self.assertFalse(is_robot(weak[1:]))


class CodeTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site, self.first = add_code(small_site(), "one", "<i></i>\n<script>oops(</script>")
        self.site, self.second = add_code(self.site, "two", "<b></b>")
        self.page = ("<html>\n<head>\n"
                     f"<!--needle-code {self.first}--><i></i>\n<script>oops(</script>"
                     f"<!--/needle-code-->\n<p>\n"
                     f"<!--needle-code {self.second}--><b></b><!--/needle-code-->\n")

    def told(self, *complaints: Complaint, asks: bool = False, asked: tuple[Asked, ...] = (),
             ) -> list[tuple[str, str]]:
        site = set_consent(self.site, asked=True) if asks else self.site
        if asks:
            for code in (self.first, self.second):
                site = set_code(site, code, purpose="marketing")
        return [(one.state, one.words) for one in firings(
            site, site.page(PAGE), self.page, asked, list(complaints))]

    def test_each_code_has_its_lines(self) -> None:
        lines = code_lines(self.page)
        self.assertEqual((lines[self.first], lines[self.second]), (range(3, 5), range(6, 7)))

    def test_a_complaint_is_that_codes_whose_line_it_names(self) -> None:
        silent = ("silent", "ran, but asked for nothing")
        for line, first, second in (
                (2, silent, silent), (3, ("wrong", "x (its line 1)"), silent),
                (4, ("wrong", "x (its line 1)"), silent), (5, silent, silent),
                (6, silent, ("wrong", "x (its line 1)")), (7, silent, silent)):
            with self.subTest(line):
                self.assertEqual(self.told(Complaint("x", line, False)), [first, second])

    def test_what_consent_put_in_has_lines_of_its_own(self) -> None:
        first, second = self.told(Complaint("x", 2, True), asks=True)
        self.assertEqual((first, second[0]), (("wrong", "x"), "waits"))
        first, second = self.told(Complaint("x", 3, True), asks=True)
        self.assertEqual((first[0], second[0]), ("waits", "waits"))
        first, second = self.told(Complaint("x", 1, False), asks=True)
        self.assertEqual((first[0], second[0]), ("waits", "waits"))

    def test_a_request_is_that_codes_of_which_most_stands_in_its_address(self) -> None:
        one = set_code(self.site, self.first, html="<script src='https://c.example/p?k=abc'>")
        both = set_code(one, self.second, html="<script src='https://c.example/p?k=xyz'>")
        for query, whose in (("k=abc", 0), ("k=xyz", 1)):
            asked = [Asked(f"https://c.example/p?{query}&u=1", 90, False)]
            states = [one.state for one in firings(both, both.page(PAGE), self.page, asked, [])]
            with self.subTest(query):
                self.assertEqual(states, ["fired" if n == whose else "silent" for n in (0, 1)])
        # What is one sign long stands in any code.
        asked = [Asked("https://c.example/p?k=abc&v=x", 90, False)]
        states = [one.state for one in firings(both, both.page(PAGE), self.page, asked, [])]
        self.assertEqual(states, ["fired", "silent"])


class PictureTest(unittest.TestCase):
    def test_a_code_to_photograph_is_large_enough_and_has_its_margin(self) -> None:
        svg = qr_picture("https://hill.example", "svg").decode()
        self.assertIn('width="264"', svg)  # 25 modules and twice 4 of margin, 8 each.


if __name__ == "__main__":
    unittest.main()
