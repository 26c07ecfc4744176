"""What is read is declared: patches, marks of what is stale and limits follow from it."""

import unittest
from typing import Any

import msgspec

from needle.core.edit.areas import changed_areas
from needle.core.edit.brand import set_swatch
from needle.core.edit.changes import as_sent, changes_since
from needle.core.edit.forms import set_field_of
from needle.core.edit.media import add_medium, set_medium
from needle.core.edit.nodes import delete, insert, set_field, set_words
from needle.core.edit.pages import add_page, rename_page, set_slug
from needle.core.edit.patches import patches
from needle.core.edit.place import EditError
from needle.core.edit.whole import set_brief, set_site_name
from needle.core.kinds import ITEM_KINDS
from needle.core.kinds.heading import Heading
from needle.core.kinds.kind import Field, Kind
from needle.core.kinds.logo import Logo
from needle.core.kinds.menu import Menu
from needle.core.kinds.picture import Picture
from needle.core.kinds.progress import Progress
from needle.core.markup.surroundings import UndeclaredError
from needle.core.render.context import Context
from needle.core.render.holders import KINDS, render_node
from needle.core.render.reads import reads_of
from needle.core.site.site import Medium, Page, Site
from needle.core.values.actions import GoPage
from needle.core.values.areas import Area
from needle.core.values.node import Item
from needle.core.values.strict import StrictError
from needle.core.values.words import Run, text
from needle.store.media import EditPictures
from tests.sites import EMAIL, FORM, PAGE, THANKS, small_site

PICTURE = Medium(id="m1", name="hill.png", file="0a1b2c3d4e5f.png", width=8, height=6)


def rich_site() -> Site:
    """Return the small site with a menu, a logo, a picture and a link to another page."""
    site = add_medium(small_site(), PICTURE)
    for item in (Menu(id="menu1", pages=(PAGE, THANKS)), Logo(id="logo1"),
                 Picture(id="pic1", medium="m1")):
        site = insert(site, item, "text1", "after")
    return set_words(site, "list1", ((Run("Thanks", link=f"page:{THANKS}"),),))


def context(site: Site) -> Context:
    page = site.page(PAGE)
    assert page is not None
    return Context(site, page, page.variants[0], "edit", EditPictures(), "/walk/")


def patched(old: Site, new: Site) -> list[str]:
    page = old.page(PAGE)
    assert page is not None
    return [patch.id for patch in patches(old, new, page.variants[0], context(new))
            if patch.op == "node"]


_SAID: Any = {"mark": "x", "purpose": "Words", "about": "x", "traits": frozenset()}


class DeclaredTest(unittest.TestCase):
    def test_every_kind_renders_with_what_it_declares(self) -> None:
        site = rich_site()
        for kind in KINDS:
            node = kind.new("fresh1")
            for name in ("medium", "picture", "poster", "film"):
                if hasattr(node, name):
                    node = msgspec.structs.replace(node, **{name: "m1"})
            if hasattr(node, "form"):
                node = msgspec.structs.replace(node, form=FORM)
            self.assertTrue(render_node(node, context(site)), kind.label)
            if kind.summary:
                self.assertTrue(kind.summary(node, context(site)), kind.label)

    def test_a_kind_that_reads_more_than_it_says_is_stopped(self) -> None:
        class Sly(Item, frozen=True, tag="sly"):
            pass

        def render(node: Sly, asked: Any) -> Any:
            return asked.attributes(node) and str(asked.pages())

        surroundings = context(rich_site())
        surroundings.declare(Kind(type=Sly, label="Sly", **_SAID,
                                  new=lambda i: Sly(id=i), render=render).reads)
        with self.assertRaisesRegex(UndeclaredError, "pages"):
            render(Sly(id="sly1"), surroundings)

    def test_links_and_clicks_read_pages_and_files_by_themselves(self) -> None:
        plain = Heading(id="h1", words=text("Words"))
        linked = Heading(id="h1", words=(Run("Words", link=f"page:{THANKS}"),))
        self.assertEqual(reads_of(plain), frozenset())
        self.assertEqual(reads_of(linked), {Area.PAGES})
        button = msgspec.structs.replace(ITEM_KINDS["button"].new("b1"), actions=(GoPage(THANKS),))
        self.assertEqual(reads_of(button), {Area.PAGES})


class PatchTest(unittest.TestCase):
    def setUp(self) -> None:
        self.site = rich_site()

    def test_a_page_that_is_renamed_patches_the_menu_alone(self) -> None:
        self.assertEqual(patched(self.site, rename_page(self.site, THANKS, "Done")), ["menu1"])

    def test_a_page_elsewhere_patches_menu_and_links(self) -> None:
        found = patched(self.site, set_slug(self.site, THANKS, "done"))
        self.assertEqual(sorted(found), ["list1", "menu1"])

    def test_a_new_page_patches_nothing(self) -> None:
        self.assertEqual(patched(self.site, add_page(self.site, "Prices")[0]), [])

    def test_words_of_a_picture_and_name_of_the_site_patch_what_shows_them(self) -> None:
        self.assertEqual(patched(self.site, set_medium(self.site, "m1", alt="A hill")), ["pic1"])
        self.assertEqual(patched(self.site, set_site_name(self.site, "Dale")), ["logo1"])

    def test_what_nobody_on_the_page_shows_patches_nothing(self) -> None:
        other = msgspec.structs.replace(PICTURE, id="m2", file="1a1b2c3d4e5f.png")
        self.assertEqual(patched(self.site, add_medium(self.site, other)), [])
        self.assertEqual(patched(self.site, set_brief(self.site, "idea", "A night")), [])

    def test_an_item_that_is_edited_itself_is_patched_once(self) -> None:
        both = set_field(rename_page(self.site, THANKS, "Done"), "menu1", "opener", "Pages")
        self.assertEqual(patched(self.site, both), ["menu1"])


