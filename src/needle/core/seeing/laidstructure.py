"""The structure of a laid-out page: sections, boxes, pictures, texts, as if read from a picture."""

from dataclasses import dataclass

from needle.core.seeing.laidout import LaidLook, LaidNode, LaidOut
from needle.core.seeing.shapes import Band, Box, Found, Rect, TextBlock

__all__ = ["laid_structure"]

# A part of a page at least so wide may be a section, as a share of the page.
_WIDE = 0.55
_LEAST_HIGH = 18
# Higher parts are looked into for sections of their own.
_TALL = 700
_HEADS = range(1, 4)
_PARTS = frozenset({"section", "header", "footer", "nav", "main", "article", "aside"})
_LEAST_BOX, _LEAST_PICTURE = (24, 14), (40, 30)
# Faces reach about 0.93 of their size above the baseline, of 1.17 in all; capitals 0.72.
_ABOVE, _CAPITAL = 0.795, 0.72
_BOLD, _REGULAR = 0.16, 0.1
_BOLD_FROM = 600
_DEEPEST = 40


def laid_structure(laid: LaidOut) -> Found:
    """Return sections with all that is in them; every place is exact, words are kept."""
    groups = _Sections(laid).groups() if laid.nodes else []
    bands = tuple(band for group in groups if (band := _band(laid, group)) is not None)
    return Found(round(laid.width), round(laid.shown), bands, _palette(laid))


class _Sections:
    """Parts the nodes of a page into sections: what authors mark, headings begin, grounds part."""

    def __init__(self, laid: LaidOut) -> None:
        self._laid = laid

    def groups(self) -> list[list[int]]:
        """Return the places of the nodes of each section, from top to bottom."""
        found = self._parted([0], 0)
        return sorted((group for group in found if group),
                      key=lambda group: min(self._node(n).rect[1] for n in group))

    def _node(self, number: int) -> LaidNode:
        return self._laid.nodes[number]

    def _high(self, number: int) -> float:
        return self._node(number).rect[3] - self._node(number).rect[1]

    def _across(self, number: int) -> float:
        return self._node(number).rect[2] - self._node(number).rect[0]

    def _is_wide(self, number: int) -> bool:
        return self._across(number) >= _WIDE * self._laid.width

    def _parted(self, group: list[int], depth: int) -> list[list[int]]:
        """Return a group as sections: itself, or what stands below each other in it."""
        if len(group) != 1 or depth > _DEEPEST:
            return [group]
        inside = list(self._laid.inside[group[0]])
        if not inside:
            return [group]
        if self._side_by_side(inside):
            main = max(inside, key=lambda n: self._high(n) * self._across(n))
            beside = [number for number in inside if number != main]
            if self._is_wide(main) and self._high(main) > _TALL:
                return [beside, *self._parted([main], depth + 1)]
            return [group]
        if self._node(group[0]).words:
            return [group]
        if len(inside) == 1:
            # A wrapper is the section, unless what it holds is several.
            parts = self._parted(inside, depth + 1)
            return parts if len(parts) > 1 else [group]
        if depth and self._high(group[0]) <= _TALL and not any(
                self._node(number).tag in _PARTS for number in inside):
            return [group]
        return [part for run in self._runs(inside) for part in self._parted(run, depth + 1)]

    def _side_by_side(self, inside: list[int]) -> bool:
        """Whether two high ones of them stand beside each other."""
        high = [self._node(n).rect for n in inside if self._high(n) > _LEAST_HIGH * 3]
        return any(one[1] < other[3] - _LEAST_HIGH and other[1] < one[3] - _LEAST_HIGH
                   and (one[2] <= other[0] + 1 or other[2] <= one[0] + 1)
                   for at, one in enumerate(high) for other in high[at + 1:])

    def _runs(self, inside: list[int]) -> list[list[int]]:
        """Return siblings in groups, a new one where a section begins."""
        runs: list[list[int]] = []
        own = False
        for number in inside:
            begins = self._begins(number)
            if not runs or begins or own:
                runs.append([])
            runs[-1].append(number)
            own = self._stands_alone(number)
        return runs

    def _begins(self, number: int) -> bool:
        return self._node(number).level in _HEADS or self._stands_alone(number)

    def _stands_alone(self, number: int) -> bool:
        node, look = self._node(number), self._laid.look(number)
        painted = bool(look.filled or look.picture)
        return self._high(number) >= _LEAST_HIGH and self._is_wide(number) and (
            node.tag in _PARTS or (painted and node.up >= 0 and self._laid.ground(
                number) != self._laid.ground(node.up)) or self._high(number) > _TALL)


