"""What every refusal of the host has in common."""

from needle.core.messages.message import RefusedError

__all__ = ["HostError"]


class HostError(RefusedError):
    """What the host cannot do with what it was given."""
