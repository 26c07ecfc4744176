"""Pictures whose words do not say what they show, and pictures and videos that weigh too much."""

import re
from collections.abc import Iterator

from needle.core.render.reads import media_of
from needle.core.site.tree import Section
from needle.core.snags.snag import ItemAt, Rule, Spot
from needle.core.values.areas import Area
from needle.core.values.media import Medium

__all__ = ["RULES"]

_FILE = re.compile(r"\.(?:png|jpe?g|webp|gif|svg)$|^(?:img|dsc|image|photo|picture)[ _-]?\d+$",
                   re.IGNORECASE)
_LONGEST = 200
_HEAVY_LOOP = 6_000_000
# In bytes; a moving GIF, and a drawing.
_HEAVY_AS_IT_IS = {"gif": 800_000, "svg": 150_000}


def _shown(at: ItemAt) -> Iterator[Medium]:
    for _, medium_id in media_of(at.node):
        medium = at.site.medium(medium_id)
        if medium is not None:
            yield medium


def _said(at: ItemAt) -> str:
    return str(getattr(at.node, "alt", ""))


def _file_name(at: ItemAt) -> Iterator[Spot]:
    for medium in _shown(at):
        words = (_said(at) or medium.alt).strip()
        if words and (_FILE.search(words) or words == medium.name):
            yield Spot(f"What “{medium.name}” shows is told by a file's name")


def _too_long(at: ItemAt) -> Iterator[Spot]:
    for medium in _shown(at):
        words = (_said(at) or medium.alt).strip()
        if len(words) > _LONGEST:
            yield Spot(f"What “{medium.name}” shows takes {len(words)} characters to say")


def _heavy(at: ItemAt) -> Iterator[Spot]:
    film = at.site.medium(at.node.film) if isinstance(at.node, Section) else None
    if film is not None and film.weight > _HEAVY_LOOP:
        yield Spot(f"The video behind this section weighs {film.weight // 1_000_000} MB")


def _heavy_picture(at: ItemAt) -> Iterator[Spot]:
    """Yield pictures that go out as they are; of all others, each place gets the size it needs."""
    for medium in _shown(at):
        ending = medium.file.rpartition(".")[2]
        if medium.is_picture and medium.weight > _HEAVY_AS_IT_IS.get(ending, medium.weight):
            yield Spot(f"“{medium.name}” weighs {medium.weight / 1000:,.0f} kB and cannot be sent "
                       "any smaller")


_READS = frozenset({Area.MEDIA})
RULES = (
    Rule(id="file-name-for-words", setting="medium",
         weight=2, scope="item", look=_file_name, reads=_READS,
         source="WCAG 2.2, 1.1.1",
         reason="A file's name is read out letter by letter and tells nobody anything."),
    Rule(id="long-picture-words", setting="medium",
         weight=3, scope="item", look=_too_long, reads=_READS,
         source="WCAG 2.2, 1.1.1",
         reason="It is read out in one go and cannot be stopped half-way."),
    Rule(id="heavy-picture", setting="medium",
         weight=3, scope="item", look=_heavy_picture, reads=_READS, source="trade practice",
         reason="On the road the page stands half empty until it is there; a video, or a drawing "
                "with fewer points, is lighter."),
    Rule(id="heavy-video", setting="film",
         weight=3, scope="item", look=_heavy, reads=_READS,
         source="trade practice",
         reason="It is loaded by everybody, on the road too, and shown to few before they leave."),
)
