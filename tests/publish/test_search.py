"""What searches and other machines read: addresses, the map, structured data, wrong addresses."""

import json
import re
import tempfile
import unittest
from pathlib import Path

import html5lib
import msgspec
import msgspec_schemaorg.models as vocabulary
from lxml import etree

from needle.core.edit.domain import domain_of, set_domain
from needle.core.edit.nodes import insert
from needle.core.edit.pages import set_page
from needle.core.edit.place import EditError
from needle.core.kinds.questions import Answered, Questions
from needle.core.readymade.lostpage import add_lost_page
from needle.core.site.site import Site
from needle.core.values.about import About
from needle.core.values.strict import StrictError
from needle.core.values.words import text
from needle.publish.folder import publish_folder
from needle.publish.live import send_pages, take_off
from needle.publish.outside import outside_files
from needle.publish.releases import Releases
from needle.store.project import Project
from tests.sites import PAGE, THANKS, small_site

_MAP = "{http://www.sitemaps.org/schemas/sitemap/0.9}"
_BESIDES = {"LocalBusiness": ("Place",)}


class SearchCase(unittest.TestCase):
    def setUp(self) -> None:
        folder = Path(self.enterContext(tempfile.TemporaryDirectory()))
        self.project, self.out = folder / "project", folder / "out"
        Project.create(self.project, small_site()).close()
        self.site = set_domain(small_site(), "www.hill.example")

    def page(self, site: Site, path: str = "night/index.html") -> str:
        publish_folder(site, self.project, self.out)
        return (self.out / path).read_text()


class DomainTest(SearchCase):
    def test_what_people_type_is_understood(self) -> None:
        for typed, found in (
                ("www.Quillmoor.example", "www.quillmoor.example"),
                (" https://www.hill.example/night?x=1 ", "www.hill.example"),
                ("hill.example.", "hill.example"), ("hügel.example", "xn--hgel-0ra.example"),
                ("me@hill.example:8443", "hill.example"), ("", "")):
            with self.subTest(typed):
                self.assertEqual(domain_of(typed), found)

    def test_what_is_none_is_refused(self) -> None:
        for typed in ("hill", "127.0.0.1", "a b.example", "x" * 70 + ".example", "-a.example",
                      "a..example", "<b>.example", ".", "hill.example\nevil", "1.2.3"):
            with self.subTest(typed), self.assertRaisesRegex(EditError, "is no domain"):
                set_domain(small_site(), typed)


class PageTest(SearchCase):
    def test_a_page_says_its_one_true_address(self) -> None:
        html = self.page(self.site)
        self.assertIn('<link rel="canonical" href="https://www.hill.example/night">', html)
        self.assertIn('property="og:url" content="https://www.hill.example/night"', html)
        self.assertRegex(html, r'og:image" content="https://www\.hill\.example/assets/share-')
        self.assertNotIn("noindex", html)
        without = self.page(small_site())
        self.assertNotIn("canonical", without)

    def test_an_unlisted_page_says_so_and_is_not_on_the_map(self) -> None:
        site = set_page(self.site, THANKS, unlisted=True)
        self.assertIn('<meta name="robots" content="noindex">',
                      self.page(site, "thanks/index.html"))
        found = etree.parse(self.out / "sitemap.xml").findall(f".//{_MAP}loc")
        self.assertEqual([one.text for one in found], ["https://www.hill.example/night"])

    def test_without_a_domain_there_is_no_map(self) -> None:
        self.page(small_site())
        self.assertFalse((self.out / "sitemap.xml").exists())
        self.assertNotIn("Sitemap", (self.out / "robots.txt").read_text())


