"""What a trial visit tells about tracking codes: which fired on a page, which did not, and why."""

import re
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from urllib.parse import parse_qsl, urlsplit

from needle.core.edit.tracking import reach_words
from needle.core.kinds.embed import Embed
from needle.core.site.site import Page, Site
from needle.core.values.counting import counted
from needle.core.values.ids import Id
from needle.core.values.tracking import TrackingCode

__all__ = ["Asked", "Complaint", "Firing", "code_lines", "firings", "once_a_master"]


@dataclass(frozen=True, slots=True)
class Asked:
    """A request that a page made of somebody else.

    Attributes:
        after_ms: Since the page was opened.
        agreed: It came after the visitor had agreed to everything.
    """

    address: str
    after_ms: int
    agreed: bool
    status: int = 200


@dataclass(frozen=True, slots=True)
class Complaint:
    """What a browser said was wrong, and in which line of the page."""

    words: str
    line: int
    agreed: bool


@dataclass(frozen=True, slots=True)
class Firing:
    """What became of one code on one page.

    Attributes:
        state: "fired", "waits" (for consent, then fired), "wrong", "silent" or "absent".
    """

    code: TrackingCode
    state: str
    words: str


def code_lines(html: str) -> dict[str, range]:
    """Return the lines (counted from 1) that each code has in a page, by the code's id."""
    found = {}
    for match in re.finditer(r"<!--needle-code (\w+)-->(.*?)<!--/needle-code-->", html, re.DOTALL):
        first = html.count("\n", 0, match.start()) + 1
        found[match.group(1)] = range(first, first + match.group(0).count("\n") + 1)
    return found


def once_a_master(pages: Iterable[Page]) -> list[Page]:
    """Return pages of which each holds other codes: of those that one page makes of a table's rows,
    the first."""
    first: dict[Id, Page] = {}
    for page in pages:
        first.setdefault(page.row.page or page.id, page)
    return list(first.values())


def firings(site: Site, page: Page, html: str, asked: Sequence[Asked],
            complaints: Sequence[Complaint]) -> list[Firing]:
    """Return what became of every code of the site on a page.

    Args:
        html: The page as it was sent.
    """
    lines = code_lines(html)
    embeds = [node.code for variant in page.variants for node in variant.nodes()
              if isinstance(node, Embed)]
    mine = _by_code([code for code in site.tracking if code.id in lines], asked, embeds)
    return [_firing(site, page, code, lines, mine.get(code.id, []), complaints)
            for code in site.tracking]


def _by_code(codes: Sequence[TrackingCode], asked: Sequence[Asked], embeds: Sequence[str],
             ) -> dict[str, list[Asked]]:
    """Return which requests are whose: those whose address stands in the code, told apart by
    whatever else of it stands there. What is more like embedded code of the page is that one's."""
    found: dict[str, list[Asked]] = {}
    for one in asked:
        scores = {code.id: _likeness(code.html, one.address) for code in codes}
        best = max(scores.values(), default=0)
        if best < max((_likeness(code, one.address) for code in embeds), default=0):
            continue
        for code_id, score in scores.items():
            if best and score == best:
                found.setdefault(code_id, []).append(one)
    return found


def _likeness(html: str, address: str) -> int:
    parts = urlsplit(address)
    if not parts.netloc or parts.netloc not in html:
        return 0
    tokens = [part for part in parts.path.split("/") if len(part) > 1]
    tokens += [value for pair in parse_qsl(parts.query) for value in pair if len(value) > 1]
    return 1 + sum(token in html for token in tokens)


def _firing(site: Site, page: Page, code: TrackingCode, lines: dict[str, range],
            asked: Sequence[Asked], complaints: Sequence[Complaint]) -> Firing:
    if not code.on:
        return Firing(code, "absent", "is switched off")
    if code not in site.tracking_on(page):
        return Firing(code, "absent", f"runs on {reach_words(site, code.reach)} only")
    if code.id not in lines:
        return Firing(code, "absent", "is not in the page as it is live: send the page again")
    waits = site.consent.asked and code.purpose != "needed"
    before = [one for one in asked if not one.agreed]
    wrong = _wrong(code, lines[code.id], asked, complaints, waits)
    if wrong:
        return Firing(code, "wrong", wrong)
    if waits and before:
        return Firing(code, "wrong", "asked before the visitor agreed")
    if not asked:
        late = f" for {code.purpose}, and then asks for nothing" if waits else ""
        return Firing(code, "waits" if waits else "silent",
                      f"waits for consent{late}" if waits else "ran, but asked for nothing")
    first = min(one.after_ms for one in asked) / 1000
    where = ", ".join(sorted({urlsplit(one.address).netloc for one in asked}))
    told = f"{counted(len(asked), 'request')} to {where}"
    if waits:
        return Firing(code, "waits", f"waits for consent ({code.purpose}); then {told}")
    return Firing(code, "fired", f"{told} after {first:.1f} s")


def _wrong(code: TrackingCode, lines: range, asked: Sequence[Asked],
           complaints: Sequence[Complaint], waits: bool) -> str:
    for complaint in complaints:
        at_home = complaint.line in lines and not waits
        # A script that consent has put into the page has lines of its own.
        named = waits and complaint.agreed and complaint.line <= code.html.count("\n") + 1
        if at_home or named:
            return f"{complaint.words} (its line {max(1, complaint.line - lines.start)})" \
                if at_home else complaint.words
    refused = [one for one in asked if one.status >= 400]
    if refused:
        return f"{urlsplit(refused[0].address).netloc} answered {refused[0].status}"
    return ""
