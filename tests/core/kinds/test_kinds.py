"""Each kind of item: what visitors get of it, and what it refuses."""

import json
import re
import unittest
import xml.etree.ElementTree as ET
from html import unescape

import html5lib
import msgspec

from needle.core.edit.media import add_medium
from needle.core.edit.nodes import delete, insert, set_field, set_words
from needle.core.edit.pages import add_page, delete_page
from needle.core.edit.place import EditError, find, node_at
from needle.core.edit.whole import set_brief
from needle.core.icons.drawing import find_icons, icon_names, icon_svg
from needle.core.kinds import ITEM_KINDS
from needle.core.kinds.button import Button
from needle.core.kinds.chart import Chart
from needle.core.kinds.countdown import Countdown
from needle.core.kinds.embed import Embed
from needle.core.kinds.icon import Icon
from needle.core.kinds.menu import Menu
from needle.core.kinds.picture import Picture
from needle.core.kinds.progress import Progress
from needle.core.kinds.testimonial import Testimonial
from needle.core.kinds.video import Video
from needle.core.render.context import Context
from needle.core.render.document import live_body, runtime_parts
from needle.core.render.holders import KINDS, render_node
from needle.core.render.stylesheet import page_css
from needle.core.render.texts import plain_lines, texts_of
from needle.core.site.fresh import fresh_item, with_menus_written_down
from needle.core.site.site import Medium, Site
from needle.core.snags.finding import find_snags
from needle.core.values.actions import (
    CountGoal,
    GoSection,
    HidePart,
    OpenPopup,
    PlayVideo,
    ShowPart,
)
from needle.core.values.node import Item
from needle.core.values.words import Run, text
from needle.store.media import EditPictures, PublishedPictures
from tests.core.test_render import context
from tests.sites import PAGE, THANKS, small_site


def with_item(item: Item) -> Site:
    return insert(small_site(), item, "head1", "after")


def html(site: Site, item: Item, mode: str = "live") -> str:
    page = site.pages[0]
    pictures = EditPictures() if mode == "edit" else PublishedPictures("../")
    context = Context(site, page, page.variants[0], mode, pictures, "../")  # type: ignore[arg-type]
    return str(render_node(item, context))


class EveryKindTest(unittest.TestCase):
    def test_a_fresh_one_is_whole_and_comes_back_from_json(self) -> None:
        for key, kind in ITEM_KINDS.items():
            with self.subTest(key):
                item = kind.new("fresh1")
                packed = msgspec.json.encode(item)
                self.assertEqual(msgspec.json.decode(packed, type=kind.type), item)
                for field in kind.fields:
                    self.assertTrue(hasattr(item, field.name), field.name)
                for mode in ("edit", "live", "walk"):
                    html5lib.HTMLParser(strict=True).parseFragment(
                        html(with_item(item), item, mode), container="div")

    def test_the_editor_marks_it_and_visitors_see_no_mark(self) -> None:
        for key, kind in ITEM_KINDS.items():
            item = kind.new("fresh1")
            with self.subTest(key):
                self.assertIn('data-n="fresh1"', html(with_item(item), item, "edit"))
                self.assertNotRegex(html(with_item(item), item), "data-(n|words|typed)=")


class CountdownTest(unittest.TestCase):
    def test_a_moment_is_the_same_everywhere_and_readable_without_a_script(self) -> None:
        item = Countdown(id="c1", until="2026-08-12 21:30", zone="Europe/London", ended="Over.")
        out = html(with_item(item), item)
        self.assertIn('data-until="1786566600000"', out)  # 20:30 UTC, in summer time
        self.assertIn("Until 12 August 2026, 21:30", out)
        self.assertIn('data-ended="Over."', out)
        winter = Countdown(id="c1", until="2026-12-12T21:30", zone="Asia/Tokyo")
        self.assertIn('data-until="1797078600000"', html(with_item(winter), winter))

    def test_hours_for_each_visitor_take_its_place(self) -> None:
        item = Countdown(id="c1", until="2026-08-12 21:30", hours=48)
        out = html(with_item(item), item)
        self.assertIn('data-hours="48"', out)
        self.assertNotIn("data-until", out)

    def test_no_date_is_refused_in_words(self) -> None:
        site = with_item(Countdown(id="c1"))
        for field, value, words in (("until", "next summer", "like 2026-08-12 21:30"),
                                    ("until", "2026-02-30", "like 2026-08-12 21:30"),
                                    ("zone", "Quillmoor", "no time zone")):
            with self.subTest(value), self.assertRaisesRegex(EditError, words):
                set_field(site, "c1", field, value)
        self.assertEqual(html(site, Countdown(id="c1")).count("data-until"), 0)

    def test_its_script_goes_only_to_pages_that_count_down(self) -> None:
        self.assertNotIn("countdown", runtime_parts(context(small_site()), True))
        site = with_item(Countdown(id="c1", hours=2))
        self.assertEqual(runtime_parts(context(site), True),
                         ("visit", "source", "popup", "clicks", "countdown", "form", "followed"))


