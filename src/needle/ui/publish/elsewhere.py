"""Forms and popups that are shown on pages made elsewhere: where, how they open, and the lines."""

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QApplication,
    QCheckBox,
    QHBoxLayout,
    QMenu,
    QPlainTextEdit,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.outside import (
    add_part,
    could_be_outside,
    origins_of,
    part_node,
    remove_part,
    set_part,
)
from needle.core.kinds.formbox import FormBox
from needle.core.render.outside import snippet
from needle.core.site.site import Page
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.outside import OutsidePart
from needle.ui.cards import Card, Table, button, label, panel, scrolled
from needle.ui.editors import NumberEdit, WordsEdit
from needle.ui.language import tr
from needle.ui.outcomes import Outcomes
from needle.ui.session import Session
from needle.ui.theme import icon

__all__ = ["ElsewherePart"]


class ElsewherePart(QWidget):
    """What is shown elsewhere at the left, the chosen one's settings and lines at the right."""

    def __init__(self, session: Session, outcomes: Outcomes) -> None:
        super().__init__()
        self._session, self._outcomes = session, outcomes
        row = QHBoxLayout(self)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._side())
        row.addWidget(scrolled(self._work()), 1)

    def ring(self) -> list[QWidget]:
        """The parts that F6 goes round."""
        return [self.parts, self.sites, self.lines]

    def _side(self) -> QWidget:
        side = panel("side", 396)
        column = QVBoxLayout(side)
        column.setContentsMargins(16, 12, 16, 12)
        column.setSpacing(8)
        column.addWidget(label(tr("Shown elsewhere"), "title"))
        self.parts = Table(tr("Shown elsewhere"), (
            tr("Form or popup"), tr("Of the page"), tr("State")), 0)
        self.parts.itemSelectionChanged.connect(self._show_chosen)
        column.addWidget(self.parts, 1)
        self._add = QToolButton()
        self._add.setText(tr("Add a form or popup"))
        self._add.setIcon(icon("plus"))
        self._add.setToolButtonStyle(Qt.ToolButtonStyle.ToolButtonTextBesideIcon)
        self._add.setPopupMode(QToolButton.ToolButtonPopupMode.InstantPopup)
        menu = QMenu(self._add)
        menu.aboutToShow.connect(self._fill_menu)
        self._add.setMenu(menu)
        self._menu = menu
        self._remove = button(tr("Remove"), self.remove_chosen)
        line = QHBoxLayout()
        line.addWidget(self._add)
        line.addWidget(self._remove)
        line.addStretch()
        column.addLayout(line)
        return side

    def _work(self) -> QWidget:
        work = panel("work")
        column = QVBoxLayout(work)
        column.setContentsMargins(18, 14, 18, 14)
        column.setSpacing(14)
        self._empty = Card(tr("A form or popup on a site that was made elsewhere"))
        self._empty.body.addWidget(label(tr(
            "Choose one with “Add a form or popup”, say on which sites it may be shown, and give "
            "the line to whoever looks after them. Leads and conversions come in as from its page, "
            "with the address of the page that it was shown on."), "small", wrap=True))
        self._where = Card(tr("Where it may be shown"))
        self.sites = WordsEdit(tr("Sites that may show it"))
        self.sites.setPlaceholderText(tr("https://shop.example https://www.shop.example"))
        self.sites.kept.connect(self._take_sites)
        self._where.body.addWidget(self.sites)
        self._where.body.addWidget(label(tr(
            "Every other site shows an empty frame in its place."), "small", wrap=True))
        for card in (self._empty, self._where, self._opening(), self._code()):
            column.addWidget(card)
        column.addStretch()
        return work

    def _opening(self) -> Card:
        self._opens = Card(tr("How the popup opens there"))
        self.click = WordsEdit(tr("At a click on (CSS selector)"))
        self.click.setPlaceholderText(tr("#book, a.ticket"))
        self.click.kept.connect(lambda words: self._set(at_click=words.strip()))
        self.after = NumberEdit(tr("After seconds"), 0, 3600, 1)
        self.after.chosen.connect(lambda value: self._set(after_s=int(value or 0)))
        self.at_depth = NumberEdit(tr("At a depth in percent"), 0, 100, 5)
        self.at_depth.chosen.connect(lambda value: self._set(at_scroll=int(value or 0)))
        self.again = NumberEdit(tr("By itself again after days"), 0, 365, 1)
        self.again.chosen.connect(lambda value: self._set(again_days=int(value or 0)))
        self.leave = QCheckBox(tr("When the visitor turns to leave"))
        self.leave.clicked.connect(lambda on: self._set(on_leave=bool(on)))
        first, second = QHBoxLayout(), QHBoxLayout()
        first.addWidget(label(tr("At a click on"), "small"))
        first.addWidget(self.click, 1)
        for words, edit in ((tr("After seconds"), self.after),
                            (tr("At a depth in %"), self.at_depth),
                            (tr("Again after days"), self.again)):
            second.addWidget(label(words, "small"))
            second.addWidget(edit)
        second.addWidget(self.leave)
        second.addStretch()
        self._opens.body.addLayout(first)
        self._opens.body.addLayout(second)
        return self._opens

    def _code(self) -> Card:
        self._snippet = Card(tr("The line for their page"))
        self.lines = QPlainTextEdit()
        self.lines.setReadOnly(True)
        self.lines.setTabChangesFocus(True)
        self.lines.setAccessibleName(tr("The line for their page"))
        self.lines.setFixedHeight(86)
        self._copy = button(tr("Copy"), self.copy, main=True)
        self._snippet.head.addWidget(self._copy)
        self._snippet.body.addWidget(self.lines)
        self._note = label("", "small", wrap=True)
        self._snippet.body.addWidget(self._note)
        return self._snippet

    # Changing

    def _fill_menu(self) -> None:
        self._menu.clear()
        could = list(could_be_outside(self._session.site))
        for page, node in could:
            self._menu.addAction(f"{self._called(node)} · {page.name}".replace("&", "&&"),
                                 lambda p=page.id, n=node.id: self.add(p, n))
        if not could:
            nothing = self._menu.addAction(
                tr("Every form and popup is here already, or there is none"))
            if nothing is not None:
                nothing.setEnabled(False)

    def add(self, page_id: Id, node_id: Id) -> None:
        """Show a form or popup elsewhere too."""
        made: list[Id] = []

        def how(site):  # type: ignore[no-untyped-def]
            site, fresh = add_part(site, page_id, node_id)
            made.append(fresh)
            return site

        if self._session.edit(tr("show a form elsewhere"), how):
            self.refresh()
            self._choose(made[0])
            self.sites.setFocus()

    def remove_chosen(self) -> None:
        """Show the chosen one nowhere else any more, once its page is sent."""
        part = self.chosen()
        if part is not None:
            self._session.edit(tr("show it nowhere else"), lambda site: remove_part(site, part.id))
            self.refresh()

    def _take_sites(self, words: str) -> None:
        part = self.chosen()
        if part is not None:
            self._session.edit(tr("sites that may show it"), lambda site: set_part(
                site, part.id, sites=origins_of(words)))
            self.refresh()

    def _set(self, **values: object) -> None:
        part = self.chosen()
        if part is not None:
            self._session.edit(tr("how the popup opens elsewhere"), lambda site: set_part(
                site, part.id, **values))
            self.refresh()

    def copy(self) -> None:
        """Put the line on the clipboard."""
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setText(self.lines.toPlainText())
        self._session.said.emit(tr("The line is on the clipboard."), False)

    # Showing

    def chosen(self) -> OutsidePart | None:
        """Return the part that is chosen."""
        key = self.parts.chosen_key()
        return next((part for part in self._session.site.outside if part.id == key), None)

    def _choose(self, part_id: Id) -> None:
        ids = [part.id for part in self._session.site.outside]
        if part_id in ids:
            self.parts.selectRow(ids.index(part_id))

    def _called(self, node: Node) -> str:
        if isinstance(node, FormBox):
            form = self._session.site.form(node.form)
            return tr("Form {name}", name=form.name if form else "?")
        return tr("Popup {name}", name=node.name or tr("without a name"))

    def refresh(self) -> None:
        """Show what there is now."""
        site = self._session.site
        rows = []
        for part in site.outside:
            held = part_node(site, part)
            rows.append((self._called(held[1]) if held else tr("gone from its page"),
                         held[0].name if held else "", self._state(part, held)))
        self.parts.show_rows(rows, [part.id for part in site.outside])
        if site.outside and self.chosen() is None:
            self.parts.selectRow(0)
        self._show_chosen()

    def _state(self, part: OutsidePart, held: tuple[Page, Node] | None) -> str:
        live = self._outcomes.live
        found = live.part(part.id) if live else None
        if held is None:
            return tr("remove it")
        if not part.sites:
            return tr("say where")
        if found is None:
            return tr("page to send")
        return tr("live") if found[1].sites == part.sites else tr("live, page to send")

    def _show_chosen(self) -> None:
        part = self.chosen()
        held = part_node(self._session.site, part) if part else None
        self._empty.setVisible(part is None)
        for card in (self._where, self._snippet):
            card.setVisible(part is not None)
        self._opens.setVisible(held is not None and not isinstance(held[1], FormBox))
        self._remove.setEnabled(part is not None)
        if part is None:
            return
        self.sites.show_words(" ".join(part.sites))
        self.click.show_words(part.at_click)
        for edit, value in ((self.after, part.after_s), (self.at_depth, part.at_scroll),
                            (self.again, part.again_days)):
            edit.show_value(value)
        self.leave.setChecked(part.on_leave)
        domain = self._session.site.domain
        base = f"https://{domain}" if domain else self._outcomes.address()
        lines = snippet(part, held[1], base) if held and base else ""
        if lines != self.lines.toPlainText():
            self.lines.setPlainText(lines)
        self._copy.setEnabled(bool(lines))
        self._note.setText(tr(
            "A form stands where the line does; a popup's line stands anywhere on the page.")
            + ("" if domain else tr(" The address is the test address of this machine: with a "
                                    "domain of its own it is that.")))
