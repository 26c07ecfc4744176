"""The page that is shown where there is none."""

import msgspec

from needle.core.edit.pages import add_whole_page
from needle.core.edit.place import EditError
from needle.core.kinds.button import Button
from needle.core.kinds.heading import Heading
from needle.core.kinds.passage import Passage
from needle.core.site.site import Page, Site, Variant
from needle.core.site.tree import Column, Row, Section
from needle.core.values.actions import GoPage
from needle.core.values.ids import Id, new_id
from needle.core.values.words import text

__all__ = ["LOST_SLUG", "add_lost_page"]

LOST_SLUG = "404"


def add_lost_page(site: Site) -> tuple[Site, Id]:
    """Return the site with a page for wrong addresses, and its id.

    Raises:
        EditError: There is one already, or no page that it could lead to.
    """
    if not site.pages:
        raise EditError("lost-page-first")
    if any(page.slug == LOST_SLUG for page in site.pages):
        raise EditError("lost-page-there")
    items = (
        Heading(id=new_id(), words=text("This page is not here"), rank=1, style="title"),
        Passage(id=new_id(), words=(text("The address is old, or was typed wrongly."),)),
        Button(id=new_id(), words=text(f"To {site.pages[0].name}"),
               actions=(GoPage(site.pages[0].id),)))
    section = Section(id=new_id(), name="Opening", children=(
        Row(id=new_id(), children=(Column(id=new_id(), children=items),)),))
    page = Page(id=new_id(), name="Not found", title="Not found",
                description="Visitors see it where no page stands at an address.",
                variants=(Variant(key="A", children=(section,)),), unlisted=True)
    site, made = add_whole_page(site, page, _free(site))
    return msgspec.structs.replace(site, pages=tuple(
        msgspec.structs.replace(one, slug=LOST_SLUG) if one.id == made else one
        for one in site.pages)), made


def _free(site: Site) -> str:
    names = {page.name for page in site.pages}
    return next(name for name in ("Not found", *(f"Not found {n}" for n in range(2, 999)))
                if name not in names)
