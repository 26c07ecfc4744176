import gzip
import re
import unittest
from pathlib import Path

import html5lib
import msgspec

from needle.core.edit.looks import set_look
from needle.core.edit.nodes import set_field, set_hidden, set_words
from needle.core.edit.patches import patches
from needle.core.kinds import ITEM_KINDS
from needle.core.markup.markup import safe_address
from needle.core.render.context import Context
from needle.core.render.document import Assets, edit_page, live_body, live_page, runtime_parts
from needle.core.render.holders import render_node
from needle.core.render.scripts import runtime_script
from needle.core.render.stylesheet import look_css, page_css, without_unused
from needle.core.site.site import Page, Site
from needle.core.values.actions import Dial, GoAddress, GoPage, Write
from needle.core.values.form import ThankPage
from needle.core.values.look import Look
from needle.core.values.widths import Width
from needle.core.values.words import Run, text
from needle.store.media import EditPictures, PublishedPictures
from tests.sites import PAGE, THANKS, long_page, small_site


def context(site: Site, mode: str = "live", page: Page | None = None) -> Context:
    page = page or site.pages[0]
    pictures = EditPictures() if mode == "edit" else PublishedPictures("../")
    return Context(site, page, page.variants[0], mode, pictures, "../")  # type: ignore[arg-type]


def live(site: Site, page: Page | None = None) -> str:
    around = context(site, page=page)
    return live_page(around, Assets(), live_body(around))


class LivePageTest(unittest.TestCase):
    def test_a_page_is_valid_html_without_traces_of_the_editor(self) -> None:
        html = live(small_site())
        parser = html5lib.HTMLParser(strict=True)
        parser.parse(html)
        self.assertNotIn("data-n", html)
        self.assertNotIn("contenteditable", html)

    def test_pasted_scripts_stay_words(self) -> None:
        evil = "<script>alert(1)</script>\"'&"
        site = set_words(small_site(), "head1", ((Run(evil, link="javascript:alert(1)"),),))
        html = live(site)
        self.assertNotIn("<script>alert", html)
        self.assertNotIn("javascript:", html)
        self.assertIn("&lt;script&gt;", html)

    def test_addresses_that_run_code_become_harmless(self) -> None:
        for address in ("javascript:alert(1)", " java\nscript:x", "data:text/html,x", "vbscript:x",
                        "http://[", ""):
            with self.subTest(address):
                self.assertEqual(safe_address(address), "#")
        for address in ("https://a.example/b?c=d", "mailto:a@b.example", "#part", "../page/"):
            self.assertEqual(safe_address(address), address)

    def test_a_click_leads_where_it_says(self) -> None:
        for action, href in ((GoPage(THANKS), "../thanks/"), (Dial("+44 (0)20-79"), "tel:+4402079"),
                             (Write("a@b.example"), "mailto:a@b.example"), (GoPage("gone"), "#"),
                             (GoAddress("https://x.example"), "https://x.example")):
            site = set_field(small_site(), "button1", "actions", (action,))
            with self.subTest(href):
                self.assertIn(f'href="{href}"', live(site))

    def test_only_the_rules_and_parts_that_are_used_go_out(self) -> None:
        css = page_css(context(long_page(1)))
        self.assertNotIn(".popup", css)
        self.assertNotIn(".form", css)
        self.assertNotIn(".t-small", css)
        self.assertIn(".t-title", css)
        self.assertEqual(runtime_parts(context(long_page(1)), True), ("visit", "followed"))
        self.assertEqual(runtime_parts(context(small_site()), False),
                         ("source", "popup", "clicks", "form"))

    def test_what_nothing_refers_to_is_not_sent(self) -> None:
        sheet = "a{--x:1;--y:var(--z);--c-main:#fff;width:var(--y)}b{--z:2;--q:3}"
        self.assertEqual(without_unused(sheet, ""),
                         "a{--y:var(--z);--c-main:#fff;width:var(--y)}b{--z:2;}")
        self.assertIn("--q:3", without_unused(sheet, '<i style="top:var(--q)">'))

    def test_a_link_leads_past_the_header_to_the_one_main(self) -> None:
        site = small_site()
        page = site.page(PAGE)
        first, *rest = page.variants[0].children
        header = msgspec.structs.replace(first, role="header")
        both = msgspec.structs.replace(page, variants=(msgspec.structs.replace(
            page.variants[0], children=(header, *rest)),))
        out = live(site, both)
        self.assertLess(out.index('class="skip" href="#content"'), out.index("<header"))
        self.assertEqual(out.count('<main id="content"'), 1)
        self.assertNotIn('class="skip"', live(site, page))

    def test_who_has_sent_a_form_does_not_come_from_a_search(self) -> None:
        site = small_site()
        form = msgspec.structs.replace(site.forms[0], after=ThankPage(THANKS))
        after = msgspec.structs.replace(site, forms=(form,))
        self.assertIn('content="noindex"', live(after, after.page(THANKS)))
        self.assertNotIn('content="noindex"', live(after, after.page(PAGE)))

    def test_alike_looks_share_one_rule(self) -> None:
        site = long_page(1)
        texts = [n.id for n in site.pages[0].variants[0].nodes()][-3:]
        css = page_css(context(set_look(site, texts, "size", 15)))
        self.assertEqual(css.count("font-size:0.9375rem"), 1)

    def test_every_kind_renders_fresh_alone_as_valid_html(self) -> None:
        from needle.core.edit.nodes import insert

        for kind in ITEM_KINDS.values():
            with self.subTest(kind.key):
                html = live(insert(small_site(), kind.new("fresh1"), "head1", "after"))
                html5lib.HTMLParser(strict=True).parse(html)


