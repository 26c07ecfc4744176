"""Having so much of a page seen, or so long a stay, count as a conversion."""

from collections.abc import Callable
from typing import Literal

import msgspec
from PyQt6.QtWidgets import QCheckBox, QHBoxLayout, QWidget

from needle.core.edit.testing import add_reach, remove_reach
from needle.core.site.site import Page, Site
from needle.core.values.testplan import Reach
from needle.ui.cards import label
from needle.ui.editors import NumberEdit
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["ReachRow"]


class ReachRow(QWidget):
    """One of them: a tick, and how much or how long."""

    def __init__(self, session: Session, page: Callable[[], Page],
                 does: Literal["depth", "time"]) -> None:
        super().__init__()
        self._session, self._page, self._does = session, page, does
        words, unit, most, self._usual = (
            (tr("Counts once seen down to"), "%", 100, 75) if does == "depth" else
            (tr("Counts once in sight for"), "s", 3600, 60))
        self.tick = QCheckBox(words)
        self.amount = NumberEdit(words, 1, most, 5, unit)
        self.amount.show_value(self._usual)
        self.tick.clicked.connect(self._take)
        self.amount.chosen.connect(lambda value: self._take_amount(value))
        self.amount.refused.connect(lambda told: session.said.emit(told, True))
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.tick, 1)
        row.addWidget(self.amount)
        row.addWidget(label(unit, "dim"))

    def _held(self) -> Reach | None:
        return next((one for one in self._page().reaches if one.does == self._does), None)

    def refresh(self) -> None:
        """Show how it is on the page."""
        held = self._held()
        self.tick.setChecked(held is not None)
        self.amount.show_value(held.amount if held else self._usual)

    def _take_amount(self, value: object) -> None:
        held = self._held()
        if held is None or not isinstance(value, int | float) or round(value) == held.amount:
            if held is not None and not isinstance(value, int | float):
                self.refresh()
            return
        self._put(held, msgspec.structs.replace(held, amount=round(value),
                                                name=self._name(round(value))))

    def _take(self, on: bool) -> None:
        shown = self.amount.text() or str(self._usual)
        amount = round(float(shown))
        self._put(self._held(), Reach(self._name(amount), self._does, amount) if on else None)

    def _put(self, before: Reach | None, after: Reach | None) -> None:
        page = self._page().id

        def how(site: Site) -> Site:
            made = remove_reach(site, page, before.name) if before else site
            return add_reach(made, page, after) if after else made

        self._session.edit(tr("what counts"), how)
        self.refresh()

    def _name(self, amount: int) -> str:
        return tr("Seen to {n} %", n=amount) if self._does == "depth" else (
            tr("Stayed {n} seconds", n=amount))
