"""Running every rule, worst first."""

import importlib
import pkgutil
from collections.abc import Callable, Iterator

from needle.core.site.site import Site
from needle.core.snags import rules
from needle.core.snags.snag import Snag

__all__ = ["find_snags"]

Rule = Callable[[Site], Iterator[Snag]]

_RULES: tuple[Rule, ...] = tuple(
    importlib.import_module(f"{rules.__name__}.{module.name}").look
    for module in pkgutil.iter_modules(rules.__path__))


def find_snags(site: Site) -> list[Snag]:
    """Return everything that the rules find, worst first."""
    found = [snag for rule in _RULES for snag in rule(site)]
    return sorted(found, key=lambda snag: snag.weight)
