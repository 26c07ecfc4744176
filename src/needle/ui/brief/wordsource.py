"""Who writes the words of a draft: what ships, or an endpoint."""

from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QLineEdit, QVBoxLayout, QWidget

from needle.core.draft.copy import Writer
from needle.running.addresses import practice_folder, read_address
from needle.running.children import Child, ChildError
from needle.services.words import ChatWriter
from needle.store.keys import read_key, write_key
from needle.store.settings import read_setting, write_setting
from needle.ui.cards import label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["WordSource"]

_SOURCES = {"offline": tr("Needle's own words, offline"),
            "endpoint": tr("an endpoint (chat completions)"),
            "practice": tr("the practice endpoint")}
_KEY_NAME = "words-endpoint"


class WordSource(QWidget):
    """Chooses who writes, and where an endpoint is."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self._child: Child | None = None
        self._choice = ChoiceEdit(tr("Words by"), _SOURCES, inherit=False)
        self._choice.show_value(read_setting("words.source") or "offline")
        self._choice.chosen.connect(lambda _: self._turn())
        line = QHBoxLayout()
        line.addWidget(label(tr("Words by"), "dim"))
        line.addWidget(self._choice, 1)
        self._endpoint = QWidget()
        grid = QGridLayout(self._endpoint)
        grid.setContentsMargins(0, 0, 0, 0)
        self._fields: dict[str, QLineEdit] = {}
        for row, (key, words, hint) in enumerate((
                ("address", tr("Address"), "https://words.example/v1"), ("model", tr("Model"), ""),
                ("key", tr("Key"), tr("kept for you alone, never in the project")))):
            field = QLineEdit(read_key(_KEY_NAME) if key == "key"
                              else read_setting(f"words.{key}"))
            field.setPlaceholderText(hint)
            field.setAccessibleName(tr("{words} of the endpoint", words=words))
            if key == "key":
                field.setEchoMode(QLineEdit.EchoMode.Password)
            self._fields[key] = field
            grid.addWidget(label(words, "dim"), row, 0)
            grid.addWidget(field, row, 1)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addLayout(line)
        column.addWidget(self._endpoint)
        self._turn()

    def choose(self, source: str) -> None:
        """Take "offline", "endpoint" or "practice"."""
        self._choice.show_value(source)
        self._turn()

    def _turn(self) -> None:
        self._endpoint.setVisible(self._choice.currentData() == "endpoint")

    def writer(self, base: Writer) -> Writer:
        """Return the writer that is chosen; its settings are kept.

        Args:
            base: Needle's own writer, which the others go by.
        """
        source = str(self._choice.currentData())
        write_setting("words.source", source)
        if source == "endpoint":
            for key in ("address", "model"):
                write_setting(f"words.{key}", self._fields[key].text().strip())
            write_key(_KEY_NAME, self._fields["key"].text().strip())
            return ChatWriter(self._fields["address"].text(), self._fields["key"].text().strip(),
                              self._fields["model"].text(), base)
        if source == "practice":
            return self._practice(base)
        return base

    def _practice(self, base: Writer) -> Writer:
        """Return a writer that asks the practice endpoint, which is started for it."""
        folder = practice_folder(self._session.folder, "words")
        try:
            if self._child is None:
                self._child = Child("needle.practice.words", [str(folder)])
        except ChildError as error:
            self._session.said.emit(tr("The practice endpoint did not start: {error}", error=error),
                                    True)
            return base
        facts = read_address(folder) or {}
        return ChatWriter(str(facts.get("url", "")), str(facts.get("key", "")), "practice",
                          base)

    def end(self) -> None:
        """End the practice endpoint, if it runs."""
        if self._child is not None:
            self._child.stop()
            self._child = None
