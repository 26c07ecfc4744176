"""Notices that have no address to go to."""

from collections.abc import Iterator

from needle.core.site.site import Site
from needle.core.snags.snag import Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.form import NoticeRoute

__all__ = ["RULES"]


def _look(site: Site) -> Iterator[Spot]:
    for form in site.forms:
        if any(isinstance(route, NoticeRoute) and "@" not in route.to for route in form.routes):
            yield Spot(f"The notice of “{form.name}” has no address to go to", "form", form.id,
                       form.name)


RULES = (
    Rule(id="notice-to-nobody", weight=1, scope="site", look=_look,
         reads=frozenset({Area.FORMS}), source="trade practice",
         reason="The lead is kept, but nobody is told of it."),
)
