"""The practice web server: sent to for real, and with each fault switched on."""

import hashlib
import tempfile
import unittest
from pathlib import Path

import msgspec

from needle.core.values.targets import Target
from needle.practice.faults import set_fault
from needle.practice.webserver import USER
from needle.publish.release import ReleasedFile
from needle.publish.targets.opening import open_place, try_target
from needle.publish.targets.place import PlaceError
from needle.publish.targets.sending import Outside, send_to
from needle.running.addresses import read_address
from needle.running.children import Child

PAGES = {"index.html": b"<p>one", "assets/large.css": b"/* wide */" * 9_000,
         "night/index.html": b"<p>night"}


class WebserverTest(unittest.TestCase):
    def setUp(self) -> None:
        self.folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.start()

    def start(self) -> None:
        child = Child("needle.practice.webserver", [str(self.folder)])
        self.addCleanup(child.stop)
        facts = read_address(self.folder)
        assert facts is not None
        self.password = facts["key"]
        self.target = Target("t1", "Server", "sftp", facts["url"], folder="/site", user=USER)

    def send(self) -> None:
        outside = Outside("site1", "r1", {
            path: ReleasedFile(hashlib.sha256(data).hexdigest(), len(data))
            for path, data in PAGES.items()}, PAGES.__getitem__)
        with open_place(self.target, self.password) as place:
            send_to(place, outside)

    def held(self) -> dict[str, bytes]:
        root = (self.folder / "www" / "site").resolve()
        return {str(path.relative_to(root)): path.read_bytes() for path in root.rglob("*")
                if path.is_file() and path.name in ("index.html", "large.css")} | {
                    f"assets/{path.name}": path.read_bytes()
                    for path in (root / "assets").resolve().glob("*.css")}

    def test_a_release_comes_in_whole(self) -> None:
        told = try_target("site1", self.target, self.password)
        self.assertTrue(told.at_once)
        self.send()
        self.assertEqual(self.held(), PAGES)

    def test_each_fault_is_said_and_the_next_send_without_it_is_whole(self) -> None:
        for fault, words in (("cut", "send again"), ("full", "refused a file: No space left"),
                             ("lies", "does not have it as it was sent"),
                             ("password", "does not let")):
            with self.subTest(fault):
                set_fault(self.folder, fault)
                with self.assertRaisesRegex(PlaceError, words):
                    self.send()
                set_fault(self.folder, "none")
                self.send()
                self.assertEqual(self.held(), PAGES)
                PAGES["assets/large.css"] += fault.encode()  # So that it is sent again.

    def test_another_host_key_is_refused_once_one_was_pinned(self) -> None:
        shown = try_target("site1", self.target, self.password).pinned
        self.target = msgspec.structs.replace(self.target, pinned=shown)
        set_fault(self.folder, "other")
        self.assertTrue(self.waits_for("another host key"))
        set_fault(self.folder, "none")
        self.assertTrue(self.waits_for(""))

    def waits_for(self, words: str) -> bool:
        """Try until the server has taken note of its fault, and this is said."""
        for _ in range(600):
            try:
                try_target("site1", self.target, self.password)
                said = ""
            except PlaceError as error:
                said = str(error)
            if bool(words) == bool(said) and words in said:
                return True
        return False

    def test_without_links_pages_switch_one_by_one(self) -> None:
        set_fault(self.folder, "files")
        self.assertFalse(try_target("site1", self.target, self.password).at_once)
        self.send()
        self.assertEqual(self.held(), PAGES)
