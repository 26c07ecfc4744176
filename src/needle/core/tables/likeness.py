"""How alike the pages of a table are, as search engines compare them.

Two looks at the visible words: runs of three words that two pages share (resemblance of shingle
sets, Broder 1997: |A ∩ B| / |A ∪ B|), and the cosine of their TF-IDF vectors (Salton; smoothed as
ln((1 + n) / (1 + df)) + 1, tf as counted, vectors of length 1). The first sees copies, the second
that the same is told in other words: their mean counts, or the first where it is larger. In the
runs the name of a page's row is no word of its own, so pages that say the same of each town but for
its name are copies, however much weight a name has that no other page knows. Title and headline are
looked at by themselves and weighed apart, since a search shows little else.
"""

import hashlib
import math
import re
from collections import Counter
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_array

from needle.core.kinds.heading import Heading
from needle.core.render.texts import plain_lines
from needle.core.site.site import Page
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.widths import Width

__all__ = [
    "FLOOR",
    "Features",
    "Likeness",
    "Matrix",
    "Pair",
    "chasers",
    "features_of",
    "likeness_of",
    "own_words",
    "percent",
    "resemblance",
    "shingles_in",
    "tfidf_cosine",
    "tfidf_products",
    "weighed",
    "worst_pairs",
]

Matrix = NDArray[np.float64]
# Above this a search engine may well take two pages for one.
FLOOR = 0.8
_SHINGLE = 3
_BODY, _TITLE, _HEADLINE = 0.8, 0.1, 0.1
_WORD = re.compile(r"[^\W_]+(?:['’][^\W_]+)*")
_EVERYWHERE = len(Width)
# No word is like it.
_NAME, _NAMES_OWN = "*", "*'s"
# What a name ends in where something is its own, in English and in German.
_OWNED = ("'s", "’s", "s")


@dataclass(frozen=True, slots=True)
class Features:
    """What is read of one page, each feature as a number of 63 bits.

    Attributes:
        words, counts: Words of the body, and how often each stands there.
        shingles: Runs of three words of the body, the name of the row aside.
        title, headline: Words there.
    """

    words: NDArray[np.int64]
    counts: NDArray[np.float64]
    shingles: NDArray[np.int64]
    title: NDArray[np.int64]
    headline: NDArray[np.int64]


@dataclass(frozen=True, slots=True)
class Pair:
    """Two pages, by their places, and how alike they are, from 0 to 1."""

    one: int
    other: int
    share: float


@dataclass(frozen=True, slots=True)
class Likeness:
    """How alike some pages are.

    Attributes:
        whole: n × n, from 0 to 1; 1 on the diagonal.
        body, title, headline: The same of these parts alone.
    """

    whole: Matrix
    body: Matrix
    title: Matrix
    headline: Matrix

    def most(self) -> NDArray[np.float64]:
        """Return of each page how much it is like the one that is most like it."""
        others = self.whole.copy()
        np.fill_diagonal(others, 0.0)
        return np.asarray(others.max(axis=1, initial=0.0), dtype=np.float64)


def likeness_of(pages: Sequence[Page]) -> Likeness:
    """Return how alike pages are; of each the first variant is read, once for all comparisons."""
    reads = [features_of(page) for page in pages]
    shingles, title, headline = (resemblance([getattr(one, part) for one in reads])
                                 for part in ("shingles", "title", "headline"))
    return weighed(shingles, tfidf_products([(one.words, one.counts) for one in reads]), title,
                   headline)


def weighed(shingles: Matrix, products: Matrix, title: Matrix, headline: Matrix) -> Likeness:
    """Return the likeness that the parts come to.

    Args:
        shingles, title, headline: Resemblances.
        products: As `tfidf_products` returns them.
    """
    body = np.maximum(shingles, (shingles + _cosine(products)) / 2)
    return Likeness(_BODY * body + _TITLE * title + _HEADLINE * headline, body, title, headline)


def features_of(page: Page) -> "Features":
    """Return what is read of a page; it is read once."""
    return remembered(page, "read_for_likeness", _read)


def _read(page: Page) -> Features:
    nodes = _seen(page)
    words = [word for line in _lines(page) for word in _words_in(line)]
    name = _words_in(page.row.label)
    counts = Counter(map(_number, words))
    head = next((line for node in nodes if isinstance(node, Heading) and node.rank == 1
                 for line in plain_lines(node)), "")
    return Features(
        np.fromiter(counts.keys(), np.int64, len(counts)),
        np.fromiter(counts.values(), np.float64, len(counts)),
        _set_of(shingles_in(_unnamed(words, name))),
        _set_of(_words_in(page.title)), _set_of(_words_in(head)))


def _unnamed(words: list[str], name: list[str]) -> list[str]:
    """Return words with something that stands for a name wherever that is, also where something is
    said to be its own ("Fenwater’s")."""
    if not name:
        return words
    found, at = list[str](), 0
    *before, last = name
    owned_as = {last + end for end in _OWNED}
    while at < len(words):
        there = words[at:at + len(name)]
        owned = there[:-1] == before and there[-1] in owned_as
        found.append(_NAME if there == name else _NAMES_OWN if owned else words[at])
        at += len(name) if there == name or owned else 1
    return found


def _seen(page: Page) -> list[Node]:
    return [node for node in page.variants[0].nodes() if len(set(node.hidden)) < _EVERYWHERE]


