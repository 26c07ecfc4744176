"""Ids that stand twice in a site, as files that were copied by hand bring them."""

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from typing import Any

import msgspec

from needle.core.edit.copying import fresh_variant
from needle.core.site.site import Page, Site
from needle.core.values.ids import Id, new_id

__all__ = ["Double", "doubled_ids", "without_doubles"]

_LISTS = {"forms": "the form", "services": "the service", "media": "the file",
          "folders": "the folder", "kept": "the kept section", "fonts": "the font",
          "tracking": "the tracking code", "tables": "the table"}


@dataclass(frozen=True, slots=True)
class Double:
    """Two things with one id, each in words."""

    id: Id
    first: str
    second: str


def doubled_ids(site: Site) -> Iterator[Double]:
    """Yield every id that two things of one sort have."""
    for name, words in _LISTS.items():
        yield from _doubles((one.id, f"{words} “{one.name}”") for one in getattr(site, name))
    for form in site.forms:
        yield from _doubles((field.id, f"the field “{field.label}” of “{form.name}”")
                            for field in form.fields)
    for table in site.tables:
        yield from _doubles((column.id, f"the column “{column.name}” of “{table.name}”")
                            for column in table.columns)
    yield from _doubles((page.id, f"the page “{page.name}”") for page in site.pages)
    yield from _doubles((node.id, f"a part of “{page.name}”") for page in site.pages
                        for variant in page.variants for node in variant.nodes())


def _doubles(found: Iterator[tuple[Id, str]]) -> Iterator[Double]:
    seen: dict[Id, str] = {}
    for one, words in found:
        if one in seen:
            yield Double(one, seen[one], words)
        seen.setdefault(one, words)


def without_doubles(site: Site) -> Site:
    """Return the site with every second thing under an id of its own; the first keeps it, and
    what points there points to the first."""
    changes: dict[str, Any] = {name: _fresh(getattr(site, name)) for name in _LISTS}
    changes["forms"] = tuple(msgspec.structs.replace(form, fields=_fresh(form.fields))
                             for form in changes["forms"])
    changes["tables"] = tuple(msgspec.structs.replace(table, columns=_fresh(table.columns))
                              for table in changes["tables"])
    return msgspec.structs.replace(site, **changes, pages=_fresh_pages(site.pages))


def _fresh(things: Sequence[Any]) -> tuple[Any, ...]:
    seen: set[Id] = set()
    kept = []
    for one in things:
        kept.append(msgspec.structs.replace(one, id=new_id()) if one.id in seen else one)
        seen.add(one.id)
    return tuple(kept)


def _fresh_pages(pages: Sequence[Page]) -> tuple[Page, ...]:
    seen: set[Id] = set()
    kept: list[Page] = []
    for page in _fresh(pages):
        variants = []
        for variant in page.variants:
            ids = [node.id for node in variant.nodes()]
            doubled = len(set(ids)) < len(ids) or not seen.isdisjoint(ids)
            variants.append(fresh_variant(variant, variant.key) if doubled else variant)
            seen.update(ids)
        kept.append(msgspec.structs.replace(page, variants=tuple(variants)))
    return tuple(kept)
