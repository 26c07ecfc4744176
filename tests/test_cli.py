import contextlib
import io
import json
import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path
from unittest import mock

from needle.cli import main
from needle.core.snags.finding import RULES, find_snags
from needle.core.snags.passing import let_pass
from needle.store.project import Project, read_site
from tests.sites import FORM, small_site


class CliTest(unittest.TestCase):
    def setUp(self) -> None:
        name = tempfile.TemporaryDirectory()
        self.addCleanup(name.cleanup)
        self.folder = Path(name.name)

    def run_cli(self, *arguments: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with contextlib.redirect_stdout(out), contextlib.redirect_stderr(err):
            code = main(arguments)
        return code, out.getvalue(), err.getvalue()

    def test_demo_and_publish_write_a_site_without_a_window(self) -> None:
        project, out = str(self.folder / "demo"), str(self.folder / "out")
        self.assertEqual(self.run_cli("demo", "--make", project)[0], 0)
        code, said, _ = self.run_cli("publish", project, "--to", out)
        self.assertEqual(code, 0)
        self.assertIn("43 pages written", said)
        # Nobody shares visitors out in a folder, so the other variant is no page there.
        self.assertEqual(list(Path(out).rglob("variant-*")), [])
        site = read_site(Path(project))
        self.assertEqual([p.name for p in site.pages if p.tested], ["Meteor Night"])
        again = str(self.folder / "again")
        self.run_cli("demo", "--make", again)
        self.assertEqual(read_site(Path(again)), site)

    def test_faults_are_said_in_words_with_an_exit_code(self) -> None:
        code, _, said = self.run_cli("publish", str(self.folder), "--to", str(self.folder))
        self.assertEqual(code, 2)
        self.assertIn("site.json is missing", said)
        Project.create(self.folder / "p", small_site()).close()
        code, _, said = self.run_cli("demo", "--make", str(self.folder / "p"))
        self.assertEqual(code, 2)
        self.assertIn("holds a project already", said)

    def test_what_nobody_foresaw_ends_in_words_and_in_the_log(self) -> None:
        state = self.folder / "state"
        with mock.patch("needle.store.project.read_site", side_effect=ZeroDivisionError("odd")), \
                mock.patch.dict(os.environ, NEEDLE_STATE=str(state)):
            code, _, said = self.run_cli("check", str(self.folder))
        self.assertEqual(code, 3)
        self.assertIn("Something went wrong in Needle itself (ZeroDivisionError: odd)", said)
        self.assertNotIn("Traceback", said)
        self.assertIn("ZeroDivisionError", (state / "command.log").read_text())
        self.assertEqual((state / "command.log").stat().st_mode & 0o777, 0o600)

    def test_code_that_waits_is_listed_left_out_and_allowed(self) -> None:
        Project.create(self.folder / "p", small_site()).close()
        file = next((self.folder / "p" / "pages").iterdir())
        held = json.loads(file.read_text())
        file.write_text(json.dumps(held | {"code": {"head": "<script>stranger()</script>"}}))
        code, said, _ = self.run_cli("code", str(self.folder / "p"))
        self.assertEqual(code, 0)
        self.assertIn("<script>stranger()</script>\n1 pieces of code wait.", said)
        _, said, _ = self.run_cli("publish", str(self.folder / "p"), "--to", str(self.folder / "o"))
        self.assertIn("1 pieces of outside code were left out", said)
        self.run_cli("code", str(self.folder / "p"), "--allow")
        _, said, _ = self.run_cli("publish", str(self.folder / "p"), "--to", str(self.folder / "o"))
        self.assertNotIn("left out", said)

    def test_doubled_ids_are_repaired_on_request(self) -> None:
        Project.create(self.folder / "p", small_site()).close()
        site = json.loads((self.folder / "p" / "site.json").read_text())
        site["site"]["services"].append(site["site"]["services"][0] | {"name": "Twin"})
        (self.folder / "p" / "site.json").write_text(json.dumps(site))
        code, _, said = self.run_cli("check", str(self.folder / "p"), "--quick")
        self.assertEqual(code, 2)
        self.assertIn("needle repair", said)
        code, said, _ = self.run_cli("repair", str(self.folder / "p"))
        self.assertEqual(code, 0)
        self.assertIn("1 ids stood twice", said)
        self.assertIn("Twin", [one.name for one in read_site(self.folder / "p").services])

    def test_a_host_is_told_in_words_what_makes_no_sense(self) -> None:
        Project.create(self.folder / "p", small_site()).close()
        for arguments, words in ((("--public", "hill"), "is no public address"),
                                 (("--certificate", "x.pem"), "go together"),
                                 (("--certificate", "x.pem", "--key", "y.pem"), "is missing"),
                                 (("--database", "nothing://x"), "results cannot be opened")):
            with self.subTest(arguments):
                code, _, said = self.run_cli("host", str(self.folder / "p"), "--port", "0",
                                             *arguments)
                self.assertEqual(code, 2)
                self.assertIn(words, said)

    def test_check_prints_the_snags_worst_first(self) -> None:
        Project.create(self.folder / "p", small_site()).close()
        code, said, _ = self.run_cli("check", str(self.folder / "p"))
        self.assertEqual(code, 0)
        self.assertIn("1  “Places” puts people on a list and asks nobody  (Places)", said)
        self.assertIn("The description for searches is missing  (Thanks)", said)
        _, said, _ = self.run_cli("check", str(self.folder / "p"), "--json", "--quick")
        self.assertEqual(json.loads(said)[0]["target"], FORM)

    def test_what_is_let_pass_is_told_apart(self) -> None:
        site = small_site()
        Project.create(self.folder / "p", let_pass(
            site, find_snags(site)[0], "asked on paper")).close()
        _, said, _ = self.run_cli("check", str(self.folder / "p"), "--quick")
        self.assertNotIn("asks nobody", said)
        self.assertIn("1 snag let pass.", said)
        _, said, _ = self.run_cli("check", str(self.folder / "p"), "--json", "--quick")
        self.assertEqual(json.loads(said)[-1]["passed"], "asked on paper")

    def test_every_rule_is_listed_with_its_reason(self) -> None:
        code, said, _ = self.run_cli("check", "--rules")
        self.assertEqual((code, len(said.splitlines())), (0, len(RULES)))
        self.assertIn("popup-holds", said)
        self.assertEqual({row["id"] for row in json.loads(
            self.run_cli("check", "--rules", "--json")[1])}, set(RULES))
        code, _, said = self.run_cli("check")
        self.assertEqual((code, "--rules" in said), (2, True))

    def test_an_idea_becomes_a_project_and_publishing_counts_what_is_invented(self) -> None:
        project = str(self.folder / "bakery")
        code, said, _ = self.run_cli("draft", project, "A night bakery in Grindle", "--seed", "2")
        self.assertEqual(code, 0)
        count = said.split(" pages, ")[1].split()[0]
        _, said, _ = self.run_cli("publish", project, "--to", str(self.folder / "out"))
        self.assertIn(f"{count} placeholders are left", said)
        code, _, said = self.run_cli("draft", str(self.folder / "no"), "<b></b>")
        self.assertEqual(code, 2)
        self.assertIn("no words", said)

    def test_a_relative_path_is_meant_from_where_needle_is_called(self) -> None:
        needle = Path(__file__).parent.parent / "needle"
        done = subprocess.run([str(needle), "draft", "bakery", "A night bakery in Grindle"],
                              cwd=self.folder, capture_output=True, text=True, check=False)
        self.assertEqual(done.returncode, 0, done.stderr)
        self.assertTrue((self.folder / "bakery" / "site.json").exists())
        self.assertFalse((needle.parent / "bakery").exists())

    def test_the_schema_is_json(self) -> None:
        self.assertIn("$defs", json.loads(self.run_cli("schema")[1]))

    def test_a_port_in_use_is_said_in_words(self) -> None:
        import socket

        Project.create(self.folder / "p", small_site()).close()
        with socket.socket() as other:
            other.bind(("127.0.0.1", 0))
            other.listen()
            port = str(other.getsockname()[1])
            code, _, said = self.run_cli("host", str(self.folder / "p"), "--port", port)
        self.assertEqual(code, 2)
        self.assertIn(f"Port {port} cannot be used", said)
        self.assertIn("choose another port", said)

    def test_writing_a_site_needs_no_qt(self) -> None:
        code = ("import sys; import needle.publish.folder, needle.store.project, needle.host.app; "
                "sys.exit(any(name.startswith('PyQt6') for name in sys.modules))")
        self.assertEqual(subprocess.run([sys.executable, "-c", code], check=False).returncode, 0)
