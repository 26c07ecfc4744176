"""Pages that must not be tested at once: a visitor of one goes on to the other."""

from needle.core.render.reads import actions_of
from needle.core.site.site import Page, Site
from needle.core.values.actions import GoPage
from needle.core.values.form import ThankPage
from needle.core.values.ids import Id

__all__ = ["tested_along"]


def tested_along(site: Site, page: Page) -> list[Page]:
    """Return the other pages on which a test runs and which lie on one way with a page.

    What a visitor does on the second depends on which variant of the first they had, so neither
    test tells what its change alone does.
    """
    return [other for other in site.pages if other.id != page.id and other.tested and (
        other.id in _leads_to(site, page) or page.id in _leads_to(site, other))]


def _leads_to(site: Site, page: Page) -> set[Id]:
    forms = {form.id: form for form in site.forms}
    found = set()
    for variant in page.variants:
        for node in variant.nodes():
            found |= {one.page for one in actions_of(node) if isinstance(one, GoPage)}
            form = forms.get(getattr(node, "form", ""))
            if form is not None and isinstance(form.after, ThankPage):
                found.add(form.after.page)
    return found
