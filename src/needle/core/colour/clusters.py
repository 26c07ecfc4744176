"""The few colours that a picture is made of."""

from typing import NamedTuple

import numpy as np
from numpy.typing import NDArray

from needle.core.colour.oklch import JUST_SEEN, difference, hex_of_srgb, oklab

__all__ = ["Cluster", "clusters"]

_MOST_PIXELS = 40_000


class Cluster(NamedTuple):
    """A colour of a picture.

    Attributes:
        colour: "#rrggbb".
        share: How much of the picture has it, 0 to 1.
    """

    colour: str
    share: float


def clusters(pixels: NDArray[np.uint8], most: int = 8) -> list[Cluster]:
    """Return the colours of a picture, the commonest first.

    Flat colours are taken as they are; what remains is grouped in OKLab by k-means (Lloyd,
    with k-means++ from a fixed seed). Groups that nobody could tell apart are joined.

    Args:
        pixels: Shape (height, width, 3), sRGB.
        most: How many colours at most.
    """
    flat = pixels.reshape(-1, 3)
    step = max(1, len(flat) // _MOST_PIXELS)
    sample = flat[::step]
    exact, counts = np.unique(sample, axis=0, return_counts=True)
    order = np.argsort(-counts, kind="stable")
    found = [Cluster(hex_of_srgb(exact[at] / 255), float(counts[at]) / len(sample))
             for at in order[:most] if counts[at] >= 0.004 * len(sample)]
    covered = sum(cluster.share for cluster in found)
    if covered < 0.9 and len(exact) > most:
        found += _grouped(sample, exact[order[:len(found)]], most)
    return _joined(found)[:most]


def _grouped(sample: NDArray[np.uint8], taken: NDArray[np.uint8], most: int) -> list[Cluster]:
    """Return groups of the pixels that have none of the flat colours already taken."""
    codes = sample.astype(np.int64) @ (65536, 256, 1)
    rest = sample[~np.isin(codes, taken.astype(np.int64) @ (65536, 256, 1))]
    if len(rest) < most:
        return []
    labs = oklab(rest / 255)
    from scipy.cluster.vq import kmeans2  # Heavy, and needed only here.

    _, labels = kmeans2(labs, most, minit="++", seed=11, iter=12)
    groups = (rest[labels == label] for label in range(most))
    return [Cluster(hex_of_srgb(np.median(group, axis=0) / 255), len(group) / len(sample))
            for group in groups if len(group)]


def _joined(found: list[Cluster]) -> list[Cluster]:
    kept: list[Cluster] = []
    for cluster in sorted(found, key=lambda one: -one.share):
        for at, other in enumerate(kept):
            if difference(cluster.colour, other.colour) < 2 * JUST_SEEN:
                kept[at] = other._replace(share=other.share + cluster.share)
                break
        else:
            kept.append(cluster)
    return sorted(kept, key=lambda one: -one.share)
