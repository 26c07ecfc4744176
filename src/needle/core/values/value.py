"""What every part of the site that is not a node has in common."""

from needle.core.values.strict import Strict

__all__ = ["Value"]


class Value(Strict, frozen=True, omit_defaults=True, forbid_unknown_fields=True,
             kw_only=True, dict=True):
    """A part of the site that is not a node.

    The instance dictionary holds only what can be worked out again (`remembered`).
    """
