"""The live views: patches against fresh renders, drags, isolation, scrolling in step."""

import json
import random
from unittest import mock

from PyQt6.QtCore import QMimeData, QPointF, Qt
from PyQt6.QtGui import QDragEnterEvent, QDragMoveEvent, QDropEvent
from PyQt6.QtTest import QTest

from needle.core.edit.brand import set_swatch
from needle.core.edit.forms import set_field_of
from needle.core.edit.nodes import set_words
from needle.core.edit.pages import set_slug
from needle.core.render.holders import render_node
from needle.core.render.stylesheet import node_css
from needle.core.site.site import Site
from needle.core.values.words import Run, text
from needle.ui.builder.advertwords import AdvertDialog
from needle.ui.builder.live.view import NODE_MIME, LiveView
from tests.randomly import KINDS_OF_EDIT, SIDES, random_edit
from tests.sites import EMAIL, FORM, THANKS, long_page, small_site
from tests.ui.desk import DeskTest

DOCUMENT = "document.getElementById('page').contentDocument"
CTRL = Qt.KeyboardModifier.ControlModifier


class PatchedTest(DeskTest):
    def matches(self, view: LiveView) -> bool:
        """Whether the patched page, popups too, is what a fresh render of it would be."""
        context = self.session.context()
        tops = "".join(render_node(t, context) for t in context.variant.children)
        popups = "".join(render_node(p, context) for p in context.variant.popups)
        return self.js(view, f"""(() => {{
            const d = {DOCUMENT};
            const norm = (e) => {{ const c = e.cloneNode(true);
                for (const o of c.querySelectorAll('dialog[open]')) o.removeAttribute('open');
                for (const o of c.querySelectorAll('[class=""]')) o.removeAttribute('class');
                return c.innerHTML; }};
            const fresh = (html) => {{ const m = d.createElement('div'); m.innerHTML = html;
                return norm(m); }};
            return norm(d.querySelector('main')) === fresh({json.dumps(tops)})
                && norm(d.querySelector('[data-holder=popups]')) === fresh({json.dumps(popups)});
        }})()""") is True

    def test_after_any_edits_and_their_undo_both_views_equal_a_fresh_render(self) -> None:
        rng = random.Random(7)
        for number in range(400):
            step = (rng.choice((*KINDS_OF_EDIT, "delete")), rng.randrange(100),
                    rng.randrange(100), rng.choice(SIDES))
            self.session.edit(step[0], lambda site, s=step: random_edit(site, s))
            if number % 25 == 24:
                for view in (self.desktop, self.phone):
                    self.until(lambda v=view: self.matches(v))
                    self.until(lambda v=view: self.dressed(v))
        for _ in range(400):
            self.session.undo()
        for view in (self.desktop, self.phone):
            self.until(lambda v=view: self.matches(v))
            self.until(lambda v=view: self.dressed(v))

    def dressed(self, view: LiveView) -> bool:
        """Whether the rules of all nodes in the page are those of a fresh render."""
        wanted = {n.id: css for n in self.session.variant.nodes() if (css := node_css(n))}
        return self.js(view, f"""(() => {{
            const d = {DOCUMENT}; const w = d.defaultView;
            const wanted = {json.dumps(wanted)};
            const plain = (css) => {{ const s = new w.CSSStyleSheet(); s.replaceSync(css);
                return [...s.cssRules].map((r) => r.cssText).join(""); }};
            const held = {{}};
            for (const group of d.adoptedStyleSheets[0].cssRules) {{
                const text = [...group.cssRules].map((r) => r.cssText).join("");
                const name = /\\.n-([a-z0-9]+)/.exec(text);
                if (name) held[name[1]] = text;
            }}
            for (const [id, css] of Object.entries(wanted)) {{
                if (held[id] !== plain(css)) return false;
            }}
            return [...d.querySelectorAll("[data-n]")].every(
                (e) => (e.dataset.n in wanted) === (e.dataset.n in held));
        }})()""") is True

    def test_a_form_changed_elsewhere_and_a_colour_of_the_brand_follow(self) -> None:
        self.session.edit("label", lambda s: set_field_of(s, FORM, EMAIL, label="Write to"))
        self.until(lambda: "Write to" in self.js(self.phone, f"{DOCUMENT}.body.textContent"))
        self.session.edit("colour", lambda s: set_swatch(s, "ink", "#112233"))
        self.until(lambda: self.style(self.phone, "head1", "color") == "rgb(17, 34, 51)")

    def test_an_address_that_changes_reloads_the_page_with_its_links(self) -> None:
        link = (Run("there", link=f"page:{THANKS}"),)
        self.session.edit("link", lambda s: set_words(s, "text1", (link,)))
        self.session.edit("slug", lambda s: set_slug(s, THANKS, "danke"))
        self.until(lambda: "danke" in str(self.js(
            self.desktop, f"{DOCUMENT}.querySelector('[data-link]').getAttribute('href')")))


