"""What everything on a page has in common."""

import msgspec

from needle.core.site.ids import Id
from needle.core.site.look import PLAIN, Look
from needle.core.site.widths import Width

__all__ = ["Item", "Node"]


class Node(
    msgspec.Struct,
    frozen=True,
    kw_only=True,
    omit_defaults=True,
    forbid_unknown_fields=True,
    dict=True,
    tag_field="kind",
):
    """A section, row, column, popup or item.

    The instance dictionary holds only what can be worked out again (remembered renders).

    Attributes:
        name: What the person calls it; empty for most items.
        hidden: The widths at which it is not shown.
    """

    id: Id
    name: str = ""
    look: Look = PLAIN
    hidden: tuple[Width, ...] = ()


class Item(Node, frozen=True):
    """A leaf of the page: a heading, a button, a picture…"""
