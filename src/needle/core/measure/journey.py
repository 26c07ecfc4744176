"""How people went through a site: where they came from, what they saw, where they left."""

from collections import Counter
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from itertools import pairwise

from needle.core.measure.paths import Step, read_path
from needle.core.site.site import Page, Site

__all__ = ["OTHERS", "WON", "Journey", "Move", "Place", "PlaceOf", "Stop", "WayCount", "journey_of",
           "places_of"]

# The places that stand for many.
WON = "won"
OTHERS = "others"
_MOST_SOURCES = 5
_MOST_PAGES = 6


@dataclass(frozen=True, slots=True)
class WayCount:
    """How many visits went one way.

    Attributes:
        path: As `paths` writes it.
    """

    source: str
    device: str
    path: str
    visits: int
    campaign: str = ""


@dataclass(frozen=True, slots=True)
class Place:
    """Somewhere on the way.

    Attributes:
        key: Its name in figures.
        kind: "source", "page", "popup", "form" (begun), "step" or "won".
        name: Its name for people; of the form, for a form and its steps.
        of: The id of page or form.
        number: Of a step.
    """

    key: str
    kind: str
    name: str = ""
    of: str = ""
    number: int = 0


PlaceOf = Callable[[Step], Place | None]


@dataclass(slots=True)
class Stop:
    """A place with what came of who was there.

    Attributes:
        column: How far to the right it stands.
        came: Visits that were there.
        lost: Those that ended there.
    """

    place: Place
    column: int = 0
    came: int = 0
    lost: int = 0

    @property
    def went_on(self) -> int:
        """Visits that went on to something else."""
        return self.came - self.lost


@dataclass(frozen=True, slots=True)
class Move:
    """Visits that went from one place to another next."""

    start: str
    end: str
    visits: int


@dataclass(slots=True)
class Journey:
    """All visits of a time, as places and the moves between them."""

    visits: int = 0
    stops: dict[str, Stop] = field(default_factory=dict)
    moves: list[Move] = field(default_factory=list)

    @property
    def won(self) -> int:
        """Visits that converted."""
        stop = self.stops.get(WON)
        return stop.came if stop else 0

    def moved(self, start: str, end: str) -> int:
        """Return how many visits went from a place to another next."""
        return sum(move.visits for move in self.moves if (move.start, move.end) == (start, end))

    def came(self, key: str) -> int:
        """Return how many visits were at a place."""
        stop = self.stops.get(key)
        return stop.came if stop else 0


def places_of(site: Site) -> PlaceOf:
    """Return what says which place of a site a step is.

    Popups of one name are one place, since variants of a page have one each.
    """
    pages: Mapping[str, Page] = {page.id: page for page in site.pages}
    popups = {popup.id: popup.name for page in site.pages for variant in page.variants
              for popup in variant.popups}
    forms = {form.id: form.name for form in site.forms}

    def place(step: Step) -> Place | None:
        match step.kind:
            case "page":
                page = pages.get(step.what)
                return Place(f"page:{step.what}", "page", page.name if page else "", step.what)
            case "popup":
                name = popups.get(step.what, "")
                return Place(f"popup:{name or step.what}", "popup", name, step.what)
            case "open":
                return Place(f"form:{step.what}", "form", forms.get(step.what, ""), step.what)
            case "step":
                return Place(f"step:{step.what}.{step.number}", "step",
                             forms.get(step.what, ""), step.what, step.number)
            case "words":
                return None
        return Place(WON, "won")

    return place


def journey_of(ways: Iterable[WayCount], place_of: PlaceOf, like: Journey | None = None,
               through: str = "") -> Journey:
    """Return what many ways come to together.

    A place counts once in a visit, at its first time; what comes after a conversion is none of
    the way there. Sources and pages that few came by are one place.

    Args:
        like: Gather the same sources and pages as there, to hold two times against each other.
        through: Only visits that were at this place.
    """
    walked = [(_places(way, place_of), way.visits) for way in ways]
    names = {kind: _gathered(walked, kind, like, most)
             for kind, most in (("source", _MOST_SOURCES), ("page", _MOST_PAGES))}
    found = Journey()
    moves: Counter[tuple[str, str]] = Counter()
    for places, visits in walked:
        keys: dict[str, Place] = {}
        for one in places:
            kept = names.get(one.kind)
            place = one if kept is None or one.key in kept else Place(
                f"{one.kind}:{OTHERS}", one.kind)
            keys.setdefault(place.key, place)
        if through and through not in keys:
            continue
        found.visits += visits
        for place in keys.values():
            found.stops.setdefault(place.key, Stop(place)).came += visits
        order = list(keys)
        moves.update(dict.fromkeys(pairwise(order), visits))
        if order[-1] != WON:
            found.stops[order[-1]].lost += visits
    found.moves = [Move(*pair, visits) for pair, visits in moves.most_common()]
    _set_columns(found)
    return found


def _places(way: WayCount, place_of: PlaceOf) -> list[Place]:
    """Return the places of a way, up to where it converted."""
    places = [Place(f"source:{way.source}", "source", way.source)]
    for step in read_path(way.path):
        place = place_of(step)
        if place is not None:
            places.append(place)
            if place.kind == "won":
                break
    return places


def _gathered(walked: Sequence[tuple[list[Place], int]], kind: str, like: Journey | None,
              most: int) -> set[str]:
    """Return the places of a kind that stand for themselves."""
    if like is not None:
        return {key for key, stop in like.stops.items() if stop.place.kind == kind}
    counts: Counter[str] = Counter()
    for places, visits in walked:
        counts.update({place.key: visits for place in places if place.kind == kind})
    if len(counts) <= most:
        return set(counts)
    return {key for key, _ in counts.most_common(most - 1)}


def _set_columns(found: Journey) -> None:
    """Say how far to the right each place stands: kinds in their order, and pages that are mostly
    come to from other places one further than those that are come to first."""
    first = Counter[str]()
    for move in found.moves:
        if found.stops[move.start].place.kind == "source":
            first[move.end] += move.visits
    ranks: dict[str, int] = {}
    for key, stop in found.stops.items():
        match stop.place.kind:
            case "source":
                ranks[key] = 0
            case "page":
                ranks[key] = 1 if first[key] * 2 >= stop.came else 2
            case "popup":
                ranks[key] = 2
            case "form":
                ranks[key] = 3
            case "step":
                ranks[key] = 2 + max(2, stop.place.number)
            case _:
                ranks[key] = 99
    columns = {rank: column for column, rank in enumerate(sorted(set(ranks.values())))}
    for key, stop in found.stops.items():
        stop.column = columns[ranks[key]]
