"""What a first draft made up and nobody has confirmed."""

from collections.abc import Iterator

from needle.core.edit.everywhere import ways
from needle.core.edit.invented import holds_invented
from needle.core.kinds.chart import Chart
from needle.core.kinds.figures import Figures
from needle.core.kinds.guarantee import Guarantee
from needle.core.kinds.prices import Prices
from needle.core.kinds.team import Team
from needle.core.kinds.testimonial import Testimonial
from needle.core.render.reads import media_of
from needle.core.render.texts import runs_of
from needle.core.site.site import Site
from needle.core.snags.snag import Snag
from needle.core.snags.walking import place_words
from needle.core.values.node import Node

__all__ = ["look"]

# What visitors take for facts.
_CLAIMS: dict[type[Node], str] = {
    Testimonial: "An invented testimonial", Figures: "Invented figures",
    Chart: "Invented figures", Prices: "Invented prices", Team: "Invented people",
    Guarantee: "An invented guarantee"}


def look(site: Site) -> Iterator[Snag]:
    """Yield each item with placeholder words or pictures; claims weigh most."""
    if "name" in site.invented and site.pages:
        yield Snag(2, f"The name “{site.name}” was invented", "Brief", "page", site.pages[0].id)
    stand_ins = {medium.id for medium in site.media if medium.invented}
    for page in site.pages:
        for part in page.invented:
            yield Snag(2, f"The {part} for searches was invented", page.name, "page", page.id)
    for page, variant, path in ways(site):
        node, where = path[-1], place_words(page, variant, path)
        if holds_invented(node):
            words = " ".join(run.words for run in runs_of(node) if run.invented)
            claim = _CLAIMS.get(type(node))
            short = words if len(words) <= 48 else words[:47].rstrip() + "…"
            yield Snag(1 if claim else 2, f"{claim or 'Placeholder'}: “{short}”", where, "node",
                       node.id)
        if any(medium in stand_ins for _, medium in media_of(node)):
            yield Snag(2, "A stand-in picture", where, "node", node.id)
