import tempfile
import unittest
from pathlib import Path

from needle.core.wording.spelling import Speller, find_dictionary


class SpellingTest(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)
        (self.folder / "en_US.aff").write_text("SET UTF-8\nSFX S Y 1\nSFX S 0 s .\n")
        (self.folder / "en_US.dic").write_text("5\nstar/S\nthe\nnight/S\nsee\nfiancé\n")

    def wrong(self, words: str) -> list[str]:
        speller = Speller(self.folder / "en_US")
        return [words[start:stop] for start, stop in speller.misspelt(words)]

    def test_unknown_words_are_found_where_they_stand(self) -> None:
        self.assertEqual(self.wrong("See the starz, the nights. Teh fiancé!"), ["starz", "Teh"])

    def test_names_in_capitals_numbers_and_addresses_pass(self) -> None:
        self.assertEqual(self.wrong("NASA 16th b2b desk@hill.example https://stars.example/xx"), [])
        self.assertEqual(self.wrong("the star's night, the star’s night"), [])

    def test_the_systems_dictionary_is_found_or_there_is_none(self) -> None:
        self.assertEqual(find_dictionary((self.folder,)), self.folder / "en_US")
        (self.folder / "en_US.aff").unlink()
        self.assertIsNone(find_dictionary((self.folder,)))
