"""How alike pages are: equal to what the formulas say, and near-copies are found."""

import math
import random
import unittest
from collections import Counter

import msgspec
import numpy as np

from needle.core.edit.nodes import set_words
from needle.core.site.site import Page
from needle.core.tables.comparing import compared, compared_again
from needle.core.tables.expanding import expanded
from needle.core.tables.likeness import (
    FLOOR,
    chasers,
    likeness_of,
    own_words,
    percent,
    resemblance,
    shingles_in,
    tfidf_cosine,
    worst_pairs,
)
from needle.core.tables.mastering import make_master
from needle.core.values.words import text
from tests.sites import PAGE, small_site
from tests.tabled import table_of, tabled_site

_WORDS = [f"word{n}" for n in range(60)]


def page_with(words: str, title: str = "T", head: str = "H") -> Page:
    site = set_words(small_site(), "text1", (text(words),))
    site = set_words(set_words(site, "head1", (text(head),)), "list1", (text(""),))
    page = site.page(PAGE)
    assert page is not None
    return msgspec.structs.replace(page, title=title)


class FormulaTest(unittest.TestCase):
    def test_cosine_of_tfidf_as_written_out(self) -> None:
        dice = random.Random(5)
        texts = [[dice.choice(_WORDS) for _ in range(dice.randrange(1, 80))] for _ in range(12)]
        texts += [["alone"], list(texts[0])]
        counts = [Counter(words) for words in texts]
        n = len(texts)
        df = Counter(word for one in counts for word in one)
        weights = [{word: tf * (math.log((1 + n) / (1 + df[word])) + 1)
                    for word, tf in one.items()} for one in counts]

        def cosine(one: dict[str, float], other: dict[str, float]) -> float:
            dot = sum(value * other.get(word, 0) for word, value in one.items())
            return dot / math.sqrt(sum(v * v for v in one.values())
                                   * sum(v * v for v in other.values()))

        place = {word: number for number, word in enumerate(df)}
        found = tfidf_cosine([
            (np.array([place[word] for word in one], np.int64),
             np.array(list(one.values()), np.float64)) for one in counts])
        wanted = np.array([[cosine(one, other) for other in weights] for one in weights])
        np.testing.assert_allclose(found, wanted, atol=1e-9, rtol=0)
        self.assertAlmostEqual(found[0, -1], 1.0, 12)

    def test_resemblance_as_written_out(self) -> None:
        dice = random.Random(6)
        sets = [set(dice.sample(range(40), dice.randrange(0, 20))) for _ in range(15)]
        found = resemblance([np.array(sorted(one), np.int64) for one in sets])
        for row, one in enumerate(sets):
            for column, other in enumerate(sets):
                wanted = 1.0 if row == column else (
                    len(one & other) / len(one | other) if one | other else 0.0)
                self.assertAlmostEqual(found[row, column], wanted, 12)

    def test_shingles(self) -> None:
        self.assertEqual(shingles_in(["a", "b", "c", "d"]), ["a b c", "b c d"])
        self.assertEqual((shingles_in(["a", "b"]), shingles_in([])), (["a b"], []))

    def test_no_pages_one_page_and_empty_ones(self) -> None:
        self.assertEqual(likeness_of([]).whole.shape, (0, 0))
        alone = likeness_of([page_with("Some words")])
        self.assertEqual((alone.whole.shape, list(alone.most())), ((1, 1), [0.0]))
        self.assertEqual(worst_pairs(alone), [])


class AgainTest(unittest.TestCase):
    def test_comparing_again_comes_to_what_comparing_all_comes_to(self) -> None:
        dice = random.Random(9)

        def page() -> Page:
            words = " ".join(dice.choice(_WORDS) for _ in range(dice.choice((0, 1, 3, 40))))
            return page_with(words, dice.choice(_WORDS), dice.choice(_WORDS))

        pages = [page() for _ in range(24)]
        made = compared(pages)
        for _ in range(60):
            for place in dice.sample(range(len(pages)), dice.choice((0, 1, 1, 3, 9))):
                pages[place] = page()
            made, whole = compared_again(made, pages), compared(pages)
            for part in ("whole", "body", "title", "headline"):
                np.testing.assert_allclose(getattr(made.likeness, part),
                                           getattr(whole.likeness, part), atol=1e-9, rtol=0)
        self.assertIs(compared_again(made, pages), made)
        fewer = compared_again(made, pages[:-1])
        np.testing.assert_allclose(fewer.likeness.whole, likeness_of(pages[:-1]).whole)


