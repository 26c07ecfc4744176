"""The walk-through: the site as a visitor would see it, scripts and all, sending nothing.

The draft, or what is live beside it; at each width, in each variant, without scripts, on a slow
line, with type twice as large, in the dark, and on a phone in the same network.
"""

from collections.abc import Callable
from pathlib import Path

from PyQt6 import sip
from PyQt6.QtCore import QUrl
from PyQt6.QtGui import QCloseEvent
from PyQt6.QtWebEngineCore import QWebEngineProfile, QWebEngineSettings
from PyQt6.QtWebEngineWidgets import QWebEngineView
from PyQt6.QtWidgets import QCheckBox, QComboBox, QDialog, QHBoxLayout, QVBoxLayout, QWidget

from needle.core.site.site import Site
from needle.publish.refusing import PublishError
from needle.ui.builder.live.engine import HOST, GuardedPage, SchemeHandler, install_scheme
from needle.ui.builder.phone import PhoneDialog, own_addresses
from needle.ui.builder.walkpages import DraftPages, LivePages, WalkedPages
from needle.ui.cards import button, label, scrolled
from needle.ui.editors import Segments
from needle.ui.hearing import NamedCombo
from needle.ui.language import tr
from needle.ui.words import set_tip

__all__ = ["WalkThrough"]

_WIDTHS = {1180: tr("Desktop"), 820: tr("Tablet"), 390: tr("Phone")}
_HEIGHT = 760
_POLICY = b"default-src 'self' data: 'unsafe-inline'"
# A slow line, as over a weak phone connection: bytes a second, and how long each answer waits.
_SLOW_BYTES, _SLOW_MS = 50_000, 400


class _Side(QWidget):
    """One of the two sites, in a profile of its own, with no way out."""

    def __init__(self, title: str, pages: WalkedPages) -> None:
        super().__init__()
        self.pages = pages
        self.profile = QWebEngineProfile()
        self._handler = SchemeHandler(pages.answer, _POLICY, self.profile)
        self._guard = install_scheme(self.profile, self._handler)
        self.page = GuardedPage(self.profile, None)
        self.view = QWebEngineView()
        self.view.setPage(self.page)
        self.view.setAccessibleName(title)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 0, 0, 0)
        column.addWidget(label(title, "title"))
        column.addWidget(self.view, 1)

    def go(self, slug: str) -> None:
        """Show a page."""
        self.page.load(QUrl(f"{HOST}/{slug + '/' if slug else ''}"))

    def set_slow(self, slow: bool) -> None:
        """Answer as over a slow line from now on."""
        self._handler.set_line(_SLOW_BYTES if slow else 0, _SLOW_MS if slow else 0)

    def end(self) -> None:
        """Let go of the page before its profile."""
        if not sip.isdeleted(self.page):
            self.view.setPage(None)
            sip.delete(self.page)
            sip.delete(self.profile)


