"""What is ground in a region, its colour at each place, and what stands out of it as ink."""

import cv2
import numpy as np
from numpy.typing import NDArray

from needle.core.seeing.pixels import Pixels

__all__ = ["ground_colour", "ground_mask", "ink_on", "is_busy", "surface_of", "without_rings"]

Mask = NDArray[np.bool_]
_STRIP = 8
# A part is ground if it covers this much of the region, or as much of the region's rim.
_LARGE, _RIM, _TOUCH, _MAT, _SIDE = 0.30, 0.18, 0.04, 0.85, 0.15
_LEAST_SHARE, _LEAST_AREA = 0.22, 24
_TEXTURE = 14
_BUSY = 0.55
_LEAST_INK, _STRENGTH, _REACH = 16, 0.36, 17
# JPEG's blocks are eight pixels; rings are fainter than this share of what they are around.
_NOISY, _BLOCK, _FAINT = 6, 8, 0.3
_SURFACES = (41, 161, 641)


def _rim(labels: NDArray[np.int32]) -> NDArray[np.int32]:
    return np.concatenate([labels[0], labels[-1], labels[:, 0], labels[:, -1]])


def ground_mask(pixels: Pixels, labels: NDArray[np.int32], step: int) -> Mask | None:
    """Return where the ground of a region shows, or `None` where a picture is behind all of it.

    Args:
        pixels: The region, shape (height, width, 3).
        labels: Its smooth parts.
        step: How much neighbours in a part may differ.
    """
    counts = np.bincount(labels.ravel())
    counts[0] = 0
    rim = np.bincount(_rim(labels), minlength=len(counts))
    rim[0] = 0
    sides = np.bincount(np.concatenate([labels[:, 0], labels[:, -1]]), minlength=len(counts))
    sides[0] = 0
    area, around = labels.size, max(1, 2 * sum(labels.shape))
    # What lies along the lower edge alone is a hill, not a ground.
    at_side = sides >= _SIDE * labels.shape[0]
    chosen = ((counts >= _LARGE * area) & (rim >= _TOUCH * around)) | (
        (rim >= _RIM * around) & at_side) | (
        (sides >= 0.25 * labels.shape[0]) & (counts >= 0.04 * area))
    # A mat around a picture is ground, however narrow it is.
    around_all = rim[chosen].sum() >= _MAT * around
    if not chosen.any() or (counts[chosen].sum() < _LEAST_SHARE * area and not around_all):
        return _textured(pixels)
    mask = chosen[labels]
    if is_busy(pixels, mask):
        return _textured(pixels)
    # What has the very colour of the ground and is parted from it by a line is ground, too.
    means = np.stack([np.bincount(labels.ravel(), weights=pixels[..., channel].ravel())
                      for channel in range(3)], axis=1) / np.maximum(1, counts)[:, None]
    apart = np.abs(means[:, None] - means[chosen][None]).max(axis=2).min(axis=1)
    alike = chosen | ((counts >= _LEAST_AREA) & (apart <= max(2, step / 2)))
    alike[0] = False
    mask = alike[labels]
    return np.asarray(mask)


def is_busy(pixels: Pixels, mask: Mask) -> bool:
    """Whether a smooth part changes a little everywhere, as a picture does and no fill."""
    calm = cv2.erode(mask.astype(np.uint8), np.ones((9, 9), np.uint8)) > 0
    if not calm.any():
        return False
    grey = pixels.astype(np.float32).mean(axis=2)
    change = np.abs(grey - cv2.blur(grey, (7, 7)))[calm]
    return float(np.percentile(change, 45)) > _BUSY


def _textured(pixels: Pixels) -> Mask | None:
    """Return the ground where it is a texture that is alike at both margins."""
    if pixels.shape[1] < 6 * _STRIP:
        return None
    strips = np.concatenate([pixels[:, :_STRIP * 2], pixels[:, -_STRIP * 2:]], axis=1)
    flat = strips.reshape(-1, 3).astype(np.int16)
    middle = np.median(flat, axis=0)
    away = np.abs(flat - middle).max(axis=1)
    spread = float(np.percentile(away, 90))
    if spread > 3 * _TEXTURE:
        return None
    low = cv2.blur(strips, (9, 31)).reshape(-1, 3).astype(np.int16)
    if np.percentile(np.abs(low - middle).max(axis=1), 95) > _TEXTURE:
        return None
    calm = cv2.medianBlur(np.ascontiguousarray(pixels), 5).astype(np.int16)
    mask = np.abs(calm - middle).max(axis=2) <= max(_TEXTURE, spread)
    return np.asarray(mask) if mask.mean() >= _LEAST_SHARE else None


def ground_colour(pixels: Pixels, mask: Mask) -> tuple[int, int, int]:
    """Return the commonest colour of the ground."""
    codes = pixels[mask].astype(np.int64) @ (65536, 256, 1)
    values, counts = np.unique(codes, return_counts=True)
    best = int(values[int(np.argmax(counts))])
    if counts.max() < 0.05 * len(codes):
        red, green, blue = (int(part) for part in np.median(pixels[mask], axis=0))
        return red, green, blue
    return best >> 16, best >> 8 & 255, best & 255


def surface_of(pixels: Pixels, mask: Mask) -> NDArray[np.float32]:
    """Return the colour of the ground at each place, carried on below what stands there."""
    weight = mask.astype(np.float32)
    shown = pixels.astype(np.float32) * weight[..., None]
    ground = np.array(ground_colour(pixels, mask), np.float32)
    if np.abs(pixels[mask][::97].astype(np.float32) - ground).max(initial=0) <= 3:
        return np.broadcast_to(ground, pixels.shape)
    surface = np.broadcast_to(ground, pixels.shape).astype(np.float32)
    for size in reversed(_SURFACES):
        held = cv2.blur(weight, (size, size), borderType=cv2.BORDER_REPLICATE)
        near = cv2.blur(shown, (size, size), borderType=cv2.BORDER_REPLICATE)
        there = held > 0.04
        surface[there] = near[there] / held[there][:, None]
    surface[mask] = pixels[mask]
    return surface


def without_rings(mask: Mask, away: NDArray[np.float32], step: int) -> Mask:
    """Return the ground with what JPEG and resampling leave of it around what stands there.

    Args:
        away: How far each pixel is from the ground, 0 to 255.
        step: How much the picture's noise lets neighbours differ.
    """
    if step < _NOISY:
        return mask
    near = cv2.dilate(mask.astype(np.uint8), np.ones((2 * _BLOCK + 1,) * 2, np.uint8)) > 0
    most = cv2.dilate(away, np.ones((2 * _BLOCK + 1,) * 2, np.uint8))
    return np.asarray(mask | (near & (away < np.maximum(step * 0.75, _FAINT * most))))


def ink_on(pixels: Pixels, surface: NDArray[np.float32], least: float = _LEAST_INK) -> Mask:
    """Return what stands out of the ground at least by a part of what does most close by.

    A stroke ends where it is no longer a third as strong as in its middle, so blur and the rings of
    JPEG are not of it.
    """
    away = np.abs(pixels.astype(np.float32) - surface).max(axis=2)
    most = cv2.dilate(away, cv2.getStructuringElement(cv2.MORPH_ELLIPSE, (_REACH, _REACH)))
    return np.asarray(away >= np.maximum(least, _STRENGTH * most))
