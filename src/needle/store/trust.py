"""Which outside code this user wants on their pages.

Code that is typed or pasted here is the person's own wish. What a project or a package from
elsewhere brings is off until the person has seen it and allowed it. Kept with the user's settings,
by digest, so that no project can say it of itself.
"""

from collections.abc import Iterable

import msgspec

from needle.core.edit.outsidecode import OutsideCode, codes_in, without_codes
from needle.core.site.site import Site
from needle.store.kept import KeptFile, config_folder

__all__ = ["allow", "allowed_only", "mark_foreign", "noted_foreign", "own", "waiting_codes"]


class _Trust(msgspec.Struct, frozen=True):
    """Digests of code.

    Attributes:
        allowed: It may go to visitors.
        foreign: It came from elsewhere and waits to be allowed.
    """

    allowed: frozenset[str] = frozenset()
    foreign: frozenset[str] = frozenset()


def _file() -> KeptFile[_Trust]:
    return KeptFile(config_folder() / "outside-code.json", _Trust, _Trust, 0o600)


def mark_foreign(codes: Iterable[OutsideCode]) -> None:
    """Note code that came from elsewhere; what is allowed already stays so.

    Raises:
        OSError: It cannot be noted.
    """
    came = frozenset(code.digest for code in codes)
    if came and came - (held := _file().read()).allowed - held.foreign:
        _file().change(lambda held: _Trust(held.allowed, held.foreign | (came - held.allowed)))


def own(codes: Iterable[OutsideCode]) -> None:
    """Note code that the person wrote here; what came from elsewhere still waits.

    Raises:
        OSError: It cannot be noted.
    """
    wrote = frozenset(code.digest for code in codes)
    if wrote and wrote - (held := _file().read()).allowed - held.foreign:
        _file().change(lambda held: _Trust(held.allowed | (wrote - held.foreign), held.foreign))


def allow(codes: Iterable[OutsideCode]) -> None:
    """Let code go to visitors.

    Raises:
        OSError: It cannot be noted.
    """
    wanted = frozenset(code.digest for code in codes)
    _file().change(lambda held: _Trust(held.allowed | wanted, held.foreign - wanted))


def waiting_codes(site: Site) -> list[OutsideCode]:
    """Return the code of a site that is off until it is allowed."""
    pieces = list(codes_in(site))
    allowed = _file().read().allowed if pieces else frozenset()
    return [piece for piece in pieces if piece.digest not in allowed]


def noted_foreign() -> frozenset[str]:
    """Return the digests of code that is known to have come from elsewhere and waits."""
    return _file().read().foreign


def allowed_only(site: Site) -> Site:
    """Return the site as visitors may get it."""
    if next(codes_in(site), None) is None:
        return site
    allowed = _file().read().allowed
    return without_codes(site, allowed.__contains__)
