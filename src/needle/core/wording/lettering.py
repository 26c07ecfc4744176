"""Which cuts and letters a page uses."""

from collections.abc import Iterable

from needle.core.edit.looks import resolved
from needle.core.render.holders import kind_of
from needle.core.render.texts import runs_of
from needle.core.site.site import Site, Variant
from needle.core.site.tree import walk
from needle.core.type.faces import Face, nearest_face
from needle.core.values.look import PLAIN
from needle.core.values.node import Node
from needle.core.values.remembering import remembered
from needle.core.values.widths import Width

__all__ = ["faces_used", "letters_used"]


def faces_used(site: Site, variant: Variant) -> tuple[Face, ...]:
    """Return the cuts that the words of a variant are set in."""
    found = {nearest_face(site, site.brand.body_face, 400, False)}
    # Pages of rows share most of their sections.
    known: dict[int, tuple[Node, set[Face | None]]] = remembered(site, "faces_of", lambda _: {})
    for top in (*variant.children, *variant.popups):
        held = known.get(id(top))
        if held is None or held[0] is not top:
            held = known[id(top)] = (top, _faces_of(site, top))
        found |= held[1]
    return tuple(sorted(face for face in found if face))


def _faces_of(site: Site, top: Node) -> set[Face | None]:
    found: set[Face | None] = set()
    # Most items follow their style; what that comes to is worked out once a site.
    alike: dict[tuple[str, str], set[tuple[str, int]]] = remembered(
        site, "settings_alike", lambda _: {})
    for node in walk(top):
        kind = kind_of(node)
        if not kind.traits >= {"type", "item"}:
            continue
        key = (kind.key, str(getattr(node, "style", "")))
        follows = node.look is PLAIN or node.look == PLAIN
        settings = alike.get(key) if follows else None
        if settings is None:
            settings = _settings(site, node)
            if follows:
                alike[key] = settings
        for family, weight in settings:
            found.add(nearest_face(site, family, weight, False))
            for run in runs_of(node):
                if run.strong or run.emphasis:
                    found.add(nearest_face(
                        site, family, 700 if run.strong else weight, run.emphasis))
    return found


def _settings(site: Site, node: Node) -> set[tuple[str, int]]:
    """Return family and weight of a node at each width, and of what its kind sets itself."""
    kind, styles = kind_of(node), site.style_map()
    faces = {"heading": site.brand.heading_face, "body": site.brand.body_face}
    settings = set()
    for width in Width:
        face = resolved(site, node, "face", width)
        family = faces.get(face, face) if isinstance(face, str) else site.brand.body_face
        settings.add((family, int(resolved(site, node, "weight", width) or 400)))
        for borrowed in kind.needs & styles.keys():
            weight = styles[borrowed].look.value("weight", width)
            settings.add((site.brand.body_face, int(weight or 400)))
    return settings | {(faces[face], weight) for face, weight in kind.cuts}


# What a visitor of western Europe may type, and what sets a text. They are always there, so that
# pages share their fonts and a new word does not make another font.
_BASIC = frozenset(map(chr, (*range(32, 127), *range(160, 256)))) | frozenset(
    "–—‘’‚“”„…‹›•€™ŒœŠšŽžŸ×·")


def letters_used(pages: Iterable[str]) -> str:
    """Return the distinct characters of some finished pages, in order, with the basic ones."""
    found = set(_BASIC)
    for page in pages:
        found |= set(page)
    return "".join(sorted(found))
