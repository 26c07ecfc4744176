"""What every refusal of the store has in common."""

from needle.core.messages.message import RefusedError

__all__ = ["StoreError"]


class StoreError(RefusedError):
    """What cannot be read, written or taken in."""
