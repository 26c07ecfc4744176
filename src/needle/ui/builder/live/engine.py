"""The web engine of the live views: its scheme, its rights, its flags."""

import mimetypes
import os
from collections.abc import Callable
from importlib.resources import files
from pathlib import Path

from PyQt6 import sip
from PyQt6.QtCore import (
    QBuffer,
    QByteArray,
    QCoreApplication,
    QIODevice,
    QObject,
    Qt,
    QUrl,
)
from PyQt6.QtWebEngineCore import (
    QWebEnginePage,
    QWebEngineProfile,
    QWebEngineUrlRequestInfo,
    QWebEngineUrlRequestInterceptor,
    QWebEngineUrlRequestJob,
    QWebEngineUrlScheme,
    QWebEngineUrlSchemeHandler,
)

from needle.ui.timers import once

__all__ = ["HOST", "GuardedPage", "LiveEngine", "SchemeHandler", "install_scheme",
           "prepare_engine"]

SCHEME = b"needle"
HOST = "needle://doc"

# The page's own scripts never run in the editor; ours live in another world.
_POLICY = b"default-src 'self' data:; style-src 'unsafe-inline' 'self'; script-src 'none'"
# Without these a page could still reach out by name look-ups or by WebRTC. Trial visits reach the
# host on this machine; what a view may ask for is up to its interceptor.
_FLAGS = ("--disable-gpu --log-level=3 "
          "--host-resolver-rules=\"MAP * ~NOTFOUND, EXCLUDE 127.0.0.1\" "
          "--force-webrtc-ip-handling-policy=disable_non_proxied_udp")


def prepare_engine() -> None:
    """Set the engine's flags and register the scheme. Call before the QApplication is made."""
    os.environ.setdefault("QTWEBENGINE_CHROMIUM_FLAGS", _FLAGS)
    if hasattr(os, "geteuid") and os.geteuid() == 0:
        os.environ.setdefault("QTWEBENGINE_DISABLE_SANDBOX", "1")
    if QWebEngineUrlScheme.schemeByName(SCHEME).name() == SCHEME:
        return
    # Its views may then be loaded after the application is made.
    QCoreApplication.setAttribute(Qt.ApplicationAttribute.AA_ShareOpenGLContexts)
    scheme = QWebEngineUrlScheme(SCHEME)
    scheme.setSyntax(QWebEngineUrlScheme.Syntax.Host)
    scheme.setFlags(QWebEngineUrlScheme.Flag.SecureScheme
                    | QWebEngineUrlScheme.Flag.CorsEnabled
                    | QWebEngineUrlScheme.Flag.FetchApiAllowed)
    QWebEngineUrlScheme.registerScheme(scheme)


class _Interceptor(QWebEngineUrlRequestInterceptor):
    """Blocks every request that leaves our scheme."""

    def interceptRequest(self, info: QWebEngineUrlRequestInfo) -> None:
        if info.requestUrl().scheme() not in ("needle", "data", "blob"):
            info.block(True)


class SchemeHandler(QWebEngineUrlSchemeHandler):
    """Answers `needle://doc/…` by a function of the path, under one content policy."""

    def __init__(self, answer: Callable[[str], tuple[bytes, str] | None], policy: bytes,
                 parent: QObject) -> None:
        super().__init__(parent)
        self._answer = answer
        self._policy = policy
        self._speed = self._wait_ms = 0

    def set_line(self, speed: int, wait_ms: int) -> None:
        """Answer as over a line from now on: so many bytes a second (0 for all at once), each
        answer after a wait."""
        self._speed, self._wait_ms = speed, wait_ms

    def requestStarted(self, job: QWebEngineUrlRequestJob | None) -> None:
        assert job is not None
        found = self._answer(job.requestUrl().path().lstrip("/"))
        if found is None:
            job.fail(QWebEngineUrlRequestJob.Error.UrlNotFound)
            return
        if not self._wait_ms:
            self._reply(job, *found)
            return
        late = once(job, self._wait_ms + len(found[0]) * 1000 // self._speed)
        late.timeout.connect(lambda: self._reply(job, *found))
        late.start()

    def _reply(self, job: QWebEngineUrlRequestJob, body: bytes, kind: str) -> None:
        buffer = QBuffer(job)
        buffer.setData(body)
        buffer.open(QIODevice.OpenModeFlag.ReadOnly)
        # PyQt silently ignores header values that are not lists.
        job.setAdditionalResponseHeaders(
            {QByteArray(b"Content-Security-Policy"): [QByteArray(self._policy)]})
        job.reply(kind.encode(), buffer)


def install_scheme(profile: QWebEngineProfile, handler: SchemeHandler,
                   ) -> QWebEngineUrlRequestInterceptor:
    """Give a profile our scheme and nothing else; the caller keeps what is returned."""
    interceptor = _Interceptor(profile)
    profile.installUrlSchemeHandler(SCHEME, handler)
    profile.setUrlRequestInterceptor(interceptor)
    return interceptor


class GuardedPage(QWebEnginePage):
    """A page that goes nowhere but within our scheme and opens no windows."""

    def acceptNavigationRequest(self, url: QUrl, kind: QWebEnginePage.NavigationType,
                                main: bool) -> bool:
        return url.scheme() == "needle"

    def javaScriptConsoleMessage(self, level: QWebEnginePage.JavaScriptConsoleMessageLevel,
                                 message: str | None, line: int, source: str | None) -> None:
        """Say nothing: what pages tell, foreign ones too, is not for the person's terminal."""

    def createWindow(self, kind: QWebEnginePage.WebWindowType) -> None:
        return None


class LiveEngine:
    """One profile for all live views of a window.

    Attributes:
        profile: Kept in memory only.
        documents: Pages that hidden views lay out, by their names.
    """

    def __init__(self, page_html: Callable[[], str], project: Path) -> None:
        """Make the profile.

        Args:
            page_html: Returns the shown page for the editor.
            project: The project's folder, for its media.
        """
        self._page_html = page_html
        self._project = project
        self.documents: dict[str, str] = {}
        self.profile = QWebEngineProfile()
        self._handler = SchemeHandler(self._answer, _POLICY, self.profile)
        self._interceptor = install_scheme(self.profile, self._handler)

    def end(self) -> None:
        """Let go of the profile. Every page in it must be gone."""
        sip.delete(self.profile)

    def _answer(self, path: str) -> tuple[bytes, str] | None:
        folder, _, name = path.partition("/")
        if path == "page":
            return self._page_html().encode(), "text/html; charset=utf-8"
        if folder == "still":
            return self.documents.get(name, "").encode(), "text/html; charset=utf-8"
        if path == "shell":
            return (files(__package__) / "shell.html").read_bytes(), "text/html; charset=utf-8"
        if "/" in name or name.startswith("."):
            return None
        source = (files("needle") / "fonts" / name) if folder == "fonts" else (
            self._project / "media" / name) if folder == "media" else None
        if source is None or not source.is_file():
            return None
        return source.read_bytes(), mimetypes.guess_type(name)[0] or "font/ttf"