class StructuredTest(SearchCase):
    def told(self, site: Site) -> dict[str, dict[str, object]]:
        html = self.page(site)
        tree = html5lib.parse(html, namespaceHTMLElements=False)
        scripts = [one.text for one in tree.iter("script")
                   if one.get("type") == "application/ld+json"]
        if not scripts:
            return {}
        held = json.loads(scripts[0])
        self.assertEqual(held["@context"], "https://schema.org")
        return {one["@type"]: one for one in held["@graph"]}

    def test_the_page_its_site_and_the_way_to_it(self) -> None:
        told = self.told(self.site)
        self.assertEqual(told["WebPage"]["url"], "https://www.hill.example/night")
        self.assertEqual(told["Organization"]["name"], "Hill")
        crumbs = told["BreadcrumbList"]["itemListElement"]
        self.assertEqual([one["item"] for one in crumbs],
                         ["https://www.hill.example/", "https://www.hill.example/night"])
        self.assertEqual(self.told(small_site()), {})

    def test_questions_are_told_with_their_answers_and_end_nothing(self) -> None:
        asked = Questions(id="q1", entries=(
            Answered(text("Is it dark?"), (text("Very."), text("Bring a coat & </script><b>"))),
            Answered(text("Empty?"), (text(" "),))))
        told = self.told(insert(small_site(), asked, "list1", "after"))
        (one,) = told["FAQPage"]["mainEntity"]
        self.assertEqual(one["name"], "Is it dark?")
        self.assertEqual(one["acceptedAnswer"]["text"], "Very.\nBring a coat & </script><b>")


    def about(self, **told: str) -> dict[str, dict[str, object]]:
        return self.told(set_page(self.site, PAGE, about=About(**told)))

    def test_an_event_and_a_product_are_told_once_they_say_enough(self) -> None:
        event = self.about(kind="event", name="Meteor night", starts="2027-08-12 21:30",
                           ends="2027-08-13", place="Quillmoor Hill", street="Moor Lane 1",
                           price="12.50", currency="GBP")["Event"]
        self.assertEqual((event["name"], event["startDate"], event["endDate"]),
                         ("Meteor night", "2027-08-12T21:30:00", "2027-08-13"))
        self.assertEqual(event["location"], {"@type": "Place", "name": "Quillmoor Hill",
                                             "address": "Moor Lane 1"})
        self.assertEqual(event["offers"], {
            "@type": "Offer", "price": "12.50", "priceCurrency": "GBP",
            "url": "https://www.hill.example/night"})
        self.assertRegex(str(event["image"]), "^https://www.hill.example/assets/share-")
        product = self.about(kind="product", price="0", currency="EUR")["Product"]
        self.assertEqual(product["name"], self.site.pages[0].title or "Night")
        self.assertNotIn("Event", self.about(kind="event", place="Hill"))
        self.assertNotIn("Product", self.about(kind="product", price="12"))
        hostile = self.about(kind="product", name="</script><b>", price="1", currency="GBP")
        self.assertEqual(hostile["Product"]["name"], "</script><b>")

    def test_a_place_of_business_is_told_with_its_street_hours_and_map(self) -> None:
        told = {"kind": "business", "phone": "+44 1632 960 120", "map": "https://maps.example/q?1",
                "hours": "Mo-Fr 09:00-17:00; Sa,Su 10:00-12:00", "price": "3", "currency": "GBP"}
        business = self.about(street="Moor Lane 1", **told)["LocalBusiness"]
        self.assertEqual(
            (business["address"], business["telephone"], business["openingHours"],
             business["hasMap"]),
            ("Moor Lane 1", told["phone"], ["Mo-Fr 09:00-17:00", "Sa,Su 10:00-12:00"],
             told["map"]))
        self.assertNotIn("offers", business)
        self.assertNotIn("LocalBusiness", self.about(**told), "it is not told where it is")

    def test_what_is_not_of_its_type_is_refused(self) -> None:
        for told in ({"starts": "tomorrow"}, {"price": "12,50"}, {"price": "-1"},
                     {"currency": "pounds"}, {"kind": "person"}, {"ends": "2027-8-1"},
                     {"phone": "<b>"}, {"hours": "nine to five"}, {"map": "javascript:1"},
                     {"map": "https://maps.example/a b"}):
            with self.subTest(told), self.assertRaises(StrictError):
                About(**told)

    def test_all_of_it_is_in_the_vocabulary(self) -> None:
        """Each type and property is one of schema.org's, and holds what may stand there."""
        asked = Questions(id="q1", entries=(Answered(text("Dark?"), (text("Very."),)),))
        site = insert(self.site, asked, "list1", "after")
        event = About(kind="event", starts="2027-08-12 21:30", place="Hill", street="Lane",
                      price="1", currency="GBP")
        business = About(kind="business", street="Lane", phone="1632 960", hours="Mo 09:00-10:00",
                         map="https://maps.example/")
        for about in (event, About(kind="product", price="1", currency="GBP"), business):
            for thing in self.told(set_page(site, PAGE, about=about)).values():
                self.check(thing)
        with self.assertRaises(AssertionError):
            self.check({"@type": "Event", "startsAt": "2027"})
        with self.assertRaises(AssertionError):
            self.check({"@type": "Event", "location": {"@type": "Offer"}})

    def check(self, thing: dict[str, object]) -> None:
        known: dict[str, str] = {}
        # A place of business is an organization and a place; the classes know one parent each.
        for name in (str(thing["@type"]), *_BESIDES.get(str(thing["@type"]), ())):
            kind = getattr(vocabulary, name, None)
            self.assertIsNotNone(kind, name)
            hints = {name: str(hint) for base in reversed(kind.__mro__)
                     for name, hint in getattr(base, "__annotations__", {}).items()}
            known |= {told: hints[name] for name, told in zip(
                kind.__struct_fields__, kind.__struct_encode_fields__, strict=True)}
        for name, value in thing.items():
            if name.startswith("@"):
                continue
            self.assertIn(name, known, f"{thing['@type']} has no {name}")
            for one in value if isinstance(value, list) else [value]:
                if isinstance(one, dict) and "@type" in one:
                    self.check(one)
                    held = getattr(vocabulary, str(one["@type"]))
                    self.assertTrue(any(base.__name__ in known[name] for base in held.__mro__),
                                    f"{name} of {thing['@type']} holds no {one['@type']}")


