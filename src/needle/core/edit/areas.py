"""Which areas of a site an edit has changed, so that others look again only where they read."""

from collections.abc import Mapping

from needle.core.site.site import Page, Site
from needle.core.values.areas import Area

__all__ = ["changed_areas"]

_FIELDS: Mapping[str, Area] = {
    "name": Area.NAME, "invented": Area.NAME,
    "language": Area.LANGUAGE, "address": Area.ADDRESS, "brand": Area.BRAND,
    "brief": Area.BRIEF, "styles": Area.STYLES, "forms": Area.FORMS, "services": Area.SERVICES,
    "media": Area.MEDIA, "folders": Area.FOLDERS, "kept": Area.KEPT, "fonts": Area.FONTS,
    "code": Area.CODE, "tracking": Area.TRACKING, "consent": Area.TRACKING,
    "open_to": Area.TRACKING, "passed": Area.PASSED,
    "targets": Area.TARGETS, "domain": Area.DOMAIN, "served_at": Area.TARGETS,
    "outside": Area.OUTSIDE, "calls": Area.CALLS,
    "adverts": Area.ADVERTS, "worths": Area.WORTHS,
    "tables": Area.TABLES, "shop": Area.SHOP}


def changed_areas(old: Site, new: Site) -> frozenset[Area]:
    """Return the areas in which two values of a site differ.

    Branches that are the same object are skipped, so an edit of one page costs one look at each
    page's identity.
    """
    found = {area for field, area in _FIELDS.items()
             if getattr(old, field) is not getattr(new, field)}
    if old.pages is not new.pages:
        found |= _in_pages(old.pages, new.pages)
    return frozenset(found)


def _in_pages(old: tuple[Page, ...], new: tuple[Page, ...]) -> set[Area]:
    if [page.id for page in old] != [page.id for page in new]:
        return {Area.PAGES, Area.CONTENT}
    found = set()
    for was, page in zip(old, new, strict=True):
        if was is page:
            continue
        for field in page.__struct_fields__:
            if getattr(was, field) is not getattr(page, field):
                found.add(Area.CONTENT if field in ("variants", "archive") else
                          Area.CODE if field == "code" else Area.PAGES)
    return found