def _band(laid: LaidOut, group: list[int]) -> Band | None:
    rects = [laid.nodes[number].rect for number in group]
    top, bottom = min(rect[1] for rect in rects), max(rect[3] for rect in rects)
    if bottom - top < _LEAST_HIGH or top >= laid.shown:
        return None
    first = group[0]
    # One node is its own ground; several stand on that of what holds them.
    base = first if len(group) == 1 else laid.nodes[first].up
    ground = laid.ground(max(base, 0))
    held = _Held.of(laid, group, ground, whole=len(group) == 1)
    if not (held.texts or held.pictures or held.boxes):
        return None
    return Band(Rect(0, round(top), round(laid.width), round(min(bottom, laid.shown))), ground,
                tuple(held.texts), tuple(held.pictures), tuple(held.boxes))


@dataclass(slots=True)
class _Held:
    """What stands in a part of the page."""

    texts: list[TextBlock]
    pictures: list[Rect]
    boxes: list[Box]

    @classmethod
    def of(cls, laid: LaidOut, group: list[int], ground: str, whole: bool) -> "_Held":
        """Return what is in the nodes of a group.

        Args:
            whole: The group is one node, whose own ground is that of the section.
        """
        held = cls([], [], [])
        waiting = [(number, not whole) for number in reversed(group)]
        while waiting:
            number, counts = waiting.pop()
            node = laid.nodes[number]
            rect = _rect(node.rect)
            if node.shows or (laid.look(number).picture == "picture" and not node.words
                              and not laid.inside[number]):
                if rect.width >= _LEAST_PICTURE[0] and rect.height >= _LEAST_PICTURE[1]:
                    held.pictures.append(rect)
                continue
            if counts and (box := _box(laid, number, ground)) is not None:
                held.boxes.append(box)
                continue
            if node.words and node.ink is not None:
                held.texts.append(_text(node, laid.look(number)))
            waiting += [(inner, True) for inner in reversed(laid.inside[number])
                        if not (node.words and laid.look(inner).display == "inline")]
        return held


def _box(laid: LaidOut, number: int, ground: str) -> Box | None:
    """Return a node as a box, if it has a ground or a border of its own."""
    node, look = laid.nodes[number], laid.look(number)
    rect = _rect(node.rect)
    inside = laid.ground(number) or ground
    edged = min(look.edge) > 0 and look.edge_colour != inside
    if look.display == "inline" and not edged and not any(look.pad):
        return None
    if (not edged and inside == ground) or rect.width < _LEAST_BOX[0] or (
            rect.height < _LEAST_BOX[1]):
        return None
    held = _Held.of(laid, list(laid.inside[number]), inside, whole=False)
    if node.words and node.ink is not None:
        held.texts.insert(0, _text(node, look))
    return Box(rect, inside, look.edge_colour if edged else "", round(min(
        look.radius, rect.height / 2)), tuple(held.texts), tuple(held.pictures), tuple(held.boxes))


def _text(node: LaidNode, look: LaidLook) -> TextBlock:
    """Return a text with its ink: from the top of capitals to the last baseline or below."""
    assert node.ink is not None
    left, top, right, bottom = node.ink
    high = bottom - top if node.lines <= 1 else bottom - node.last
    base = node.first + _ABOVE * high
    pitch = (node.last - node.first) / (node.lines - 1) if node.lines > 1 else 0.0
    return TextBlock(
        Rect(round(left), round(base - _CAPITAL * look.size), round(right), round(
            base + pitch * max(0, node.lines - 1) + 0.2 * look.size)),
        look.size, look.colour, max(1, node.lines), round(pitch, 1),
        _BOLD if look.weight >= _BOLD_FROM else _REGULAR, _shown_words(node.words, look))


def _shown_words(words: str, look: LaidLook) -> str:
    return words.upper() if look.capitals == "uppercase" else words


def _rect(sides: tuple[float, float, float, float]) -> Rect:
    left, top, right, bottom = (round(side) for side in sides)
    return Rect(left, top, right, bottom)


def _palette(laid: LaidOut) -> tuple[tuple[str, float], ...]:
    """Return the grounds and colours of words, by how much of the page they cover at most."""
    areas: dict[str, float] = {}
    whole = max(1.0, laid.width * laid.shown)
    for number, node in enumerate(laid.nodes):
        left, top, right, bottom = node.rect
        look = laid.look(number)
        if look.filled == 1:
            areas[look.fill] = max(areas.get(look.fill, 0), (right - left) * (bottom - top))
        if node.words:
            # Letters cover about an eighth of the room they stand in.
            areas[look.colour] = areas.get(look.colour, 0) + (right - left) * (bottom - top) / 8
    best = sorted(areas.items(), key=lambda item: -item[1])[:14]
    return tuple((colour, min(1.0, area / whole)) for colour, area in best)