def _lines(page: Page) -> list[str]:
    return [line for node in _seen(page) for line in plain_lines(node)]


def _words_in(line: str) -> list[str]:
    return _WORD.findall(line.casefold())


def shingles_in(words: Sequence[str]) -> list[str]:
    """Return the runs of three words; of fewer words the one run that there is."""
    if len(words) < _SHINGLE:
        return [" ".join(words)] if words else []
    return [" ".join(words[at:at + _SHINGLE]) for at in range(len(words) - _SHINGLE + 1)]


def _set_of(features: Iterable[str]) -> NDArray[np.int64]:
    return np.unique(np.fromiter(map(_number, features), np.int64))


def _number(feature: str) -> int:
    """Return a number for a feature: always the same, and another for each but by rare chance."""
    digest = hashlib.blake2b(feature.encode(), digest_size=8).digest()
    return int.from_bytes(digest, "big") >> 1


def _table_of(features: Sequence[NDArray[np.int64]], values: Sequence[NDArray[np.float64]],
              ) -> csr_array:
    """Return a row for each page and a column for each feature."""
    sizes = [len(one) for one in features]
    every = np.concatenate(features) if features else np.zeros(0, np.int64)
    names, columns = np.unique(every, return_inverse=True)
    starts = np.concatenate(([0], np.cumsum(sizes)))
    held = np.concatenate(values) if values else np.zeros(0)
    return csr_array((held, columns.ravel(), starts), shape=(len(features), len(names)))


def resemblance(sets: Sequence[NDArray[np.int64]]) -> Matrix:
    """Return of sets of features |A ∩ B| / |A ∪ B|; two empty ones are not alike.

    Returns:
        n × n, with 1 on the diagonal.
    """
    table = _table_of(sets, [np.ones(len(one)) for one in sets])
    shared = np.asarray((table @ table.T).todense(), dtype=np.float64)
    sizes = np.array([len(one) for one in sets], dtype=np.float64)
    either = sizes[:, None] + sizes[None, :] - shared
    found = np.divide(shared, either, out=np.zeros_like(shared), where=either > 0)
    np.fill_diagonal(found, 1.0)
    return found


def tfidf_cosine(counted: Sequence[tuple[NDArray[np.int64], NDArray[np.float64]]]) -> Matrix:
    """Return the cosine of TF-IDF vectors.

    Args:
        counted: For each page its words, and how often each stands there.

    Returns:
        n × n; 0 beside a page without words, 1 on the rest of the diagonal.
    """
    return _cosine(tfidf_products(counted))


def tfidf_products(counted: Sequence[tuple[NDArray[np.int64], NDArray[np.float64]]]) -> Matrix:
    """Return the products of TF-IDF vectors that are not scaled, as `tfidf_cosine` takes them."""
    table = _table_of([words for words, _ in counted], [counts for _, counts in counted])
    pages, columns = table.shape
    often = np.bincount(table.indices, minlength=columns)
    table = csr_array(table * np.log((1 + pages) / (1 + often))[None, :] + table)
    return np.asarray((table @ table.T).todense(), dtype=np.float64)


def _cosine(products: Matrix) -> Matrix:
    lengths = np.sqrt(np.diagonal(products))
    scale = np.divide(1.0, lengths, out=np.zeros_like(lengths), where=lengths > 0)
    return np.asarray(products * scale[:, None] * scale[None, :], dtype=np.float64)


def worst_pairs(likeness: Likeness, most: int = 50, above: float = 0.0) -> list[Pair]:
    """Return the pairs that are most alike, most alike first."""
    ones, others = np.triu_indices(len(likeness.whole), 1)
    shares = likeness.whole[ones, others]
    if len(shares) > most:  # Only those that can be among the worst are put in order.
        likely = np.flatnonzero(shares >= np.partition(shares, -most)[-most])
        ones, others, shares = ones[likely], others[likely], shares[likely]
    picked = np.argsort(-shares, kind="stable")[:most]
    return [Pair(int(ones[at]), int(others[at]), float(shares[at])) for at in picked
            if shares[at] > above]


def own_words(pages: Sequence[Page], place: int, most: int = 12) -> list[str]:
    """Return the words that only one of the pages has, in the order in which they stand there."""
    words = np.sort(features_of(pages[place]).words)
    others = [features_of(page).words for number, page in enumerate(pages) if number != place]
    every = np.concatenate([np.zeros(0, np.int64), *others])
    at = np.searchsorted(words, every)
    there = np.append(words, -1)[at] == every
    own = set(np.delete(words, at[there]).tolist())
    found = dict.fromkeys(word for line in _lines(pages[place]) for word in _words_in(line)
                          if _number(word) in own)
    return list(found)[:most]


def percent(share: float) -> int:
    """Return a share in per cent, rounded down: what is below `FLOOR` never reads as at it."""
    return math.floor(share * 100)


def chasers(phrases: Iterable[str]) -> Mapping[str, list[int]]:
    """Return which pages chase the same key phrase, by their places; those alone on one are left
    out.

    Args:
        phrases: The key phrase of each page; empty for none.
    """
    found: dict[str, list[int]] = {}
    for place, phrase in enumerate(phrases):
        words = " ".join(_words_in(phrase))
        if words:
            found.setdefault(words, []).append(place)
    return {phrase: places for phrase, places in found.items() if len(places) > 1}
