"""Sending to every kind of place: whole, only what differs, never half, and on where it stopped."""

import hashlib
import tempfile
import unittest
import zipfile
from collections.abc import Callable
from pathlib import Path
from unittest import mock

import msgspec

from needle.core.edit.place import EditError
from needle.core.edit.targets import delete_target, keep_target
from needle.core.values.targets import Target
from needle.publish.refusing import PublishError
from needle.publish.release import ReleasedFile
from needle.publish.targets.opening import gap_words, open_place, try_target
from needle.publish.targets.place import JOURNAL, MANIFEST, PlaceError
from needle.publish.targets.sending import Outside, SentThere, send_to
from tests.publish.places import (
    PASSWORD,
    SSHD,
    Ground,
    bucket_ground,
    dav_ground,
    folder_ground,
    git_ground,
    link_ground,
    openssh_ground,
    sftp_ground,
)
from tests.sites import small_site

_ASSET = {"assets/a-1.css": b"body{}", "assets/b-2.css": b"p{}" * 4000}


def outside(pages: dict[str, str], release: str = "r1", site: str = "site1",
            assets: dict[str, bytes] | None = None) -> Outside:
    held = {path: words.encode() for path, words in pages.items()} | (
        _ASSET if assets is None else assets)
    return Outside(site, release, {
        path: ReleasedFile(hashlib.sha256(data).hexdigest(), len(data))
        for path, data in held.items()}, held.__getitem__)


FIRST = {"index.html": "<p>one", "night/index.html": "<p>night one"}
SECOND = {"index.html": "<p>one", "night/index.html": "<p>night two", "b/index.html": "<p>new"}


class _PulledError(Exception):
    """The plug."""


