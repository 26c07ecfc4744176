"""A form whose leads nobody is told about."""

from collections.abc import Iterator

from needle.core.kinds.formbox import FormBox
from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.ids import Id
from needle.core.values.remembering import remembered

__all__ = ["RULES"]


def _forms_on(page: Page) -> frozenset[Id]:
    return remembered(page, "form_boxes", lambda page: frozenset(
        node.form for variant in page.variants for node in variant.nodes()
        if isinstance(node, FormBox)))


def _loose(site: Site, shown: bool) -> Iterator[Spot]:
    on_pages = frozenset[Id]().union(*(_forms_on(page) for page in site.pages))
    where = "its leads reach the lead book only" if shown else "on no page yet"
    for form in site.forms:
        if not form.routes and (form.id in on_pages) is shown:
            yield Spot(f"The form “{form.name}” goes nowhere", "form", form.id, where)


def _shown(site: Site) -> Iterator[Spot]:
    return _loose(site, True)


def _waiting(site: Site) -> Iterator[Spot]:
    return _loose(site, False)


_READS = frozenset({Area.FORMS, Area.CONTENT})
RULES = (
    Rule(id="form-goes-nowhere", weight=1, scope="site", look=_shown, reads=_READS,
         reason="Nobody is told of a lead, so nobody answers it.", source="trade practice"),
    Rule(id="form-waits", weight=3, scope="site", look=_waiting, reads=_READS,
         reason="A form that is on a page later will need its threads.", source="trade practice"),
)
