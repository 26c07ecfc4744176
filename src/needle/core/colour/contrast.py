"""Contrast by WCAG 2.2."""

__all__ = ["contrast", "luminance", "rgb"]


def rgb(value: str) -> tuple[int, int, int]:
    """Return red, green and blue, 0 to 255, of "#rrggbb"."""
    return int(value[1:3], 16), int(value[3:5], 16), int(value[5:7], 16)


def luminance(value: str) -> float:
    """Return the relative luminance of "#rrggbb", 0 to 1.

    Source: WCAG 2.2, "relative luminance" (sRGB, IEC 61966-2-1).
    """
    linear = [channel / 12.92 if channel <= 0.04045 else ((channel + 0.055) / 1.055) ** 2.4
              for channel in (part / 255 for part in rgb(value))]
    return 0.2126 * linear[0] + 0.7152 * linear[1] + 0.0722 * linear[2]


def contrast(one: str, other: str) -> float:
    """Return the contrast ratio of two colours, 1 to 21.

    Source: WCAG 2.2, "contrast ratio".
    """
    high, low = sorted((luminance(one), luminance(other)), reverse=True)
    return (high + 0.05) / (low + 0.05)