class PlaceCase:
    """What every place must do; a class below names the ground."""

    ground: Callable[[unittest.TestCase], Ground]
    together = True

    def setUp(self) -> None:
        self.held = type(self).ground(self)

    def send(self, what: Outside, **given: object) -> SentThere:
        with open_place(self.held.target, PASSWORD) as place:
            return send_to(place, what, **given)  # type: ignore[arg-type]

    def pages(self) -> dict[str, bytes]:
        return {path: data for path, data in self.held.files().items()
                if path not in (MANIFEST, JOURNAL)}

    def whole(self, what: Outside) -> dict[str, bytes]:
        return {path: what.read(path) for path in what.files}

    def test_what_is_there_is_what_was_planned_byte_for_byte(self) -> None:
        first = outside(FIRST)
        self.assertEqual(self.send(first).put, 4)
        self.assertEqual(self.pages(), self.whole(first))
        again = self.send(first)
        self.assertEqual(again.removed, 0)
        self.assertEqual(self.pages(), self.whole(first))

    def test_only_what_differs_is_put_and_what_is_gone_goes(self) -> None:
        self.send(outside(FIRST))
        second = outside(SECOND, "r2", assets={"assets/a-1.css": b"body{}"})
        self.send(second)
        # What pages of a moment ago ask for stays for one release.
        self.assertEqual(self.pages(), {**self.whole(second), "assets/b-2.css": b"p{}" * 4000})
        third = outside({"index.html": "<p>one"}, "r3", assets={"assets/a-1.css": b"body{}"})
        self.send(third)
        self.assertEqual(self.pages(), self.whole(third))

    def test_a_try_that_was_cut_anywhere_goes_on_and_shows_no_mixture(self) -> None:
        first, second = outside(FIRST), outside(SECOND, "r2", assets={"assets/c-3.css": b"a{}"})
        self.send(first)
        for cut in range(1, 12):
            with open_place(self.held.target, PASSWORD) as place:
                left = iter(range(cut))

                def pulled(call: Callable[..., object], left: object = left,
                           ) -> Callable[..., object]:
                    def run(*given: object) -> object:
                        if next(left, None) is None:  # type: ignore[call-overload]
                            raise _PulledError
                        return call(*given)
                    return run

                with mock.patch.multiple(place, put=pulled(place.put),
                                         switch=pulled(place.switch),
                                         remove=pulled(place.remove)):
                    try:
                        send_to(place, second)
                    except _PulledError:
                        done = False
                    else:
                        done = True
            self.check_whole(first, second)
            if done:
                break
        self.assertTrue(done)
        self.send(second)
        self.assertEqual({path: data for path, data in self.pages().items()
                          if path in second.files}, self.whole(second))

    def test_what_a_cut_try_put_is_taken_back_when_something_else_is_sent(self) -> None:
        first = outside(FIRST)
        self.send(first)
        second = outside(SECOND, "r2", assets={**_ASSET, "assets/stray.css": b"s{}"})
        # Everything is put but the last word.
        with open_place(self.held.target, PASSWORD) as place, \
                mock.patch.object(place, "switch", side_effect=_PulledError), \
                self.assertRaises(_PulledError):
            send_to(place, second)
        third = outside({**FIRST, "c/index.html": "<p>c"}, "r3")
        self.send(third)
        self.assertEqual(self.pages(), self.whole(third))

    def test_another_content_of_one_name_and_size_is_put(self) -> None:
        self.send(outside(FIRST))
        other = outside(FIRST, "r2", assets={**_ASSET, "assets/a-1.css": b"b*dy{}"})
        self.send(other)
        self.assertEqual(self.pages(), self.whole(other))

    def check_whole(self, first: Outside, second: Outside) -> None:
        """Every page is the old or the new one; together only the old ones or the new ones."""
        there = self.pages()
        old, new = self.whole(first), self.whole(second)
        shown = {path: data for path, data in there.items() if path.endswith(".html")}
        for path, data in shown.items():
            self.assertIn(data, (old.get(path), new.get(path)))
        if self.together:
            self.assertIn(shown, tuple({path: data for path, data in whole.items()
                                        if path.endswith(".html")} for whole in (old, new)))
        # Nothing that an old page loads goes while an old page is there.
        if any(data == old.get(path) != new.get(path) for path, data in shown.items()):
            self.assertLessEqual(set(_ASSET), there.keys())

    def test_another_site_and_what_is_not_ours_are_left_alone(self) -> None:
        self.send(outside(FIRST))
        before = self.pages()
        with self.assertRaisesRegex(PlaceError, "holds another site"):
            self.send(outside(SECOND, site="other"))
        self.assertEqual(self.pages(), before)

    def test_a_place_that_lies_is_found_out_and_the_old_site_stays(self) -> None:
        self.send(outside(FIRST))
        with open_place(self.held.target, PASSWORD) as place:
            put = place.put

            def lying(path: str, data: bytes) -> None:
                put(path, data[:-1] if path == "b/index.html" else data)

            with mock.patch.object(place, "put", lying), \
                    self.assertRaisesRegex(PlaceError, "said that it took b/index.html"):
                send_to(place, outside(SECOND, "r2"))
        self.send(outside(SECOND, "r2"))
        self.assertEqual(self.pages(), self.whole(outside(SECOND)))

    def test_it_can_be_stopped_and_says_how_far_it_is(self) -> None:
        self.send(outside(FIRST))
        far: list[tuple[int, int]] = []

        def stop(done: int, whole: int) -> bool:
            far.append((done, whole))
            return done < 1

        with self.assertRaisesRegex(PublishError, "Stopped"):
            self.send(outside(SECOND, "r2", assets={"assets/c.css": b"1"}), progress=stop)
        self.assertEqual(far[0][0], 0)
        if self.together:
            self.assertEqual(self.pages()["night/index.html"], b"<p>night one")

    def test_trying_leaves_nothing(self) -> None:
        told = try_target("site1", self.held.target, PASSWORD)
        self.assertEqual(told.at_once, self.together)
        self.assertEqual(self.pages(), {})


