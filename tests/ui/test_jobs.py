"""Whole jobs of a marketer, from nothing to done, by the keyboard alone in a real window."""

import shutil
import time
import unittest
from pathlib import Path
from typing import Any

from needle.core.kinds.embed import Embed
from needle.core.site.site import Site
from needle.core.values.actions import OpenPopup
from needle.core.values.form import Role
from needle.store.project import read_site
from tests.sites import THANKS, small_site
from tests.ui.atspi import installed
from tests.ui.hands import HandsTest

_FONT = Path(__file__).parent.parent.parent / "src" / "needle" / "fonts" / "Karla-700.ttf"


def node_of(site: Site, node_id: str) -> Any:
    """Return a node of the first page."""
    return next(node for node in site.pages[0].variants[0].nodes() if node.id == node_id)


@unittest.skipUnless(installed(), "AT-SPI is not installed")
class JobsTest(HandsTest):
    def build(self) -> None:
        self.key("ctrl+2")
        time.sleep(0.5)

    def test_a_popup_with_outside_code_that_a_button_opens(self) -> None:
        self.build()
        self.find("Popup")
        self.saved(lambda site: len(site.pages[0].variants[0].popups) == 2)
        self.find("Embedded code")
        self.to("Code")
        self.write("<b>Ask us</b>")
        self.key("Tab")

        def embedded(site: Site) -> bool:
            return any(isinstance(node, Embed) and node.code == "<b>Ask us</b>"
                       for node in site.pages[0].variants[0].nodes())

        self.saved(embedded)
        self.find("Keep me a place")
        self.to("What a click does")
        self.pick(*["Down"] * 3, "Right", "Down", "Return")  # Open a popup, New popup.
        self.saved(lambda site: node_of(site, "button1").actions[0] == OpenPopup(
            site.pages[0].variants[0].popups[1].id))

    def test_a_form_in_two_steps(self) -> None:
        self.key("ctrl+3")
        self.find("New form")
        self.saved(lambda site: len(site.forms) == 2)
        self.to("Add a field or step")
        self.pick("Up", "Return")  # The last entry is a step; the fields so far are another.
        self.saved(lambda site: len(site.forms[1].steps) == 2)
        self.to("Add a field or step")
        self.pick(*["Down"] * 5, "Return")  # Phone.
        self.saved(lambda site: site.forms[1].fields[-1].role is Role.PHONE)
        self.saved(lambda site: site.forms[1].fields[-1].step == site.forms[1].steps[-1].id)

    def test_two_tracking_codes(self) -> None:
        self.key("ctrl+3")
        self.to("Forms")
        self.key("Right", "Right")
        for name in ("Counter", "Adverts"):
            self.to("New code")
            self.key("space")
            self.to("Name of the code")
            self.key("ctrl+a")
            self.write(name)
            self.to("The code, as pasted")
            self.write(f"<script>/*{name}*/</script>")
            self.key("Tab")
            self.saved(lambda site, name=name: any(
                code.name == name and name in code.html for code in site.tracking))

    def test_an_own_font_for_headings_and_a_look_of_one(self) -> None:
        font = self.project.parent / "own.ttf"
        shutil.copy(_FONT, font)
        self.find("Show brand")
        self.to("Add fonts")
        self.key("space")
        self.answer(str(font))
        self.saved(lambda site: bool(site.fonts))
        self.find("Old words")
        self.to("Size")
        self.key("ctrl+a")
        self.write("61")
        self.key("Return")
        self.saved(lambda site: node_of(site, "head1").look.base.get("size") == 61)

    def test_a_split_test_and_back(self) -> None:
        self.build()
        self.find("Split test: add a variant")
        self.saved(lambda site: site.pages[0].tested)
        self.find("Show split tests")
        self.to("Keep A, archive B")
        self.key("space")
        self.saved(lambda site: [v.key for v in site.pages[0].variants] == ["A"])
        self.to("Bring B back")
        self.key("space")
        self.saved(lambda site: [v.key for v in site.pages[0].variants] == ["A", "B"])

    def test_a_footer_that_is_linked_on_two_pages(self) -> None:
        self.build()
        self.find("More")
        self.find("Keep this section linked")
        self.answer("Footer")
        self.saved(lambda site: len(site.kept) == 1 and site.kept[0].linked)
        self.find("Thanks")
        time.sleep(1)
        self.key("shift+Insert")
        self.until(self.dialog)
        self.write("Footer")
        time.sleep(0.5)
        self.key("Return", "Escape")
        self.come_back()

        def shown(site: Site) -> bool:
            page = site.page(THANKS)
            return page is not None and any(
                section.linked for section in page.variants[0].children)

        self.saved(shown)

    def test_undo_takes_everything_back(self) -> None:
        before = read_site(self.project)
        self.build()
        for kind in ("Heading", "Button", "Spacer"):
            self.find(f"{kind}")
        self.find("Rename page")
        self.answer("Evening")
        self.saved(lambda site: site.pages[0].name == "Evening")
        for _ in range(8):
            self.key("ctrl+z")
            time.sleep(0.2)
        self.saved(lambda site: site == before)


@unittest.skipUnless(installed(), "AT-SPI is not installed")
class DraftJobTest(HandsTest):
    def test_from_an_idea_to_a_page_and_its_leads_as_a_table(self) -> None:
        self.find("First draft from an idea")
        self.until(self.dialog)
        self.to("The idea")
        self.write("A bakery in a mill that bakes rye bread at night, for people who miss crust.")
        self.to("Draft")
        self.key("space")
        self.until(lambda: self.reaches("Make these pages"))  # Once the draft is there.
        self.key("space")
        self.until(lambda: not self.dialog())
        self.come_back()
        self.saved(lambda site: len(site.pages) > len(small_site().pages))
        self.find("Export the leads as CSV")
        out = self.project.parent / "leads.csv"
        self.answer(str(out))
        self.until(out.exists)


