"""How far one is with the snags: what ticks off, what folds, what is not known yet."""

import unittest

from needle.core.snags.progress import Progress, progressed, rows
from needle.core.snags.snag import Snag


def _snag(rule: str, target: str, weight: int = 1, words: str = "Wrong") -> Snag:
    return Snag(rule, weight, words, "Home", "node", target)  # type: ignore[arg-type]


DEAD, DEAD_2 = _snag("idle-button", "a"), _snag("idle-button", "b")
WIDE = _snag("sticks-out", "c", 2)


class ProgressTest(unittest.TestCase):
    def test_what_is_gone_is_mended_and_what_comes_back_is_not(self) -> None:
        first = progressed(Progress(), [DEAD, DEAD_2], [], True, "9:00")
        self.assertEqual((first.open, first.mended, first.share), ((DEAD, DEAD_2), (), 0.0))
        second = progressed(first, [DEAD_2], [], True, "9:01")
        self.assertEqual([(one.snag, one.at) for one in second.mended], [(DEAD, "9:01")])
        self.assertEqual(second.share, 0.5)
        back = progressed(second, [DEAD, DEAD_2], [], True, "9:02")
        self.assertEqual(back.mended, ())

    def test_other_words_for_the_same_fault_are_the_same_fault(self) -> None:
        first = progressed(Progress(), [DEAD], [], True, "9:00")
        worse = _snag("idle-button", "a", words="Wrong by more")
        self.assertEqual(progressed(first, [worse], [], True, "9:01"), Progress((worse,)))

    def test_what_is_let_pass_is_not_mended(self) -> None:
        first = progressed(Progress(), [DEAD], [], True, "9:00")
        self.assertEqual(progressed(first, [], [DEAD], True, "9:01"), Progress())

    def test_nothing_of_a_laid_out_page_ticks_off_before_it_was_laid_out_again(self) -> None:
        first = progressed(Progress(), [DEAD, WIDE], [], True, "9:00")
        unsure = progressed(first, [], [], False, "9:01")
        self.assertEqual(unsure.open, (WIDE,))
        self.assertEqual([one.snag for one in unsure.mended], [DEAD])
        sure = progressed(unsure, [], [], True, "9:02")
        self.assertEqual(sure.open, ())
        self.assertEqual([one.snag for one in sure.mended], [WIDE, DEAD])
        self.assertEqual(sure.share, 1.0)

    def test_nothing_found_is_all_done(self) -> None:
        self.assertEqual(Progress().share, 1.0)


class RowTest(unittest.TestCase):
    def test_many_of_one_rule_fold_and_keep_their_numbers(self) -> None:
        many = [_snag("idle-button", f"n{n}") for n in range(4)]
        progress = progressed(Progress(), [*many, WIDE], [], True, "9:00")
        folded = rows(progress, frozenset())
        self.assertEqual([(row.snag.target, row.number, row.more) for row in folded],
                         [("n0", 1, 3), ("c", 5, 0)])
        whole = rows(progress, frozenset({"idle-button"}))
        self.assertEqual([row.number for row in whole], [1, 2, 3, 4, 5])

    def test_three_of_one_rule_do_not_fold(self) -> None:
        few = [_snag("idle-button", f"n{n}") for n in range(3)]
        made = rows(progressed(Progress(), few, [], True, "9:00"), frozenset())
        self.assertEqual([(row.number, row.more) for row in made], [(1, 0), (2, 0), (3, 0)])

    def test_mended_ones_come_last_with_their_time(self) -> None:
        first = progressed(Progress(), [DEAD, DEAD_2], [], True, "9:00")
        made = rows(progressed(first, [DEAD_2], [], True, "9:07"), frozenset())
        self.assertEqual([(row.snag, row.done, row.number) for row in made],
                         [(DEAD_2, "", 1), (DEAD, "9:07", 0)])


if __name__ == "__main__":
    unittest.main()
