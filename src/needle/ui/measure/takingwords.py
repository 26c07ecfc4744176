"""What orders brought in, as words."""

from needle.core.site.site import Site
from needle.core.tables.cells import amount_words
from needle.store.results.takings import Takings

__all__ = ["takings_words"]


def takings_words(site: Site, takings: Takings) -> str:
    """Return what some orders come to; empty for none."""
    return " + ".join(amount_words(f"{amount:.2f} {currency}".strip(), site.language)
                      for currency, amount in sorted(takings.sums.items()))
