"""Folders, outside code, letter width, popups that open by themselves, ready-made sections."""

import unittest

import html5lib
import msgspec

from needle.core.edit.nodes import change, set_field
from needle.core.edit.pages import (
    add_folder,
    change_code,
    delete_folder,
    move_page,
    put_in_folder,
    rename_folder,
    set_letter_width,
)
from needle.core.edit.patches import patches
from needle.core.edit.place import EditError
from needle.core.readymade.catalogue import (
    READY_MADE,
    all_purposes,
    find_ready_made,
    make_section,
)
from needle.core.render.context import Context
from needle.core.render.document import Assets, edit_page, live_body, live_page, runtime_parts
from needle.core.render.ownrules import css_faults, sound_css
from needle.core.render.stylesheet import page_css
from needle.core.site.site import Code, Page, Site
from needle.core.site.tree import walk
from needle.core.snags.finding import find_snags
from needle.core.values.ids import IdSource
from needle.store.media import EditPictures, PublishedPictures
from tests.core.test_render import context
from tests.sites import PAGE, THANKS, small_site


def live(site: Site, page: Page) -> str:
    context = Context(site, page, page.variants[0], "live", PublishedPictures(""))
    return live_page(context, Assets(), live_body(context))


def edited(site: Site, page: Page) -> str:
    return edit_page(Context(site, page, page.variants[0], "edit", EditPictures()), "")


class FolderTest(unittest.TestCase):
    def test_pages_go_in_and_out_and_stay_when_it_goes(self) -> None:
        site, folder = add_folder(small_site(), " Meteor  journey ")
        site = put_in_folder(site, THANKS, folder)
        self.assertEqual(site.folder(site.page(THANKS).folder).name, "Meteor journey")
        site = rename_folder(site, folder, "Night journey")
        self.assertEqual(site.folders[0].name, "Night journey")
        gone = delete_folder(site, folder)
        self.assertEqual((len(gone.pages), gone.page(THANKS).folder, gone.folders), (2, "", ()))
        for run, words in ((lambda: add_folder(site, "night journey"), "already"),
                           (lambda: add_folder(site, ""), "needs a name"),
                           (lambda: put_in_folder(site, PAGE, "gone"), "no longer there")):
            with self.subTest(words), self.assertRaisesRegex(EditError, words):
                run()

    def test_pages_are_put_in_order(self) -> None:
        site = move_page(small_site(), THANKS, -1)
        self.assertEqual([p.id for p in site.pages], [THANKS, PAGE])
        self.assertIs(move_page(site, THANKS, -1), site)


class CodeTest(unittest.TestCase):
    EVIL = "<script>parent.hit = 1</script>"

    def test_each_reach_gets_its_pages_and_the_editor_none(self) -> None:
        site, folder = add_folder(small_site(), "Journey")
        site = put_in_folder(site, THANKS, folder)
        site = change_code(site, "site", "", head="<meta name=all>", body=self.EVIL)
        site = change_code(site, "folder", folder, head="<meta name=some>")
        site = change_code(site, "page", PAGE, head="<meta name=one>")
        night, thanks = (live(site, site.page(p)) for p in (PAGE, THANKS))
        self.assertTrue("name=all" in night and "name=one" in night and "name=some" not in night)
        self.assertTrue("name=all" in thanks and "name=some" in thanks and "name=one" not in thanks)
        self.assertIn(self.EVIL, night)
        self.assertNotIn("parent.hit", edited(site, site.page(PAGE)))

    def test_own_css_comes_last_and_patches_the_views(self) -> None:
        before = small_site()
        site = change_code(before, "page", PAGE, css=".button{color:red}")
        page = site.page(PAGE)
        context = Context(site, page, page.variants[0], "edit", EditPictures())
        found = patches(before, site, before.page(PAGE).variants[0], context)
        self.assertEqual([(p.op, p.css) for p in found], [("own", ".button{color:red}")])
        self.assertGreater(live(site, page).index(".button{color:red}"),
                           live(site, page).index(".b-main"))

    def test_faults_name_the_line_and_sound_rules_stay(self) -> None:
        for css, line in ((".a{}\n.b{color red}", 2), (".a{color:}", 1), ("color:red", 1),
                          (".a{x:1;\n\ny:url(a b}", 3), ("@media (x){\n.a{c d}}", 2), ("}", 1)):
            with self.subTest(css):
                self.assertEqual(css_faults(css)[0].line, line)
                self.assertIn(f"Line {line}:", css_faults(css)[0].words)
        self.assertEqual(css_faults(".a{--x:1;color:red!important} @media print{.b{top:0}}"), [])
        self.assertEqual(sound_css(".a{top:0}\n.b{color red}\n.c{left:0}"), ".a{top:0}.c{left:0}")
        self.assertNotIn("</", sound_css(".a{--x:</style><script>alert(1)</script>}"))
        site = change_code(small_site(), "page", PAGE, css="\n.b{color red}")
        self.assertIn("Line 2", next(s.words for s in find_snags(site) if "CSS" in s.where))


