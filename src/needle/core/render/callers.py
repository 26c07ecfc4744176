"""Which outside calls the links of a page lead to, and the lines for the pages that call."""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from typing import ClassVar

from needle.core.markup.markup import Attributes, tag
from needle.core.render.reads import actions_of
from needle.core.render.texts import runs_of
from needle.core.site.site import Site
from needle.core.values.actions import GoAddress
from needle.core.values.node import Node
from needle.core.values.outsidecall import OutsideCall, leads_to

__all__ = ["CallLines", "call_lines", "calls_reached"]


def calls_reached(site: Site, nodes: Iterable[Node]) -> tuple[OutsideCall, ...]:
    """Return the calls of a site to whose pages the links of some nodes lead."""
    if not any(call.begins for call in site.calls):
        return ()
    addresses = {address for node in nodes for address in _addresses(node)}
    return tuple(call for call in site.calls
                 if any(leads_to(call, address) for address in addresses))


def _addresses(node: Node) -> Iterator[str]:
    yield from (run.link for run in runs_of(node) if run.link.startswith("http"))
    yield from (action.address for action in actions_of(node) if isinstance(action, GoAddress))


@dataclass(frozen=True, slots=True)
class CallLines:
    """What is put into pages made elsewhere.

    Attributes:
        everywhere: For each page there: it remembers who came from us.
        reached: For the page that is shown once it is reached.
        picture: Instead, for letters and pages without scripts.
        blank: What in `picture` their server puts the word `needle` of the address in place of.
    """

    everywhere: str
    reached: str
    picture: str
    blank: ClassVar[str] = "NEEDLE"

    @property
    def texts(self) -> tuple[str, str, str]:
        """All three."""
        return self.everywhere, self.reached, self.picture


def call_lines(call: OutsideCall, base: str) -> CallLines:
    """Return the lines for pages made elsewhere.

    Args:
        base: Where this site is reached, without a slash at the end.
    """
    address = f"{base}/_needle/call/{call.id}.{call.key}"
    picture: Attributes = {"src": f"{address}.gif?needle={CallLines.blank}", "alt": "",
                           "width": 1, "height": 1}
    return CallLines(
        tag("script", {"src": f"{address}.js", "async": True}),
        tag("script", {"src": f"{address}.js", "async": True, "data-reached": True}),
        tag("img", picture))
