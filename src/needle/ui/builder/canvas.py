"""The two live views side by side, kept in step."""

from collections.abc import Sequence
from typing import Any

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QHBoxLayout,
    QSplitter,
    QToolButton,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.grouping import move_all, set_shares
from needle.core.edit.patches import Patch, patches
from needle.core.render.document import edit_page
from needle.core.render.holders import kind_of, render_node
from needle.core.render.texts import read_lines
from needle.core.site.site import Variant
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.styletable import PROPERTIES, measured
from needle.core.values.widths import width_for
from needle.core.values.words import Run, Text, marked, tidy
from needle.ui.builder.live.engine import LiveEngine
from needle.ui.builder.live.fonts import FONT_CSS
from needle.ui.builder.live.view import LiveView
from needle.ui.builder.widthstrip import NARROWEST, WIDEST, WidthStrip
from needle.ui.hearing import NamedCombo
from needle.ui.language import tr
from needle.ui.session import Change, Session
from needle.ui.theme import icon
from needle.ui.timers import once
from needle.ui.words import Words, set_tip

__all__ = ["Canvas"]

_PRESETS = ((1440, tr("Desktop 1440")), (1280, tr("Desktop 1280")), (820, tr("Tablet 820")),
            (390, tr("Phone 390")), (360, tr("Phone 360")))


class _Frame(QWidget):
    """A live view under its head line: the width and the scale.

    Signals:
        alone_asked: This view wants all the room, or gives it back.
        swap_asked: The two views want to change places.
        refused: A width that cannot be shown was typed (in words).
        resized: The page is shown at another width.
    """

    alone_asked = pyqtSignal()
    swap_asked = pyqtSignal()
    refused = pyqtSignal(str)
    resized = pyqtSignal()

    def __init__(self, engine: LiveEngine, width: int) -> None:
        super().__init__()
        self.view = LiveView(engine, width)
        self.worst = ""
        self._width = NamedCombo(tr("Width of this view, in CSS pixels"))
        self._width.setEditable(True)
        self._width.setMinimumWidth(118)
        for px, words in _PRESETS:
            self._width.addItem(words, px)
        self._width.setCurrentText(_width_words(width))
        self._width.activated.connect(lambda _: self._take(str(self._width.currentData())))
        line = self._width.lineEdit()
        assert line is not None
        line.editingFinished.connect(self._take_typed)
        self._scale = Words()
        self._scale.setProperty("role", "small")
        self.sticks_out = QToolButton()
        self.sticks_out.setProperty("role", "fault")
        self.sticks_out.hide()
        swap = _tool("swap", tr("Swap the two views"), self.swap_asked.emit)
        alone = _tool("eye", tr("Give this view all the room, or share it again"),
                      self.alone_asked.emit)
        head = QHBoxLayout()
        head.setContentsMargins(0, 0, 0, 0)
        head.setSpacing(2)
        head.addWidget(self._width)
        head.addStretch()
        for widget in (self.sticks_out, self._scale, swap, alone):
            head.addWidget(widget)
        column = QVBoxLayout(self)
        column.setContentsMargins(6, 4, 6, 8)
        column.setSpacing(4)
        self.strip = WidthStrip()
        self.strip.show_width(width)
        self.strip.dragged.connect(self.set_width)
        column.addLayout(head)
        column.addWidget(self.strip)
        column.addWidget(self.view, 1)
        self.view.scaled.connect(self._show_scale)

    def _show_scale(self, scale: float) -> None:
        self._scale.setText(f"{scale:.0%}".replace("%", " %"))

    def show_overflow(self, by: int) -> None:
        """Say that something sticks out of the page by so many CSS pixels; 0 for nothing."""
        self.sticks_out.setVisible(by > 0)
        words = tr("{by} px too wide", by=by)
        self.sticks_out.setText(words)
        set_tip(self.sticks_out, tr("Something sticks out of the page at this width. Click to "
                                    "choose it."))
        self.sticks_out.setAccessibleName(tr("{words}: choose what sticks out", words=words))

    def set_width(self, px: int) -> None:
        """Show the page `px` CSS pixels wide."""
        self.view.set_css_width(px)
        self.strip.show_width(px)
        self.resized.emit()
        self._width.setCurrentText(_width_words(px))

    def _take_typed(self) -> None:
        self._take(self._width.currentText())

    def _take(self, words: str) -> None:
        digits = "".join(sign for sign in words if sign.isdigit())
        if digits and NARROWEST <= int(digits[-5:]) <= WIDEST:
            self.set_width(int(digits[-5:]))
        else:
            self._width.setCurrentText(_width_words(self.view.css_width))
            self.refused.emit(tr("A view is {narrowest} to {widest} px wide, not “{words}”.",
                                 narrowest=NARROWEST, widest=WIDEST, words=words))


def _width_words(px: int) -> str:
    return f"{width_for(px).value.capitalize()} {px}"


def _tool(name: str, words: str, run: Any) -> QToolButton:
    button = QToolButton()
    button.setIcon(icon(name))
    set_tip(button, words)
    button.setAccessibleName(words)
    button.clicked.connect(lambda _=False: run())
    return button


