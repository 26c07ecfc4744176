"""Comparing pages again after a few of them changed: only what they touch is worked out anew.

Comes to what comparing all of them comes to. Resemblance of two pages depends on those two alone.
TF-IDF weighs a word by how many pages have it, so a page that changes touches others too: by the
words that it got or lost, and by no more.
"""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from needle.core.site.site import Page
from needle.core.tables.likeness import (
    Features,
    Likeness,
    Matrix,
    features_of,
    resemblance,
    tfidf_products,
    weighed,
)

__all__ = ["Comparison", "compared", "compared_again"]

Numbers = NDArray[np.int64]
# When more than one page in so many changed, all are compared.
_FEW = 8


@dataclass(frozen=True, slots=True)
class Comparison:
    """Pages and how alike they are, with what is needed to follow a change.

    Attributes:
        products: n × n, the products of the pages' TF-IDF vectors before they are scaled.
    """

    pages: tuple[Page, ...]
    features: tuple[Features, ...]
    shingles: Matrix
    title: Matrix
    headline: Matrix
    products: Matrix

    @property
    def likeness(self) -> Likeness:
        """How alike the pages are."""
        return weighed(self.shingles, self.products, self.title, self.headline)


def compared(pages: Sequence[Page]) -> Comparison:
    """Return pages compared, each with each."""
    features = tuple(features_of(page) for page in pages)
    shingles, title, headline = (resemblance([getattr(one, part) for one in features])
                                 for part in ("shingles", "title", "headline"))
    return Comparison(tuple(pages), features, shingles, title, headline, tfidf_products(
        [(one.words, one.counts) for one in features]))


def compared_again(before: Comparison, pages: Sequence[Page]) -> Comparison:
    """Return pages compared, of which most are those that were compared before."""
    changed = [place for place, (old, new) in enumerate(
        zip(before.pages, pages, strict=False)) if old is not new]
    if len(pages) != len(before.pages) or len(changed) * _FEW > len(pages):
        return compared(pages)
    if not changed:
        return before
    features = list(before.features)
    for place in changed:
        features[place] = features_of(pages[place])
    shingles, title, headline = (
        _resemblance_again(getattr(before, part), [getattr(one, part) for one in features], changed)
        for part in ("shingles", "title", "headline"))
    return Comparison(tuple(pages), tuple(features), shingles, title, headline,
                      _products_again(before, features, changed))


def _resemblance_again(before: Matrix, sets: Sequence[Numbers], changed: Sequence[int]) -> Matrix:
    found = before.copy()
    every, owners = _together(sets)
    sizes = np.array([len(one) for one in sets], np.float64)
    for place in changed:
        shared = np.bincount(owners[_found_in(sets[place], every)[1]], minlength=len(sets)
                             ).astype(np.float64)
        either = sizes + sizes[place] - shared
        row = np.divide(shared, either, out=np.zeros_like(shared), where=either > 0)
        row[place] = 1.0
        found[place], found[:, place] = row, row
    return found


def _products_again(before: Comparison, features: Sequence[Features], changed: Sequence[int],
                    ) -> Matrix:
    found, pages = before.products.copy(), len(features)
    every, owners = _together([one.words for one in features])
    counts = np.concatenate([one.counts for one in features])
    # Words that changed pages got or lost weigh otherwise now, on all pages that have them.
    touched = np.unique(np.concatenate([np.setxor1d(
        before.features[place].words, features[place].words) for place in changed]))
    old = np.concatenate([one.words for one in before.features])
    fresh_weights, old_weights = (_squares(_often(touched, words), pages)
                                  for words in (every, old))
    still = np.ones(pages, bool)
    still[list(changed)] = False
    at, there = _found_in(touched, every)
    for number in range(len(touched)):
        entries = np.flatnonzero(there & (at == number) & still[owners])
        if len(entries):
            held, spoken = owners[entries], counts[entries]
            found[np.ix_(held, held)] += (
                fresh_weights[number] - old_weights[number]) * np.outer(spoken, spoken)
    for place in changed:
        words, spoken = features[place].words, features[place].counts
        order = np.argsort(words)
        words, spoken = words[order], spoken[order]
        at, there = _found_in(words, every)
        weights = _squares(_often(words, every), pages) * spoken
        row = np.bincount(owners[there], weights[at[there]] * counts[there], pages
                          ).astype(np.float64)
        found[place], found[:, place] = row, row
    return found


def _together(sets: Sequence[Numbers]) -> tuple[Numbers, Numbers]:
    """Return all features one after another, and which page each is of."""
    every = np.concatenate(sets) if sets else np.zeros(0, np.int64)
    return every, np.repeat(np.arange(len(sets)), [len(one) for one in sets])


def _found_in(wanted: Numbers, every: Numbers) -> tuple[Numbers, NDArray[np.bool_]]:
    """Return of each feature its place among those that are wanted, which are in order, and
    whether it is one of them."""
    if not len(wanted):
        return np.zeros(len(every), np.int64), np.zeros(len(every), bool)
    at = np.minimum(np.searchsorted(wanted, every), len(wanted) - 1)
    return at, wanted[at] == every


def _often(wanted: Numbers, every: Numbers) -> Numbers:
    """Return how many pages have each of the wanted features."""
    at, there = _found_in(wanted, every)
    return np.bincount(at[there], minlength=len(wanted))


def _squares(often: Numbers, pages: int) -> NDArray[np.float64]:
    """Return the squares of the weights of features that so many pages have."""
    return np.asarray((np.log((1 + pages) / (1 + often)) + 1) ** 2, np.float64)
