"""Own CSS that a browser would not understand."""

from collections.abc import Iterator

from needle.core.render.ownrules import css_faults
from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Spot
from needle.core.values.areas import Area

__all__ = ["RULES"]


def _of_site(site: Site) -> Iterator[Spot]:
    if not site.pages:
        return
    home = site.pages[0].id
    held = [(site.code.css, "Own CSS of the site", home)]
    held += [(folder.code.css, f"Own CSS of {folder.name}",
              next((p.id for p in site.pages if p.folder == folder.id), home))
             for folder in site.folders]
    for css, where, target in held:
        for fault in css_faults(css) if css else ():
            yield Spot(fault.words, "page", target, where)


def _of_page(page: Page, _site: Site) -> Iterator[Spot]:
    for fault in css_faults(page.code.css) if page.code.css else ():
        yield Spot(fault.words, where=f"Own CSS of {page.name}")


_WHY = "A browser leaves out what it does not understand, so the page looks otherwise than meant."
RULES = (
    Rule(id="faulty-css", weight=3, scope="site", look=_of_site, reason=_WHY,
         source="CSS Syntax Module Level 3",
         reads=frozenset({Area.CODE, Area.FOLDERS, Area.PAGES})),
    Rule(id="faulty-css-page", weight=3, scope="page", look=_of_page, reason=_WHY,
         source="CSS Syntax Module Level 3"),
)
