"""The window's own words in another language: a file of Qt's translations (TS, Qt Linguist).

Every word of ours goes through `tr`. A language is one file `languages/LANGUAGE.ts` beside this
module; `python -m gates.interfacewords FILE` writes what there is to translate.
"""

import logging
from collections.abc import Mapping
from importlib import resources
from typing import TypeVar

from lxml import etree
from PyQt6.QtCore import QCoreApplication, QLocale, QObject, QTranslator

__all__ = ["CONTEXT", "Translation", "speak", "tr", "tr_each"]

_log = logging.getLogger(__name__)
# All words stand in one context: the same words mean the same all over the window.
CONTEXT = "Needle"
K = TypeVar("K")


def tr(words: str, /, **values: object) -> str:
    """Return words in the language of the window.

    Args:
        words: In English, with the names of `values` in braces.
        values: What the words name.
    """
    said = QCoreApplication.translate(CONTEXT, words)
    if not values:
        return said
    try:
        return said.format(**values)
    except (LookupError, ValueError):  # A translation that names what there is not.
        return words.format(**values)


def tr_each(choices: Mapping[K, str]) -> dict[K, str]:
    """Return choices by the same keys, in the language of the window."""
    return {key: tr(words) for key, words in choices.items()}


class Translation(QTranslator):
    """Words from a TS file, read as it stands: no tool has to make another file of it first."""

    def __init__(self, source: bytes, parent: QObject | None = None) -> None:
        """Read the translations.

        Raises:
            lxml.etree.XMLSyntaxError: It is not XML.
        """
        super().__init__(parent)
        self._words: Mapping[str, str] = {
            message.findtext("source", ""): message.findtext("translation", "")
            for message in etree.fromstring(source, etree.XMLParser(resolve_entities=False)).iter(
                "message")}

    def translate(self, context: str | None, source: str | None,
                  disambiguation: str | None = None, n: int = -1) -> str:
        """Return the words for some English ones; nothing leaves those as they are."""
        # Only nothing at all tells Qt that there is no translation; PyQt's types do not know that.
        known = self._words.get(source or "") if context == CONTEXT else None
        return known or None  # type: ignore[return-value]

    def isEmpty(self) -> bool:
        return not self._words


def speak(app: QCoreApplication, wanted: str = "") -> str:
    """Let the window speak a language, the system's own unless one is asked for.

    Returns:
        The language whose words are taken; "en" where there is no file of another.
    """
    folder = resources.files(__package__) / "languages"
    for language in (wanted or QLocale.system().name(),):
        for name in (language, language.partition("_")[0]):
            file = folder / f"{name}.ts"
            if file.is_file():
                try:
                    translation = Translation(file.read_bytes(), app)
                except etree.XMLSyntaxError:
                    _log.warning("the words of %s cannot be read", name)
                    continue
                app.installTranslator(translation)
                return name
    return "en"
