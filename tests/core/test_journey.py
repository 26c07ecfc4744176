"""How many visits come to one picture, and what is said of it."""

import unittest

from needle.core.measure.difference import share_difference
from needle.core.measure.journey import WON, Journey, WayCount, journey_of, places_of
from needle.core.measure.passages import loss_of, passages_of
from tests.sites import FORM, PAGE, THANKS, small_site

SITE = small_site()
PLACES = places_of(SITE)
HOME, ASKED = f"page:{PAGE}", f"form:{FORM}"


def way(visits: int, *steps: str, source: str = "post", device: str = "phone") -> WayCount:
    return WayCount(source, device, " ".join(steps), visits)


def read(*ways: WayCount, like: Journey | None = None, through: str = "") -> Journey:
    return journey_of(ways, PLACES, like, through)


class JourneyTest(unittest.TestCase):
    def test_places_moves_and_losses_of_some_visits(self) -> None:
        found = read(way(60, f"p:{PAGE}.A"), way(30, f"p:{PAGE}.B", f"o:{FORM}"),
                     way(8, f"p:{PAGE}.A", f"o:{FORM}", f"s:{FORM}.2", f"l:{FORM}",
                         f"p:{THANKS}.A"),
                     way(2, f"p:{PAGE}.A", "g:call", f"o:{FORM}", source="search"))
        self.assertEqual((found.visits, found.won), (100, 10))
        self.assertEqual({key: (stop.came, stop.lost, stop.went_on, stop.column)
                          for key, stop in found.stops.items()}, {
            "source:post": (98, 0, 98, 0), "source:search": (2, 0, 2, 0),
            HOME: (100, 60, 40, 1), ASKED: (38, 30, 8, 2), f"step:{FORM}.2": (8, 0, 8, 3),
            WON: (10, 0, 10, 4)})
        self.assertEqual(found.moved(HOME, ASKED), 38)
        self.assertEqual(found.moved(HOME, WON), 2, "what came after a conversion is no way there")
        self.assertNotIn(f"page:{THANKS}", found.stops)
        self.assertEqual(found.stops[HOME].place.name, SITE.pages[0].name)

    def test_who_goes_back_was_at_a_place_once(self) -> None:
        found = read(way(5, f"p:{PAGE}.A", f"p:{THANKS}.A", f"p:{PAGE}.A"))
        self.assertEqual(found.came(HOME), 5)
        self.assertEqual(found.stops[f"page:{THANKS}"].lost, 5)
        self.assertEqual(found.stops[f"page:{THANKS}"].column, 2, "come to from another page")

    def test_only_visits_by_way_of_a_place(self) -> None:
        ways = (way(3, f"p:{PAGE}.A"), way(4, f"p:{THANKS}.A", source="poster"))
        self.assertEqual(read(*ways, through="source:poster").visits, 4)
        self.assertEqual(read(*ways, through=HOME).visits, 3)
        self.assertEqual(read(*ways, through="page:gone").visits, 0)

    def test_many_sources_are_gathered_as_they_were_before(self) -> None:
        ways = [way(10 + n, f"p:{PAGE}.A", source=f"s{n}") for n in range(30)]
        now = read(*ways)
        sources = {key for key, stop in now.stops.items() if stop.place.kind == "source"}
        self.assertEqual(sources, {"source:s29", "source:s28", "source:s27", "source:s26",
                                   "source:others"})
        self.assertEqual(now.came("source:others"), sum(10 + n for n in range(26)))
        before = read(way(9, f"p:{PAGE}.A", source="s3"), way(7, f"p:{PAGE}.A", source="s29"),
                      like=now)
        self.assertEqual((before.came("source:others"), before.came("source:s29")), (9, 7))

    def test_what_is_gone_or_is_nothing_breaks_no_picture(self) -> None:
        found = read(way(2, "p:gone.A", "u:gone", "x:1", "s:f", ":"), way(1, ""))
        self.assertEqual(found.visits, 3)
        self.assertEqual(found.stops["page:gone"].place.name, "")
        self.assertEqual(found.stops["popup:gone"].place.name, "")
        self.assertEqual(read().stops, {})
        self.assertIsNone(loss_of(read(), read(), {}))


class PassageTest(unittest.TestCase):
    def test_steps_against_the_time_before_and_by_device(self) -> None:
        ways = [way(600, f"p:{PAGE}.A"), way(200, f"p:{PAGE}.A", f"o:{FORM}"),
                way(100, f"p:{PAGE}.A", device="desktop"),
                way(100, f"p:{PAGE}.A", f"o:{FORM}", f"l:{FORM}", device="desktop")]
        now = read(*ways)
        before = read(way(300, f"p:{PAGE}.A"), way(300, f"p:{PAGE}.A", f"o:{FORM}"), like=now)
        by_device = {name: read(*(w for w in ways if w.device == name), like=now)
                     for name in ("phone", "desktop")}
        begun, sent = passages_of(now, before, by_device)
        self.assertEqual((begun.start.key, begun.end.key, begun.came, begun.went, begun.share),
                         (HOME, ASKED, 1000, 300, 0.3))
        self.assertEqual(begun.before, (600, 300))
        assert begun.change is not None
        self.assertAlmostEqual(begun.change.shift, -0.2)
        self.assertTrue(begun.change.beyond_chance)
        self.assertEqual(begun.devices, (("phone", 0.25), ("desktop", 0.5)))
        self.assertEqual((sent.start.key, sent.end.key, sent.before), (ASKED, WON, (300, 0)))
        loss = loss_of(now, before, by_device)
        assert loss is not None and loss.change is not None
        self.assertEqual((loss.stop.place.key, loss.share), (HOME, 0.7))
        self.assertEqual(loss.devices, (("desktop", 0.5), ("phone", 0.75)))

    def test_where_chance_may_be_all_nothing_stands_out(self) -> None:
        ways = [way(10, f"p:{PAGE}.A"), way(9, f"p:{PAGE}.A", f"o:{FORM}"),
                way(3, f"p:{PAGE}.A", device="desktop"),
                way(5, f"p:{PAGE}.A", f"o:{FORM}", device="desktop")]
        now = read(*ways)
        by_device = {name: read(*(w for w in ways if w.device == name), like=now)
                     for name in ("phone", "desktop")}
        (begun,) = passages_of(now, read(), by_device)
        self.assertEqual(begun.devices, ())
        self.assertIsNone(begun.change)

    def test_the_range_of_a_difference_is_that_of_newcombes_own_examples(self) -> None:
        """Table II of the paper, method 10."""
        for counts, low, high in (
                ((56, 70, 48, 80), 0.0524, 0.3339), ((9, 10, 3, 10), 0.1705, 0.8090),
                ((10, 10, 0, 20), 0.6791, 1.0), ((5, 56, 0, 29), -0.0381, 0.1926)):
            found = share_difference(*counts)
            assert found is not None
            self.assertAlmostEqual(found.low, low, 4)
            self.assertAlmostEqual(found.high, high, 4)
        self.assertIsNone(share_difference(0, 0, 1, 2))
        with self.assertRaises(ValueError):
            share_difference(3, 2, 1, 2)