class FolderTest(PlaceCase, unittest.TestCase):
    ground = staticmethod(folder_ground)
    together = False

    def test_a_site_that_is_not_ours_is_replaced_only_when_that_was_said(self) -> None:
        path = Path(self.held.target.place)
        (path / "index.html").write_text("mine")
        (path / "own.html").write_text("mine")
        with self.assertRaisesRegex(PlaceError, "that Needle did not put there"):
            self.send(outside(FIRST))
        self.assertEqual((path / "index.html").read_text(), "mine")
        self.send(outside(FIRST), replaces=True)
        self.assertEqual((path / "index.html").read_text(), "<p>one")
        self.assertEqual((path / "own.html").read_text(), "mine")

    def test_a_broken_note_of_what_is_there_is_said(self) -> None:
        path = Path(self.held.target.place)
        for raw in (b"{", b'{"files": {"../x": ["", 1]}}', b"[" * 90_000):
            (path / MANIFEST).write_bytes(raw)
            with self.subTest(raw[:9]), self.assertRaisesRegex(PlaceError, "none of Needle's"):
                self.send(outside(FIRST))


class LinkTest(PlaceCase, unittest.TestCase):
    ground = staticmethod(link_ground)

    def test_releases_before_the_last_go(self) -> None:
        for number in range(5):
            self.send(outside({"index.html": f"<p>{number}"}, f"r{number}"))
        path = Path(self.held.target.place)
        self.assertEqual(len(list(path.parent.glob(".site.releases/r-*"))), 2)
        self.assertEqual((path / "index.html").read_text(), "<p>4")


class SftpTest(PlaceCase, unittest.TestCase):
    ground = staticmethod(sftp_ground)

    def test_a_wrong_password_and_another_host_key_are_refused(self) -> None:
        target = self.held.target
        with self.assertRaisesRegex(PlaceError, "does not let me in"):
            try_target("site1", target, "wrong")
        shown = try_target("site1", target, PASSWORD).pinned
        self.assertRegex(shown, "SHA256:.{43}")
        pinned = msgspec.structs.replace(target, pinned=shown)
        self.assertTrue(try_target("site1", pinned, PASSWORD).at_once)
        other = msgspec.structs.replace(target, pinned="SHA256:" + "A" * 43)
        with self.assertRaisesRegex(PlaceError, "another host key"):
            try_target("site1", other, PASSWORD)
        away = msgspec.structs.replace(target, place="127.0.0.1:1")
        with self.assertRaisesRegex(PlaceError, "cannot be reached at 127.0.0.1:1"):
            try_target("site1", away, PASSWORD)


@unittest.skipUnless(SSHD.exists(), "takes a server of the system")
class OpensshTest(PlaceCase, unittest.TestCase):
    ground = staticmethod(openssh_ground)

    def test_another_key_is_not_let_in(self) -> None:
        other = Path(self.held.target.key_file).with_name("host")
        target = msgspec.structs.replace(self.held.target, key_file=str(other))
        with self.assertRaisesRegex(PlaceError, "does not let"):
            try_target("site1", target, "")


class SftpFilesTest(PlaceCase, unittest.TestCase):
    ground = staticmethod(lambda case: sftp_ground(case, links=False))
    together = False


class DavTest(PlaceCase, unittest.TestCase):
    ground = staticmethod(dav_ground)
    together = False

    def test_a_page_that_is_gone_while_it_is_replaced_is_told(self) -> None:
        with open_place(self.held.target, PASSWORD) as place:
            for held, words in ((b"0", "No page was missing"), (None, "told that it is not there")):
                with self.subTest(words):
                    self.assertIn(words, gap_words(place, mock.Mock(get=lambda _, h=held: h)))

    def test_what_the_server_says_is_told(self) -> None:
        with self.assertRaisesRegex(PlaceError, "does not let me in"):
            try_target("site1", self.held.target, "wrong")
        lost = msgspec.structs.replace(self.held.target, place="http://127.0.0.1:1/x")
        with self.assertRaisesRegex(PlaceError, "cannot be reached"):
            try_target("site1", lost, PASSWORD)
        deep = msgspec.structs.replace(self.held.target,
                                       place=self.held.target.place + "/not/there")
        with self.assertRaisesRegex(PlaceError, "answered 409"):
            try_target("site1", deep, PASSWORD)


