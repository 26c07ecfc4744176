import json
import multiprocessing
import os
import tempfile
import unittest
from pathlib import Path
from unittest import mock

import msgspec

from needle.store.kept import KeptFile
from needle.store.keys import key_file, made_key, read_key, write_key
from needle.store.settings import read_setting, write_setting


def _write_many(first: int) -> None:
    for number in range(first, first + 100):
        write_key(f"service{number}", f"secret{number}")
        write_setting(f"setting{number}", "kept")


class ConfigTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        change = mock.patch.dict(os.environ, NEEDLE_CONFIG=folder.name)
        change.start()
        self.addCleanup(change.stop)


class KeysTest(ConfigTest):
    def test_a_key_stays_outside_projects_in_a_private_file(self) -> None:
        write_key("service1", "secret")
        self.assertEqual((read_key("service1"), read_key("other")), ("secret", ""))
        self.assertEqual(key_file("service1").stat().st_mode & 0o777, 0o600)
        self.assertEqual(key_file("service1").parent.stat().st_mode & 0o777, 0o700)

    def test_one_that_is_cut_short_takes_no_other_with_it_and_is_kept_beside(self) -> None:
        write_key("one", "first secret")
        write_key("two", "second secret")
        raw = key_file("one").read_bytes()
        key_file("one").write_bytes(raw[:9])
        with self.assertLogs("needle.store.kept", "WARNING"):
            self.assertEqual(read_key("one"), "")
        self.assertEqual(read_key("two"), "second secret")
        self.assertEqual([p.read_bytes() for p in key_file("one").parent.glob("*.broken*")],
                         [raw[:9]])

    def test_three_processes_write_at_once_and_every_key_stays(self) -> None:
        processes = [multiprocessing.get_context("fork").Process(target=_write_many, args=(n,))
                     for n in (0, 100, 200)]
        for one in processes:
            one.start()
        for one in processes:
            one.join()
        self.assertEqual([read_key(f"service{n}") for n in range(300)],
                         [f"secret{n}" for n in range(300)])
        self.assertTrue(all(read_setting(f"setting{n}") == "kept" for n in range(300)))

    def test_keys_of_an_earlier_needle_are_found(self) -> None:
        (self.folder / "keys.json").write_text(json.dumps({"old": "secret"}))
        self.assertEqual(read_key("old"), "secret")

    def test_a_key_is_made_once(self) -> None:
        self.assertEqual(made_key("seal", lambda kept: kept or "one"), "one")
        self.assertEqual(made_key("seal", lambda kept: kept or "two"), "one")

    def test_a_name_never_leaves_the_folder(self) -> None:
        for name in ("../x", "", "a/b", ".x", "x" * 90):
            with self.subTest(name), self.assertRaises(ValueError):
                key_file(name)

    def test_the_keyring_is_used_where_there_is_one(self) -> None:
        held: dict[tuple[str, str], str] = {}
        with mock.patch("needle.store.keys._keyring_there", return_value=True), \
                mock.patch("keyring.set_password",
                           side_effect=lambda app, name, key: held.update({(app, name): key})), \
                mock.patch("keyring.get_password",
                           side_effect=lambda app, name: held.get((app, name))):
            write_key("service1", "secret")
            self.assertEqual(read_key("service1"), "secret")
        self.assertFalse(key_file("service1").exists())


class KeptFileTest(ConfigTest):
    def test_a_broken_file_is_put_aside_and_begun_again(self) -> None:
        file = KeptFile(self.folder / "filters.json", dict[str, int], dict)
        file.change(lambda held: held | {"one": 1})
        file.path.write_text('{"one": 1')
        self.assertEqual(file.read(), {})
        with self.assertLogs("needle.store.kept", "WARNING"):
            file.change(lambda held: held | {"two": 2})
        self.assertEqual(file.read(), {"two": 2})
        self.assertEqual([p.read_text() for p in self.folder.glob("filters.json.broken*")],
                         ['{"one": 1'])

    def test_a_value_of_another_type_is_no_value(self) -> None:
        file = KeptFile(self.folder / "a.json", dict[str, int], dict)
        file.path.write_bytes(msgspec.json.encode({"one": "words"}))
        self.assertEqual(file.read(), {})
