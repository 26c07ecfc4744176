import re
import tempfile
import unittest
from datetime import UTC, date, datetime
from pathlib import Path

import msgspec

from needle.core.colour.contrast import contrast
from needle.core.edit.brand import set_swatch
from needle.core.edit.legibility import pairs_in_use
from needle.core.measure.split import Arm, read_split, verdict
from needle.core.site.site import Medium
from needle.core.snags.finding import find_snags
from needle.demo.paint import PICTURES
from needle.demo.paintgoods import GOODS
from needle.demo.results import fill_results
from needle.demo.site import as_it_was_sent, demo_site
from needle.store.results.book import count_leads
from needle.store.results.counting import page_counts, robot_count
from needle.store.results.tables import open_results

MEDIA = {name: Medium(id=f"m{number}", name=name, file=f"{name}.webp", width=1600, height=1200,
                      alt="x") for number, name in enumerate((*PICTURES, *GOODS))}
MEDIA["night"] = Medium(id="m99", name="night", file="night.webm", width=640, height=360, seconds=8)


class DemoTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = demo_site(MEDIA, datetime(2026, 11, 5, tzinfo=UTC))

    def test_every_copy_is_the_same(self) -> None:
        self.assertEqual(demo_site(MEDIA, datetime(2026, 11, 5, tzinfo=UTC)), self.site)

    def test_its_only_snags_are_towns_without_words_and_the_form_left_for_the_person(self) -> None:
        self.assertEqual([snag.words for snag in find_snags(self.site)],
                         ["81 % alike: Fenwater and Sallow Bay; Fenwater and Third Lamp",
                          "The form “Group visit” goes nowhere"])

    def test_all_addresses_are_invented(self) -> None:
        raw = msgspec.json.encode(self.site).decode()
        for host in re.findall(r"[\w-]+@([\w.-]+)|https?://([\w.-]+)", raw):
            self.assertTrue("".join(host).endswith(".example"), host)

    def test_its_colours_can_be_read(self) -> None:
        colour = {swatch.role: swatch.value for swatch in self.site.brand.palette}
        for one, other in (("ink", "paper"), ("ink", "mist"), ("on_main", "main"),
                           ("accent", "paper"), ("paper", "ink")):
            self.assertGreaterEqual(contrast(colour[one], colour[other]), 4.5)

    def test_whatever_the_main_colour_every_pair_of_words_can_be_read(self) -> None:
        for main in ("#c2185b", "#ffee58", "#0b1126", "#7f7f7f", "#00b8d4"):
            site = set_swatch(self.site, "main", main)
            colours = site.brand.colours()
            for pair in pairs_in_use(site):
                with self.subTest(main=main, pair=(pair.ink, pair.ground)):
                    self.assertGreaterEqual(contrast(pair.shown, colours[pair.ground]), 4.5)
            hard = [snag for snag in find_snags(site) if snag.words.startswith("Hard to read")]
            self.assertEqual(hard, [])

    def test_it_was_sent_a_little_before(self) -> None:
        before = as_it_was_sent(self.site)
        self.assertNotEqual(before.pages[1], self.site.pages[1])
        self.assertEqual(before.pages[0], self.site.pages[0])

    def test_its_results_tell_of_a_test_that_is_nearly_decided(self) -> None:
        with tempfile.TemporaryDirectory() as folder:
            fill_results(Path(folder), self.site, date.today())
            engine = open_results(Path(folder) / "results.db")
            counts = {(c.page, c.variant): c for c in page_counts(engine)}
            night = next(page for page in self.site.pages if page.tested)
            arms = [Arm(v.key, v.share, counts[night.id, v.key].visitors,
                        counts[night.id, v.key].conversions) for v in night.variants]
            self.assertEqual(verdict(read_split(arms))[0],
                             "B is ahead, but it is not safe to say so yet.")
            self.assertEqual((count_leads(engine), robot_count(engine)), (443, 37))
            engine.dispose()
