"""How a split test is meant: what is believed, what counts, for whom it is and when."""

from datetime import UTC, datetime

from PyQt6.QtWidgets import (
    QCheckBox,
    QDialog,
    QFormLayout,
    QHBoxLayout,
    QLineEdit,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.place import EditError
from needle.core.edit.testing import set_plan
from needle.core.measure.clashes import tested_along
from needle.core.measure.goals import goals_of, goals_on
from needle.core.site.site import Page
from needle.core.values.testplan import ANY_GOAL, DEVICES
from needle.publish.refusing import PublishError
from needle.ui.cards import button, foot, label
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.moments import MomentEdit, own_zone
from needle.ui.session import Session

__all__ = ["DEVICE_WORDS", "MeaningDialog", "goal_name"]

DEVICE_WORDS = {"phone": tr("phones"), "tablet": tr("tablets"), "desktop": tr("desktops")}


class _MaybeMoment(QWidget):
    """A moment that there is or is not."""

    def __init__(self, name: str, iso: str, hours: int) -> None:
        super().__init__()
        self._before = iso
        self.there = QCheckBox(name)
        self.there.setChecked(bool(iso))
        self.edit = MomentEdit(name, hours)
        self.edit.setEnabled(bool(iso))
        self.there.toggled.connect(self.edit.setEnabled)
        if iso:
            self.edit.show_moment(datetime.fromisoformat(iso))
        self._shown = self.edit.dateTime()
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.addWidget(self.there)
        row.addWidget(self.edit, 1)

    def iso(self) -> str:
        """Return what is set, in UTC; empty for nothing. Raises as `MomentEdit.moment` does."""
        if not self.there.isChecked():
            return ""
        if self._before and self.edit.dateTime() == self._shown:
            return self._before  # One that is past by now stays what it was.
        return self.edit.moment().astimezone(UTC).isoformat(timespec="minutes")


class MeaningDialog(QDialog):
    """Asks all of it about the running test of a page."""

    def __init__(self, session: Session, page: Page, parent: QWidget) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("How the test is meant"))
        self.setMinimumWidth(560)
        self._session, self._page = session, page
        plan = page.plan
        self.believed = QLineEdit(plan.believed)
        self.believed.setMaxLength(400)
        self.believed.setAccessibleName(tr("What you believe"))
        self.believed.setPlaceholderText(tr("A shorter form brings more places kept"))
        goals = dict.fromkeys(goal for _, goal in goals_on(session.site, page))
        self.counts = ChoiceEdit(tr("What counts"), {
            ANY_GOAL: tr("Whatever counts on the page"),
            **{goal: goal_name(session, goal) for goal in (*goals, plan.counts) if goal}},
            inherit=False)
        self.counts.show_value(plan.counts)
        self.sources = QLineEdit(", ".join(plan.sources))
        self.sources.setAccessibleName(tr("Only for visitors from"))
        self.sources.setPlaceholderText(tr("anywhere; or sources, with commas between"))
        self.devices = {device: QCheckBox(DEVICE_WORDS[device]) for device in DEVICES}
        for device, box in self.devices.items():
            box.setChecked(not plan.devices or device in plan.devices)
        self.begins = _MaybeMoment(tr("Begins on"), plan.begins, 24)
        self.ends = _MaybeMoment(tr("Ends on"), plan.ends, 24 * 28)
        self.said = label("", "fault", wrap=True)
        self._lay_out()

    def _lay_out(self) -> None:
        form = QFormLayout()
        form.setFieldGrowthPolicy(QFormLayout.FieldGrowthPolicy.AllNonFixedFieldsGrow)
        boxes = QHBoxLayout()
        for box in self.devices.values():
            boxes.addWidget(box)
        boxes.addStretch()
        form.addRow(tr("What you believe"), self.believed)
        form.addRow(tr("What counts"), self.counts)
        form.addRow(tr("Only from"), self.sources)
        form.addRow(tr("Only on"), boxes)
        form.addRow("", self.begins)
        form.addRow("", self.ends)
        column = QVBoxLayout(self)
        column.setSpacing(8)
        column.addLayout(form)
        column.addWidget(label(tr(
            "Whom it is not for gets the first variant and is none of its visitors. A change of "
            "whom or when is a new test once the page is sent. By the clock of {zone}.",
            zone=own_zone().key), "small", wrap=True))
        others = tested_along(self._session.site, self._page)
        if others:
            column.addWidget(label(tr(
                "{pages} is tested too and lies on the same way: what visitors saw of one test "
                "sways the other. Better one after the other.",
                pages=", ".join(other.name for other in others)), "unsure", wrap=True))
        column.addWidget(self.said)
        column.addLayout(foot(button(tr("Cancel"), self.reject),
                              button(tr("Keep"), self._take, main=True)))

    def _take(self) -> None:
        devices = tuple(one for one, box in self.devices.items() if box.isChecked())
        if not devices:
            self.said.setText(tr("A test on no device has no visitors: choose one."))
            return
        typed = (" ".join(one.split())[:120] for one in self.sources.text().split(","))
        try:
            values = {
                "believed": " ".join(self.believed.text().split()),
                "counts": self.counts.currentData(),
                "sources": tuple(dict.fromkeys(one for one in typed if one)),
                "devices": () if len(devices) == len(DEVICES) else devices,
                "begins": self.begins.iso(), "ends": self.ends.iso()}
            set_plan(self._session.site, self._page.id, **values)
        except (PublishError, EditError) as error:
            self.said.setText(str(error))
            return
        self._session.edit(tr("how the test is meant"),
                           lambda site: set_plan(site, self._page.id, **values))
        self.accept()


def goal_name(session: Session, key: str) -> str:
    """Return what a goal is called."""
    return next((goal.name for goal in goals_of(session.site) if goal.key == key), key)
