"""The bar above the live views."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QMenu, QToolButton, QWidget

from needle.ui.builder.tables.rowbar import RowBar
from needle.ui.editors import Segments
from needle.ui.language import tr
from needle.ui.session import Session
from needle.ui.words import Words

__all__ = ["Bar"]


class Bar(QWidget):
    """The bar above the views: page, address, variants, and the few commands used most."""

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("bar")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self.setFixedHeight(36)
        self._session = session
        self.page_button = QToolButton()
        self.page_button.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        self.page_button.setAccessibleName(tr("Page"))
        pages = QMenu(self.page_button)
        pages.aboutToShow.connect(lambda: self._fill_pages(pages))
        self.page_button.setMenu(pages)
        self._slug = Words()
        self._slug.setProperty("role", "mono")
        self.rows = RowBar(session)
        self.variants = QHBoxLayout()
        self._segments: Segments | None = None
        self._shown: object = None
        self.insert_button = QToolButton()
        self.insert_button.setText(tr("Insert"))
        self.walk_button = QToolButton()
        self.walk_button.setText(tr("Walk through"))
        self._undo = QToolButton()
        self._undo.clicked.connect(session.undo)
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 0, 10, 0)
        row.setSpacing(8)
        row.addWidget(self.page_button)
        row.addWidget(self._slug)
        row.addWidget(self.rows)
        row.addLayout(self.variants)
        row.addStretch()
        for button, keys in ((self._undo, "Ctrl Z"), (self.insert_button, "Ins"),
                             (self.walk_button, "F5")):
            row.addWidget(button)
            row.addWidget(_key(keys), 0, Qt.AlignmentFlag.AlignVCenter)
        session.turned.connect(self.refresh)
        session.rowed.connect(self.refresh)
        session.changed.connect(lambda _: self.refresh())
        self.refresh()

    def _fill_pages(self, menu: QMenu) -> None:
        """Offer every page; those in a folder stand together under its name."""
        menu.clear()
        site = self._session.site
        for folder_id in ("", *(folder.id for folder in site.folders)):
            folder = site.folder(folder_id)
            if folder is not None:
                menu.addSection(folder.name)
            for page in (page for page in site.pages if page.folder == folder_id):
                action = menu.addAction(f"{page.name}\t/{page.slug}")
                assert action is not None
                action.triggered.connect(lambda _=False, p=page: self._session.show_page(p.id))

    def refresh(self) -> None:
        """Show the page that is shown, its variants, and what undo would take back."""
        page, label = self._session.page, self._session.undo_label
        self.page_button.setText(f"{page.name}  ▾")
        address = self._session.address
        self._slug.setText(f"/{address}" if address is not None else tr("no row has this page"))
        self._undo.setText(tr("Undo: {label}", label=label) if label else tr("Undo"))
        self._undo.setEnabled(bool(label))
        shares = {v.key: f"{v.key} {v.share} %" for v in page.variants} if page.tested else {}
        state = (page.id, shares)
        if state == self._shown:
            if self._segments is not None:
                self._segments.show_values([self._session.variant.key])
            return
        self._shown = state
        if self._segments is not None:
            self.variants.removeWidget(self._segments)
            self._segments.deleteLater()
            self._segments = None
        if shares:
            self._segments = Segments(tr("Variant"), shares)
            self._segments.chosen.connect(lambda key: self._session.show_page(page.id, key))
            self._segments.show_values([self._session.variant.key])
            self.variants.addWidget(self._segments)


def _key(words: str) -> Words:
    label = Words(words)
    label.setProperty("role", "key")
    return label
