"""Numbers with their noun."""

__all__ = ["counted"]


def counted(number: int, noun: str) -> str:
    """Return a number with its noun, in the plural where it takes one: "1 page", "1,200 pages"."""
    return f"1 {noun}" if number == 1 else f"{number:,} {noun}s"
