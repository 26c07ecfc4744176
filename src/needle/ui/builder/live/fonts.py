"""The shipped fonts as the editor's own pages find them."""

from needle.core.render.stylesheet import font_rule
from needle.core.type.faces import FACES

__all__ = ["FONT_CSS"]

FONT_CSS = "".join(
    font_rule(face.family, face.weight, face.italic, f"/fonts/{face.file}") for face in FACES)
