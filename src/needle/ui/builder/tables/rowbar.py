"""Which row's page is looked at, and the way to the next one."""

from PyQt6.QtWidgets import QHBoxLayout, QToolButton, QWidget

from needle.core.tables.choosing import rows_for
from needle.core.values.tables import TableRow
from needle.ui.cards import label
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import set_tip

__all__ = ["RowBar"]


class RowBar(QWidget):
    """◂ 2 of 12 ▸; hidden for a page that is not one for each row."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self._session = session
        self.back = self._tool("◂", tr("The row before"), -1)
        self.ahead = self._tool("▸", tr("The next row"), 1)
        self.where = label("", "small")
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(4)
        for widget in (self.back, self.where, self.ahead):
            row.addWidget(widget)
        for signal in (session.turned, session.rowed):
            signal.connect(self.refresh)
        session.changed.connect(lambda _: self.refresh())
        self.refresh()

    def _tool(self, sign: str, words: str, by: int) -> QToolButton:
        made = QToolButton()
        made.setText(sign)
        made.setAccessibleName(words)
        set_tip(made, words)
        made.clicked.connect(lambda _=False: self.step(by))
        return made

    def rows(self) -> tuple[TableRow, ...]:
        """Return the rows that have a page."""
        return rows_for(self._session.site, self._session.page)

    def step(self, by: int) -> None:
        """Look at the next row, or one further on; after the last comes the first."""
        rows, here = self.rows(), self._session.row
        if rows:
            place = next((n for n, row in enumerate(rows) if here and row.id == here.id), -1)
            self._session.look_at_row(rows[(place + by) % len(rows)].id)

    def refresh(self) -> None:
        """Show where one is."""
        row, rows = self._session.row, self.rows()
        self.setVisible(row is not None)
        place = next((n for n, one in enumerate(rows, 1) if row and one.id == row.id), 0)
        self.where.setText(tr("{place} of {whole}", place=place or "–", whole=f"{len(rows):,}"))
