"""A site published into a folder, and a browser that looks at it."""

import functools
import http.server
import os
import tempfile
import threading
import unittest
from pathlib import Path
from unittest import mock

from needle.core.site.site import Site
from needle.publish.folder import publish_folder
from needle.store.project import Project
from tests.host.test_browser import chromium

__all__ = ["InBrowserTest"]


class _Quiet(http.server.SimpleHTTPRequestHandler):
    def log_message(self, *_: object) -> None:
        """Say nothing of each request."""


class InBrowserTest(unittest.TestCase):
    """Publishes what `site` returns.

    Attributes:
        browser: Chromium, 900 pixels wide.
        root: Where the site begins.
    """

    def site(self) -> Site:
        raise NotImplementedError

    def setUp(self) -> None:
        held = Path(self.enterContext(tempfile.TemporaryDirectory(ignore_cleanup_errors=True)))
        self.enterContext(mock.patch.dict(os.environ, NEEDLE_CONFIG=str(held / "config")))
        site = self.site()
        Project.create(held / "p", site).close()
        publish_folder(site, held / "p", held / "out")
        server = http.server.ThreadingHTTPServer(("127.0.0.1", 0), functools.partial(
            _Quiet, directory=str(held / "out")))
        threading.Thread(target=server.serve_forever, daemon=True).start()
        self.addCleanup(server.server_close)
        self.addCleanup(server.shutdown)
        self.browser = chromium(f"{held}/profile", 900)
        self.addCleanup(self.browser.quit)
        self.root = f"http://127.0.0.1:{server.server_address[1]}/"
