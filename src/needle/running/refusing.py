"""What every refusal to start or to run has in common."""

from needle.core.messages.message import RefusedError

__all__ = ["RunningError"]


class RunningError(RefusedError):
    """What did not start, or does not run."""