class WalkThrough(QDialog):
    """A window with the finished pages."""

    def __init__(self, parent: QWidget, site: Site, project: Path, page_slug: str) -> None:
        super().__init__(parent)
        self.setWindowTitle(tr("Walk-through: {name}", name=site.name))
        self._project = project
        self._width = 1180
        self.draft = _Side(tr("Draft"), DraftPages(site, project))
        self.live: _Side | None = None
        self._widths = Segments(tr("Width"), _WIDTHS)
        self._widths.chosen.connect(self.show_width)
        self.variant = NamedCombo(tr("Variant"))
        self.variant.setSizeAdjustPolicy(QComboBox.SizeAdjustPolicy.AdjustToContents)
        self.variant.currentIndexChanged.connect(lambda _: self._show_variant())
        self.beside = self._tick(tr("Live beside it"), self.show_live)
        self.scripts = self._tick(tr("Without scripts"), self._set_scripts)
        self.slow = self._tick(tr("Slow line"), self._set_slow)
        self.large = self._tick(tr("Type at 200 %"), self._set_large)
        self.dark = self._tick(tr("In the dark"), self._set_dark)
        set_tip(self.dark, tr("For visitors whose device is dark: the brand's dark colours; or, "
                              "where there are none, what browsers make of the page"))
        self.phone: PhoneDialog | None = None
        self._said = label(tr("Forms say so and send nothing; nothing is counted."), "dim")
        self._lay_out()
        self.draft.page.urlChanged.connect(self._on_url)
        self.show_width(1180)
        self.draft.go(page_slug)

    @property
    def view(self) -> QWebEngineView:
        """The view of the draft."""
        return self.draft.view

    def _tick(self, words: str, how: Callable[[bool], None]) -> QCheckBox:
        made = QCheckBox(words)
        made.toggled.connect(how)
        return made

    def _lay_out(self) -> None:
        head = QHBoxLayout()
        for widget in (self._widths, self.variant, self.beside, self.scripts, self.slow,
                       self.large, self.dark):
            head.addWidget(widget)
        head.addStretch()
        head.addWidget(button(tr("On a phone…"), self.show_on_phone))
        self._sides = QHBoxLayout()
        self._sides.addWidget(self.draft)
        self._sides.addStretch()
        inside = QWidget()
        inside.setLayout(self._sides)
        column = QVBoxLayout(self)
        column.setContentsMargins(8, 8, 8, 8)
        column.addLayout(head)
        column.addWidget(self._said)
        column.addWidget(scrolled(inside), 1)

    def _each(self) -> list[_Side]:
        return [self.draft, self.live] if self.live else [self.draft]

    def show_width(self, width: object) -> None:
        """Give the pages this many CSS pixels."""
        assert isinstance(width, int)
        self._width = width
        self._widths.show_values([width])
        for side in self._each():
            side.view.setFixedWidth(width)
        both = len(self._each()) * (width + 12) + 40
        self.resize(max(720, min(both, 1900)), _HEIGHT)

    def show_live(self, on: bool) -> None:
        """Show what is live beside the draft, or the draft alone."""
        if on and self.live is None:
            try:
                pages = LivePages(self._project)
            except PublishError as error:
                self._said.setText(str(error))
                self.beside.setChecked(False)
                return
            self.live = _Side(tr("Live"), pages)
            self._sides.insertWidget(1, self.live)
            self._set_scripts(self.scripts.isChecked())
            self._set_slow(self.slow.isChecked())
            self._set_large(self.large.isChecked())
            self._set_dark(self.dark.isChecked())
            self._follow()
        elif not on and self.live is not None:
            side, self.live = self.live, None
            self._sides.removeWidget(side)
            side.end()
            side.hide()
            side.deleteLater()
        self.show_width(self._width)

    def _slug(self) -> str:
        return self.draft.page.url().path().strip("/")

    def _on_url(self, _url: QUrl) -> None:
        """List the variants of the page that is shown, and have the live one follow."""
        keys = self.draft.pages.variants(self._slug())
        if [self.variant.itemData(n) for n in range(self.variant.count())] != keys:
            self.variant.blockSignals(True)
            self.variant.clear()
            for key in keys:
                self.variant.addItem(tr("Variant {key}", key=key), key)
            self.variant.blockSignals(False)
        self.variant.setVisible(len(keys) > 1)
        self._follow()

    def _follow(self) -> None:
        if self.live is None:
            return
        there = bool(self.live.pages.variants(self._slug()))
        self._said.setText(tr("Forms say so and send nothing; nothing is counted.") if there
                           else tr("This page is not live."))
        self.live.view.setVisible(there)
        if there:
            self.live.go(self._slug())

    def _show_variant(self) -> None:
        for side in self._each():
            side.pages.variant = str(self.variant.currentData() or "")
            side.page.triggerAction(side.page.WebAction.Reload)

    def _set_scripts(self, without: bool) -> None:
        for side in self._each():
            settings = side.page.settings()
            assert settings is not None
            settings.setAttribute(QWebEngineSettings.WebAttribute.JavascriptEnabled, not without)
            side.page.triggerAction(side.page.WebAction.Reload)

    def _set_slow(self, slow: bool) -> None:
        for side in self._each():
            side.set_slow(slow)
            if slow:
                side.page.triggerAction(side.page.WebAction.ReloadAndBypassCache)

    def _set_large(self, large: bool) -> None:
        for side in self._each():
            side.view.setZoomFactor(2.0 if large else 1.0)

    def _set_dark(self, dark: bool) -> None:
        for side in self._each():
            settings = side.page.settings()
            assert settings is not None
            # Pages without dark colours of their own are darkened as browsers do it.
            settings.setAttribute(QWebEngineSettings.WebAttribute.ForceDarkMode, dark)
            side.pages.dark = dark
            side.page.triggerAction(side.page.WebAction.Reload)

    def show_on_phone(self) -> None:
        """Offer the draft to a phone in the same network."""
        if self.phone is None or not self.phone.isVisible():
            self.phone = PhoneDialog(self, self.draft.pages.answer, self._slug, own_addresses())
            self.phone.show()
        self.phone.raise_()
        self.phone.activateWindow()

    def closeEvent(self, event: QCloseEvent | None) -> None:
        super().closeEvent(event)
        if self.phone is not None:
            self.phone.shut()
        for side in self._each():
            side.end()
