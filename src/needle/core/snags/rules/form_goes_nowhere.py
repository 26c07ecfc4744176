"""A form whose leads nobody is told about."""

from collections.abc import Iterator

from needle.core.edit.everywhere import ways
from needle.core.site.site import Site
from needle.core.snags.snag import Snag

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield each form without a thread to a service; worse if a page shows it."""
    shown = {getattr(path[-1], "form", "") for _, _, path in ways(site)}
    for form in site.forms:
        if not form.routes:
            where = "its leads reach the lead book only" if form.id in shown else "on no page yet"
            yield Snag(1 if form.id in shown else 3, f"The form “{form.name}” goes nowhere", where,
                       "form", form.id)