class BucketTest(PlaceCase, unittest.TestCase):
    ground = staticmethod(bucket_ground)
    together = False

    def test_a_bucket_that_is_not_there_and_somebody_who_was_quicker(self) -> None:
        lost = msgspec.structs.replace(self.held.target, bucket="nobodys")
        with self.assertRaisesRegex(PlaceError, "there is no bucket “nobodys”"):
            try_target("site1", lost, PASSWORD)
        self.send(outside(FIRST))
        with open_place(self.held.target, PASSWORD) as slow:
            switch = slow.switch

            def late(manifest: bytes) -> None:
                self.send(outside(FIRST, "r9"))
                switch(manifest)

            with mock.patch.object(slow, "switch", late), \
                    self.assertRaisesRegex(PlaceError, "Somebody else has sent"):
                send_to(slow, outside(SECOND, "r2"))


class GitTest(PlaceCase, unittest.TestCase):
    ground = staticmethod(git_ground)

    def test_an_address_is_never_an_option_or_a_command(self) -> None:
        for address in ("--upload-pack=touch /tmp/x", "ext::sh -c true", "-x"):
            with self.subTest(address), self.assertRaises(PlaceError):
                try_target("site1", Target("t1", "R", "git", address), "")
        with self.assertRaisesRegex(PlaceError, "cannot be reached"):
            try_target("site1", Target("t1", "R", "git", "/nowhere/at/all.git"), "")


class ZipTest(unittest.TestCase):
    def test_the_file_holds_all_and_the_same_release_gives_the_same_file(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            path = Path(folder) / "site.zip"
            target = Target("t1", "Zip", "zip", str(path))
            for what in (outside(FIRST), outside(SECOND, "r2"), outside(SECOND, "r2")):
                with open_place(target) as place:
                    send_to(place, what)
                with zipfile.ZipFile(path) as held:
                    self.assertEqual({name: held.read(name) for name in held.namelist()
                                      if name != MANIFEST},
                                     {name: what.read(name) for name in what.files})
                before, self.before = getattr(self, "before", b""), path.read_bytes()
            self.assertEqual(self.before, before)
            self.assertEqual([one.name for one in Path(folder).iterdir()], ["site.zip"])


class EditTest(unittest.TestCase):
    def test_a_target_that_cannot_be_is_refused_in_words(self) -> None:
        site = small_site()
        for target, words in (
                (Target("t1", " ", "folder", "/x"), "Give it a name"),
                (Target("t1", "F", "folder", "x/y"), "from / or ~/ on"),
                (Target("t1", "F", "zip", "/x/y"), "ends in .zip"),
                (Target("t1", "F", "sftp", "web.example", user="me"), "a user and a folder"),
                (Target("t1", "F", "webdav", "ftp://x"), "beginning with https"),
                (Target("t1", "F", "bucket", "", bucket="A b"), "a bucket's name"),
                (Target("t1", "F", "git", "--x"), "a path or an address")):
            with self.subTest(words), self.assertRaisesRegex(EditError, words):
                keep_target(site, target)
        kept = keep_target(site, Target("t1", " The  shelf ", "folder", " /x "))
        self.assertEqual(kept.targets, (Target("t1", "The shelf", "folder", "/x"),))
        with self.assertRaisesRegex(EditError, "already"):
            keep_target(kept, Target("t2", "The shelf", "folder", "/y"))
        self.assertEqual(delete_target(kept, "t1").targets, ())


if __name__ == "__main__":
    unittest.main()
