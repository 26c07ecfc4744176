"""How visitors are shared out among the variants of a test."""

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QSlider, QWidget

from needle.core.site.site import Page
from needle.ui.cards import Card, label
from needle.ui.editors import NumberEdit
from needle.ui.language import tr
from needle.ui.words import Words

__all__ = ["ShareCard"]


class ShareCard(Card):
    """A slider between two variants; of more, a number for each.

    Attributes:
        slider: The share of the first of two, in percent.
        numbers: The share of each of more than two, by key.

    Signals:
        chosen: The person chose a share (key of the variant, percent).
        refused: What was typed is no share (in words).
    """

    chosen = pyqtSignal(str, int)
    refused = pyqtSignal(str)

    def __init__(self) -> None:
        super().__init__(tr("Share of visitors"), tr(
            "a new share starts when the page is sent, and is read apart; who had a variant keeps "
            "it"))
        self._page: Page | None = None
        self._left, self._right = Words(), Words()
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setRange(0, 100)
        self.slider.setAccessibleName(tr("Share of the first variant, in percent"))
        self.slider.sliderReleased.connect(self._take)
        self.slider.valueChanged.connect(self._on_moved)
        self._two, self._many = QWidget(), QWidget()
        line = QHBoxLayout(self._two)
        for widget in (self._left, self.slider, self._right):
            line.addWidget(widget)
        self.numbers: dict[str, NumberEdit] = {}
        self._row = QHBoxLayout(self._many)
        for side, layout in ((self._two, line), (self._many, self._row)):
            layout.setContentsMargins(0, 0, 0, 0)
            self.body.addWidget(side)

    def show_page(self, page: Page | None) -> None:
        """Show the shares of a page that is tested; nothing where none is."""
        self._page = page if page is not None and page.tested else None
        self.setVisible(self._page is not None)
        count = len(self._page.variants) if self._page else 0
        self.slider.setEnabled(count == 2)
        self._two.setVisible(count == 2)
        self._many.setVisible(count > 2)
        if self._page is None:
            return
        if count > 2:
            self._show_numbers(self._page)
            return
        if not self.slider.isSliderDown():
            self.slider.blockSignals(True)
            self.slider.setValue(self._page.variants[0].share)
            self.slider.blockSignals(False)
        self._on_moved(self.slider.value())

    def _show_numbers(self, page: Page) -> None:
        if list(self.numbers) != [variant.key for variant in page.variants]:
            self._make_numbers(page)
        for variant in page.variants:
            self.numbers[variant.key].show_value(variant.share)

    def _make_numbers(self, page: Page) -> None:
        while (item := self._row.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.deleteLater()
        self.numbers = {}
        for variant in page.variants:
            edit = NumberEdit(tr("Share of {key}", key=variant.key), 0, 100, 1, "%")
            edit.chosen.connect(lambda value, key=variant.key: self._on_number(key, value))
            edit.refused.connect(self.refused)
            self.numbers[variant.key] = edit
            self._row.addWidget(label(f"{variant.key} %", "small"))
            self._row.addWidget(edit)

    def _on_number(self, key: str, value: object) -> None:
        if isinstance(value, int | float):
            self.chosen.emit(key, round(value))
        elif self._page is not None:  # A share is never inherited: what was there stays.
            self._show_numbers(self._page)

    def _on_moved(self, value: int) -> None:
        if self._page is None or len(self._page.variants) != 2:
            return
        first, second = self._page.variants
        self._left.setText(f"{first.key} {value} %")
        self._right.setText(f"{second.key} {100 - value} %")
        if not self.slider.isSliderDown() and value != first.share:
            self._take()

    def _take(self) -> None:
        if self._page is not None:
            self.chosen.emit(self._page.variants[0].key, self.slider.value())
