"""The words of the window: what there is to translate, and what is said past `tr`.

`python -m gates.interfacewords FILE.ts` writes a file for Qt Linguist. As a gate, `faults` finds
words that are given to a part of the window as they are.
"""

import ast
import re
import sys
from collections.abc import Iterator
from pathlib import Path

from lxml import etree

from gates.imports import SOURCE
from needle.core.brand.themes import THEMES
from needle.core.draft.orders import ORDERS
from needle.core.draft.orders import order as order_of
from needle.core.draft.slots import OFFERS
from needle.core.progress import STAGES
from needle.core.readymade.forms import FORM_KINDS
from needle.core.render.holders import KINDS
from needle.core.values.styletable import PROPERTIES
from needle.core.values.theme import FACETS
from needle.core.values.tracking import PLACES, PURPOSES
from needle.ui.language import CONTEXT

__all__ = ["faults", "to_translate", "translations"]

# What shows its first words to a person.
_SHOW = {"button", "label", "dim_label", "setAccessibleName", "setWindowTitle", "set_tip",
         "setPlaceholderText", "QCheckBox", "QPushButton", "WordsEdit", "QAction", "Card",
         "addAction", "TrayColumn", "NamedCombo", "Segments", "NumberEdit", "ChoiceEdit"}
_WORDY = re.compile(r"[a-z]{2,}")


def _modules() -> Iterator[tuple[Path, ast.Module]]:
    for path in (*sorted((SOURCE / "ui").rglob("*.py")), SOURCE / "app.py"):
        yield path, ast.parse(path.read_text("utf-8"))


def _calls(tree: ast.Module) -> Iterator[tuple[str, ast.Call]]:
    for call in ast.walk(tree):
        if isinstance(call, ast.Call):
            yield getattr(call.func, "attr", getattr(call.func, "id", "")), call


def _names_of_parts(tree: ast.Module) -> set[str]:
    """Return the names in a stage's `PARTS`, which tabs and commands give to `tr`."""
    return {str(one.value) for made in tree.body if isinstance(made, ast.Assign)
            and isinstance(made.targets[0], ast.Name) and made.targets[0].id == "PARTS"
            and isinstance(made.value, ast.Tuple)
            for one in made.value.elts if isinstance(one, ast.Constant)}


def to_translate() -> set[str]:
    """Return all words that the window gives to `tr`."""
    found = {*STAGES, *PLACES.values(), *PURPOSES.values()}
    for row in PROPERTIES:
        found |= {row.label, row.line, row.beside, row.tip,
                  *(words for words, _ in row.choices.values())}
    for facet in FACETS:
        found |= {facet.label, *(choice.name for choice in facet.choices.values())}
    for theme in THEMES:
        found |= {theme.name, theme.note}
    found |= {*OFFERS.values(), *(order.name for order in (*ORDERS.values(), order_of("")))}
    for form in FORM_KINDS.values():
        found |= {form.name, *(words for _, words, _ in form.fields)}
    for kind in KINDS:
        found.add(kind.label)
        for field in kind.fields:
            found |= {field.label, *field.choices.values(), *(part.label for part in field.parts)}
    for _, tree in _modules():
        found |= _names_of_parts(tree)
        for name, call in _calls(tree):
            if name == "tr" and call.args and isinstance(call.args[0], ast.Constant):
                found.add(str(call.args[0].value))
            if name == "lay_out" and call.args and isinstance(call.args[0], ast.Dict):
                found |= {str(key.value) for key in call.args[0].keys
                          if isinstance(key, ast.Constant)}
            found |= {str(keyword.value.value) for keyword in call.keywords
                      if name == "Command" and keyword.arg == "menu"
                      and isinstance(keyword.value, ast.Constant)}
    return found - {""}


def translations(language: str, words: dict[str, str]) -> bytes:
    """Return a TS file; what has no translation yet is marked so."""
    root = etree.Element("TS", version="2.1", language=language)
    context = etree.SubElement(root, "context")
    etree.SubElement(context, "name").text = CONTEXT
    for source in sorted(to_translate()):
        message = etree.SubElement(context, "message")
        etree.SubElement(message, "source").text = source
        translation = etree.SubElement(message, "translation")
        translation.text = words.get(source, "")
        if source not in words:
            translation.set("type", "unfinished")
    return bytes(etree.tostring(root, encoding="utf-8", xml_declaration=True, pretty_print=True,
                                doctype="<!DOCTYPE TS>"))


def faults() -> list[str]:
    """Return words that are shown past `tr`, each with its place."""
    found = []
    for path, tree in _modules():
        for name, call in _calls(tree):
            first = call.args[0] if call.args else None
            if name == "set_tip" and len(call.args) > 1:
                first = call.args[1]
            words = first.value if isinstance(first, ast.Constant) else "".join(
                str(part.value) for part in first.values if isinstance(part, ast.Constant)) \
                if isinstance(first, ast.JoinedStr) else ""
            words = words.replace("Needle", "") if isinstance(words, str) else ""
            if name in _SHOW and _WORDY.search(words):
                found.append(f"{path.relative_to(SOURCE)}:{call.lineno}: “{words}” is not given "
                             "to tr")
            if name == "tr" and isinstance(first, ast.JoinedStr):
                found.append(f"{path.relative_to(SOURCE)}:{call.lineno}: tr takes words with "
                             "names in braces, not an f-string")
    return found


if __name__ == "__main__":
    file = Path(sys.argv[1])
    file.write_bytes(translations(file.stem, {}))
    print(f"{len(to_translate())} words are in {file}")
