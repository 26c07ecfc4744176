import unittest

from hypothesis import given
from hypothesis import strategies as st

from needle.core.values.words import Run, joined, marked, plain, respell, text, tidy

RUNS = st.lists(st.builds(Run, st.text(max_size=8), strong=st.booleans(), emphasis=st.booleans(),
                          link=st.sampled_from(["", "https://a.example"])), max_size=5)


class WordsTest(unittest.TestCase):
    def test_typing_in_a_bold_word_stays_bold_and_leaves_the_rest(self) -> None:
        before = (Run("One "), Run("bold", strong=True), Run(" end"))
        self.assertEqual(respell(before, "One bolder end"),
                         (Run("One "), Run("bolder", strong=True), Run(" end")))

    def test_a_deleted_stretch_takes_its_marks_with_it(self) -> None:
        before = (Run("One "), Run("bold", strong=True), Run(" end"))
        self.assertEqual(respell(before, "One  end"), text("One  end"))

    @given(RUNS, st.text(max_size=20))
    def test_respelling_gives_the_words_asked_for(self, runs: list[Run], words: str) -> None:
        wanted = plain(text(words))
        self.assertEqual(plain(respell(tidy(runs), wanted)), wanted)

    @given(RUNS)
    def test_tidy_text_is_tidy_and_has_no_control_characters(self, runs: list[Run]) -> None:
        once = tidy(runs)
        self.assertEqual(tidy(once), once)
        self.assertFalse(set(plain(once)) & set(map(chr, range(10))))
        self.assertTrue(all(run.words for run in once))

    def test_lines_are_joined_by_breaks(self) -> None:
        self.assertEqual(plain(joined((text("a"), text("b")))), "a\nb")

    def test_a_mark_is_put_on_a_stretch_over_lines_and_taken_off_again(self) -> None:
        lines = ((Run("One "), Run("two", strong=True)), text("three"))
        bold = marked(lines, 2, 9, "strong")
        self.assertEqual(bold, ((Run("On"), Run("e two", strong=True)),
                                (Run("th", strong=True), Run("ree"))))
        self.assertEqual(marked(bold, 2, 9, "strong"), (text("One two"), text("three")))

    def test_line_breaks_count_for_nothing_and_links_take_an_address(self) -> None:
        (line,) = marked((text("a\nbc"),), 1, 2, "link", "https://x.example")
        self.assertEqual(line, (Run("a\n"), Run("b", link="https://x.example"), Run("c")))
        self.assertEqual(marked((line,), 0, 9, "link"), (text("a\nbc"),))