class MarkTest(DeskTest):
    def runs(self) -> list[tuple[str, bool, bool, str]]:
        return [(r.words, r.strong, r.emphasis, r.link) for r in self.session.node("head1").words]

    def test_bold_italic_and_links_are_kept_as_marks(self) -> None:
        self.click(self.desktop, "head1")
        self.press(Qt.Key.Key_A, CTRL)
        QTest.qWait(60)
        self.window.commands.run("words.strong")
        self.until(lambda: self.runs() == [("Old words", True, False, "")])
        self.window.commands.run("words.emphasis")
        self.until(lambda: self.runs() == [("Old words", True, True, "")])
        self.desktop.call("mark", "link", "https://hill.example")
        self.until(lambda: self.runs() == [("Old words", True, True, "https://hill.example")])
        self.until(lambda: self.js(self.phone, f"{DOCUMENT}.querySelector('h1 a').href")
                   == "https://hill.example/")

    def test_words_from_the_advert_are_asked_for_and_marked(self) -> None:
        self.click(self.desktop, "head1")
        self.press(Qt.Key.Key_A, CTRL)
        QTest.qWait(60)
        asking = AdvertDialog(self.session, self.window)
        asking._put()
        self.assertIn("at least one value", asking.said.text())
        asking.lines.setPlainText("dark sky = The darkest hill")
        asking.param.setText("kw")
        asking._put()
        with mock.patch.object(asking, "exec", return_value=1), mock.patch(
                "needle.ui.builder.partcommands.AdvertDialog", return_value=asking):
            self.window.commands.run("words.advert")
        (advert,) = self.session.site.adverts
        self.until(lambda: [run.advert for run in self.session.node("head1").words] == [advert.id])
        self.until(lambda: self.js(self.phone, f"{DOCUMENT}.querySelector('h1 span').dataset.advert"
                                   ) == advert.id)
        QTest.keyClicks(self.desktop.focusProxy(), "s")
        self.until(lambda: [run.advert for run in self.session.node("head1").words] == [advert.id])

    def test_escape_leaves_the_words_and_delete_then_takes_the_item(self) -> None:
        self.click(self.desktop, "head1")
        self.press(Qt.Key.Key_Escape)
        self.until(lambda: self.js(self.desktop, f"!{DOCUMENT}.querySelector('[contenteditable]')"))
        self.press(Qt.Key.Key_Delete)
        self.until(lambda: self.session.node("head1") is None)


class DragTest(DeskTest):
    def test_a_row_of_the_script_is_dropped_into_a_view(self) -> None:
        box = self.js(self.desktop, "needle.box('head1')")
        at = QPointF(box[0] + box[2] / 2, box[1] + 2)
        mime = QMimeData()
        mime.setData(NODE_MIME, json.dumps({"ids": ["list1"], "rank": 0}).encode())
        keys, buttons = Qt.KeyboardModifier.NoModifier, Qt.MouseButton.LeftButton
        move = Qt.DropAction.MoveAction
        self.desktop.dragEnterEvent(QDragEnterEvent(at.toPoint(), move, mime, buttons, keys))
        self.desktop.dragMoveEvent(QDragMoveEvent(at.toPoint(), move, mime, buttons, keys))
        self.desktop.dropEvent(QDropEvent(at, move, mime, buttons, keys))
        self.until(lambda: [n.id for n in self.session.path("head1")[-2].children][:2]
                   == ["list1", "head1"])

    def test_the_grip_drags_an_item_within_the_page(self) -> None:
        self.session.select("button1")
        QTest.qWait(200)
        grip = self.js(self.desktop, "(() => { const b = document.getElementById('grip')"
                                     ".getBoundingClientRect(); return [b.x, b.y]; })()")
        goal = self.js(self.desktop, "needle.box('head1')")
        target = self.desktop.focusProxy()
        start = QPointF(grip[0] + 10, grip[1] + 10).toPoint()
        end = QPointF(goal[0] + goal[2] / 2, goal[1] + 3).toPoint()
        QTest.mousePress(target, Qt.MouseButton.LeftButton, pos=start)
        for part in range(1, 9):
            QTest.mouseMove(target, start + (end - start) * part / 8)
            QTest.qWait(25)
        QTest.mouseRelease(target, Qt.MouseButton.LeftButton, pos=end)
        self.until(lambda: self.session.path("button1")[-2].children[0].id == "button1")
        self.assertEqual(self.session.undo_label, "move")


