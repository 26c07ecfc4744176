"""Connect: forms and their threads, the services, tracking, and the shop."""

from needle.core.values.ids import Id
from needle.ui.cards import Tabbed, button
from needle.ui.connect.campaigns import LinkDialog
from needle.ui.connect.described import ServiceReader
from needle.ui.connect.forms import FormsPart
from needle.ui.connect.services import ServicesPart
from needle.ui.connect.shop import ShopPart
from needle.ui.connect.tracking import TrackingPart
from needle.ui.connect.trial import TrialDialog
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session

__all__ = ["ConnectStage"]


class ConnectStage(Tabbed):
    """Four parts under one bar: Forms, Services, Tracking, Shop."""

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session = session
        self._outcomes = outcomes
        self.reader = ServiceReader(session.folder, self)
        self.forms = FormsPart(session, outcomes, self.reader)
        self.services = ServicesPart(session, outcomes, self.reader)
        self.tracking = TrackingPart(session, outcomes)
        self.shop = ShopPart(session)
        self.shop.form_asked.connect(self.choose)
        self.trial: TrialDialog | None = None
        self.links: LinkDialog | None = None
        self.lay_out({"Forms": self.forms, "Services": self.services, "Tracking": self.tracking,
                     "Shop": self.shop})
        self._bar.right.addWidget(button(tr("Send a trial lead"), self.send_trial))
        self._bar.right.addWidget(button(tr("Make a campaign link"), self.make_link))

    def choose(self, form_id: Id) -> None:
        """Show a form."""
        self.show_part("Forms")
        self.forms.choose(form_id)

    def send_trial(self) -> None:
        """Send marked data through the chosen form and follow it."""
        form = self.forms.form
        if form is None:
            self._session.said.emit(tr("There is no form to send through yet."), True)
            return
        self.trial = TrialDialog(self, self._session, self._outcomes, form)
        self.trial.show()
        self.trial.begin()

    def make_link(self) -> None:
        """Make an address that tells where a visitor came from."""
        self.links = LinkDialog(self, self._session, self._outcomes)
        self.links.show()
