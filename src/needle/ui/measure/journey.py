"""Journey: how people went through the site, where they left, and what changed about it."""

import time
from datetime import timedelta

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QVBoxLayout, QWidget

from needle.core.measure.difference import Difference
from needle.core.measure.hours import week_hours
from needle.core.measure.journey import places_of
from needle.core.measure.passages import Loss, Passage
from needle.core.values.counting import counted
from needle.core.values.form import Form
from needle.store.results.journeys import FieldCount
from needle.ui.cards import Card, Table, button, label, scrolled
from needle.ui.editors import ChoiceEdit
from needle.ui.language import tr
from needle.ui.measure.flow import FlowView
from needle.ui.measure.hours import HourGrid, hour_words
from needle.ui.measure.journeyreading import Reading, Wanted, read_journey
from needle.ui.measure.placewords import device_words, place_words
from needle.ui.measure.twotimes import EPOCH, TwoTimesDialog
from needle.ui.moments import own_zone
from needle.ui.outcomes import Outcomes
from needle.ui.readbeside import ReadBeside
from needle.ui.session import Session

__all__ = ["JourneyPart"]

_DAY_S = 86_400
_OWN = -1
# Fewer visits say nothing of where people leave.
_FEWEST = 30


class JourneyPart(QWidget):
    """The picture of the way, its steps in a table, and the fields of a form.

    Signals:
        publish_asked: Nobody has come, and the person wants to send pages.
        practice_asked: Nobody has come, and the person wants to see made-up people come.
    """

    publish_asked = pyqtSignal()
    practice_asked = pyqtSignal()

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session, self._outcomes = session, outcomes
        self._wanted = Wanted((0, 0, 0, 0))
        self._own: tuple[int, int, int, int] | None = None
        self._stamp: object = None
        self.reading: Reading | None = None
        self._engine = outcomes.engine
        self._reader = ReadBeside(self)
        self._reader.read.connect(self._take)
        self.flow = FlowView()
        self.flow.picked.connect(self.go_through)
        self.words = Table(tr("Words from the advert"), (
            tr("In the address"), tr("Shown"), tr("Visits"), tr("Converted"), tr("Rate")), 1,
            right=(2, 3, 4))
        self._make_choices()
        self.steps = Table(tr("Steps of the way"), (
            tr("Step"), tr("Came"), tr("Went on"), tr("Share"), tr("Before"),
            tr("Difference, range"), tr("What stands out")), 6, right=(1, 2, 3, 4, 5))
        self.fields = Table(tr("Fields of the form"), (
            tr("Field"), tr("Filled in"), tr("Seconds each"), tr("Found wrong"),
            tr("Gave up here")), 0, right=(1, 2, 3, 4))
        self.hours = HourGrid()
        self.brought = Table(tr("What brought leads"), (
            tr("Source"), tr("Page"), tr("Leads"), tr("Won"), tr("Lost"), tr("Still open")), 1,
            right=(2, 3, 4, 5))
        self._lay_out()

    def _make_choices(self) -> None:
        self.period = ChoiceEdit(tr("Time"), {
            7: tr("Last 7 days"), 28: tr("Last 4 weeks"), 84: tr("Last 12 weeks"),
            _OWN: tr("Two times…")}, inherit=False)
        self.period.show_value(28)
        self.device = ChoiceEdit(tr("Device"), {"": tr("Every device")}, inherit=False)
        self.source = ChoiceEdit(tr("Source"), {"": tr("Every source")}, inherit=False)
        self.campaign = ChoiceEdit(tr("Campaign"), {"": tr("Every campaign")}, inherit=False)
        self.variant = ChoiceEdit(tr("Variant"), {"": tr("Every variant")}, inherit=False)
        self.form = ChoiceEdit(tr("Form"), {}, inherit=False)
        for edit, width in ((self.period, 130), (self.device, 130), (self.source, 160),
                            (self.campaign, 150), (self.variant, 130), (self.form, 220)):
            edit.setMinimumWidth(width)
        for edit in (self.device, self.source, self.campaign, self.variant):
            edit.chosen.connect(lambda _: self._ask())
        self.period.activated.connect(lambda _: self._choose_time())
        self.form.chosen.connect(lambda _: self._show_fields())
        self.all = button(tr("Show all visits"), lambda: self.go_through(""))

    def _lay_out(self) -> None:
        self._head = Card("")
        self._says = label("", "small", wrap=True)
        self._when = label("", "small")
        choices = QHBoxLayout()
        choices.addWidget(self._when)
        choices.addStretch()
        for one in (self.all, self.period, self.device, self.source, self.campaign,
                    self.variant):
            choices.addWidget(one)
        self._head.body.addWidget(self._says)
        self._begin = button(tr("Send pages"), self.publish_asked.emit, main=True)
        line = QHBoxLayout()
        line.addWidget(self._begin)
        self._practise = button(tr("Practice visitors…"), self.practice_asked.emit)
        line.addWidget(self._practise)
        line.addStretch()
        self._head.body.addLayout(line)
        self._picture = Card("", grows=True)
        self._picture.title.hide()
        self._picture.body.addWidget(self.flow)
        self._table = Card(tr("Step by step"))
        self._table.body.addWidget(self.steps)
        self._asked = Card(tr("In the form"))
        self._asked.head.addWidget(self.form)
        self._asked.body.addWidget(self.fields)
        self._clock = Card(tr("By hour of the week"))
        self._clock.body.addWidget(self.hours)
        self._hour_words = label("", "small", wrap=True)
        self._clock.body.addWidget(self._hour_words)
        self._adverts = Card(tr("Words from the advert"))
        self._adverts.body.addWidget(self.words)
        self._leads = Card(tr("What brought leads, and what was won"))
        self._lead_words = label("", "small", wrap=True)
        self._leads.body.addWidget(self._lead_words)
        self._leads.body.addWidget(self.brought)
        inside = QWidget()
        inside.setObjectName("work")
        inside.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        column = QVBoxLayout(inside)
        column.setContentsMargins(18, 14, 18, 14)
        column.addLayout(choices)
        for card in (self._head, self._picture, self._table, self._asked, self._adverts,
                     self._leads, self._clock):
            column.addWidget(card)
        column.addStretch()
        whole = QVBoxLayout(self)
        whole.setContentsMargins(0, 0, 0, 0)
        whole.addWidget(scrolled(inside))

    # Asking

    def refresh(self) -> None:
        """Read again if something came in or the site is another since the last reading."""
        stamp = (self._outcomes.figures, self._session.site, int(time.time() // _DAY_S))
        if stamp != self._stamp:
            self._stamp = stamp
            self._ask()

    def _choose_time(self) -> None:
        """Take a time of the list, or ask for two of one's own."""
        if int(self.period.currentData()) != _OWN:
            self._own = None
        else:
            asking = TwoTimesDialog(self._own or self._wanted.times, self)
            if asking.exec():
                self._own = asking.times
            elif self._own is None:
                self.period.show_value(28)
        self._ask()

    def _times(self) -> tuple[int, int, int, int]:
        """The days that are shown, and those they are held against."""
        if self._own is not None:
            return self._own
        today, days = int(time.time() // _DAY_S), int(self.period.currentData())
        return today - days + 1, today, today - 2 * days + 1, today - days

    def show_days(self, days: int) -> None:
        """Show the last days, against as many before: 7, 28 or 84."""
        self._own = None
        self.period.show_value(days)
        self._ask()

    def go_through(self, place: str) -> None:
        """Show only visits that were at a place; at no place in particular, all."""
        same = place == self._wanted.through
        self._ask("" if same else place)

    def _ask(self, through: str | None = None) -> None:
        self._wanted = Wanted(
            self._times(), str(self.device.currentData()), str(self.source.currentData()),
            str(self.campaign.currentData()), str(self.variant.currentData()),
            self._wanted.through if through is None else through)
        wanted, places = self._wanted, places_of(self._session.whole)
        self._reader.ask(lambda: read_journey(self._engine, wanted, places))

    def end(self) -> None:
        """Wait for what is being read."""
        self._reader.end()

    # Showing

    def _take(self, reading: Reading) -> None:
        self.reading = reading
        some = reading.now.visits > 0
        self._picture.setVisible(some)
        self._table.setVisible(some and bool(reading.passages))
        for one in (self._begin, self._practise):
            one.setVisible(not some and not self._filtered() and not reading.fault)
        self.all.setVisible(bool(reading.wanted.through))
        self._offer(self.device, tr("Every device"), {
            name: device_words(name) for name in reading.devices})
        self._offer(self.source, tr("Every source"), {
            name: tr("No source") if name == "direct" else name for name in reading.sources})
        self._offer(self.campaign, tr("Every campaign"), {
            name: name for name in reading.campaigns})
        self.campaign.setVisible(self.campaign.count() > 1)
        self._offer(self.variant, tr("Every variant"), {
            f"{page.id}.{one.key}": tr("{page} {key}", page=page.name, key=one.key)
            for page in self._session.whole.pages if page.tested for one in page.variants})
        self.variant.setVisible(self.variant.count() > 1)
        self.flow.show_journey(reading.now, reading.wanted.through)
        self._show_head(reading)
        self._show_steps(reading)
        self._show_forms(reading)
        self._show_words(reading)
        self._show_hours(reading)
        self._show_brought(reading)

    def _filtered(self) -> bool:
        wanted = self._wanted
        return bool(wanted.device or wanted.source or wanted.campaign or wanted.variant
                    or wanted.through)

    @staticmethod
    def _offer(edit: ChoiceEdit, every: str, choices: dict[str, str]) -> None:
        """Offer these values; the chosen one stays, also if there is none of it any more."""
        chosen, words = str(edit.currentData()), edit.currentText()
        edit.clear()
        for value, said in {"": every, **choices}.items():
            edit.addItem(said, value)
        if edit.findData(chosen) < 0:
            edit.addItem(words, chosen)
        edit.show_value(chosen)

    def _show_head(self, reading: Reading) -> None:
        now = reading.now
        if reading.fault:
            title, says = tr("The results cannot be read just now"), tr(
                "Their database does not answer. Leads are kept by the host as long as it "
                "reaches it.")
        elif not now.visits:
            title = tr("Nobody has come in this time")
            says = tr("Once pages are live and visited, their visitors' ways are drawn here: where "
                      "they came from, what they opened, and where they left.")
            if self._filtered():
                says = tr("Choose a longer time, or another device, source or campaign.")
        else:
            title = _loss_title(reading.loss) if reading.loss else tr("Every visit converted")
            if reading.loss and now.visits < _FEWEST:
                title = tr("Too few have come to say where they leave")
            says = self._said(reading)
        self._when.setText(_when(reading.wanted))
        self._head.title.setText(title)
        self._says.setText(says)

    def _said(self, reading: Reading) -> str:
        now, before = reading.now, reading.before
        parts = [tr("{won:,} of {visits} converted ({rate}).", won=now.won,
                    visits=counted(now.visits, tr("visit")), rate=_percent(now.won / now.visits)),
                 tr("In the time before, {won:,} of {visits:,} ({rate}).", won=before.won,
                    visits=before.visits, rate=_percent(before.won / before.visits))
                 if before.visits else tr("Nobody came in the time before.")]
        if reading.loss and reading.loss.devices:
            (low, share_low), (high, share_high) = reading.loss.devices
            parts.append(tr("More end there on the {high} ({share_high}) than on the {low} "
                            "({share_low}).", high=device_words(high), low=device_words(low),
                            share_high=_percent(share_high), share_low=_percent(share_low)))
        stop = now.stops.get(reading.wanted.through)
        if stop is not None:
            parts.append(tr("Shown are visits by way of {place} only.",
                            place=place_words(stop.place)))
        return " ".join(parts)

    def _show_steps(self, reading: Reading) -> None:
        self.steps.show_rows([(
            f"{place_words(one.start)} → {place_words(one.end)}", f"{one.came:,}",
            f"{one.went:,}", _percent(one.share),
            _percent(one.before[1] / one.before[0]) if one.before[0] else "–",
            _range(one.change), self._stands_out(one, reading)) for one in reading.passages])
        self.steps.fit_height(12)

    def _stands_out(self, one: Passage, reading: Reading) -> str:
        if one.start.kind in ("form", "step"):
            form = self._form_of(one.start.of)
            stops = {field.label: reading.fields[key].stops for field in form.fields
                     if (key := f"{form.id}.{field.id}") in reading.fields
                     and _step_of(form, field.step) == max(1, one.start.number)} if form else {}
            worst = max(stops, key=lambda name: stops[name], default="")
            if worst and stops[worst]:
                return tr("{stops:,} gave up at “{field}”", stops=stops[worst], field=worst)
        return ", ".join(f"{device_words(device)} {_percent(share)}"
                         for device, share in one.devices)

    def _show_hours(self, reading: Reading) -> None:
        hours = week_hours(reading.hours, own_zone())
        self._clock.setVisible(bool(hours.came.any()))
        self.hours.show_hours(hours)
        self._hour_words.setText(hour_words(hours) + tr(
            " Of all pages, whatever is chosen above; by the clock of {zone}. The darker, the "
            "more came; the larger the dot, the more of them converted.", zone=own_zone().key))

    def _show_words(self, reading: Reading) -> None:
        known = {one.id: one for one in self._session.site.adverts}
        rows = []
        for told in reading.words:
            advert = known.get(told.advert)
            if advert is None:
                continue  # There are none of these any more.
            value = next((one for one in advert.values if one.number == told.number), None)
            said, shown = (f"{advert.param} = {value.said}", value.shown) if value else (
                tr("{name}, no longer there", name=advert.param) if told.number else
                tr("{name}, anything else", name=advert.param),
                "" if told.number else tr("the page's own words"))
            rows.append((said, shown,
                         f"{told.visits:,}", f"{told.won:,}", _percent(told.won / told.visits)))
        self._adverts.setVisible(bool(rows))
        self.words.show_rows(rows)
        self.words.fit_height(10)

    def _show_brought(self, reading: Reading) -> None:
        names = {page.id: page.name for page in self._session.whole.pages}
        self._leads.setVisible(bool(reading.brought))
        self.brought.show_rows([(
            tr("No source") if one.source == "direct" else one.source,
            names.get(one.page, tr("A page that is gone")), f"{one.leads:,}", f"{one.won:,}",
            f"{one.lost:,}", f"{one.leads - one.won - one.lost:,}") for one in reading.brought])
        self.brought.fit_height(10)
        won = sum(one.won for one in reading.brought)
        total = sum(one.leads for one in reading.brought)
        self._lead_words.setText(tr(
            "{won:,} of {leads:,} leads of this time were won so far, as marked in the lead book; "
            "of all devices and variants.", won=won, leads=total) if won else tr(
            "None of the {leads:,} leads of this time is marked as won yet: the lead book keeps "
            "what becomes of each.", leads=total))

    def _form_of(self, form_id: str) -> Form | None:
        return next((form for form in self._session.site.forms if form.id == form_id), None)

    def _show_forms(self, reading: Reading) -> None:
        known = {key.partition(".")[0] for key in reading.fields}
        forms = {form.id: form.name for form in self._session.site.forms if form.id in known}
        chosen = self.form.currentData()
        self.form.clear()
        for form_id, name in forms.items():
            self.form.addItem(name, form_id)
        if chosen in forms:
            self.form.show_value(chosen)
        self._asked.setVisible(bool(forms) and reading.now.visits > 0)
        self._show_fields()

    def _show_fields(self) -> None:
        form = self._form_of(str(self.form.currentData() or ""))
        fields = self.reading.fields if self.reading else {}
        rows = []
        for one in form.fields if form else ():
            told = fields.get(f"{form.id}.{one.id}") if form else None
            if told is not None:
                rows.append((one.label, f"{told.times:,}", _seconds(told), f"{told.faults:,}",
                             f"{told.stops:,}"))
        self.fields.show_rows(rows)
        self.fields.fit_height(14)


def _step_of(form: Form, step: str) -> int:
    """Return at which step of a form, from 1, a field is asked for."""
    return next((number for number, one in enumerate(form.steps, 1) if one.id == step), 1)


def _loss_title(loss: Loss) -> str:
    title = tr("Of 100 visits that came to {place}, {lost} ended there",
               place=place_words(loss.stop.place), lost=round(loss.share * 100))
    change = loss.change
    if change is None:
        return f"{title}."
    if not change.beyond_chance:
        return tr("{title}; against the time before that is within chance.", title=title)
    count = max(1, round(abs(change.shift) * 100))
    return tr("{title}, {count} more than in the time before.", title=title, count=count) \
        if change.shift > 0 else tr("{title}, {count} fewer than in the time before.",
                                    title=title, count=count)


def _when(wanted: Wanted) -> str:
    """Return the days that are shown, and those they are held against."""
    first, last, other, other_last = (EPOCH + timedelta(days=day) for day in wanted.times)
    if other_last == first - timedelta(days=1) and other_last - other == last - first:
        return tr("{first:%d %b} – {last:%d %b}, against the {days} days before", first=first,
                  last=last, days=(last - first).days + 1)
    return tr("{first:%d %b %y} – {last:%d %b %y}, against {other:%d %b %y} – {end:%d %b %y}",
              first=first, last=last, other=other, end=other_last)


def _percent(share: float) -> str:
    return f"{share:.1%}".replace("%", " %")


def _range(change: Difference | None) -> str:
    if change is None:
        return "–"
    low, high, shift = (f"{value * 100:+.1f}".replace("-", "−")
                        for value in (change.low, change.high, change.shift))
    return f"{shift} ({low} … {high})"


def _seconds(told: FieldCount) -> str:
    return f"{told.took_ms / told.times / 1000:.1f}" if told.times else "–"
