"""Signs that a lead was sent by a program, each with its weight.

No single weak sign puts a lead aside: the weights are added, and at `ENOUGH` it is taken for a
robot's. A sign that no person can give has the whole weight.
"""

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from urllib.parse import urlsplit

from needle.core.kinds.formbox import TRAP_FIELD

__all__ = ["ENOUGH", "FASTEST_MS", "Evidence", "Sign", "is_robot", "robot_signs"]

ENOUGH = 1.0
FASTEST_MS = 1500
_QUICK_MS = 3000
_TOOLS = re.compile(r"python|curl|wget|httpx|go-http|okhttp|java/|libwww|scrapy|headless|phantom",
                    re.IGNORECASE)
_REWRITTEN = frozenset({"127.0.0.1", "localhost"})
_LINK = re.compile(r"https?://|www\.", re.IGNORECASE)
_MARKUP = re.compile(r"\[url|<a\s|</?\w+>", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Sign:
    """One thing that speaks for a robot, and how much (1 is enough by itself)."""

    words: str
    weight: float

    def __str__(self) -> str:
        return f"{self.words} ({self.weight:g})"


@dataclass(frozen=True, slots=True, kw_only=True)
class Evidence:
    """What is known about one sending.

    Attributes:
        sent: Everything that was posted.
        texts: The answers that somebody typed freely.
        headers: The request's, by lower-case name.
        filling_ms: How long the form was being filled in by the host's own clock; `None` if the
            page never asked for its seal, negative if the seal is forged.
        known_visitor: The browser gave back the cookie that the page had set, if it sets one.
        own_hosts: The names, with their ports, under which visitors reach the site.
        from_range: How many leads came from this range of addresses in the last ten minutes.
    """

    sent: Mapping[str, str]
    texts: Sequence[str] = ()
    headers: Mapping[str, str]
    filling_ms: int | None
    known_visitor: bool
    from_range: int = 0
    own_hosts: frozenset[str] = frozenset()


def is_robot(signs: Sequence[Sign]) -> bool:
    """Return whether the signs together are enough."""
    return sum(sign.weight for sign in signs) >= ENOUGH - 1e-9


def robot_signs(evidence: Evidence) -> tuple[Sign, ...]:
    """Return what speaks for a robot; nothing if a person seems to have sent it."""
    return (*_time_signs(evidence), *_hand_signs(evidence), *_browser_signs(evidence),
            *_word_signs(evidence), *_range_signs(evidence))


def _time_signs(evidence: Evidence) -> list[Sign]:
    took = evidence.sent.get("_took", "")
    if not took.isdecimal():
        return [Sign("sent without the page's script", 1.0)]
    claimed = int(took[:12])
    if claimed < FASTEST_MS:
        return [Sign(f"filled in {claimed / 1000:.1f} s", 1.0)]
    real = evidence.filling_ms
    if real is None:
        return [Sign("never began to fill the form in", 0.6)]
    if real < 0:
        return [Sign("a forged seal", 1.0)]
    if real < FASTEST_MS:
        return [Sign(f"filled in {real / 1000:.1f} s", 1.0)]
    # The page was open before its seal was asked for, so it cannot have been open for less.
    if claimed < real - 2000:
        return [Sign("claims a time that cannot be", 0.6)]
    typed = sum(len(words) for words in evidence.texts)
    if real < _QUICK_MS and typed > 60:
        return [Sign(f"typed {typed} letters in {real / 1000:.1f} s", 0.5)]
    return []


def _hand_signs(evidence: Evidence) -> list[Sign]:
    felt = evidence.sent.get("_felt", "").split(",")
    if len(felt) != 3 or not all(part.isdecimal() for part in felt):
        return [Sign("nothing told of keys and touches", 0.6)]
    keys, points, made = (int(part[:6]) for part in felt)
    signs = []
    if not keys + points:
        signs.append(Sign("no key and no touch", 0.8))
    if made:
        signs.append(Sign("answers set by a program", 0.3))
    return signs


def _browser_signs(evidence: Evidence) -> list[Sign]:
    signs = []
    headers = evidence.headers
    if evidence.sent.get(TRAP_FIELD):
        signs.append(Sign("filled the trap field", 1.0))
    origin, host = headers.get("origin", ""), headers.get("host", "").lower()
    # A proxy that rewrites Host leaves nothing to compare with, unless the public name is told.
    told = evidence.own_hosts or host.partition(":")[0] not in _REWRITTEN
    if origin and told and (whence := _whence(origin)) not in (host, *evidence.own_hosts):
        signs.append(Sign(f"posted from another site ({whence[:80] or origin[:80]})", 1.0))
    agent = headers.get("user-agent", "")
    if not agent or _TOOLS.search(agent):
        signs.append(Sign(f"a program's name ({agent[:40] or 'none'})", 0.6))
    if not headers.get("accept-language"):
        signs.append(Sign("a browser without a language", 0.4))
    if not evidence.known_visitor:
        signs.append(Sign("no cookie of the page", 0.4))
    elif not origin and not headers.get("sec-fetch-site"):
        # Every browser of today says one of them with a form.
        signs.append(Sign("tells no page that it is sent from", 0.4))
    return signs


def _whence(origin: str) -> str:
    try:
        return urlsplit(origin).netloc.lower()
    except ValueError:  # As in "http://[x".
        return ""


def _word_signs(evidence: Evidence) -> list[Sign]:
    signs = []
    links = sum(len(_LINK.findall(words)) for words in evidence.texts)
    if links >= 2:
        signs.append(Sign(f"{links} links in the answers", 0.4 if links < 4 else 0.8))
    if any(_MARKUP.search(words) for words in evidence.texts):
        signs.append(Sign("markup in the answers", 0.5))
    long = [words for words in evidence.texts if len(words) > 3]
    if len(long) > len(set(long)):
        signs.append(Sign("the same words in several fields", 0.4))
    return signs


def _range_signs(evidence: Evidence) -> list[Sign]:
    count = evidence.from_range
    if count <= 10:
        return []
    return [Sign(f"{count} leads from these addresses in ten minutes",
                 0.3 if count <= 40 else 0.5)]
