"""What a first draft made up and nobody has confirmed."""

from collections.abc import Iterator

from needle.core.edit.invented import holds_invented
from needle.core.kinds.chart import Chart
from needle.core.kinds.figures import Figures
from needle.core.kinds.guarantee import Guarantee
from needle.core.kinds.prices import Prices
from needle.core.kinds.team import Team
from needle.core.kinds.testimonial import Testimonial
from needle.core.render.reads import media_of
from needle.core.render.texts import runs_of
from needle.core.site.site import Page, Site
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.node import Node

__all__ = ["RULES"]

# What visitors take for facts.
_CLAIMS: dict[type[Node], str] = {
    Testimonial: "An invented testimonial", Figures: "Invented figures",
    Chart: "Invented figures", Prices: "Invented prices", Team: "Invented people",
    Guarantee: "An invented guarantee"}


def _said(at: ItemAt, title: str) -> Spot:
    words = " ".join(run.words for run in runs_of(at.node) if run.invented)
    return Spot(f"{title}: “{words if len(words) <= 48 else words[:47].rstrip() + '…'}”")


def _claims(at: ItemAt) -> Iterator[Spot]:
    if type(at.node) in _CLAIMS and holds_invented(at.node):
        yield _said(at, _CLAIMS[type(at.node)])


def _words(at: ItemAt) -> Iterator[Spot]:
    if type(at.node) not in _CLAIMS and holds_invented(at.node):
        yield _said(at, "Placeholder")


def _pictures(at: ItemAt) -> Iterator[Spot]:
    stand_ins = {medium.id for medium in at.site.media if medium.invented}
    if stand_ins and any(medium in stand_ins for _, medium in media_of(at.node)):
        yield Spot("A stand-in picture")


def _name(site: Site) -> Iterator[Spot]:
    if "name" in site.invented and site.pages:
        yield Spot(f"The name “{site.name}” was invented", where="Brief")


def _for_searches(page: Page, _site: Site) -> Iterator[Spot]:
    for part in page.invented:
        yield Spot(f"The {part} for searches was invented", setting=part)


_WHY = "Visitors would read what nobody of you has said."
_SOURCE = "the draft's own marks"
RULES = (
    Rule(id="invented-claim", weight=1, scope="item", look=_claims, source=_SOURCE,
         reason="Visitors take it for a fact; an untrue one costs their trust, and may be "
                "unlawful."),
    Rule(id="invented-words", weight=2, scope="item", look=_words, reason=_WHY, source=_SOURCE),
    Rule(id="stand-in-picture", setting="medium",
         weight=2, scope="item", look=_pictures, source=_SOURCE,
         reason="It says nothing of what is offered.", reads=frozenset({Area.MEDIA})),
    Rule(id="invented-name", weight=2, scope="site", look=_name, reason=_WHY, source=_SOURCE,
         reads=frozenset({Area.NAME, Area.PAGES})),
    Rule(id="invented-search-words", weight=2, scope="page", look=_for_searches, reason=_WHY,
         source=_SOURCE),
)
