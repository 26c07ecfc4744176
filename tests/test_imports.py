import os
import subprocess
import sys
import tempfile
import unittest
from pathlib import Path

from gates import imports


class ImportTest(unittest.TestCase):
    def planted(self, where: str, line: str) -> list[str]:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / where
            path.parent.mkdir(parents=True)
            path.write_text(f"{line}\n", "utf-8")
            return imports.faults(Path(folder))

    def test_rooms_import_inwards_only(self) -> None:
        self.assertEqual(imports.faults(), [])

    def test_every_part_of_a_room_with_floors_stands_on_one(self) -> None:
        for room in imports.FLOORS:
            parts = {path.stem for path in (imports.SOURCE / room).iterdir()
                     if path.suffix == ".py" or (path / "__init__.py").exists()} - {"__init__"}
            self.assertEqual(parts, set(imports.floors_of(room)), room)

    def test_a_wrong_arrow_inside_core_is_named(self) -> None:
        for where, line in (
                ("core/kinds/heading.py", "from needle.core.render.context import Context"),
                ("core/values/look.py", "from needle.core import edit"),
                ("core/render/document.py", "import needle.core.edit.nodes"),
                ("core/leads/people.py", "from needle.core.snags.finding import find_snags")):
            found = self.planted(where, line)
            self.assertEqual(len(found), 1, line)
            self.assertIn(f"needle/{where}:1 imports", found[0])
            self.assertIn("it is not below it", found[0])

    def test_arrows_downwards_and_inside_a_part_are_right(self) -> None:
        for where, line in (
                ("core/edit/nodes.py", "from needle.core.render.holders import kind_of"),
                ("core/edit/nodes.py", "from needle.core.edit.place import find"),
                ("services/mail.py", "from needle.services.http import Wire")):
            self.assertEqual(self.planted(where, line), [], line)

    def test_services_know_no_practice_and_core_no_sockets(self) -> None:
        self.assertIn("services may not know practice",
                      self.planted("services/mail.py", "import needle.practice.mailbox")[0])
        self.assertIn("neither Qt nor sockets",
                      self.planted("core/site/site.py", "import socket")[0])

    def test_a_part_that_stands_nowhere_is_named(self) -> None:
        found = self.planted("core/weather/rain.py", "from needle.core.site.site import Site")
        self.assertIn("core/weather stands on no floor yet", found[0])


class StartTest(unittest.TestCase):
    def test_the_window_starts_without_what_it_seldom_needs(self) -> None:
        heavy = ("scipy.stats", "scipy.cluster", "scipy.ndimage", "av", "boto3", "asyncssh", "acme",
                 "dns.query", "uvicorn", "email_validator", "fontTools.subset", "markdown_it")
        done = subprocess.run([sys.executable, "-c", "import sys, needle.ui.window\n"
                               f"print([one for one in {heavy} if one in sys.modules])"],
                              capture_output=True, text=True, check=True,
                              env=os.environ | {"PYTHONPATH": str(imports.SOURCE.parent)})
        self.assertEqual(done.stdout.strip(), "[]")
