"""Time that runs out, or seems to."""

from collections.abc import Iterator
from datetime import UTC, datetime
from zoneinfo import ZoneInfo

from needle.core.kinds.countdown import Countdown
from needle.core.snags.snag import ItemAt, Rule, Spot

__all__ = ["RULES"]


def _restarts(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, Countdown) and at.node.hours:
        yield Spot(f"A countdown gives each visitor {at.node.hours} hours of their own")


def _no_date(at: ItemAt) -> Iterator[Spot]:
    if isinstance(at.node, Countdown) and not at.node.hours and not at.node.until.strip():
        yield Spot("A countdown has no date yet")


def _over(at: ItemAt) -> Iterator[Spot]:
    node = at.node
    if not isinstance(node, Countdown) or node.hours:
        return
    try:
        end = datetime.fromisoformat(node.until).replace(tzinfo=ZoneInfo(node.zone))
    except (ValueError, KeyError):
        return  # Another rule says that there is no date yet.
    if end < datetime.now(UTC):
        yield Spot(f"The countdown ended on {end:%d %b %Y}")


RULES = (
    Rule(id="false-urgency", weight=3, scope="item", look=_restarts,
         source="Directive 2005/29/EC, annex I, no. 7",
         reason="An offer that runs out for nobody is a false claim about time: unlawful towards "
                "consumers in many countries, and seen through by who comes twice."),
    Rule(id="countdown-without-date", setting="until",
         weight=2, scope="item", look=_no_date,
         source="trade practice", reason="Visitors see nothing where it stands."),
    Rule(id="countdown-over", setting="until",
         weight=2, scope="item", look=_over, source="trade practice",
         reason="The page offers what is past."),
)
