"""Needle's own writer as a process: an ask a line on the input, an answer a line on the output.

    {"understand": "words of an idea"}                    {"slots": …}
    {"write": {"slots": …, "brief": …, "seed": 1}}        {"copy": …}

It ends when its input does, so a killed window leaves none behind.
"""

import sys

import msgspec

from needle.core.draft.copy import Wish
from needle.core.draft.drafter import Drafter

__all__ = ["answer", "main"]


class _Asked(msgspec.Struct, forbid_unknown_fields=True):
    """One ask: either an idea to understand or a draft to write."""

    understand: str | None = None
    write: Wish | None = None


def answer(drafter: Drafter, line: bytes) -> bytes:
    """Return the answer to one ask, as a line without its end."""
    asked = msgspec.json.decode(line, type=_Asked)
    if asked.understand is not None:
        return msgspec.json.encode({"slots": drafter.understand(asked.understand)})
    if asked.write is not None:
        return msgspec.json.encode({"copy": drafter.write(asked.write)})
    return msgspec.json.encode({})


def main() -> int:
    """Answer until the input ends."""
    drafter = Drafter()
    out = sys.stdout.buffer
    out.write(b"{}\n")
    out.flush()
    for line in sys.stdin.buffer:
        out.write(answer(drafter, line) + b"\n")
        out.flush()
    return 0


if __name__ == "__main__":
    sys.exit(main())