class LetterWidthTest(unittest.TestCase):
    def test_one_value_holds_for_every_section_that_sets_none(self) -> None:
        before = small_site()
        site = set_letter_width(before, PAGE, 640)
        page = site.page(PAGE)
        context = Context(site, page, page.variants[0], "edit", EditPictures())
        self.assertIn("section.section{--inner:640px}", page_css(context))
        found = patches(before, site, before.page(PAGE).variants[0], context)
        self.assertEqual([p.op for p in found], ["base"])
        self.assertNotIn("640px", live(site, site.page(THANKS)))
        with self.assertRaisesRegex(EditError, "280 to 2400 px, not 100"):
            set_letter_width(site, PAGE, 100)


class PopupTest(unittest.TestCase):
    def test_each_opener_is_told_to_visitors_and_brings_the_script(self) -> None:
        site = small_site()
        for field, value, mark in (("after_s", 5, 'data-after="5"'), ("on_leave", True,
                                   "data-leave"), ("at_scroll", 40, 'data-scroll="40"')):
            after = set_field(site, "popup1", field, value)
            page = after.page(PAGE)
            out = live(after, page)
            self.assertIn(mark, out)
            self.assertIn('data-again="1"', out)
            self.assertNotIn("data-again", edited(after, page))
            alone = change(after, "button1", lambda b: msgspec.structs.replace(b, actions=()))
            self.assertIn("popup", runtime_parts(context(alone), False))

    def test_closers_size_and_place(self) -> None:
        site = small_site()
        for field, value in (("outside", False), ("escape", False), ("size", 700),
                             ("position", "bottom")):
            site = set_field(site, "popup1", field, value)
        out = live(site, site.page(PAGE))
        self.assertRegex(out, '<dialog class="popup popup-bottom"[^>]*--size:700px[^>]*'
                              " data-fixed data-held")


class ReadyMadeTest(unittest.TestCase):
    def test_there_are_enough_for_enough_purposes_and_names_differ(self) -> None:
        self.assertGreaterEqual(len(READY_MADE), 40)
        self.assertGreaterEqual(len(all_purposes()), 12)
        self.assertEqual(len({one.key for one in READY_MADE}), len(READY_MADE))

    def test_each_is_whole_html_with_texts_and_only_roles_for_colours(self) -> None:
        site = small_site()
        for one in READY_MADE:
            with self.subTest(one.key):
                arrived = make_section(one, site, IdSource(1))
                section, whole = arrived.part, arrived.site
                packed = msgspec.json.encode(section).decode()
                self.assertNotIn('"#', packed.replace('"overlay":"#', ""))
                page = msgspec.structs.replace(site.page(PAGE), variants=(msgspec.structs.replace(
                    site.page(PAGE).variants[0], children=(section,)),))
                html5lib.HTMLParser(strict=True).parse(live(whole, page))
                self.assertEqual(len({n.id for n in walk(section)}), len(list(walk(section))))

    def test_found_by_word_and_purpose(self) -> None:
        self.assertIn("two_prices", [one.key for one in find_ready_made("pricing")])
        self.assertEqual({one.purpose for one in find_ready_made("", "Steps")}, {"Steps"})
        self.assertEqual(find_ready_made("no such thing"), [])

    def test_they_show_the_sites_own_form_and_call(self) -> None:
        site = small_site()
        site = msgspec.structs.replace(site, brief=msgspec.structs.replace(
            site.brief, call_to_action="Come up the hill"))
        [form] = [one for one in READY_MADE if one.key == "opening_with_form"]
        self.assertIn("form1", msgspec.json.encode(
            make_section(form, site, IdSource(1)).part).decode())
        [band] = [one for one in READY_MADE if one.key == "closing_band"]
        self.assertIn("Come up the hill",
                      msgspec.json.encode(make_section(band, site, IdSource(1)).part).decode())


class OldProjectTest(unittest.TestCase):
    def test_a_page_written_before_these_were_there_reads_the_same(self) -> None:
        packed = msgspec.json.encode(small_site().page(PAGE))
        for word in (b"letter_width", b"folder", b"linked", b"after_s", b"overlay", b"ratio"):
            self.assertNotIn(word, packed)
        self.assertEqual(msgspec.json.decode(packed, type=Page).code, Code())
