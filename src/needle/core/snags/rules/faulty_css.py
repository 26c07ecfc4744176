"""Own CSS that a browser would not understand."""

from collections.abc import Iterator

from needle.core.render.ownrules import css_faults
from needle.core.site.site import Site
from needle.core.snags.snag import Snag

__all__ = ["look"]


def look(site: Site) -> Iterator[Snag]:
    """Yield each fault in the own CSS of the site, of its folders and of its pages."""
    if not site.pages:
        return
    home = site.pages[0].id
    held = [(site.code.css, "Own CSS of the site", home)]
    held += [(folder.code.css, f"Own CSS of {folder.name}",
              next((p.id for p in site.pages if p.folder == folder.id), home))
             for folder in site.folders]
    held += [(page.code.css, f"Own CSS of {page.name}", page.id) for page in site.pages]
    for css, where, target in held:
        for fault in css_faults(css) if css else ():
            yield Snag(3, fault.words, where, "page", target)
