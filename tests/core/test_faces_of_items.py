"""Any face of the site for one heading, and what follows from it."""

import unittest

from needle.core.edit.looks import set_look
from needle.core.edit.media import add_fonts, drop_family
from needle.core.edit.place import EditError
from needle.core.render.stylesheet import node_css
from needle.core.site.site import Font, Site
from needle.core.type.faces import FACES
from needle.core.type.fallbacks import fallback_rule
from needle.core.values.strict import StrictError
from needle.core.wording.lettering import faces_used
from tests.sites import small_site

ADDED = Font(id="font1", family="Hill Grotesk", weight=400, italic=False,
             file="0a1b2c3d4e5f.ttf", name="hill.ttf")


def families(site: Site) -> set[str]:
    return {face.family for face in faces_used(site, site.pages[0].variants[0])}


class StandInTest(unittest.TestCase):
    def test_each_face_of_a_system_is_brought_to_the_measure_of_the_own_one(self) -> None:
        for weight, of in ((400, {"Roboto": 0.4432, "Arial": 0.4419}),
                           (700, {"Roboto Bold": 0.4494, "Arial Bold": 0.4778})):
            face = next(one for one in FACES if (one.family, one.weight, one.italic) == (
                "DM Sans", weight, False))
            rules = fallback_rule(face).split("@font-face")[1:]
            # Where several are there, the last counts.
            self.assertIn("local('Arial", rules[-1])
            self.assertEqual(len(rules), 3)
            wide = []
            for name, average in of.items():
                rule = next(one for one in rules if f"local('{name}')" in one)
                self.assertEqual(f"font-weight:{weight}" in rule, weight != 400)
                wide.append(average * float(rule.split("size-adjust:")[1].split("%")[0]))
            self.assertAlmostEqual(wide[0], wide[1], delta=0.1)


class FaceTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = add_fonts(small_site(), (ADDED,))

    def test_one_heading_takes_an_added_face_and_the_others_stay(self) -> None:
        site = set_look(self.site, ["head1"], "face", "Hill Grotesk")
        nodes = {node.id: node for node in site.pages[0].variants[0].nodes()}
        self.assertIn("font-family:'Hill Grotesk','Hill Grotesk stand-in',system-ui",
                      node_css(nodes["head1"]))
        self.assertEqual(node_css(nodes["head2"]), "")
        self.assertNotIn("Hill Grotesk", families(self.site))
        self.assertIn("Hill Grotesk", families(site))

    def test_faces_that_ship_are_sent_where_one_item_has_them(self) -> None:
        self.assertIn("Fraunces", families(set_look(self.site, ["head2"], "face", "Fraunces")))

    def test_what_is_no_name_of_a_family_is_refused(self) -> None:
        for odd in ("a'b", "x;}body{", "", 7):
            with self.assertRaises((EditError, StrictError)):
                set_look(self.site, ["head1"], "face", odd)

    def test_a_family_in_use_is_not_dropped(self) -> None:
        used = set_look(self.site, ["head1"], "face", "Hill Grotesk")
        with self.assertRaisesRegex(EditError, "face of a text"):
            drop_family(used, "Hill Grotesk")
        self.assertEqual(drop_family(self.site, "Hill Grotesk").fonts, ())


if __name__ == "__main__":
    unittest.main()
