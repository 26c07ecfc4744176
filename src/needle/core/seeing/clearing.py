"""A picture without what stands on it, so that it can be a background again."""

from collections.abc import Sequence

import cv2
import numpy as np

from needle.core.seeing.pixels import Pixels
from needle.core.seeing.shapes import Rect

__all__ = ["cleared"]

_SMALLER, _BESIDE, _REACH = 4, 6, 5
_SOFT = 3


def cleared(pixels: Pixels, rects: Sequence[Rect]) -> Pixels:
    """Return a picture in which the rectangles are filled in from what is around them.

    Telea's method of inpainting (2004), at a quarter of the size: what is filled in is soft anyway.

    Args:
        pixels: Shape (height, width, 3).
    """
    if not rects:
        return pixels
    height, width = pixels.shape[:2]
    gone = np.zeros((height, width), np.uint8)
    for rect in rects:
        gone[max(0, rect.top - _BESIDE): max(0, rect.bottom + _BESIDE),
             max(0, rect.left - _BESIDE): max(0, rect.right + _BESIDE)] = 255
    size = max(1, width // _SMALLER), max(1, height // _SMALLER)
    small = cv2.resize(np.ascontiguousarray(pixels), size, interpolation=cv2.INTER_AREA)
    mask = cv2.dilate(cv2.resize(gone, size, interpolation=cv2.INTER_NEAREST),
                      np.ones((3, 3), np.uint8))
    filled = cv2.resize(cv2.inpaint(small, mask, _REACH, cv2.INPAINT_TELEA), (width, height),
                        interpolation=cv2.INTER_CUBIC)
    share = cv2.GaussianBlur(gone, (0, 0), _SOFT)[..., None].astype(np.float32) / 255
    share = np.maximum(share, (gone > 0)[..., None].astype(np.float32))
    return np.asarray(np.rint(pixels * (1 - share) + np.asarray(filled) * share), np.uint8)
