"""What was understood of an idea, slot by slot, to be put right before anything is written."""

import msgspec
from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QHBoxLayout, QPlainTextEdit, QWidget

from needle.core.draft.slots import OFFERS, Slots
from needle.ui.cards import label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.timers import once

__all__ = ["SlotsEditor"]

_SOON_MS = 500
_LONGEST = 200
# Slots of one line, with what is asked and what may stand there.
_LINES = (("what", tr("What"), tr("star evenings, a baking course")),
          ("who", tr("For whom"), tr("families with children")),
          ("does", tr("It …"), tr("reminds people to take their pills")),
          ("doing", tr("We …"), tr("restore old pianos")),
          ("change", tr("You can …"), tr("get to work")),
          ("place", tr("Where"), tr("in Leeds")), ("when", tr("When"), tr("every Tuesday evening")),
          ("price", tr("Price"), tr("£12")), ("per", tr("Price for"), tr("a month, each")),
          ("proof", tr("Proof"), tr("taught by …, since 1998")))
_HIGH = 58


class SlotsEditor(QWidget):
    """Shows slots and takes what the person changes.

    Signals:
        changed: The person changed something (the slots as they are now).
    """

    changed = pyqtSignal(object)

    def __init__(self) -> None:
        super().__init__()
        self._slots = Slots()
        self._soon = once(self, _SOON_MS)
        self._soon.timeout.connect(lambda: self.changed.emit(self._slots))
        grid = QGridLayout(self)
        grid.setContentsMargins(0, 2, 0, 2)
        grid.setVerticalSpacing(2)
        grid.setHorizontalSpacing(6)
        self.offer = ChoiceEdit(tr("Kind of offer"), {key: tr(name) for key,
            name in OFFERS.items()},
                                inherit=False)
        self.offer.chosen.connect(lambda offer: self._take(offer=str(offer)))
        self.many = ChoiceEdit(tr("One or several"), {False: tr("one"), True: tr("several")},
                               inherit=False)
        self.many.chosen.connect(lambda many: self._take(many=bool(many)))
        self.free = ChoiceEdit(tr("Whether it costs something"),
                               {False: tr("paid"), True: tr("free")}, inherit=False)
        self.free.chosen.connect(lambda free: self._take(free=bool(free)))
        line = QHBoxLayout()
        for choice in (self.offer, self.many, self.free):
            line.addWidget(choice, 1)
        grid.addWidget(label(tr("Kind"), "dim"), 0, 0)
        grid.addLayout(line, 0, 1)
        self.lines: dict[str, WordsEdit] = {}
        for row, (key, words, example) in enumerate(_LINES, 1):
            line_edit = WordsEdit(words)
            line_edit.setPlaceholderText(tr("nothing told; for example: {example}",
                                            example=example))
            line_edit.setMaxLength(_LONGEST)
            line_edit.textEdited.connect(lambda text, k=key: self._take(**{k: text.strip()}))
            grid.addWidget(label(words, "dim"), row, 0)
            grid.addWidget(line_edit, row, 1)
            self.lines[key] = line_edit
        self.extras, self.facts = (self._several(name) for name in (
            tr("What belongs to it, one a line"), tr("What else is so, one a line")))
        self.extras.textChanged.connect(lambda: self._take(extras=_told(self.extras)))
        self.facts.textChanged.connect(lambda: self._take(facts=_told(self.facts)))
        for row, (words, edit) in enumerate(((tr("With it"), self.extras),
                                             (tr("Also"), self.facts)), len(_LINES) + 1):
            grid.addWidget(label(words, "dim"), row, 0)
            grid.addWidget(edit, row, 1)

    def _several(self, name: str) -> QPlainTextEdit:
        edit = QPlainTextEdit()
        edit.setAccessibleName(name)
        edit.setPlaceholderText(name)
        edit.setTabChangesFocus(True)
        edit.setFixedHeight(_HIGH)
        return edit

    def show_slots(self, slots: Slots) -> None:
        """Show what was understood; nothing is announced for it."""
        self._slots = Slots()
        self.offer.show_value(slots.offer)
        self.many.show_value(slots.many)
        self.free.show_value(slots.free)
        for key, line in self.lines.items():
            line.show_words(str(getattr(slots, key)))
        for edit, told in ((self.extras, slots.extras), (self.facts, slots.facts)):
            edit.setPlainText("\n".join(told))
        self._soon.stop()
        self._slots = slots

    def _take(self, **fields: object) -> None:
        changed = msgspec.structs.replace(self._slots, **fields)
        if changed != self._slots:
            self._slots = changed
            self._soon.start()


def _told(edit: QPlainTextEdit) -> tuple[str, ...]:
    lines = (line.strip()[:_LONGEST] for line in edit.toPlainText().splitlines())
    return tuple(line for line in lines if line)[:12]
