"""Publish: snags, what changed, where it goes; and how pages look in a search."""

from PyQt6.QtCore import pyqtSignal

from needle.core.snags.snag import Snag
from needle.core.values.ids import Id
from needle.core.values.targets import TARGET_KINDS
from needle.publish.releases import Releases
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.cards import Tabbed
from needle.ui.commands import Command
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
        self._send = SendPart(session, outcomes, self.checker, engine)
        self.search = SearchPart(session, outcomes)
        self.snags = self._send.snags
        self.snags.asked.connect(self._go_to)
        self.pages, self.targets = self._send.pages, self._send.targets
        self.earlier, self.bar = self._send.earlier, self._send.bar
        self.domain = DomainPart(session, outcomes)
        self.elsewhere = ElsewherePart(session, outcomes)
        self.lay_out({tr("Send"): self._send, tr("Domain"): self.domain,
                      tr("Search and sharing"): self.search, tr("Elsewhere"): self.elsewhere})

    def send(self) -> None:
        """Make the ticked pages live."""
        self._send.send()

    def to_send(self) -> list[Id]:
        """Return the pages that are ticked."""
        return self._send.to_send()

    def end(self) -> None:
        """Stop what is under way before the window goes."""
        self.bar.ask_stop()
        self._send.end()
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

    def commands(self) -> list[Command]:
        """Return what can be done in Publish."""
        part = self._send
        return [
            Command(id="publish.send", menu="Publish", title=tr("Send the chosen pages"),
                    keys="Ctrl+Return", run=self.send, keywords="publish live release",
                    unless=lambda: "" if self.to_send() else
                    tr("Every page is as it is live. Nothing to send.")),
            Command(id="publish.differences", menu="Publish", title=tr("What changed since…"),
                    run=part.show_differences, keywords="compare draft live picture"),
            Command(id="publish.links", menu="Publish", title=tr("Ask for outside links"),
                    run=self.snags.links.ask_or_stop, keywords="dead broken moved check",
                    unless=self.snags.links.nothing_to_ask),
            Command(id="publish.off", menu="Publish",
                    title=tr("Take the page off…"), run=part.take_chosen_off,
                    unless=part.not_live),
            Command(id="publish.later", menu="Publish",
                    title=tr("Send or take off at a time…"), run=part.set_for_later,
                    keywords="schedule date end offer",
                    unless=lambda: "" if self.to_send() or not part.not_live() else
                    tr("Nothing to send, and the chosen page is not live.")),
            Command(id="publish.open", menu="Publish", title=tr("Open the page in a browser"),
                    keys="Ctrl+Alt+O", run=part.open_chosen, unless=part.not_live),
            *(Command(id=f"publish.add.{kind}", menu="Publish",
                      title=tr("Add a target: {kind}…", kind=words),
                      run=lambda k=kind: self.targets.add(k))  # type: ignore[misc]
              for kind, words in TARGET_KINDS.items()),
            Command(id="publish.target", menu="Publish", title=tr("Send to the chosen target"),
                    run=self.targets.send_chosen, keywords="server folder upload",
                    unless=lambda: "" if self.targets.chosen() else
                    tr("Choose one under Goes to first.")),
            Command(id="publish.back", menu="Publish", title=tr("Bring the chosen send back"),
                    run=self.earlier.bring_chosen_back, keywords="release undo earlier",
                    unless=lambda: "" if self.earlier.chosen() else tr("Nothing was sent yet.")),
            Command(id="publish.domain", menu="Publish", title=tr("Own domain"),
                    run=lambda: self.show_part(tr("Domain")), keywords="dns name address"),
            Command(id="publish.certificate", menu="Publish", title=tr("Get a certificate"),
                    run=self.domain.ask_for_certificate, keywords="https tls acme safe",
                    unless=self.domain.certificate.why_not),
            Command(id="publish.elsewhere", menu="Publish",
                    title=tr("A form or popup on another site"),
                    run=lambda: self.show_part(tr("Elsewhere")),
                    keywords="embed snippet frame outside"),
            Command(id="publish.search", menu="Publish", title=tr("Titles and descriptions"),
                    run=lambda: self.show_part(tr("Search and sharing")), keywords="seo share"),
            Command(id="publish.folder", menu="Publish", title=tr("Write the draft to a folder…"),
                    run=part.ask_folder)]
