"""Colours as people see them who lack one kind of cone.

Source: G. M. Machado, M. M. Oliveira, L. A. F. Fernandes, "A physiologically-based model for
simulation of color vision deficiency", IEEE TVCG 15(6), 2009; matrices for severity 1.0.
"""

from enum import StrEnum

import numpy as np

from needle.core.colour.oklch import Array, hex_of_srgb, linear, srgb, srgb_of

__all__ = ["Sight", "seen"]


class Sight(StrEnum):
    """A way of seeing, by the kind of cone that is missing."""

    USUAL = "usual"
    PROTAN = "protan"
    DEUTAN = "deutan"
    TRITAN = "tritan"


_MATRICES = {
    Sight.PROTAN: [[0.152286, 1.052583, -0.204868], [0.114503, 0.786281, 0.099216],
                   [-0.003882, -0.048116, 1.051998]],
    Sight.DEUTAN: [[0.367322, 0.860646, -0.227968], [0.280085, 0.672501, 0.047413],
                   [-0.011820, 0.042940, 0.968881]],
    Sight.TRITAN: [[1.255528, -0.076749, -0.178779], [-0.078411, 0.930809, 0.147602],
                   [0.004733, 0.691367, 0.303900]],
}


def seen(value: str, sight: Sight) -> str:
    """Return "#rrggbb" as it looks with this sight."""
    if sight is Sight.USUAL:
        return value
    mixed: Array = linear(srgb_of(value)) @ np.array(_MATRICES[sight]).T
    return hex_of_srgb(srgb(mixed))
