"""Choosing which pages results are looked at of: all, one, all of a table, or all of one row."""

from needle.core.measure.places import places_of
from needle.core.site.site import Site
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr

__all__ = ["PlaceChoice"]

# So many are offered; a table of more rows is looked at by the pages that it makes.
_MOST = 1000


class PlaceChoice(ChoiceEdit):
    """All pages, or those of a place; its value is the key of that."""

    def __init__(self) -> None:
        super().__init__(tr("Page or place"), {"": tr("any page")}, inherit=False)
        self._whole: Site | None = None

    def show_places(self, whole: Site, chosen: str) -> None:
        """Offer the places of a site, and show one as chosen; all pages if it is gone.

        Args:
            whole: The site with the pages of all rows in it.
        """
        if whole is not self._whole:
            self._whole = whole
            offered = {"": tr("any page")}
            for place in places_of(whole)[:_MOST]:
                offered[place.key] = place.name if len(place.pages) == 1 else tr(
                    "{name}, all {count}", name=place.name, count=len(place.pages))
            if list(offered.items()) != [(self.itemData(n), self.itemText(n))
                                         for n in range(self.count())]:
                self.clear()
                for key, words in offered.items():
                    self.addItem(words, key)
        self.show_value(chosen)
