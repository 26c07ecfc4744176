"""Signs that a lead was sent by a program."""

from collections.abc import Mapping
from urllib.parse import urlsplit

from needle.core.kinds.formbox import TRAP_FIELD

__all__ = ["FASTEST_MS", "robot_signs"]

FASTEST_MS = 1500


def robot_signs(sent: Mapping[str, str], origin: str, host: str) -> tuple[str, ...]:
    """Return what speaks for a robot, in words; nothing if a person seems to have sent it.

    Args:
        sent: Everything that was posted.
        origin: The request's Origin header, or empty.
        host: The request's Host header.
    """
    signs = []
    took = sent.get("_took", "")
    if not took.isdecimal():
        signs.append("sent without the page's script")
    elif int(took[:12]) < FASTEST_MS:
        signs.append(f"filled in {int(took[:12]) / 1000:.1f} s")
    if sent.get(TRAP_FIELD):
        signs.append("filled the trap field")
    if origin and urlsplit(origin).netloc != host:
        signs.append(f"posted from another site ({urlsplit(origin).netloc[:80] or origin[:80]})")
    return tuple(signs)