class WidthTest(unittest.TestCase):
    def test_a_look_for_the_phone_leaves_every_other_rule_as_it_was(self) -> None:
        before = page_css(context(small_site()))
        after = page_css(context(set_look(small_site(), ["head1"], "size", 20, Width.PHONE)))
        added = after.replace(before, "")
        self.assertTrue(after.startswith(before))
        self.assertEqual(re.findall(r"@media ([^{]+)", added), ["(max-width:699.98px)"])

    def test_hidden_on_the_phone_is_a_rule_for_the_phone_alone(self) -> None:
        css = page_css(context(set_hidden(small_site(), "head1", Width.PHONE, True)))
        self.assertIn("@media (max-width:699.98px){.n-head1.n-head1{display:none!important}}", css)

    def test_cells_fall_back_to_one_a_line_on_the_phone_unless_set_there(self) -> None:
        css = look_css(Look(base={"cells": 3}), ".x")
        self.assertIn("@media (max-width:699.98px){.x{display:grid;grid-template-columns:"
                      "repeat(1,", css)
        self.assertIn("repeat(2,", look_css(Look(base={"cells": 3}, phone={"cells": 2}), ".x"))


class PatchTest(unittest.TestCase):
    def found(self, old: Site, new: Site) -> list:
        return patches(old, new, old.pages[0].variants[0], context(new, "edit"))

    def test_a_keystroke_is_one_patch_of_one_node_however_long_the_page(self) -> None:
        for site in (long_page(2), long_page(60)):
            (patch,) = self.found(site, set_words(site, "head0", (text("New"),)))
            self.assertEqual((patch.op, patch.id), ("node", "head0"))
            self.assertIn("New", patch.html)

    def test_a_look_is_a_rule_and_no_markup(self) -> None:
        site = small_site()
        (patch,) = self.found(site, set_look(site, ["head1"], "size", 30))
        self.assertEqual((patch.op, patch.css), ("css", ".n-head1.n-head1{font-size:1.875rem}"))

    def test_the_same_site_needs_no_patch(self) -> None:
        site = small_site()
        self.assertEqual(self.found(site, site), [])

    def test_the_editor_page_holds_every_node_and_rule(self) -> None:
        site = set_look(small_site(), ["head1"], "size", 30)
        html = edit_page(context(site, "edit"), "")
        for node in site.page(PAGE).variants[0].nodes():
            self.assertIn(f'data-n="{node.id}"', html)
        self.assertIn("n-head1.n-head1{font-size:1.875rem}", html)


class RuntimeTest(unittest.TestCase):
    def test_the_runtime_is_small(self) -> None:
        folder = Path(__file__).parent.parent.parent / "src/needle/core/render/runtime"
        # What a page with a popup and a form gets; proof of work and consent come on demand.
        usual = runtime_script(("visit", "source", "popup", "clicks", "form", "followed"))
        self.assertLess(len(gzip.compress(usual.encode())), 5_000)
        # What stands on pages of other people, and what answers it in a frame, is on none of ours.
        apart = ("elsewhere", "inside", "called")
        whole = runtime_script(tuple(
            sorted(f.stem for f in folder.glob("*.js") if f.stem not in apart)))
        # Lists of goods on sale, long ones, and ones that look back, all on one page.
        self.assertLess(len(gzip.compress(whole.encode())), 8_400)
        outside = (folder / "elsewhere.js").read_bytes()
        self.assertLess(len(gzip.compress(outside)), 3_000)


class NotSentTest(unittest.TestCase):
    def test_what_is_hidden_at_every_width_is_not_sent(self) -> None:
        site = small_site()
        opening = site.pages[0].variants[0].children[0].id
        for width in Width:
            site = set_hidden(site, opening, width, True)
            if width is not list(Width)[-1]:
                self.assertIn("Old words", live_body(context(site)))
        self.assertNotIn("Old words", live_body(context(site)))
        self.assertIn("Old words", edit_page(context(site, "edit"), ""))

    def test_empty_lines_are_not_sent(self) -> None:
        lines = (text("First"), text(""), text("  "), text("Last"), ())
        for node, element in (("text1", "p"), ("list1", "li")):
            site = set_words(small_site(), node, lines)
            page = context(site)
            html = str(render_node(next(n for n in page.variant.nodes() if n.id == node), page))
            self.assertEqual(html.count(f"<{element}>"), 2)