class FindingTest(unittest.TestCase):
    def test_near_copies_are_found_and_pages_of_their_own_are_not(self) -> None:
        dice = random.Random(7)
        common = " ".join(dice.choice(_WORDS) for _ in range(150))
        copies = [page_with(f"{common} in {town}.", f"Evening in {town}", f"Evening in {town}")
                  for town in ("Harrowick", "Fenwater", "Ottermill", "Sallow")]
        apart = [page_with(" ".join(f"{dice.choice('abcdefgh')}{dice.randrange(900)}"
                                    for _ in range(150)), f"Title {n}", f"Head {n}")
                 for n in range(6)]
        likeness = likeness_of([*copies, *apart])
        found = {(pair.one, pair.other) for pair in worst_pairs(likeness, 99, FLOOR)}
        self.assertEqual(found, {(a, b) for a in range(4) for b in range(a + 1, 4)})
        self.assertTrue((likeness.most()[4:] < 0.3).all())
        np.testing.assert_allclose(likeness.whole, likeness.whole.T)
        np.testing.assert_allclose(np.diagonal(likeness.whole), 1.0)

    def test_a_hundred_pages_that_only_name_another_town_are_copies(self) -> None:
        dice = random.Random(8)
        towns = [f"{dice.choice(('Ash', 'Elm', 'Oak'))}{n} Green" for n in range(100)]
        said = " ".join(dice.choice(_WORDS) for _ in range(40))

        def named(town: str, more: str = "") -> Page:
            page = page_with(f"In {town} {said} on {town}’s hill. {more}", f"{town} evening",
                             f"An evening in {town}")
            return msgspec.structs.replace(page, row=msgspec.structs.replace(
                page.row, label=town))

        likeness = likeness_of([named(town) for town in towns])
        self.assertTrue((likeness.body > 0.999).all() and (likeness.most() > FLOOR).all())
        own = [" ".join(f"{dice.choice('abcdefgh')}{dice.randrange(9000)}" for _ in range(60))
               for _ in towns]
        likeness = likeness_of([named(*pair) for pair in zip(towns, own, strict=True)])
        self.assertTrue((likeness.most() < FLOOR).all())

    def test_title_and_headline_are_weighed_apart(self) -> None:
        one, other = page_with("a b c d", "Same", "Same"), page_with("e f g h", "Same", "Same")
        likeness = likeness_of([one, other])
        self.assertEqual((likeness.title[0, 1], likeness.headline[0, 1]), (1.0, 1.0))
        third = likeness_of([one, page_with("e f g h", "Other", "Same")])
        self.assertAlmostEqual(likeness.whole[0, 1] - third.whole[0, 1], 0.1)

    def test_what_only_one_page_has(self) -> None:
        site = tabled_site()
        site = make_master(site, PAGE, table_of(site).id)
        pages = [page for page in expanded(site).pages if page.row.page]
        self.assertEqual(own_words(pages, 1), ["fenwater"])
        self.assertIn("hedge", own_words(pages, 2))
        self.assertEqual(own_words(pages, 2, 3)[0], "ottermill")

    def test_a_share_below_the_limit_never_reads_as_at_it(self) -> None:
        self.assertEqual([percent(share) for share in (FLOOR, FLOOR - 0.001, 1.0, 0.0)],
                         [80, 79, 100, 0])

    def test_who_chases_the_same_phrase(self) -> None:
        self.assertEqual(chasers(["Star evening, coast", "", "star evening coast!", "other"]),
                         {"star evening coast": [0, 2]})


if __name__ == "__main__":
    unittest.main()
