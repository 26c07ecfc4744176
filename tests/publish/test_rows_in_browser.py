"""In a browser, visitors search a list of rows and filter it; without scripts they see them all."""

import functools
import http.server
import os
import tempfile
import threading
import unittest
from pathlib import Path
from unittest import mock

from selenium.webdriver.common.by import By

from needle.core.edit.nodes import insert, set_field
from needle.core.kinds.rowlist import RowList
from needle.core.values.words import Run
from needle.publish.folder import publish_folder
from needle.store.project import Project
from tests.host.test_browser import chromium
from tests.tabled import table_of, tabled_site


class _Quiet(http.server.SimpleHTTPRequestHandler):
    def log_message(self, *_: object) -> None:
        """Say nothing of each request."""


class RowsInBrowserTest(unittest.TestCase):
    def setUp(self) -> None:
        held = Path(self.enterContext(tempfile.TemporaryDirectory(ignore_cleanup_errors=True)))
        self.enterContext(mock.patch.dict(os.environ, NEEDLE_CONFIG=str(held / "config")))
        site = tabled_site("Town,Tags\nHarrowick,\"sea, wall\"\nFenwater,sea\nOttermill,hedge\n")
        table = table_of(site)
        town, tags = (one.id for one in table.columns)
        node = RowList(id="rows1", table=table.id, title=(Run("T", column=town),))
        site = insert(site, node, "thead", "after")
        site = set_field(set_field(site, "rows1", "search", True), "rows1", "by", tags)
        Project.create(held / "p", site).close()
        publish_folder(site, held / "p", held / "out")
        server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), functools.partial(
            _Quiet, directory=str(held / "out")))
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        self.browser = chromium(f"{held}/profile", 900)
        self.addCleanup(self.browser.quit)
        self.address = f"http://127.0.0.1:{server.server_address[1]}/thanks/"

    def shown(self) -> list[str]:
        return [cell.text for cell in self.browser.find_elements(By.CSS_SELECTOR, ".rows li")
                if cell.is_displayed()]

    def test_search_and_filter(self) -> None:
        self.browser.get(self.address)
        self.assertEqual(self.shown(), ["Harrowick", "Fenwater", "Ottermill"])
        buttons = {one.text: one for one in self.browser.find_elements(
            By.CSS_SELECTOR, ".rows-bar button")}
        self.assertEqual(list(buttons), ["All", "sea", "wall", "hedge"])
        buttons["sea"].click()
        self.assertEqual(self.shown(), ["Harrowick", "Fenwater"])
        self.assertEqual(buttons["sea"].get_attribute("aria-pressed"), "true")
        search = self.browser.find_element(By.CSS_SELECTOR, ".rows-bar input")
        search.send_keys("FEN")
        self.assertEqual(self.shown(), ["Fenwater"])
        search.send_keys("xx")
        found = self.browser.find_element(By.CSS_SELECTOR, ".rows-found")
        self.assertEqual((self.shown(), found.text), ([], "Nothing here fits."))
        buttons["All"].click()
        search.clear()
        search.send_keys("o")
        self.assertEqual(self.shown(), ["Harrowick", "Ottermill"])

    def test_without_scripts_all_are_there_and_nothing_that_would_not_work(self) -> None:
        self.browser.execute_cdp_cmd("Emulation.setScriptExecutionDisabled", {"value": True})
        self.browser.get(self.address)
        self.assertEqual(self.shown(), ["Harrowick", "Fenwater", "Ottermill"])
        self.assertFalse(self.browser.find_element(By.CSS_SELECTOR, ".rows-bar").is_displayed())


if __name__ == "__main__":
    unittest.main()
