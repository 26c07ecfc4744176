"""The certificate of the own domain: from whom, how it fares, and asking for it."""

import time

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout

from needle.core.values.strict import StrictError
from needle.running.addresses import practice_folder, read_address
from needle.running.children import ChildError
from needle.services.shown import Door
from needle.store.certificates import Certificates, State, WantedCertificate
from needle.ui.cards import Card, button, label, repaint_role
from needle.ui.editors import WordsEdit
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["CertificateCard"]

_PRACTICE = "http://127.0.0.1:"


class CertificateCard(Card):
    """Asks for a certificate, and says what came of it.

    Signals:
        asked: The person asked for one.
    """

    asked = pyqtSignal()

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__(tr("Certificate, for https"))
        self._session, self._outcomes = session, outcomes
        self._kept = Certificates(session.folder)
        wanted = self._kept.wanted()
        self.directory = WordsEdit(tr("Authority (the address of its ACME directory)"),
                                   wanted.directory if wanted else "")
        self.directory.setPlaceholderText(tr("https://authority.example/directory"))
        self._ask = button(tr("Get a certificate"), self.ask, main=True)
        line = QHBoxLayout()
        line.addWidget(self.directory, 1)
        line.addWidget(button(tr("Practice authority"), self.use_practice))
        line.addWidget(self._ask)
        self._words = label("", "small", wrap=True)
        self.body.addWidget(label(tr("From the authority at"), "small"))
        self.body.addLayout(line)
        self.body.addWidget(self._words)
        self.body.addWidget(label(tr(
            "Your host asks it, proves the names, and renews in time. By asking you agree to the "
            "authority's terms."), "small", wrap=True))

    @property
    def wanted(self) -> str:
        """The authority that was asked; empty for none yet."""
        wanted = self._kept.wanted()
        return wanted.directory if wanted else ""

    def door(self) -> Door | None:
        """Return where https is answered while the authority is the practice one: at this
        machine's own host."""
        stand = self._outcomes.stand
        if stand is None or not self.wanted.startswith(_PRACTICE):
            return None
        try:
            root = (practice_folder(self._session.folder, "authority") / "root.pem").read_text()
        except OSError:
            return None
        return Door("127.0.0.1", stand.tls_port, root[root.find("-----BEGIN CERT"):])

    def use_practice(self) -> None:
        """Start the practice authority, and fill in where it is."""
        stand = self._outcomes.stand
        try:
            if stand is None:
                raise ChildError("child-ended")
            stand.start_practice("authority")
        except ChildError as error:
            self._session.said.emit(tr("The practice authority did not start: {error}",
                                       error=error), True)
            return
        facts = read_address(practice_folder(self._session.folder, "authority")) or {}
        self.directory.show_words(str(facts.get("url", "")))

    def ask(self) -> None:
        """Ask for a certificate, or again after a fault."""
        try:
            self._kept.want(self.directory.text().strip(), int(time.time() * 1000))
        except StrictError as error:
            self._session.said.emit(str(error), True)
            return
        except OSError as error:
            self._session.said.emit(tr("That could not be kept: {why}.",
                                       why=error.strerror or error), True)
            return
        self.refresh()
        self.asked.emit()

    def refresh(self) -> None:
        """Say how it fares now."""
        wanted, state = self._kept.wanted(), self._kept.state()
        blocked = self.why_not()
        self._ask.setEnabled(not blocked)
        stand = self._outcomes.stand
        words = blocked or self.words(wanted, state, stand is not None and stand.tls_port > 0)
        if words != self._words.text():
            self._words.setText(words)
        well = state.certified is not None and not state.fault and not blocked
        repaint_role(self._words, "good" if well else "fault" if state.fault else "small")

    def why_not(self) -> str:
        """Return why none can be asked for yet."""
        if not self._session.site.domain:
            return tr("The site needs a domain first.")
        live = self._outcomes.live
        if live is None or live.domain != self._session.site.domain:
            return tr("The host does not know the domain yet: send a page first, in Send.")
        return ""

    @staticmethod
    def words(wanted: WantedCertificate | None, state: State, runs: bool) -> str:
        """Return how the getting fares, in words.

        Args:
            runs: The host runs beside this window.
        """
        lines = []
        if state.certified is not None:
            lines.append(tr("{names}: certified by {issuer} until {day}. Renewed by itself before "
                            "that.", names=", ".join(sorted(state.certified.names)),
                            issuer=state.certified.issuer, day=state.certified.until[:10]))
        if state.left_out:
            lines.append(tr("Not certified, as the authority does not reach it here: {names}. "
                            "Tried again by itself.", names=", ".join(state.left_out)))
        if wanted is not None and wanted.asked_ms > state.tried_ms:
            lines.append(tr("Asked for. The host sees to it within a minute or two.") if runs else
                         tr("Asked for. It is seen to once a host of this project runs."))
        elif state.fault:
            again = time.strftime("%H:%M", time.localtime(state.next_ms / 1000))
            lines.append(tr("{fault} Next try at {again}, or when you ask.", fault=state.fault,
                            again=again))
        return "\n".join(lines) or tr("None was asked for yet.")
