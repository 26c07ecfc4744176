"""Who the practice visitors are, and what each would do."""

import random
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field

__all__ = ["AGENTS", "Crowd", "Person", "people_of"]

_DAY_MS = 86_400_000
_HOUR_MS = 3_600_000
_SOURCES = (("", 30), ("search", 24), ("hill-letter", 20), ("poster", 14), ("star-club", 12))
_DEVICES = (("phone", 62), ("desktop", 31), ("tablet", 7))
# Of a hundred visits, how many come in which hour of the day, as shops see it.
_HOURS = (1, 1, 0, 0, 0, 1, 2, 4, 5, 5, 5, 5, 6, 5, 5, 5, 5, 6, 7, 8, 9, 8, 5, 2)
_COMES_BACK = 0.12
AGENTS: Mapping[str, str] = {
    "phone": "Mozilla/5.0 (Linux; Android 14; Pixel 7) AppleWebKit/537.36 (KHTML, like Gecko) "
             "Chrome/124.0 Mobile Safari/537.36",
    "tablet": "Mozilla/5.0 (iPad; CPU OS 17_4 like Mac OS X) AppleWebKit/605.1.15 (KHTML, like "
              "Gecko) Version/17.4 Mobile/15E148 Safari/604.1",
    "desktop": "Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) "
               "Chrome/124.0 Safari/537.36",
    "robot": "curl/8.5.0",
}


@dataclass(frozen=True, slots=True)
class Crowd:
    """What is known to be true of the visitors.

    Attributes:
        count: How many come.
        days: Over how many days, today being the last.
        rate: Which share of those who come to a page with a form send it.
        gains: By variant, how much larger that is there; 0.2 is a fifth more.
        opens: Which share opens a popup that a form is in.
        begins: Which share of those who see a form begins it, at least.
        robots: Which share are robots.
        seed: The same brings the same people.
    """

    count: int
    days: int = 28
    rate: float = 0.06
    gains: Mapping[str, float] = field(default_factory=dict)
    opens: float = 0.45
    begins: float = 0.5
    robots: float = 0.04
    seed: int = 1

    def rate_of(self, variant: str) -> float:
        """Return the true rate of a variant."""
        return min(0.95, self.rate * (1 + self.gains.get(variant, 0.0)))


@dataclass(frozen=True, slots=True)
class Person:
    """One of them.

    Attributes:
        visits: When each of their visits begins, since 1970, in ms.
        device: "phone", "tablet" or "desktop"; of a robot, "robot".
        seed: What they would do is drawn with this.
    """

    number: int
    visits: tuple[int, ...]
    source: str
    device: str
    seed: int

    @property
    def robot(self) -> bool:
        """Whether they say that they are a robot."""
        return self.device == "robot"


def people_of(crowd: Crowd, now_ms: int) -> Iterator[Person]:
    """Yield the people, in the order in which they first come."""
    draw = random.Random(crowd.seed)
    moments = sorted(_moment(draw, crowd, now_ms) for _ in range(crowd.count))
    for number, first in enumerate(moments):
        visits: tuple[int, ...] = (first,)
        again = first + draw.randrange(_HOUR_MS, 6 * _DAY_MS)
        if draw.random() < _COMES_BACK and again < now_ms:
            visits = (first, again)
        robot = draw.random() < crowd.robots
        yield Person(number, visits[:1] if robot else visits, _one_of(draw, _SOURCES),
                     "robot" if robot else _one_of(draw, _DEVICES), draw.getrandbits(48))


def _moment(draw: random.Random, crowd: Crowd, now_ms: int) -> int:
    """Return when somebody comes, within the last days and at an hour at which people do."""
    while True:
        day = now_ms // _DAY_MS - draw.randrange(crowd.days)
        hour = draw.choices(range(24), _HOURS)[0]
        moment = day * _DAY_MS + hour * _HOUR_MS + draw.randrange(_HOUR_MS)
        if moment < now_ms - 600_000:
            return moment


def _one_of(draw: random.Random, choices: tuple[tuple[str, int], ...]) -> str:
    names, weights = zip(*choices, strict=True)
    return str(draw.choices(names, weights)[0])