class AreaTest(unittest.TestCase):
    def test_an_edit_says_which_areas_it_changed(self) -> None:
        site = rich_site()
        for after, areas in (
                (site, set()),
                (set_words(site, "head1", (text("New"),)), {Area.CONTENT}),
                (rename_page(site, THANKS, "Done"), {Area.PAGES}),
                (add_page(site, "Prices")[0], {Area.PAGES, Area.CONTENT}),
                (set_swatch(site, "ink", "#112233"), {Area.BRAND}),
                (set_field_of(site, FORM, EMAIL, label="Write to"), {Area.FORMS}),
                (set_site_name(site, "Dale"), {Area.NAME})):
            self.assertEqual(changed_areas(site, after), areas)


class SinceTest(unittest.TestCase):
    """"Same as live" is said of what visitors would get, not of the page's own nodes alone."""

    def since(self, after: Site, before: Site | None = None) -> list[str]:
        old = before or rich_site()
        was, now = old.page(PAGE), after.page(PAGE)
        assert was is not None and now is not None
        sent = msgspec.json.decode(msgspec.json.encode(as_sent(old, was)), type=type(
            as_sent(old, was)))
        return changes_since(sent, as_sent(after, now))

    def test_what_is_shown_of_the_site_counts(self) -> None:
        site = rich_site()
        self.assertEqual(self.since(site), [])
        self.assertEqual(self.since(rename_page(site, THANKS, "Done")), ["menu"])
        self.assertEqual(self.since(set_slug(site, THANKS, "done")),
                         ["menu", "where a list leads"])
        self.assertEqual(self.since(set_site_name(site, "Dale")), ["name of the site"])
        self.assertEqual(self.since(set_medium(site, "m1", alt="A hill")), ["picture hill.png"])
        self.assertEqual(self.since(add_page(site, "Prices")[0]), [])

    def test_an_item_that_shows_the_name_as_well_is_not_said_to_lead_elsewhere(self) -> None:
        site = insert(rich_site(), Logo(id="logo1"), "text1", "after")
        self.assertEqual(self.since(set_site_name(site, "Dale"), site), ["name of the site"])
        home = Page(id="home", name="Home", slug="", variants=site.pages[1].variants)
        site = msgspec.structs.replace(site, pages=(home, *site.pages))
        self.assertEqual(self.since(set_slug(site, "home", "start"), site),
                         ["where a logo leads"])

    def test_what_the_page_does_not_show_does_not_count(self) -> None:
        site = set_field(rich_site(), "menu1", "pages", (PAGE,))
        site = set_words(site, "list1", (text("Thanks"),))
        self.assertEqual(self.since(rename_page(site, THANKS, "Done"), site), [])
        other = msgspec.structs.replace(PICTURE, id="m2", file="1a1b2c3d4e5f.png")
        self.assertEqual(self.since(add_medium(site, other), site), [])

    def test_a_picture_that_went_from_the_media_counts(self) -> None:
        site = rich_site()
        gone = msgspec.structs.replace(site, media=())
        self.assertEqual(self.since(gone), ["picture hill.png is gone"])
        self.assertEqual(self.since(delete(gone, "pic1")), ["1 item removed"])

    def test_what_an_earlier_needle_sent_is_never_called_the_same(self) -> None:
        site = rich_site()
        page = site.page(PAGE)
        assert page is not None
        sent = msgspec.structs.replace(as_sent(site, page), drew=None)
        self.assertIn("earlier Needle", changes_since(sent, as_sent(site, page))[0])


class LimitTest(unittest.TestCase):
    def test_numbers_choices_and_colours_are_refused_in_words_at_every_edit(self) -> None:
        site = insert(rich_site(), Progress(id="bar1", words=text("Half")), "text1", "after")
        for node, field, value, words in (
                ("head1", "rank", 99, "from 1 to 6"), ("bar1", "value", -1, "from 0 to 100"),
                ("bar1", "bar", "nocolour", "one of ink, paper, main"),
                ("pic1", "zoom", 20, "from 100 to 500"),
                ("popup1", "position", "nowhere", "one of middle, top")):
            with self.assertRaisesRegex((EditError, StrictError), words):
                set_field(site, node, field, value)

    def test_they_are_refused_in_words_when_a_file_is_read(self) -> None:
        raw = msgspec.json.encode(rich_site()).replace(b'"rank":1', b'"rank":99', 1)
        with self.assertRaisesRegex(msgspec.ValidationError, r"99 cannot .* 1 to 6 - at `\$\.pa"):
            msgspec.json.decode(raw, type=Site)

    def test_the_tray_gets_the_limits_of_the_values_type(self) -> None:
        fields = {field.name: field for field in ITEM_KINDS["picture"].fields}
        self.assertEqual((fields["zoom"].low, fields["zoom"].high), (100, 500))

    def test_a_kind_whose_choices_are_others_than_its_type_takes_is_refused(self) -> None:
        with self.assertRaisesRegex(TypeError, "other choices"):
            Kind(type=Picture, label="x", **_SAID, new=ITEM_KINDS[
                "picture"].new, render=ITEM_KINDS["picture"].render, fields=(
                    Field(name="zoom", label="Zoom", editor="number"),))
            Kind(type=ITEM_KINDS["logo"].type, label="x", **_SAID,
                 new=ITEM_KINDS["logo"].new, render=ITEM_KINDS["logo"].render,
                 fields=(Field(name="shows", label="x", editor="choice", choices={"a": "A"}),))
