"""What a site has that a ready-made section can show from the start."""

from dataclasses import dataclass

from needle.core.site.fresh import menu_pages
from needle.core.site.site import Site
from needle.core.values.ids import Id

__all__ = ["Stock", "stock_of"]

_LEAST_WIDTH = 500


@dataclass(frozen=True, slots=True)
class Stock:
    """What a site has that a section can show from the start.

    Attributes:
        pictures: Ids of its wider pictures; at least one entry, which may be empty.
        form: A form of the site, or empty.
        call: The words of the call to action.
        name: What the site is called.
        pages: Those that a menu is for.
    """

    pictures: tuple[Id, ...]
    form: Id
    call: str
    name: str
    pages: tuple[Id, ...] = ()

    def picture(self, number: int) -> Id:
        """Return a picture by number; they come round again when there are few."""
        return self.pictures[number % len(self.pictures)]


def stock_of(site: Site) -> Stock:
    """Return what a site has to show."""
    wide = [m.id for m in site.media
            if not m.is_video and m.width >= _LEAST_WIDTH and m.width >= m.height]
    return Stock(tuple(wide) or ("",), site.forms[0].id if site.forms else "",
                 site.brief.call_to_action or "Find out more", site.name, menu_pages(site))
