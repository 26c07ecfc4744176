"""The three widths a page is designed for, and the bands of the screen they stand for."""

from enum import StrEnum

__all__ = ["DESKTOP_FROM_PX", "TABLET_FROM_PX", "Width", "band_query", "width_for"]

TABLET_FROM_PX = 700
DESKTOP_FROM_PX = 1080


class Width(StrEnum):
    """One of the widths of a page. The value is what project files hold."""

    PHONE = "phone"
    TABLET = "tablet"
    DESKTOP = "desktop"


_QUERIES = {
    Width.PHONE: f"(max-width:{TABLET_FROM_PX - 0.02}px)",
    Width.TABLET: f"(min-width:{TABLET_FROM_PX}px) and (max-width:{DESKTOP_FROM_PX - 0.02}px)",
    Width.DESKTOP: f"(min-width:{DESKTOP_FROM_PX}px)",
}


def band_query(width: Width) -> str:
    """Return the media query that holds at this width and at no other."""
    return _QUERIES[width]


def width_for(px: int) -> Width:
    """Return the width whose band a view of `px` CSS pixels falls into."""
    if px < TABLET_FROM_PX:
        return Width.PHONE
    return Width.TABLET if px < DESKTOP_FROM_PX else Width.DESKTOP
