"""A hidden visitor: a clean browser engine that opens live pages and sees what they ask for."""

import time
from collections.abc import Callable, Mapping
from urllib.parse import quote

from PyQt6 import sip
from PyQt6.QtCore import QObject, Qt, QUrl
from PyQt6.QtWebEngineCore import (
    QWebEnginePage,
    QWebEngineProfile,
    QWebEngineUrlRequestInfo,
    QWebEngineUrlRequestInterceptor,
)
from PyQt6.QtWebEngineWidgets import QWebEngineView

__all__ = ["HiddenVisitor"]

_WIDTH, _HEIGHT = 1280, 800


class _Watch(QWebEngineUrlRequestInterceptor):
    """Lets requests to the host pass; sends all others to the practice receiver, or nowhere."""

    def __init__(self, own: str, receiver: str, seal: str, seen: Callable[[str], None],
                 headers: Mapping[str, str]) -> None:
        super().__init__()
        self._own, self._receiver, self._seal, self._seen = own, receiver, seal, seen
        self._headers = headers

    def interceptRequest(self, info: QWebEngineUrlRequestInfo) -> None:
        address = info.requestUrl().toString(QUrl.ComponentFormattingOption.FullyEncoded)
        if address.startswith((self._own, "data:", "blob:")):
            if address.startswith(self._own):
                for name, value in self._headers.items():
                    info.setHttpHeader(name.encode(), value.encode())
            if self._seal and address.startswith(self._own):
                # The page's policy lets the practice receiver stand in for others, here alone.
                info.setHttpHeader(b"X-Needle-Reach", self._receiver.encode())
                info.setHttpHeader(b"X-Needle-Seal", self._seal.encode())
            return
        if self._receiver and address.startswith(self._receiver):
            return
        self._seen(address)
        if self._receiver:
            path = QUrl(address).path() or "/"
            info.redirect(QUrl(f"{self._receiver}{path}?practice-for={quote(address, safe='')}"))
        else:
            info.block(True)


class _Page(QWebEnginePage):
    """A page whose complaints are heard."""

    def __init__(self, profile: QWebEngineProfile, heard: Callable[[str, int], None]) -> None:
        super().__init__(profile)
        self._heard = heard

    def javaScriptConsoleMessage(self, level: QWebEnginePage.JavaScriptConsoleMessageLevel,
                                 message: str | None, line: int, source: str | None) -> None:
        if level == QWebEnginePage.JavaScriptConsoleMessageLevel.ErrorMessageLevel and (
                "Uncaught" in (message or "")):
            self._heard((message or "").replace("Uncaught ", ""), line)


class HiddenVisitor(QObject):
    """Opens pages of the host as somebody who was never there before.

    Attributes:
        asked: Every outside address, with the moment (monotonic, seconds) it was asked for.
        heard: Every uncaught error: words, line, moment.
        page: The page that is open.
        view: What it is shown in, where nobody sees it.
    """

    def __init__(self, base: str, receiver: str = "", seal: str = "",
                 headers: Mapping[str, str] | None = None) -> None:
        """Prepare to visit.

        Args:
            base: The host, "http://127.0.0.1:8420".
            receiver: The practice tag receiver; without one outside requests go nowhere.
            seal: Proves to the host that the receiver may stand in for other addresses.
            headers: What the host is told with every request.
        """
        super().__init__()
        self._base = base
        self.asked: list[tuple[str, float]] = []
        self.heard: list[tuple[str, int, float]] = []
        self._profile = QWebEngineProfile()  # Off the record: no cookies, no storage, no cache.
        self._watch = _Watch(base, receiver, seal,
                             lambda address: self.asked.append((address, time.monotonic())),
                             headers or {})
        self._profile.setUrlRequestInterceptor(self._watch)
        self.page = _Page(self._profile, lambda words, line: self.heard.append(
            (words, line, time.monotonic())))
        self.view = QWebEngineView()
        self.view.setPage(self.page)
        self.view.setAttribute(Qt.WidgetAttribute.WA_DontShowOnScreen)
        self.view.resize(_WIDTH, _HEIGHT)
        self.view.show()

    def open(self, slug: str) -> None:
        """Open a page; `page.loadFinished` tells when it is there."""
        self.page.load(QUrl(f"{self._base}/{slug}"))

    def end(self) -> None:
        """Close the page, before its profile goes."""
        if not sip.isdeleted(self.page):
            self.view.setPage(None)
            sip.delete(self.page)
            sip.delete(self.view)
            sip.delete(self._profile)
