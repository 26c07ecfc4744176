"""Text as any database can store it."""

import re

__all__ = ["storable"]

# SQL text holds neither half a surrogate pair nor a NUL; U+FFFD shows that something stood there.
_UNKEPT = re.compile("[\x00\ud800-\udfff]")


def storable(words: str, longest: int = 0) -> str:
    """Return words as they can be stored; cut to `longest` characters if that is given."""
    return _UNKEPT.sub("\ufffd", words[:longest] if longest else words)
