"""The steps of a journey one by one: who came, who went on, and whether that has changed."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass

from needle.core.measure.difference import Difference, share_difference
from needle.core.measure.journey import Journey, Place, Stop

__all__ = ["Loss", "Passage", "loss_of", "passages_of"]

_MOST = 12
# Of all visits; what fewer did is no step of the way.
_LEAST = 0.005


@dataclass(frozen=True, slots=True)
class Passage:
    """One step of the way.

    Attributes:
        came: Visits that were at its start.
        went: Those that went on to its end next.
        before: The same two of the time before.
        change: Of the share, against the time before; `None` where nobody came in one of them.
        devices: The shares of two devices that differ by more than chance, the lower one first.
    """

    start: Place
    end: Place
    came: int
    went: int
    before: tuple[int, int]
    change: Difference | None
    devices: tuple[tuple[str, float], ...] = ()

    @property
    def share(self) -> float:
        """Of those who came, the share that went on so."""
        return self.went / self.came if self.came else 0.0


@dataclass(frozen=True, slots=True)
class Loss:
    """Where most visits end without a conversion.

    Attributes:
        change: Of the share that is lost there, against the time before.
        devices: As of a passage: the shares that are lost.
    """

    stop: Stop
    share: float
    change: Difference | None
    devices: tuple[tuple[str, float], ...] = ()


def passages_of(now: Journey, before: Journey, by_device: Mapping[str, Journey],
                ) -> Sequence[Passage]:
    """Return the steps that most went, in the order of the way; where they came from is none."""
    moves = [move for move in now.moves if now.stops[move.start].place.kind != "source"
             and move.visits >= _LEAST * now.visits][:_MOST]
    moves.sort(key=lambda move: (now.stops[move.start].column, -move.visits))
    found = []
    for move in moves:
        came = now.came(move.start)
        was = (before.came(move.start), before.moved(move.start, move.end))
        found.append(Passage(
            now.stops[move.start].place, now.stops[move.end].place, came, move.visits, was,
            share_difference(move.visits, came, was[1], was[0]),
            _devices({device: (one.came(move.start), one.moved(move.start, move.end))
                      for device, one in by_device.items()})))
    return found


def loss_of(now: Journey, before: Journey, by_device: Mapping[str, Journey]) -> Loss | None:
    """Return where most visits end, or `None` if none does."""
    lost = [stop for stop in now.stops.values() if stop.lost and stop.place.kind != "source"]
    if not lost:
        return None
    stop = max(lost, key=lambda stop: stop.lost)
    key = stop.place.key
    was = before.stops.get(key)
    return Loss(stop, stop.lost / stop.came,
                share_difference(stop.lost, stop.came, was.lost, was.came) if was else None,
                _devices({device: (one.stops[key].came, one.stops[key].lost)
                          for device, one in by_device.items() if key in one.stops}))


def _devices(counts: Mapping[str, tuple[int, int]]) -> tuple[tuple[str, float], ...]:
    """Return lowest and highest share among devices, if chance does not bring that far apart.

    Devices that few came with can be far apart by chance, so only the two that most came with are
    held against each other.
    """
    most = sorted(counts.items(), key=lambda item: -item[1][0])[:2]
    if len(most) < 2:
        return ()
    (one, (came, went)), (other, (came_there, went_there)) = most
    differ = share_difference(went, came, went_there, came_there)
    if differ is None or not differ.beyond_chance:
        return ()
    pair = ((one, went / came), (other, went_there / came_there))
    return tuple(sorted(pair, key=lambda item: item[1]))