class MenuTest(unittest.TestCase):
    def test_it_follows_its_pages_and_takes_in_no_other(self) -> None:
        menu = Menu(id="m1", pages=(PAGE, THANKS))
        site = with_item(menu)
        self.assertEqual(re.findall(r'href="([^"]*)"[^>]*>([^<]*)', html(site, menu)),
                         [("../night/", "Night"), ("../thanks/", "Thanks")])
        self.assertEqual(html(site, menu).count('aria-current="page"'), 1)
        more, _ = add_page(site, "Third")
        self.assertNotIn("../third/", html(more, menu))
        self.assertNotIn("thanks", html(delete_page(site, THANKS), menu))

    def test_pages_can_be_left_out_and_it_folds_without_a_script(self) -> None:
        menu = Menu(id="m1", pages=(PAGE,), opener="")
        out = html(with_item(menu), menu)
        self.assertNotIn("thanks", out)
        self.assertIn('popovertarget="m-m1"', out)
        self.assertIn(">Menu</button>", out)


    def test_a_fresh_one_has_neither_what_follows_after_sending_nor_fine_print(self) -> None:
        site, _ = add_page(small_site(), "Privacy")
        site, third = add_page(site, "Third")
        fresh = fresh_item(site, ITEM_KINDS["menu"], "m1")
        self.assertEqual(fresh.pages, (PAGE, third))

    def test_one_of_an_earlier_needle_keeps_what_it_showed_and_takes_in_no_more(self) -> None:
        site = with_item(Menu(id="m1", left_out=(THANKS,)))
        after = with_menus_written_down(site)
        (menu,) = (n for n in after.pages[0].variants[0].nodes() if n.id == "m1")
        self.assertEqual((menu.pages, menu.left_out), ((PAGE,), ()))
        self.assertIs(with_menus_written_down(after), after)


class FreshTest(unittest.TestCase):
    def test_a_fresh_item_suits_the_site_and_says_nothing_of_another(self) -> None:
        site = set_brief(set_brief(small_site(), "call_to_action", "Ring us"), "deadline",
                         "2027-03-01")
        self.assertEqual(plain_lines(fresh_item(site, ITEM_KINDS["button"], "b1")), ["Ring us"])
        self.assertEqual(fresh_item(site, ITEM_KINDS["countdown"], "c1").until, "2027-03-01 20:00")
        self.assertEqual(fresh_item(site, ITEM_KINDS["form"], "f1").form, site.forms[0].id)
        odd = set_brief(site, "deadline", "soon")
        dateless = fresh_item(odd, ITEM_KINDS["countdown"], "c1")
        self.assertEqual((dateless.until, dateless.hours), ("", 0))
        for kind in KINDS:
            words = " ".join(plain_lines(kind.new("x1")))
            self.assertNotRegex(words, "(?i)place|night|meteor|telescope", kind.label)


class ProgressTest(unittest.TestCase):
    def test_it_says_its_value_to_those_who_cannot_see_it(self) -> None:
        bar = Progress(id="p1", words=text("29 of 48"), value=60)
        out = html(with_item(bar), bar)
        self.assertIn('aria-valuenow="60"', out)
        self.assertIn('aria-label="29 of 48"', out)
        self.assertIn("width:60%", out)
        other = html(with_item(bar), Progress(id="p1", words=text("12 of 48"), value=25))
        self.assertIn('aria-valuenow="25"', other)
        self.assertIn("width:25%", other)


class QuestionsTest(unittest.TestCase):
    def test_answers_fold_for_visitors_and_stand_open_in_the_editor(self) -> None:
        item = ITEM_KINDS["questions"].new("q1")
        out = html(with_item(item), item)
        self.assertEqual(out.count("<details"), 3)
        self.assertIn("<summary", out)
        self.assertNotIn("<details", html(with_item(item), item, "edit"))

    def test_texts_are_read_and_changed_by_their_paths(self) -> None:
        site = with_item(ITEM_KINDS["questions"].new("q1"))
        site = set_words(site, "q1", (text("Why"), text("so?")), "entries.1.question")
        site = set_words(site, "q1", (text("A"), text("B")), "entries.2.answer")
        node = node_at(site, find(site, "q1"))
        self.assertEqual(plain_lines(node, "entries.1.question"), ["Why\nso?"])
        self.assertEqual(plain_lines(node, "entries.2.answer"), ["A", "B"])
        self.assertEqual(len(texts_of(node)), 6)
        for path in ("words", "entries.9.answer", "entries.1", "name"):
            with self.subTest(path), self.assertRaisesRegex(EditError, "no words of its own"):
                set_words(site, "q1", (text("x"),), path)


