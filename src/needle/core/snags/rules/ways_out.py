"""Pages that offer too much to go to, and too much to do."""

from collections.abc import Iterator

from needle.core.kinds.button import Button
from needle.core.kinds.formbox import FormBox
from needle.core.kinds.menu import Menu, shown_pages
from needle.core.markup.surroundings import PageName
from needle.core.render.reads import actions_of
from needle.core.render.texts import plain_lines, runs_of
from needle.core.site.site import Page, Site, Variant
from needle.core.snags.snag import Rule, Spot
from needle.core.values.actions import GoAddress, GoPage
from needle.core.values.areas import Area

__all__ = ["RULES"]

# Ways that lead away from a page with a form, each place counted once.
_MOST_WAYS_OUT = 10
_MOST_CALLS = 3


def _ways_out(page: Page, variant: Variant, site: Site) -> set[str]:
    pages = [PageName(one.id, one.name, one.slug) for one in site.pages]
    found: set[str] = set()
    for node in variant.nodes():
        if isinstance(node, Menu):
            found.update(f"page:{one.id}" for one in shown_pages(node, pages))
        found.update(run.link for run in runs_of(node)
                     if run.link.startswith(("page:", "http")))
        for action in actions_of(node):
            if isinstance(action, GoPage):
                found.add(f"page:{action.page}")
            elif isinstance(action, GoAddress):
                found.add(action.address)
    return found - {f"page:{page.id}"}


def _many_ways(page: Page, site: Site) -> Iterator[Spot]:
    for variant in page.variants:
        ways = _ways_out(page, variant, site)
        asks = any(isinstance(node, FormBox) for node in variant.nodes())
        if asks and len(ways) > _MOST_WAYS_OUT:
            yield Spot(f"{len(ways)} ways lead away from this form")


def _many_calls(page: Page, _site: Site) -> Iterator[Spot]:
    for variant in page.variants:
        calls = {" ".join(plain_lines(node)).casefold().strip() for node in variant.nodes()
                 if isinstance(node, Button) and node.looks == "main"} - {""}
        if len(calls) > _MOST_CALLS:
            yield Spot(f"{len(calls)} different calls in the looks of the main one")


RULES = (
    Rule(id="ways-out", weight=3, scope="page", look=_many_ways, source="trade practice",
         reads=frozenset({Area.PAGES}),
         reason="Each link beside the form is a visitor less who fills it in."),
    Rule(id="competing-calls", weight=3, scope="page", look=_many_calls, source="trade practice",
         reason="Who is asked for several things at once often does none; give all but one the "
                "looks of a second action."),
)