class Canvas(QWidget):
    """Desktop and phone beside each other, both real, both editable, scrolled together.

    Signals:
        menu_asked: The person asked for the menu of the chosen node.
        files_dropped: Files were dropped on the page (their paths, target id, side).
        kind_dropped: What is to be put in was dropped on it (the kind's key, target id, side).
        measured: A view has worked out the chosen node's numbers (by row of the style table).
    """

    menu_asked = pyqtSignal()
    files_dropped = pyqtSignal(list, str, str)
    kind_dropped = pyqtSignal(str, str, str)
    measured = pyqtSignal(dict)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("work")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._shown: Variant | None = None
        self.engine = LiveEngine(self._page_html, session.folder)
        self.frames = (_Frame(self.engine, 1280), _Frame(self.engine, 390))
        self._splitter = QSplitter()
        self._splitter.setChildrenCollapsible(False)
        for number, frame in enumerate(self.frames):
            self._splitter.addWidget(frame)
            frame.alone_asked.connect(lambda f=frame: self.show_alone(f))
            frame.swap_asked.connect(self.swap)
            frame.refused.connect(lambda words: session.said.emit(words, True))
            frame.view.said.connect(lambda message, v=frame.view: self._hear(v, message))
            frame.view.dropped.connect(self._on_dropped)
            frame.view.files_dropped.connect(self.files_dropped)
            frame.view.kind_dropped.connect(self.kind_dropped)
            frame.resized.connect(lambda: self._look_later.start())
            frame.sticks_out.clicked.connect(lambda _=False, f=frame: self._choose_overflow(f))
            self._splitter.setStretchFactor(number, 5 if number == 0 else 2)
        self._splitter.setSizes([700, 280])
        # Further views of the same page, which stand elsewhere.
        self._others: list[LiveView] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 4, 8, 0)
        row.addWidget(self._splitter)
        session.changed.connect(self._on_change)
        session.selected.connect(self._on_selected)
        session.turned.connect(self.reload)
        session.rowed.connect(self._on_row)
        # Not at every letter: what was typed rarely changes a number.
        self._measure_later = once(self, 150)
        self._measure_later.timeout.connect(self._measure)
        session.scoped.connect(self._measure_later.start)
        self._look_later = once(self, 400)
        self._look_later.timeout.connect(self._look_for_overflow)

    @property
    def views(self) -> tuple[LiveView, LiveView]:
        """The two live views, left and right as they were made."""
        return (self.frames[0].view, self.frames[1].view)

    def add_view(self, width: int) -> LiveView:
        """Return another view of the page, kept in step with these; it stands elsewhere."""
        view = LiveView(self.engine, width)
        view.said.connect(lambda message: self._hear(view, message))
        self._others.append(view)
        return view

    @property
    def _every(self) -> tuple[LiveView, ...]:
        return (*self.views, *self._others)

    def _page_html(self) -> str:
        return edit_page(self._session.context(), FONT_CSS)

    def reload(self) -> None:
        """Show the page afresh in both views, from its top."""
        self._shown = self._session.context().variant
        for view in self._every:
            view.call("load", True)

    def end(self) -> None:
        """Take the engine apart before the window goes."""
        for view in self._every:
            view.end()
        self.engine.end()

    # Room

    def show_alone(self, frame: QWidget) -> None:
        """Give a view all the room, or share it again."""
        other = self.frames[1] if frame is self.frames[0] else self.frames[0]
        other.setVisible(not other.isVisible())

    def swap(self) -> None:
        """Let the two views change places."""
        left = self._splitter.widget(1)
        sizes = self._splitter.sizes()
        if left is not None:
            self._splitter.insertWidget(0, left)
            self._splitter.setSizes(sizes[::-1])

    # What the views report

    def _hear(self, view: LiveView, message: dict[str, Any]) -> None:
        match message["t"]:
            case "ready":
                self._show_selection(view, reveal=False)
                self._look_later.start()
            case "pick" if message.get("more"):
                self._session.select_more(message["id"])
            case "pick":
                self._session.select(message["id"])
            case "words":
                self._take_words(view, message["id"], message["text"], message["lines"])
            case "mark":
                self._mark_words(message)
            case "done":
                self._end_typing(view, message["id"])
            case "scroll":
                for other in self.views:
                    if other is not view:
                        other.call("follow", message["id"], message["part"])
            case "move":
                chosen = self._session.chosen
                ids = list(chosen) if message["id"] in chosen else [message["id"]]
                self._on_dropped(ids, message["target"], message["side"])
            case "shares":
                row, shares = message["id"], message["shares"]
                self._session.edit(tr("shares of columns"),
                                   lambda site: set_shares(site, row, shares),
                                   group=f"shares:{row}")
            case "shared":
                self._session.close_group()
            case "menu":
                if message["id"] not in self._session.chosen:
                    self._session.select(message["id"])
                self.menu_asked.emit()

    def _take_words(self, view: LiveView, node_id: Id, path: str,
                    lines: list[list[dict[str, Any]]]) -> None:
        node = self._session.node(node_id)
        if node is None:
            return
        words: tuple[Text, ...] = tuple(tidy(Run(**run) for run in line) for line in lines)
        label = tr("words of {label}", label=tr(kind_of(node).label).lower())
        self._session.edit(label, self._session.wording(node_id, path, words),
                           group=f"type:{node_id}/{path}", asker=view)

    def _mark_words(self, said: dict[str, Any]) -> None:
        """Put a mark on the chosen words, or take it off."""
        node = self._session.node(said["id"])
        if node is None:
            return
        lines = read_lines(self._node_shown(node), said["text"])
        value, _, shape = (said["value"] or "").partition("|")
        if said["mark"] != "column":
            value = said["value"] or ""
        after = marked(lines, said["start"], said["stop"], said["mark"], value)
        if said["mark"] == "column":
            after = marked(after, said["start"], said["stop"], "shape", shape)
        names = {"strong": "bold", "emphasis": "italic", "link": "link",
                 "advert": tr("words from the advert"), "column": tr("a column's value")}
        self._session.close_group()
        self._session.edit(names[said["mark"]], self._session.wording(
            node.id, said["text"], after))

    def _end_typing(self, view: LiveView, node_id: Id) -> None:
        """Give the view that had the caret the same markup as everywhere else."""
        self._session.close_group()
        node = self._session.node(node_id)
        if node is not None:
            html = str(render_node(self._node_shown(node), self._session.context()))
            view.apply([Patch(op="node", id=node_id, html=html)])

    def _node_shown(self, node: Node) -> Node:
        """Return a part as it is shown: of a page for each row, with the row's values."""
        return next((one for one in self._session.context().variant.nodes()
                     if one.id == node.id), node)

    def mark_words(self, mark: str, value: str) -> None:
        """Put a mark on the words that are chosen in any view."""
        for view in self._every:
            view.call("mark", mark, value)

    def show_again(self, node_id: Id) -> None:
        """Give every view the markup of a part anew: how it is marked has changed."""
        node = self._session.node(node_id)
        if node is not None:
            html = str(render_node(self._node_shown(node), self._session.context()))
            for view in self._every:
                view.apply([Patch(op="node", id=node_id, html=html)])

    def _on_dropped(self, ids: list[Id], target: str, side: str) -> None:
        self._session.edit(tr("move"),
                           lambda site: move_all(site, ids, target, side))  # type: ignore[arg-type]
        self._session.select(ids[-1], ids)

    # What the session reports

    def _on_change(self, change: Change) -> None:
        session = self._session
        page = session.page_of(change.old)
        keys = [variant.key for variant in page.variants] if page else []
        if page is None or session.variant.key not in keys:
            self.reload()
            return
        self._show(patches(change.old, change.new, page.variant(session.variant.key),
                           session.context()), change.asker)

    def _show(self, found: list[Patch], asker: object = None) -> None:
        """Have the views show what changed; the one that asked for it shows it already."""
        self._shown = self._session.context().variant
        for view in self._every:
            if view is not asker:
                view.apply(found)
        self._measure_later.start()
        self._look_later.start()

    def _on_row(self) -> None:
        """Show the page as it is for another row."""
        site, context = self._session.site, self._session.context()
        if self._shown is None or self._shown.key != context.variant.key:
            self.reload()
        else:
            self._show(patches(site, site, self._shown, context))

    def _look_for_overflow(self) -> None:
        """Ask each view what sticks out of the page at its width."""
        for frame in self.frames:
            def tell(worst: dict[str, Any] | None, frame: _Frame = frame) -> None:
                frame.worst = worst["id"] if worst else ""
                frame.show_overflow(worst["by"] if worst else 0)

            frame.view.call("overflow", then=tell)

    def _choose_overflow(self, frame: _Frame) -> None:
        if frame.worst:
            self._session.select(frame.worst)

    def _on_selected(self, node_id: Id) -> None:
        for view in self._every:
            self._show_selection(view, reveal=True)
        self._measure_later.start()

    def _measure(self) -> None:
        """Ask the view of the width that looks are changed for what it shows."""
        chosen = self._session.selection
        scope = self._session.scope
        view = next((v for v in self.views if width_for(v.css_width) is scope), self.views[0])

        def tell(computed: dict[str, str] | None) -> None:
            if computed and chosen == self._session.selection:
                self.measured.emit(measured(computed))

        if chosen:
            names = [row.css_name for row in PROPERTIES if row.css_name]
            view.call("computed", chosen, names, then=tell)

    def _show_selection(self, view: LiveView, reveal: bool) -> None:
        popup = self._session.popup_of(self._session.selection)
        view.call("popup", popup.id if popup else "")
        view.call("select", self._session.selection, reveal, list(self._session.also))

    def show_group(self, ids: Sequence[Id]) -> None:
        """Point out the nodes that the next change of a look would reach."""
        for view in self.views:
            view.call("group", list(ids))
