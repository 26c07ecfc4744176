"""Areas of a site: what is read of it, and what an edit changes of it."""

from enum import StrEnum

__all__ = ["Area"]


class Area(StrEnum):
    """A part of the site that others read, listen to or change as a whole.

    `PAGES` is the list of pages with their names, addresses and settings; what stands on them is
    `CONTENT`.
    """

    NAME = "name"
    LANGUAGE = "language"
    ADDRESS = "address"
    BRAND = "brand"
    BRIEF = "brief"
    STYLES = "styles"
    PAGES = "pages"
    CONTENT = "content"
    FORMS = "forms"
    SERVICES = "services"
    MEDIA = "media"
    FOLDERS = "folders"
    KEPT = "kept"
    FONTS = "fonts"
    CODE = "code"
    TRACKING = "tracking"
    PASSED = "passed"
    TARGETS = "targets"
    DOMAIN = "domain"
    OUTSIDE = "outside"
    CALLS = "calls"
    ADVERTS = "adverts"
    WORTHS = "worths"
    TABLES = "tables"
    SHOP = "shop"