class IsolationTest(DeskTest):
    def site(self) -> Site:
        evil = "<img src=x onerror=\"document.title='got in'\"><script>parent.hacked=1</script>"
        return set_words(small_site(), "head2", (text(evil),))

    def test_nothing_in_a_page_runs_or_reaches_out(self) -> None:
        self.assertIn("<script>", self.text(self.desktop, "head2"))
        self.js(self.desktop, f"""(() => {{ const d = {DOCUMENT};
            d.body.insertAdjacentHTML('beforeend',
                '<img src="http://127.0.0.1:9/x.png" onerror="document.title=\\'ran\\'">'
                + '<svg onload="document.title=\\'ran\\'"></svg>');
            const s = d.createElement('script'); s.textContent = "document.title='ran'";
            d.body.append(s); }})()""")
        QTest.qWait(300)
        self.assertEqual(self.js(self.desktop, f"{DOCUMENT}.title"), "A night")
        self.assertEqual(self.js(self.desktop, "document.title"), "Live view")

    def test_a_click_on_a_link_goes_nowhere(self) -> None:
        link = (Run("out", link="https://elsewhere.example"),)
        self.session.edit("link", lambda s: set_words(s, "text1", (link,)))
        self.click(self.desktop, "text1")
        QTest.qWait(200)
        self.assertIn("needle://doc/page", self.js(self.desktop, f"{DOCUMENT}.location.href"))


class WidthTest(DeskTest):
    def site(self) -> Site:
        return long_page(30)

    def test_the_views_scroll_together(self) -> None:
        self.js(self.desktop, f"{DOCUMENT}.scrollingElement.scrollTop = 2600")
        self.until(lambda: self.js(self.phone, f"{DOCUMENT}.scrollingElement.scrollTop") > 800)
        first = (f"[...{DOCUMENT}.querySelectorAll('.section')]"
                 ".find(e => e.getBoundingClientRect().bottom > 2).dataset.n")
        tops = [self.js(view, first) for view in (self.desktop, self.phone)]
        self.assertEqual(tops[0], tops[1])

    def test_a_view_takes_any_width_and_refuses_what_is_none(self) -> None:
        frame = self.window.build.canvas.frames[0]
        frame._take("820")
        self.until(lambda: self.js(self.desktop, f"{DOCUMENT}.documentElement.clientWidth") == 820)
        self.assertEqual(self.style(self.desktop, "head0", "font-size"), "46px")
        frame._take("12")
        self.assertIn("240 to 2560", self.window.last_words)
        self.assertEqual(self.desktop.css_width, 820)

    def test_one_view_takes_all_the_room_and_gives_it_back(self) -> None:
        canvas = self.window.build.canvas
        before = self.desktop.width()
        self.window.commands.run("view.desktop")
        QTest.qWait(60)
        self.assertFalse(self.phone.isVisible())
        self.assertGreater(self.desktop.width(), before)
        self.window.commands.run("view.desktop")
        self.assertTrue(self.phone.isVisible())
        canvas.swap()
        QTest.qWait(60)
        self.assertLess(self.phone.mapTo(canvas, self.phone.pos()).x(),
                        self.desktop.mapTo(canvas, self.desktop.pos()).x())

    def test_choosing_in_the_script_brings_the_place_into_sight(self) -> None:
        self.session.select("head25")
        def seen() -> bool:
            box = self.js(self.phone, "needle.box('head25')")
            return box and 0 < box[1] < self.phone.height()
        self.until(seen)
