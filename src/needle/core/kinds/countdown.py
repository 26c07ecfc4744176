"""A countdown to a moment, or of a time that each visitor has."""

from datetime import datetime
from typing import Annotated
from zoneinfo import ZoneInfo, available_timezones

import msgspec
from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, Wishes
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.strict import StyleKey, whole

__all__ = ["KIND", "Countdown"]

_UNITS = ("days", "hours", "minutes", "seconds")


class Countdown(Item, frozen=True, tag="countdown"):
    """What is left until a moment.

    Attributes:
        until: The moment in its zone, "2026-08-12 21:30".
        zone: An IANA time zone.
        hours: If not 0, each visitor has so many hours from their first visit instead.
        ended: The words at zero; empty hides it then.
    """

    until: str = ""
    zone: str = "Europe/London"
    hours: Annotated[int, whole(0, 720)] = 0
    ended: str = ""
    style: StyleKey = "minor"


def _moment(node: Countdown) -> datetime | None:
    try:
        return datetime.fromisoformat(node.until).replace(tzinfo=ZoneInfo(node.zone))
    except (ValueError, KeyError):
        return None


def _check_until(value: object) -> str:
    try:
        datetime.fromisoformat(str(value))
    except ValueError:
        return f"A countdown runs to a date and time like 2026-08-12 21:30, not “{value}”."
    return ""


def _check_zone(value: object) -> str:
    known = str(value) in available_timezones()
    return "" if known else f"“{value}” is no time zone. Write one like Europe/London."


def _new(node_id: Id) -> Countdown:
    return Countdown(id=node_id, hours=24, ended="This has ended.")


def _suit(node: Countdown, wishes: Wishes) -> Countdown:
    return msgspec.structs.replace(node, until=f"{wishes.deadline} 20:00", hours=0) \
        if wishes.deadline else node


def _summary(node: Countdown, context: Surroundings) -> str:
    moment = _moment(node)
    if node.hours:
        return f"Countdown of {node.hours} h for each visitor"
    return f"Countdown to {moment:%d %b %Y %H:%M}" if moment else "Countdown to no date yet"


def _render(node: Countdown, context: Surroundings) -> Markup:
    attributes = context.attributes(node, f"countdown t-{node.style}")
    moment = _moment(node)
    if not node.hours and moment is None:
        return tag("div", attributes, "No date yet" if context.mode == "edit" else "")
    attributes |= {
        "role": "timer", "data-ended": node.ended,
        "data-hours": node.hours or None, "data-id": node.id if node.hours else None,
        "data-until": int(moment.timestamp() * 1000) if moment and not node.hours else None}
    boxes = join(tag("span", {"class": "left"}, tag("b", {"data-unit": unit}, "–"), f" {unit}")
                 for unit in _UNITS)
    # Without a script, or before it runs, the moment itself is what a visitor reads.
    plain = f"Until {moment:%d %B %Y, %H:%M}" if moment and not node.hours else ""
    return tag("div", attributes, tag("span", {"class": "until"}, plain) if plain else "", boxes)


KIND = Kind(
    type=Countdown, label="Countdown", mark="clock", traits=TYPE_TRAITS, new=_new,
    render=_render, suit=_suit, summary=_summary, runtime="countdown",
    cuts=frozenset({("body", 700)}),
    fields=(
        Field(name="until", label="Until", editor="line", check=_check_until),
        Field(name="zone", label="Time zone", editor="line", check=_check_zone),
        Field(name="hours", label="Or hours each", editor="number"),
        Field(name="ended", label="Then says", editor="line"),
        Field(name="style", label="Style", editor="style")),
    css=(".countdown{min-height:44px;display:flex;align-items:center;flex-wrap:wrap;gap:8px;font-variant-numeric:tabular-nums}"
         ".countdown .left{display:none;padding:6px 12px;border-radius:4px;"
         "background:color-mix(in srgb,currentColor 14%,transparent)}"
         ".countdown.runs .left{display:block}.countdown.runs .until{display:none}"),
)