class PricesTest(unittest.TestCase):
    def test_what_is_missing_is_shown_and_the_recommended_offer_stands_out(self) -> None:
        item = ITEM_KINDS["prices"].new("o1")
        out = html(with_item(item), item)
        self.assertEqual(out.count('aria-label="Not included"'), 2)
        self.assertEqual(out.count("offer-best"), 1)
        self.assertLess(out.index("offer-title"), out.index("Recommended"))
        bare = msgspec.structs.replace(item.entries[0], missing=())
        item = msgspec.structs.replace(item, entries=(bare,), recommended=0)
        self.assertNotRegex(html(with_item(item), item), "Not included|Recommended")

    def test_its_buttons_do_what_is_asked_and_bring_their_rules(self) -> None:
        item = msgspec.structs.replace(ITEM_KINDS["prices"].new("o1"),
                                       actions=(OpenPopup("popup1"),))
        site = with_item(item)
        self.assertEqual(html(site, item).count('href="#p-popup1"'), 2)
        only = delete(site, "button1")
        page = only.pages[0]
        css = page_css(Context(only, page, page.variants[0], "live", PublishedPictures("")))
        self.assertIn(".b-main", css)
        self.assertIn(".t-button", css)

    def test_a_table_whose_buttons_do_nothing_is_a_snag(self) -> None:
        found = [snag.target for snag in find_snags(with_item(ITEM_KINDS["prices"].new("o1")))]
        self.assertIn("o1", found)


class TestimonialTest(unittest.TestCase):
    def test_it_is_a_quotation_with_its_source(self) -> None:
        item = Testimonial(id="t1", quote=(text("Dark."),), name_said=text("Orla Finch"),
                           about=text("Nettlebridge"))
        out = html(with_item(item), item)
        self.assertRegex(out, "<figure[^>]*><blockquote><p>Dark.</p></blockquote><figcaption>")
        self.assertNotIn("said-face", out)

    def test_its_words_count_for_fonts_and_links(self) -> None:
        item = Testimonial(id="t1", quote=((Run("x", emphasis=True, link="page:gone"),),),
                           name_said=text("Orla"))
        self.assertIn("A link leads to a page that is gone",
                      [snag.words for snag in find_snags(with_item(item))])


class EmbedTest(unittest.TestCase):
    CODE = "<script>parent.document.title='in'</script><p>Map</p>"

    def test_it_is_inert_in_the_editor_and_as_pasted_for_visitors(self) -> None:
        embed = Embed(id="e1", code=self.CODE, height=320)
        site = with_item(embed)
        self.assertIn(self.CODE, html(site, embed))
        self.assertIn(self.CODE, html(site, embed, "walk"))
        edited = html(site, embed, "edit")
        self.assertNotIn("script", edited)
        self.assertIn(f"{len(self.CODE)} characters", edited)
        self.assertIn("min-height:320px", edited)


class VideoTest(unittest.TestCase):
    FILM = Medium(id="f1", name="night.webm", file="night.webm", width=640, height=360, seconds=8)

    def site(self, item: Item) -> Site:
        return add_medium(with_item(item), self.FILM)

    def test_ones_own_plays_in_place_and_only_after_a_click(self) -> None:
        item = Video(id="v1", film="f1", title="The hill")
        out = html(self.site(item), item)
        self.assertIn('<source src="../assets/night.webm" type="video/webm">', out)
        self.assertIn('preload="none"', out)
        self.assertNotIn("autoplay", out)
        loop = msgspec.structs.replace(item, plays="loop")
        self.assertRegex(html(self.site(loop), loop), " autoplay muted loop ")

    def test_one_from_elsewhere_is_a_stand_in_until_it_is_asked_for(self) -> None:
        for pasted in ("https://films.example/e/9", "//films.example/e/9",
                       '<iframe width=9 src="https://films.example/e/9" allow></iframe>',
                       "<div><IFRAME src='https://films.example/e/9'></iframe><script>x</script>"):
            item = Video(id="v1", address=pasted)
            with self.subTest(pasted):
                out = html(self.site(item), item)
                self.assertIn('data-frame="https://films.example/e/9"', out)
                self.assertIn("loads from films.example", out)
                self.assertNotRegex(out, "<iframe|<script")
        self.assertEqual(runtime_parts(context(self.site(item)), False),
                         ("source", "popup", "clicks", "form", "video"))

    def test_what_plays_nowhere_is_refused(self) -> None:
        site = self.site(Video(id="v1"))
        for bad in ("javascript:alert(1)", "films", "<iframe src=javascript:x>",
                    "data:text/html,x"):
            with self.subTest(bad), self.assertRaisesRegex(EditError, "no address that a video"):
                set_field(site, "v1", "address", bad)

    def test_the_editor_never_plays(self) -> None:
        for item in (Video(id="v1", film="f1"), Video(id="v1", address="https://x.example/v")):
            self.assertNotRegex(html(self.site(item), item, "edit"), "<video|<iframe|href")


