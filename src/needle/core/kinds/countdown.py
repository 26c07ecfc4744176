"""A countdown to a moment, or of a time that each visitor has."""

from datetime import datetime
from typing import Annotated
from zoneinfo import ZoneInfo, available_timezones

import msgspec
from markupsafe import Markup

from needle.core.kinds.kind import TYPE_TRAITS, Field, Kind, Wishes
from needle.core.markup.markup import join, tag
from needle.core.markup.surroundings import Surroundings
from needle.core.messages.formats import moment_in
from needle.core.messages.message import Message, say
from needle.core.values.areas import Area
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


def _check_until(value: object) -> Message | None:
    try:
        datetime.fromisoformat(str(value))
    except ValueError:
        return say("countdown-until", given=value)
    return None


def _check_zone(value: object) -> Message | None:
    known = str(value) in available_timezones()
    return None if known else say("countdown-zone", given=value)


def _new(node_id: Id) -> Countdown:
    return Countdown(id=node_id, ended="This has ended.")


def _suit(node: Countdown, wishes: Wishes) -> Countdown:
    return msgspec.structs.replace(node, until=f"{wishes.deadline} 20:00") \
        if wishes.deadline else node


def _summary(node: Countdown, context: Surroundings) -> str:
    moment = _moment(node)
    if node.hours:
        return f"Countdown of {node.hours} h for each visitor"
    return f"Countdown to {moment:%d %b %Y %H:%M}" if moment else "Countdown to no date yet"


def _render(node: Countdown, context: Surroundings) -> Markup:
    attributes = context.attributes(node, f"countdown t-{node.style}")
    moment = _moment(node)
    if not node.hours and moment is None and context.mode != "edit":
        return tag("div", attributes)
    attributes |= {
        "role": "timer", "data-ended": node.ended,
        "data-hours": node.hours or None, "data-id": node.id if node.hours else None,
        "data-until": int(moment.timestamp() * 1000) if moment and not node.hours else None}
    boxes = join(tag("span", {"class": "left"}, tag("b", {"data-unit": unit}, "–"),
                     " " + context.words(f"countdown-{unit}")) for unit in _UNITS)
    plain = "" if node.hours else _plain(moment, context)
    return tag("div", attributes, tag("span", {"class": "until"}, plain) if plain else "", boxes)


def _plain(moment: datetime | None, context: Surroundings) -> str:
    """Return the moment itself, which is what a visitor reads before the script runs."""
    if moment is None:
        return "No date yet"
    return context.words("countdown-plain", moment=moment_in(context.language, moment))


KIND = Kind(
    purpose="To act on",
    about="The time left until a moment (deadline, timer)",
    type=Countdown, label="Countdown", mark="clock", traits=TYPE_TRAITS, new=_new,
    render=_render, suit=_suit, summary=_summary, runtime="countdown",
    reads=frozenset({Area.LANGUAGE}), cuts=frozenset({("body", 700)}),
    fields=(
        Field(name="until", label="Until", editor="line", check=_check_until),
        Field(name="zone", label="Time zone", editor="line", check=_check_zone),
        Field(name="hours", label="Or hours each", editor="number"),
        Field(name="ended", label="Then says", editor="line"),
        Field(name="style", label="Style", editor="style")),
    css=(".countdown{min-height:44px;display:flex;align-items:center;flex-wrap:wrap;gap:8px;font-variant-numeric:tabular-nums}"
         ".countdown .left{display:none;padding:6px 12px;border-radius:var(--corner-small,4px);"
         "background:color-mix(in srgb,currentColor 14%,transparent)}"
         ".countdown.runs .left{display:block}.countdown.runs .until{display:none}"),
)
