"""Whether a person or a program sent a form: the host's side of the signs, and proof of work."""

import logging
import secrets
from collections.abc import Mapping

from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from needle.core.leads.checking import Checked
from needle.core.leads.robots import Evidence, Sign, robot_signs
from needle.core.messages.message import say
from needle.core.render.scripts import runtime_script
from needle.core.values.form import Form, Role
from needle.core.values.language import Language
from needle.host.answers import work_page
from needle.host.clock import now_ms
from needle.host.postbody import Posted
from needle.host.practised import moment_of
from needle.host.ranges import Ranges
from needle.host.recognising import asks_not
from needle.host.visitors import VISITOR_COOKIE, address_of
from needle.publish.release import LivePage
from needle.store.seals import WORK_BITS, Seals, proof_holds

__all__ = ["Judge", "good_key", "key_of"]

_log = logging.getLogger(__name__)
_SEAL_MS = 86_400_000
_WORK_MS = 900_000
_TYPED = (Role.NAME, Role.GIVEN, Role.FAMILY, Role.COMPANY, Role.LINE, Role.LONG)


def good_key(key: str) -> bool:
    """Return whether this can be the key of a filling."""
    return 16 <= len(key) <= 64 and key.isascii() and key.isalnum()


def key_of(sent: Mapping[str, str]) -> str:
    """Return the key of a filling, or nothing if it is none."""
    key = sent.get("_key", "")
    return key if good_key(key) else ""


class Judge:
    """Tells trials, people and programs apart."""

    def __init__(self, seals: Seals) -> None:
        self._seals = seals
        self._ranges = Ranges()

    def ranges(self) -> Ranges:
        """Return how many leads came by range of addresses."""
        return self._ranges

    def is_trial(self, form: Form, sent: Mapping[str, str]) -> bool:
        """Return whether the marketer sent it to see its way."""
        return self._seals.holds(sent.get("_trial", ""), now_ms(), "trial", form.id)

    def has_worked(self, sent: Mapping[str, str]) -> bool:
        """Return whether the visitor's browser proved the work that was asked for."""
        work = sent.get("_work", "")
        return (self._seals.holds(work, now_ms(), "work", key_of(sent))
                and proof_holds(work, sent.get("_proof", "")))

    def ask_for_work(self, quiet: bool, request: Request, sent: Mapping[str, str],
                     language: Language) -> Response:
        """Return the answer that asks for it, in the language of the site."""
        again = dict(sent) | {"_key": key_of(sent) or secrets.token_hex(16)}
        work = self._seals.seal("work", now_ms() + _WORK_MS, again["_key"])
        if quiet:
            return JSONResponse({"work": work, "bits": WORK_BITS,
                                 "words": say("form-proof").in_language(language)}, 428)
        return work_page(request.url.path, again, work, WORK_BITS, runtime_script(("work",)),
                         language)

    def signs(self, request: Request, form: Form, page: LivePage | None, posted: Posted,
              checked: Checked,
              own_hosts: frozenset[str], whole: bool = True) -> tuple[Sign, ...]:
        """Return what speaks for a program.

        Args:
            own_hosts: The names under which the site is reached.
            whole: It is a whole lead, which counts for its range of addresses.
        """
        if not form.check_robots:
            return ()
        typed = [checked.answers[f.id] for f in form.fields
                 if f.role in _TYPED and f.id in checked.answers]
        try:
            return robot_signs(Evidence(
                sent=posted.sent, texts=typed, headers=request.headers, own_hosts=own_hosts,
                filling_ms=self._filling_ms(
                    form, posted.sent, moment_of(request, self._seals)),
                known_visitor=self._gave_back(request, page),
                from_range=self._ranges.count(address_of(request), now_ms()) if whole else 0))
        except Exception as error:  # What is odd about a request must not lose its lead.
            _log.error("signs of robots could not be weighed (%s)", type(error).__name__)
            return ()

    @staticmethod
    def _gave_back(request: Request, page: LivePage | None) -> bool:
        """Return whether the browser gave back the cookie of the page; of a page without a split
        test there is none."""
        return (page is None or len(page.variants) < 2 or asks_not(request)
                or VISITOR_COOKIE in request.cookies)

    def _filling_ms(self, form: Form, sent: Mapping[str, str], now: int) -> int | None:
        seal = sent.get("_token", "")
        if not seal:
            return None
        began = self._seals.moment(seal, "filling", form.id, key_of(sent))
        if began is not None and began > now + 1000:
            return None  # The clock was set back meanwhile, so nothing is known.
        return -1 if began is None or now - began > _SEAL_MS else max(0, now - began)
