"""Where a node is, in words."""

from needle.core.site.site import Page, Variant
from needle.core.values.node import Node

__all__ = ["place_words"]


def place_words(page: Page, variant: Variant, path: list[Node]) -> str:
    """Return where a node is, in words: "Night B · Opening"."""
    name = f"{page.name} {variant.key}" if page.tested else page.name
    return f"{name} · {path[0].name}" if path[0].name else name
