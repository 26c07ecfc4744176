"""The shipped fonts as the editor's own pages find them."""

from needle.core.type.faces import FACES

__all__ = ["FONT_CSS"]

FONT_CSS = "".join(
    f"@font-face{{font-family:'{face.family}';font-weight:{face.weight};"
    f"font-style:{'italic' if face.italic else 'normal'};src:url(/fonts/{face.file})}}"
    for face in FACES)