class NewKindsTest(unittest.TestCase):
    def test_a_chart_reads_as_a_table_too(self) -> None:
        item = Chart(id="c1", words=text("Rain"), numbers="May; 3\nJune; 5", unit="mm")
        out = html(with_item(item), item)
        self.assertIn('role="img" aria-label="Rain"', out)
        self.assertIn('<th scope="row">May</th><td>3 mm</td>', out)
        with self.assertRaisesRegex(EditError, "Line 1"):
            set_field(with_item(item), "c1", "numbers", "words only here")

    def test_pictures_are_cut_by_value(self) -> None:
        medium = Medium(id="m1", name="a", file="a.png", width=900, height=600, alt="A hill")
        item = Picture(id="p1", medium="m1", ratio="1/1", focus_x=20, focus_y=70, zoom=150)
        out = html(add_medium(with_item(item), medium), item)
        self.assertIn("aspect-ratio:1/1;object-fit:cover;object-position:20% 70%", out)
        self.assertIn("transform:scale(1.5);transform-origin:20% 70%", out)

    def test_entries_take_pictures_by_path(self) -> None:
        site = with_item(ITEM_KINDS["team"].new("t1"))
        site = add_medium(site, Medium(id="m1", name="a", file="a.png", width=9, height=9))
        site = set_field(site, "t1", "entries.1.medium", "m1")
        team = node_at(site, find(site, "t1"))
        self.assertEqual([m.medium for m in team.entries], ["", "m1", ""])
        self.assertEqual(html(site, team).count("<img"), 1)

    def test_a_button_and_a_list_show_their_icons(self) -> None:
        button = msgspec.structs.replace(ITEM_KINDS["button"].new("b1"), drawing="star",
                                         icon_side="after")
        out = html(with_item(button), button, "edit")
        self.assertRegex(out, '<span data-words="one" data-text="words">[^<]*</span><svg')
        lines = msgspec.structs.replace(ITEM_KINDS["list"].new("l1"), mark="icon", drawing="moon")
        self.assertIn("--mark:url(&#34;data:image/svg+xml,", html(with_item(lines), lines))

    def test_icons_are_found_by_word_and_say_what_they_mean(self) -> None:
        self.assertGreaterEqual(len(icon_names()), 300)
        self.assertIn("telescope", find_icons("stargazing"))
        self.assertEqual(find_icons("moon")[0], "cloud-moon")
        self.assertEqual(find_icons("no such word"), [])
        for name in icon_names():
            ET.fromstring(str(icon_svg(name)))
        icon = Icon(id="i1", drawing="moon", alt="At night")
        self.assertIn('role="img" aria-label="At night"', html(with_item(icon), icon))


class ClickTest(unittest.TestCase):
    def test_several_things_in_turn_and_the_first_that_leads_is_the_address(self) -> None:
        actions = (CountGoal("asked"), ShowPart("text1"), HidePart("head2"), GoSection("sec"),
                   OpenPopup("popup1"))
        button = Button(id="b1", words=text("Go"), actions=actions)
        site = with_item(button)
        out = html(site, button)
        self.assertIn('href="#s-sec"', out)
        steps = json.loads(unescape(re.search('data-do="([^"]*)"', out).group(1)))
        self.assertEqual(steps, [["goal", "asked"], ["show", "a-text1"], ["hide", "a-head2"],
                                 ["scroll", "s-sec"], ["open", "p-popup1"]])
        page = site.pages[0]
        context = Context(site, page, page.variants[0], "live", PublishedPictures(""))
        whole = str(live_body(context))
        self.assertRegex(whole, '<div[^>]*id="a-text1" hidden')
        self.assertRegex(whole, '<h2[^>]*id="a-head2">')

    def test_clicks_on_what_is_gone_are_snags(self) -> None:
        for action in (ShowPart("gone"), HidePart("gone"), PlayVideo("gone")):
            site = with_item(Button(id="b1", words=text("Go"), actions=(action,)))
            self.assertIn("A click leads to something that is gone",
                          [snag.words for snag in find_snags(site)])
