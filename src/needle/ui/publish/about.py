"""What the chosen page is about, for searches: an event, a product, a business, and its facts."""

import msgspec
from PyQt6.QtWidgets import QGridLayout, QWidget

from needle.core.edit.pages import set_page
from needle.core.tables.mastering import untold
from needle.core.values.about import ABOUT_KINDS
from needle.ui.cards import Card, label
from needle.ui.editors import ChoiceEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["AboutCard"]

# Field, what it is called, an example, and for which kinds it is asked.
_FIELDS = (
    ("name", tr("Called"), tr("the title of the page"),
     ("event", "product", "business")),
    ("starts", tr("Starts"), "2027-08-12 21:30", ("event",)),
    ("ends", tr("Ends"), "2027-08-13 00:30", ("event",)),
    ("place", tr("Place"), tr("Quillmoor Hill"), ("event",)),
    ("street", tr("Where that is"), tr("Moor Lane 1, Quillmoor"), ("event", "business")),
    ("price", tr("Price"), "12.50", ("event", "product")),
    ("currency", tr("Currency"), "GBP", ("event", "product")),
    ("phone", tr("Telephone"), "+44 1632 960 120", ("business",)),
    ("hours", tr("Open"), "Mo-Fr 09:00-17:00; Sa 10:00-12:00", ("business",)),
    ("map", tr("Map"), "https://maps.example/quillmoor", ("business",)))


class AboutCard(Card):
    """A kind and its facts; each is one step of undo, and what does not fit is not kept."""

    def __init__(self, session: Session) -> None:
        super().__init__(tr("What searches are told besides"))
        self._session = session
        self.kind = ChoiceEdit(tr("What the page is about"),
                               {key: tr(words) for key, words in ABOUT_KINDS.items()}, False)
        self.kind.chosen.connect(lambda kind: self._take("kind", str(kind)))
        self._grid = QGridLayout()
        self._grid.addWidget(label(tr("The page is about")), 0, 0)
        self._grid.addWidget(self.kind, 0, 1)  # The name stands beside it; pairs follow.
        self._rows: dict[str, tuple[QWidget, WordsEdit]] = {}
        for name, words, *_ in _FIELDS:
            edit = WordsEdit(words)
            edit.kept.connect(lambda told, n=name: self._take(n, told.strip()))
            self._rows[name] = (label(words), edit)
            for widget in self._rows[name]:  # The keys go through them in this order.
                widget.setParent(self)
        self._grid.setColumnStretch(1, 1)
        self._grid.setColumnStretch(3, 1)
        self._grid.setHorizontalSpacing(10)
        self.body.addLayout(self._grid)

    def edit(self) -> None:
        """Give the keys to the first fact that is missing, or to the kind."""
        lacks = untold(self._session.site, self._session.page)
        (self._rows[lacks[0]][1] if lacks else self.kind).setFocus()

    def _take(self, name: str, words: str) -> None:
        page = self._session.page
        self._session.edit(tr("what the page is about"), lambda site: set_page(
            site, page.id, about=msgspec.structs.replace(page.about, **{name: words})))
        self.refresh()

    def refresh(self) -> None:
        """Show the facts of the chosen page."""
        page = self._session.page
        about, lacks = page.about, untold(self._session.site, page)
        columns = {fact.field for fact in page.master.facts}
        self.kind.show_value(about.kind)
        place = 1
        for name, _, example, kinds in _FIELDS:
            head, edit = self._rows[name]
            if about.kind in kinds:
                row, column = divmod(place, 2)
                self._grid.addWidget(head, row, 2 * column)
                self._grid.addWidget(edit, row, 2 * column + 1)
                place += 1
            for widget in (head, edit):
                widget.setVisible(about.kind in kinds)
            edit.show_words(getattr(about, name))
            edit.setPlaceholderText(tr("from the table") if name in columns else example)
        missing = [words.lower() for name, words, *_ in _FIELDS if name in lacks]
        self.note.setText(tr("Told once it says: {list}.", list=", ".join(missing))
                          if missing else tr("Told with the page.") if about.kind else "")
