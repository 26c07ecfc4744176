"""Publish: snags, what changed, where it goes; and how pages look in a search."""

from PyQt6.QtCore import pyqtSignal

from needle.core.snags.snag import Snag
from needle.core.values.ids import Id
from needle.publish.releases import Releases
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Tabbed
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.publish.checking import Checker
from needle.ui.publish.domain import DomainPart
from needle.ui.publish.elsewhere import ElsewherePart
from needle.ui.publish.search import SearchPart
from needle.ui.publish.send import SendPart
from needle.ui.session import Session

__all__ = ["PublishStage"]


class PublishStage(Tabbed):
    """Sending, and what searches and shares show.

    Signals:
        asked: The person wants to put a `Snag` right that is not put right here.
    """

    asked = pyqtSignal(object)

    def __init__(self, session: Session, outcomes: Outcomes, engine: LiveEngine) -> None:
        super().__init__()
        self.checker = Checker(engine, session.folder, self)
        self._releases = Releases(session.folder)
        self.sending = SendPart(session, outcomes, self.checker, engine)
        self.search = SearchPart(session, outcomes)
        self.snags = self.sending.snags
        self.snags.asked.connect(self._go_to)
        self.pages, self.targets = self.sending.pages, self.sending.targets
        self.earlier, self.bar = self.sending.earlier, self.sending.bar
        self.domain = DomainPart(session, outcomes)
        self.elsewhere = ElsewherePart(session, outcomes)
        self.lay_out({tr("Send"): self.sending, tr("Domain"): self.domain,
                      tr("Search and sharing"): self.search, tr("Elsewhere"): self.elsewhere})

    def send(self) -> None:
        """Make the ticked pages live."""
        self.sending.send()

    def to_send(self) -> list[Id]:
        """Return the pages that are ticked."""
        return self.sending.to_send()

    def end(self) -> None:
        """Stop what is under way before the window goes."""
        self.bar.ask_stop()
        self.sending.end()
        self.checker.end()
        self.domain.end()

    def _go_to(self, snag: Snag) -> None:
        if snag.kind == "page" and snag.setting in self.search.FIELDS:
            self.show_part(tr("Search and sharing"))
            self.search.edit(snag.target, snag.setting)
        elif snag.setting == "certificate":
            self.show_part(tr("Domain"))
        else:
            self.asked.emit(snag)
