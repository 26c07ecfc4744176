"""Reading a domain beside the window: its records, and what it shows over https."""

import contextlib
import dataclasses
import logging
import threading
from collections.abc import Callable
from dataclasses import dataclass
from typing import TYPE_CHECKING

from needle.core.domains.diagnosis import Report, diagnose
from needle.core.domains.found import Found, Wanted

if TYPE_CHECKING:
    from needle.services.names import Net
    from needle.services.shown import Door

__all__ = ["Reading", "ToRead"]

_log = logging.getLogger(__name__)


@dataclass(frozen=True)
class ToRead:
    """What is read.

    Attributes:
        net: Which names are asked; `None` for the real ones.
        elsewhere: Servers that a person names as well.
        directory: The authority that is asked for a certificate; empty for none yet.
        door: Where https is answered, if that is another port than the usual one.
    """

    domain: str
    wanted: Wanted
    net: "Net | None"
    elsewhere: tuple[str, ...] = ()
    directory: str = ""
    door: "Door | None" = None


class Reading(threading.Thread):
    """One reading. Servers that are silent take long, and nobody waits for them at the end."""

    def __init__(self, tell: Callable[[str, object, object], None], what: ToRead) -> None:
        super().__init__(daemon=True)
        self._tell, self._what = tell, what

    def run(self) -> None:
        found: Found | None = None
        report: Report | None = None
        try:
            found, report = self._read()
        except Exception:  # What a stranger's server says must not end the reading for good.
            _log.exception("a domain could not be read")
        with contextlib.suppress(RuntimeError):  # The window has gone meanwhile.
            self._tell(self._what.domain, found if report else None, report)

    def _read(self) -> tuple[Found, Report]:
        from needle.services.names import reached_by, read_domain, the_net  # Heavy, needed here.
        from needle.services.shown import Door, shown_for

        what = self._what
        net = what.net or the_net()
        found, wanted = reached_by(read_domain(what.domain, net, what.elsewhere), what.wanted, net)
        wanted = dataclasses.replace(wanted, authority=_called(what.directory))
        report = diagnose(found, wanted)
        if report.leads and wanted.addresses:
            door = what.door or Door((*wanted.fours, *wanted.addresses)[0])
            found = dataclasses.replace(found, shown=shown_for((found.bare, found.www), door))
            report = diagnose(found, wanted)
        return found, report


def _called(directory: str) -> str:
    """Return how CAA records call an authority; nothing if it does not say so."""
    if not directory:
        return ""
    from needle.services.authority import AuthorityError, terms_of  # Heavy, needed only here.

    try:
        return next(iter(terms_of(directory).names), "")
    except AuthorityError:
        return ""
