"""What searches are told of an event, product or business: too little to be shown, or past."""

from collections.abc import Iterator
from datetime import datetime, timedelta

from needle.core.site.site import Page, Site
from needle.core.snags.snag import Rule, Spot
from needle.core.tables.mastering import untold

__all__ = ["RULES"]

_SAID = {"starts": "when it starts", "place": "where it is", "street": "where it is",
         "price": "what it costs", "currency": "in which currency"}
_LONGEST = timedelta(days=1)


def _lacks(page: Page, site: Site) -> Iterator[Spot]:
    if lacks := untold(site, page):
        yield Spot(f"Searches are not told {' and '.join(_SAID[name] for name in lacks)}")


def _over(page: Page, _site: Site) -> Iterator[Spot]:
    about = page.about
    end = about.moment("ends") or about.moment("starts")
    # Its own time zone is not known: a day later it is over everywhere.
    if about.kind == "event" and end is not None and end + _LONGEST < datetime.now():
        yield Spot(f"The event was over on {end:%d %b %Y}")


RULES = (
    Rule(id="event-over", weight=2, scope="page", look=_over, setting="about",
         source="published search guidelines, events",
         reason="Searches and visitors are offered what is past."),
    Rule(id="about-lacks", weight=3, scope="page", look=_lacks, setting="about",
         source="published search guidelines, events and products",
         reason="Without it searches show nothing but the title."),
)
