"""What the made-up visitors of the demo do on its pages, besides sending forms or not."""

from collections.abc import Iterator, Mapping, Sequence
from typing import Any

import numpy as np

from needle.core.measure.events import Event, EventKind
from needle.core.site.site import Page, Site
from needle.core.values.form import Form

__all__ = ["walk_on"]

# Of those who come to a page with a popup and send nothing, who opens it, by device; and of those,
# who begins with the form, and who comes to its second step.
_OPENS = {"phone": 0.33, "tablet": 0.42, "desktop": 0.5}
_BEGINS, _GOES_ON = 0.72, 0.4
# Who goes on from the home page to the calendar.
_ON_TO_CALENDAR = 380
_SECONDS = 1000


def walk_on(seen: Sequence[Mapping[str, Any]], won: Sequence[dict[str, Any]], site: Site,
            ) -> list[Event]:
    """Return all events of the demo's visitors, in the order of their times.

    Args:
        seen: Visits, as rows.
        won: Leads of people, as rows.
    """
    rng = np.random.default_rng(77)
    pages = {page.name: page for page in site.pages}
    by_id, forms = {page.id: page for page in site.pages}, {form.id: form for form in site.forms}
    sent = {(row["visitor"], row["page"]): row for row in won}
    night = next(form for form in site.forms if form.name == "Keep me a place")
    came_home = [row for row in seen if row["page"] == pages["Home"].id
                 and (row["visitor"], row["page"]) not in sent]
    told: list[Event] = []
    going_on = iter(rng.permutation(len(came_home))[:_ON_TO_CALENDAR].tolist())
    for row in seen:
        lead, page = sent.get((row["visitor"], row["page"])), by_id[row["page"]]
        form = forms[lead["form"]] if lead else night
        visit, done = dict(row), dict(lead) if lead else None
        if page is pages["Sky calendar"] and (number := next(going_on, None)) is not None:
            before = came_home[number]  # They came by the home page, so they are the same person.
            visit |= {"visitor": before["visitor"], "at": before["at"] + 50 * _SECONDS,
                      "source": "direct", "device": before["device"]}
            if done and lead:
                done |= {"visitor": before["visitor"], "at": visit["at"] + 40 * _SECONDS}
                lead.update(visitor=done["visitor"], at=done["at"])
        told += _visit(rng, visit, page, form, done)
    return sorted(told, key=lambda event: event.at_ms)


def _visit(rng: np.random.Generator, visit: Mapping[str, Any], page: Page, form: Form,
           lead: Mapping[str, Any] | None) -> Iterator[Event]:
    def event(kind: EventKind, after_s: float, **more: Any) -> Event:
        return Event(at_ms=int(visit["at"] + after_s * _SECONDS), visitor=visit["visitor"],
                     kind=kind, page=visit["page"], variant=visit["variant"], **more)

    yield event(EventKind.VISIT, 0, source=visit["source"], campaign=visit["campaign"],
                device=visit["device"])
    popup = next((popup for variant in page.variants if variant.key == visit["variant"]
                  for popup in variant.popups), None)
    if popup is not None:
        if not lead and rng.random() > _OPENS[visit["device"]]:
            return
        yield event(EventKind.POPUP, 9, what=popup.id)
        if not lead and rng.random() > _BEGINS:
            return
    elif not lead:
        return
    yield event(EventKind.OPEN, 11, what=form.id)
    goes_on = bool(lead) or rng.random() < _GOES_ON
    yield from _fields(rng, event, form, goes_on, bool(lead))
    if lead:
        yield Event(at_ms=lead["at"], visitor=visit["visitor"], kind=EventKind.LEAD,
                    page=visit["page"], variant=visit["variant"], what=form.id)


def _fields(rng: np.random.Generator, event: Any, form: Form, goes_on: bool, sends: bool,
            ) -> Iterator[Event]:
    """Go through the fields of a form until its end, or until it is given up."""
    shown = [field for field in form.fields if field.label and field.role != "hidden"]
    last = len(shown) if sends else (
        int(rng.integers(2, len(shown) + 1)) if goes_on else 1)
    for number, field in enumerate(shown[:last]):
        name = f"{form.id}.{field.id}"
        if number == 1 and goes_on and form.steps:
            yield event(EventKind.STEP, 14, what=form.id, amount=2)
        took = float(rng.gamma(4, 1.2)) * (2.2 if field.role == "email" else 1)
        yield event(EventKind.FIELD, 15 + 4 * number, what=name, amount=int(took * _SECONDS))
        if field.role == "email" and rng.random() < 0.12:
            yield event(EventKind.FAULT, 16 + 4 * number, what=name)
    if not sends:
        yield event(EventKind.STOP, 60, what=f"{form.id}.{shown[last - 1].id}")
