"""The typefaces that ship with Needle, and which of them a page uses."""

from collections.abc import Iterable
from dataclasses import dataclass
from importlib.resources import files
from importlib.resources.abc import Traversable

from needle.core.edit.looks import resolved
from needle.core.edit.texts import runs_of
from needle.core.render.holders import kind_of
from needle.core.site.look import PLAIN
from needle.core.site.node import Node
from needle.core.site.site import Site, Variant
from needle.core.site.widths import Width

__all__ = ["FACES", "Face", "faces_used", "letters_used", "nearest_face"]


@dataclass(frozen=True, slots=True, order=True)
class Face:
    """One cut of a family.

    Attributes:
        weight: 400, 600 or 700.
        file: The file among the shipped fonts.
    """

    family: str
    weight: int
    italic: bool
    file: str

    @property
    def source(self) -> Traversable:
        """The font file."""
        return files("needle") / "fonts" / self.file


FACES: tuple[Face, ...] = (
    Face("IBM Plex Sans", 400, False, "IBMPlexSans-400.ttf"),
    Face("IBM Plex Sans", 400, True, "IBMPlexSans-400i.ttf"),
    Face("IBM Plex Sans", 600, False, "IBMPlexSans-600.ttf"),
    Face("IBM Plex Sans", 700, False, "IBMPlexSans-700.ttf"),
    Face("Zilla Slab", 400, False, "ZillaSlab-400.ttf"),
    Face("Zilla Slab", 600, False, "ZillaSlab-600.ttf"),
    Face("Zilla Slab", 700, False, "ZillaSlab-700.ttf"),
)


def nearest_face(family: str, weight: int, italic: bool) -> Face | None:
    """Return the shipped cut that a browser would show for this wish."""
    cuts = [face for face in FACES if face.family == family]
    return min(cuts, default=None,
               key=lambda face: (face.italic != italic, abs(face.weight - weight)))


def faces_used(site: Site, variant: Variant) -> tuple[Face, ...]:
    """Return the cuts that the words of a variant are set in."""
    found = {nearest_face(site.brand.body_face, 400, False)}
    alike: dict[tuple[str, str], set[tuple[str, int]]] = {}
    for node in variant.nodes():
        kind = kind_of(node)
        if not kind.traits >= {"type", "item"}:
            continue
        # Most items follow their style; what that comes to is worked out once a page.
        key = (kind.key, str(getattr(node, "style", "")))
        follows = node.look is PLAIN or node.look == PLAIN
        settings = alike.get(key) if follows else None
        if settings is None:
            settings = _settings(site, node)
            if follows:
                alike[key] = settings
        for family, weight in settings:
            found.add(nearest_face(family, weight, False))
            for run in runs_of(node):
                if run.strong or run.emphasis:
                    found.add(nearest_face(family, 700 if run.strong else weight, run.emphasis))
    return tuple(sorted(face for face in found if face))


def _settings(site: Site, node: Node) -> set[tuple[str, int]]:
    """Return family and weight of a node at each width, and of what its kind sets itself."""
    kind, styles = kind_of(node), site.style_map()
    settings = set()
    for width in Width:
        face = resolved(site, node, "face", width)
        family = site.brand.heading_face if face == "heading" else site.brand.body_face
        settings.add((family, int(resolved(site, node, "weight", width) or 400)))
        for borrowed in kind.needs & styles.keys():
            weight = styles[borrowed].look.value("weight", width)
            settings.add((site.brand.body_face, int(weight or 400)))
    faces = {"heading": site.brand.heading_face, "body": site.brand.body_face}
    return settings | {(faces[face], weight) for face, weight in kind.cuts}


def letters_used(pages: Iterable[str]) -> str:
    """Return the distinct characters of some finished pages, in order, with the basic ones.

    The basic ones are those that a visitor may type or a browser may show by itself.
    """
    found = set(map(chr, range(32, 127))) | set("–—‘’“”…×€£·")
    for page in pages:
        found |= set(page)
    return "".join(sorted(found))
