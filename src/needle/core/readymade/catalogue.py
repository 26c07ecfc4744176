"""All ready-made sections: finding one by word, making one for a site."""

import importlib
import pkgutil
from collections.abc import Callable, Sequence
from dataclasses import dataclass

from needle.core.readymade import purposes
from needle.core.readymade.arriving import Arrived, as_placeholders
from needle.core.readymade.stock import Stock
from needle.core.site.parts import Parts
from needle.core.site.site import Site
from needle.core.site.tree import Section
from needle.core.values.ids import IdSource

__all__ = ["READY_MADE", "ReadyMade", "all_purposes", "find_ready_made",
           "make_section"]


@dataclass(frozen=True, slots=True)
class ReadyMade:
    """One ready-made section.

    Attributes:
        words: Other words by which it is found.
        build: Makes it.
    """

    key: str
    name: str
    purpose: str
    words: str
    build: Callable[[Parts, Stock], Section]


def _found() -> tuple[ReadyMade, ...]:
    modules = [importlib.import_module(f"{purposes.__name__}.{module.name}")
               for module in pkgutil.iter_modules(purposes.__path__)]
    modules.sort(key=lambda module: module.PLACE)
    return tuple(ReadyMade(build.__name__, name, module.PURPOSE, words, build)
                 for module in modules for name, words, build in module.SECTIONS)


def all_purposes() -> list[str]:
    """Return the purposes, in the order in which a page uses them."""
    return list(dict.fromkeys(one.purpose for one in READY_MADE))


def find_ready_made(words: str, purpose: str = "") -> list[ReadyMade]:
    """Return the sections that every one of `words` fits, of one purpose or of all."""
    asked = words.casefold().split()
    return [one for one in READY_MADE if purpose in ("", one.purpose) and all(
        word in f"{one.name} {one.purpose} {one.words}".casefold() for word in asked)]


def make_section(one: ReadyMade, site: Site, ids: IdSource) -> Arrived[Section]:
    """Return a fresh section for a site; its words count as placeholders."""
    stock = Stock(site, ids)
    section = as_placeholders(one.build(Parts(ids), stock), stock)
    return Arrived(section, stock.brought(site), stock.files, stock.master_of(section))


READY_MADE: Sequence[ReadyMade] = _found()
