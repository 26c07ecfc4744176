"""The one error of this room: a publish that did not happen, or not wholly."""

from needle.core.messages.message import RefusedError

__all__ = ["PublishError"]


class PublishError(RefusedError):
    """A publish that did not happen or not wholly; the message says why and what to do."""