class LostTest(SearchCase):
    def test_the_page_for_wrong_addresses_stands_at_its_own_and_is_told_to_servers(self) -> None:
        site, made = add_lost_page(self.site)
        self.assertEqual(site.page(made).slug, "404")
        with self.assertRaisesRegex(EditError, "already"):
            add_lost_page(site)
        with self.assertRaisesRegex(EditError, "home page first"):
            add_lost_page(msgspec.structs.replace(site, pages=()))
        self.assertIn("This page is not here", self.page(site, "404/index.html"))
        self.assertIn("error_page 404 /404/index.html;",
                      (self.out / "needle.nginx.conf").read_text())
        self.assertIn("ErrorDocument 404", (self.out / ".htaccess").read_text())
        self.assertNotIn("/404", (self.out / "sitemap.xml").read_text())


class OutsideTest(SearchCase):
    def test_a_release_for_another_server_says_itself_what_our_host_would(self) -> None:
        send_pages(self.site, self.project, [PAGE, THANKS])
        moved = msgspec.structs.replace(self.site, pages=tuple(
            msgspec.structs.replace(page, slug="stars") if page.id == PAGE else page
            for page in self.site.pages))
        send_pages(moved, self.project, [PAGE])
        take_off(self.project, [THANKS], {THANKS: ""})
        store = Releases(self.project)
        files = outside_files(moved, store.current(), store)
        page = files.read("stars/index.html").decode()
        self.assertRegex(page, r'<meta charset="utf-8"><meta http-equiv="Content-Security-Policy"')
        self.assertRegex(page, r"<body data-alone")
        self.assertNotIn("data-alone", outside_files(
            moved, store.current(), store, hosted=True).read("stars/index.html").decode())
        self.assertEqual(files.read("redirects.txt").decode(), "/night /stars 301\n/thanks 410\n")
        nginx = files.read("needle.nginx.conf").decode()
        self.assertIn("location = /night { return 301 /stars$is_args$args; }", nginx)
        self.assertIn("location = /thanks { return 410; }", nginx)
        self.assertIn("RedirectMatch 301 ^/night/?$ /stars", files.read(".htaccess").decode())
        self.assertTrue(re.search("<loc>https://www.hill.example/stars</loc>",
                                  files.read("sitemap.xml").decode()))
        for path, file in files.files.items():
            self.assertEqual(len(files.read(path)), file.size, path)


if __name__ == "__main__":
    unittest.main()
