"""Vector pictures, freed of everything that is not drawing."""

import re
from typing import Any

from lxml import etree

from needle.core.images.vectorstyle import is_sound_value, sound_declarations, sound_sheet
from needle.core.messages.message import CoreError

__all__ = ["VectorError", "clean_svg", "looks_like_svg"]

_SVG = "http://www.w3.org/2000/svg"
_XLINK = "{http://www.w3.org/1999/xlink}href"
_LARGEST = 4_000_000
_MOST_PARTS = 50_000
_DRAWS = frozenset({
    "svg", "g", "defs", "symbol", "use", "path", "rect", "circle", "ellipse", "line", "polyline",
    "polygon", "text", "tspan", "textPath", "title", "desc", "linearGradient", "radialGradient",
    "stop", "clipPath", "mask", "pattern", "marker", "image", "filter", "feBlend",
    "feColorMatrix", "feComponentTransfer", "feComposite", "feDropShadow", "feFlood", "feFuncA",
    "feFuncB", "feFuncG", "feFuncR", "feGaussianBlur", "feMerge", "feMergeNode", "feMorphology",
    "feOffset", "feTile", "style"})
# Attributes that are read as CSS only where such a sign stands in them.
_CSS_SIGNS = re.compile(r"[(\\@]")
_PLAIN_WORDS = frozenset({"d", "points", "transform", "viewbox", "id", "class",
                          "gradienttransform", "patterntransform"})
_PICTURE = re.compile(r"data:image/(?:png|jpeg|webp|gif);base64,[A-Za-z0-9+/=\s]+\Z")
_LENGTH = re.compile(r"\s*([0-9]*\.?[0-9]+)\s*(px|pt|mm|cm|in|)\s*\Z")
_PX = {"px": 1.0, "": 1.0, "pt": 4 / 3, "mm": 96 / 25.4, "cm": 96 / 2.54, "in": 96.0}


class VectorError(CoreError):
    """A drawing that cannot be used; the message says why."""


def looks_like_svg(data: bytes) -> bool:
    """Whether a file calls itself an SVG."""
    head = data[:4000].lstrip(b"\xef\xbb\xbf \t\r\n")
    return head.startswith(b"<") and b"<svg" in data[:20_000]


def clean_svg(data: bytes, name: str) -> tuple[bytes, int, int]:
    """Return a drawing without scripts, outside addresses and foreign parts, and its size.

    Returns:
        The bytes, width and height in CSS pixels.

    Raises:
        VectorError: It is no SVG, or too large to be sound.
    """
    if len(data) > _LARGEST:
        raise VectorError("drawing-heavy", name=name, weight=f"{len(data) / 1000000.0:.0f}")
    parser = etree.XMLParser(resolve_entities=False, no_network=True, load_dtd=False,
                             remove_comments=True, remove_pis=True, huge_tree=False)
    try:
        root = etree.fromstring(data, parser)
    except (etree.XMLSyntaxError, ValueError) as error:
        raise VectorError("drawing-unreadable", name=name) from error
    if root.tag != f"{{{_SVG}}}svg":
        raise VectorError("drawing-empty", name=name)
    _clean_parts(root, name)
    width, height = _size(root)
    root.set("width", f"{width:g}")
    root.set("height", f"{height:g}")
    etree.cleanup_namespaces(root)
    return etree.tostring(root, encoding="utf-8"), max(1, round(width)), max(1, round(height))


def _clean_parts(root: Any, name: str) -> None:
    for count, part in enumerate(list(root.iter())):
        if count > _MOST_PARTS:
            raise VectorError("drawing-parts", name=name, most=_MOST_PARTS)
        if part is not root and not _draws(part):
            _take_out(part)
        else:
            _clean_attributes(part)
            if etree.QName(part).localname == "style":
                _clean_sheet(part)


def _draws(part: Any) -> bool:
    if not isinstance(part.tag, str):
        return False
    space, _, tag = part.tag.rpartition("}")
    return space == "{" + _SVG and tag in _DRAWS


def _take_out(part: Any) -> None:
    parent = part.getparent()
    if parent is not None:
        parent.remove(part)


def _clean_sheet(part: Any) -> None:
    """Keep the rules that draw. What stands behind a child would be read as one sheet too."""
    sheet = sound_sheet("".join(part.itertext()))
    for child in list(part):
        part.remove(child)
    part.text = sheet


def _clean_attributes(part: Any) -> None:
    for name, value in list(part.attrib.items()):
        plain = name.rpartition("}")[2].lower()
        address = plain in ("href", "src")
        if plain == "style":
            part.set(name, sound_declarations(value))
            continue
        bad = (plain.startswith("on") or not plain.isascii() or (
                   plain not in _PLAIN_WORDS and not address and _CSS_SIGNS.search(value)
                   and not is_sound_value(value))
               or ("}" in name and name != _XLINK and not plain.startswith("space"))
               or (address and not value.startswith("#") and not _PICTURE.match(value)))
        if bad:
            del part.attrib[name]


def _size(root: Any) -> tuple[float, float]:
    """Return width and height: as they are set, else those of the view box."""
    sides = [_LENGTH.match(root.get(name, "")) for name in ("width", "height")]
    box = [float(part) for part in re.findall(r"-?[0-9]*\.?[0-9]+(?:e-?\d+)?",
                                              root.get("viewBox", ""))]
    wide, high = box[2:4] if len(box) == 4 and box[2] > 0 and box[3] > 0 else (300.0, 150.0)
    if sides[0] and sides[1]:
        given = [float(side[1]) * _PX[side[2]] for side in sides if side]
        if min(given) > 0:
            if not root.get("viewBox"):
                root.set("viewBox", f"0 0 {given[0]:g} {given[1]:g}")
            return min(given[0], 10_000), min(given[1], 10_000)
    if not root.get("viewBox"):
        root.set("viewBox", f"0 0 {wide:g} {high:g}")
    return min(wide, 10_000), min(high, 10_000)
