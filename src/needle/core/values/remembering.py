"""What has been worked out of a branch is remembered by the branch itself.

A branch never changes, so what was worked out of it alone stays right as long as there is one; an
edit makes another branch, which remembers nothing yet.
"""

from collections.abc import Callable
from typing import TypeVar

__all__ = ["remembered"]

_B = TypeVar("_B")
_T = TypeVar("_T")


def remembered(branch: _B, name: str, make: Callable[[_B], _T]) -> _T:
    """Return what `make` gives for a branch, which is asked once.

    Args:
        branch: A node or another part of a site; nothing but it may enter into the result.
        name: Under which it is kept; each maker has its own.
    """
    held: dict[str, _T] = branch.__dict__
    try:
        return held[name]
    except KeyError:
        made = held[name] = make(branch)
        return made
