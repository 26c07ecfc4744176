"""Commands on the chosen parts of a page: copying, moving, wrapping, looks, marks."""

from collections.abc import Callable, Sequence

from PyQt6.QtCore import QMimeData, QObject
from PyQt6.QtWidgets import QApplication, QInputDialog, QWidget

from needle.core.edit.clipping import clip, clip_words, insert_all, paste
from needle.core.edit.grouping import add_cell, delete_all, outermost, reorder_at, wrap
from needle.core.edit.looks import paste_look, plain_look, take_look
from needle.core.edit.nodes import duplicate, nudge, set_hidden_all, split_row
from needle.core.edit.place import EditError
from needle.core.render.holders import render_node
from needle.core.render.texts import texts_of
from needle.core.site.site import Site
from needle.core.site.tree import Row
from needle.core.values.ids import Id
from needle.core.values.node import Item
from needle.core.values.widths import Width
from needle.core.wording.pasted import items_from_html, items_from_words
from needle.ui.builder.advertwords import AdvertDialog
from needle.ui.builder.canvas import Canvas
from needle.ui.builder.script import Script
from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.session import Session

__all__ = ["LOOK_MIME", "PART_MIME", "PartCommands"]

PART_MIME = "application/x-needle-part+json"
LOOK_MIME = "application/x-needle-look+json"
_WIDTH_KEYS = ((Width.PHONE, "Alt+1"), (Width.TABLET, "Alt+2"), (Width.DESKTOP, "Alt+3"))
_LOOK_PARTS = {"": "whole", "type": tr("type only"), "box": tr("box only"),
               "surface": tr("surface only")}


class PartCommands(QObject):
    """What can be done to the chosen parts. One command on several is one step of undo."""

    def __init__(self, session: Session, script: Script, canvas: Canvas, window: QWidget) -> None:
        super().__init__(window)
        self._session = session
        self._script = script
        self._canvas = canvas
        self._window = window

    def commands(self) -> list[Command]:
        """Return the commands, in the order of the Edit menu."""
        return [*self._moving(), *self._grouping(), *self._looks(), *self._marks()]

    def _none_chosen(self) -> str:
        return "" if self._session.selection else tr("Choose a part of the page first.")

    def _in_no_row(self) -> str:
        return "" if self._row() is not None else tr("Choose a row, or something in one, first.")

    def _idle(self, how: Callable[[Site, Sequence[Id]], Site]) -> str:
        """Return why an edit of what is chosen cannot be done, by trying it on the value."""
        return self._none_chosen() or self._session.hindrance(
            lambda site: how(site, outermost(site, self._session.chosen)))

    def _held_by_nothing(self) -> str:
        return self._none_chosen() or (
            "" if len(self._session.path(self._session.selection)) > 1
            else tr("Nothing holds it: it stands on the page itself."))

    def _no_clip(self) -> str:
        mime = _clipped()
        return "" if mime and (mime.hasFormat(PART_MIME) or mime.hasText() or mime.hasHtml()) \
            else tr("The clipboard holds no words and no part of a page. Copy something first.")

    def _no_look(self) -> str:
        mime = _clipped()
        return self._none_chosen() or ("" if mime and mime.hasFormat(LOOK_MIME) else
                                       tr("No look is copied yet. Choose what has it and copy "
                                          "the look first."))

    def _no_words(self) -> str:
        node = self._session.node()
        return "" if node is not None and texts_of(node) else tr("Choose words on the page first.")

    def _edit(self, label: str, how: Callable[[Site, Sequence[Id]], Site]) -> bool:
        chosen = self._session.chosen
        return self._session.edit(label, lambda site: how(site, outermost(site, chosen)))

    def _moving(self) -> list[Command]:
        return [
            Command(id="node.edit", menu="Edit", title=tr("Type in the Script"), keys="F2",
                    run=self._script.edit_chosen, unless=self._none_chosen),
            Command(id="node.copy", menu="Edit", title=tr("Duplicate"), keys="Ctrl+D",
                    run=self._duplicate, unless=self._none_chosen),
            Command(id="node.clip", menu="Edit", title=tr("Copy"), keys="Ctrl+C", run=self.clip,
                    unless=self._none_chosen),
            Command(id="node.cut", menu="Edit", title=tr("Cut"), keys="Ctrl+X", run=self._cut,
                    unless=self._none_chosen),
            Command(id="node.paste", menu="Edit", title=tr("Paste"), keys="Ctrl+V",
                    run=lambda: self.paste(False), unless=self._no_clip),
            Command(id="node.paste.kept", menu="Edit", keys="Ctrl+Shift+V",
                    title=tr("Paste words with headings, lists and links"),
                    run=lambda: self.paste(True), unless=self._no_clip),
            Command(id="node.up", menu="Edit", title=tr("Move up"), keys="Alt+Up",
                    unless=lambda: self._idle(_nudged(-1)), run=lambda: self._nudge(-1)),
            Command(id="node.down", menu="Edit", title=tr("Move down"), keys="Alt+Down",
                    unless=lambda: self._idle(_nudged(1)), run=lambda: self._nudge(1)),
            *(Command(id=f"node.phone.{words}", menu="Edit", keys=keys, unless=self._none_chosen,
                      title=tr("{words} on the phone only", words=words.capitalize()),
                      keywords="order reorder",
                      run=lambda n=steps: self._edit(tr("order on phone"), lambda site,
                                                     ids: reorder_at(  # type: ignore[misc]
                          site, ids[-1], Width.PHONE, n)))
              for words, keys, steps in (("earlier", "Alt+Shift+Up", -1),
                                         ("later", "Alt+Shift+Down", 1))),
            Command(id="node.outer", menu="Edit", title=tr("Choose what holds it"), keys="Alt+Left",
                    run=self._choose_outer, unless=self._held_by_nothing),
            Command(id="node.delete", menu="Edit", title=tr("Delete"), keys="Del",
                    unless=self._none_chosen, run=lambda: self._edit(tr("delete"), delete_all)),
            *(Command(id=f"node.hide.{width.value}", menu="Edit", keys=keys,
                      unless=self._none_chosen,
                      title=tr("Hide or show on {value}", value=width.value),
                      run=lambda w=width: self._toggle_hidden(w))  # type: ignore[misc]
              for width, keys in _WIDTH_KEYS),
        ]

    def _grouping(self) -> list[Command]:
        return [
            Command(id="node.row", menu="Arrange", title=tr("Put into a row, side by side"),
                    keys="Ctrl+G", unless=self._none_chosen, keywords="wrap group columns",
                    run=lambda: self._wrap(True)),
            Command(id="node.box", menu="Arrange", title=tr("Put into a box"), keys="Ctrl+Shift+G",
                    unless=self._none_chosen, keywords="wrap group", run=lambda: self._wrap(False)),
            Command(id="row.cell", menu="Arrange", title=tr("Add a cell, the rest even out"),
                    keys="Ctrl+Shift+D", unless=self._none_chosen, keywords="grid column",
                    run=self._add_cell),
            *(Command(id=f"row.columns.{n}", menu="Arrange", keywords="split row columns",
                      title=tr("Row of {n} columns", n=n), unless=self._in_no_row,
                      run=lambda n=n: self._split_row(n))  # type: ignore[misc]
              for n in (1, 2, 3, 4)),
        ]

    def _looks(self) -> list[Command]:
        return [
            Command(id="look.copy", menu="Look", title=tr("Copy the look"), keys="Ctrl+Alt+C",
                    unless=self._none_chosen, run=self._copy_look),
            *(Command(id=f"look.paste.{part or 'all'}", menu="Look",
                      title=tr("Paste the look, {words}", words=words),
                      keys="" if part else "Ctrl+Alt+V",
                      unless=self._no_look,
                      run=lambda p=part: self._paste_look(p))  # type: ignore[misc]
              for part, words in _LOOK_PARTS.items()),
            Command(id="look.plain", menu="Look", title=tr("Set back to the style"),
                    keys="Ctrl+Space", unless=self._none_chosen,
                    run=lambda: self._edit(tr("set back to the style"), plain_look)),
            *(Command(id=f"look.plain.{width.value}", menu="Look", unless=self._none_chosen,
                      title=tr("Put back all that differs on {value}", value=width.value),
                      run=lambda w=width: self._edit(tr("put back all on {value}", value=w.value),
                                                     # type: ignore[misc]
                                                     lambda s, i: plain_look(s, i, w)))
              for width in Width),
        ]

    def _marks(self) -> list[Command]:
        return [
            Command(id="words.strong", menu="Edit", title=tr("Bold"), keys="Ctrl+B",
                    run=lambda: self._mark("strong"), unless=self._no_words),
            Command(id="words.emphasis", menu="Edit", title=tr("Italic"), keys="Ctrl+I",
                    run=lambda: self._mark("emphasis"), unless=self._no_words),
            Command(id="words.link", menu="Edit", title=tr("Link the chosen words…"), keys="Ctrl+L",
                    run=self._link, unless=self._no_words),
            Command(id="words.advert", menu="Edit", title=tr("Words from the advert…"),
                    keys="Ctrl+Shift+L", run=self._advert, unless=self._no_words,
                    keywords="dynamic text utm_term keyword address"),
        ]

    # Moving and copying

    def _nudge(self, steps: int) -> None:
        self._edit(tr("move up") if steps < 0 else tr("move down"), _nudged(steps))

    def _duplicate(self) -> None:
        made: list[Id] = []

        def how(site: Site, ids: Sequence[Id]) -> Site:
            for node_id in ids:
                site, copy = duplicate(site, node_id)
                made.append(copy)
            return site

        if self._edit(tr("duplicate"), how) and made:
            self._session.select(made[-1], made)

    def clip(self) -> None:
        """Put the chosen parts on the clipboard, for this and other Needle windows."""
        session = self._session
        ids = outermost(session.site, session.chosen)
        mime = QMimeData()
        mime.setData(PART_MIME, clip(session.site, ids))
        mime.setText(clip_words(session.site, ids))
        mime.setHtml("".join(str(render_node(session.path(node_id)[-1], session.context()))
                             for node_id in ids))
        clipboard = QApplication.clipboard()
        assert clipboard is not None
        clipboard.setMimeData(mime)

    def _cut(self) -> None:
        self.clip()
        self._edit("cut", delete_all)

    def paste(self, kept: bool) -> None:
        """Put what the clipboard holds after the chosen part.

        Args:
            kept: Words from elsewhere keep their headings, lists, links and emphasis.
        """
        mime, session, made = _clipped(), self._session, []
        if mime is None or self._no_clip():
            session.said.emit(self._no_clip(), True)
            return

        def how(site: Site) -> Site:
            page, variant, target = session.page.id, session.variant.key, session.selection
            if mime.hasFormat(PART_MIME):
                data = bytes(mime.data(PART_MIME).data())
                site, ids = paste(site, data, page, variant, target)
            else:
                items = self._words_of(mime, kept)
                site = insert_all(site, items, page, variant, target)
                ids = [item.id for item in items]
            made.extend(ids)
            return site

        if session.edit(tr("paste"), how) and made:
            session.select(made[-1], made)

    @staticmethod
    def _words_of(mime: QMimeData, kept: bool) -> list[Item]:
        items = items_from_html(mime.html()) if kept and mime.hasHtml() else items_from_words(
            mime.text())
        if not items:
            raise EditError("clipboard-no-words")
        return items

    def _choose_outer(self) -> None:
        path = self._session.path(self._session.selection)
        if len(path) > 1:
            self._session.select(path[-2].id)

    def _toggle_hidden(self, width: Width) -> None:
        node, chosen = self._session.node(), self._session.chosen
        if node is not None:
            hide = width not in node.hidden
            self._session.edit(tr("{word} on {value}",
                                  word="hide" if hide else "show", value=width.value),
                               lambda site: set_hidden_all(site, chosen, width, hide))

    # Rows

    def _wrap(self, as_row: bool) -> None:
        made: list[Id] = []

        def how(site: Site, ids: Sequence[Id]) -> Site:
            site, wrapped = wrap(site, ids, as_row)
            made.append(wrapped)
            return site

        if self._edit(tr("put into a row") if as_row else tr("put into a box"), how) and made:
            self._session.select(made[0])

    def _add_cell(self) -> None:
        made: list[Id] = []

        def how(site: Site) -> Site:
            site, cell = add_cell(site, self._session.selection)
            made.append(cell)
            return site

        if self._session.edit(tr("add cell"), how) and made:
            self._session.select(made[0])

    def _row(self) -> Row | None:
        return next((n for n in self._session.path(self._session.selection)
                     if isinstance(n, Row)), None)

    def _split_row(self, columns: int) -> None:
        row = self._row()
        if row is not None:
            self._session.edit(tr("columns of row"), lambda site: split_row(site, row.id, columns))

    # Looks and marks

    def _copy_look(self) -> None:
        node, clipboard = self._session.node(), QApplication.clipboard()
        if node is None or clipboard is None:
            return
        mime = QMimeData()
        mime.setData(LOOK_MIME, take_look(node))
        clipboard.setMimeData(mime)
        self._session.said.emit(tr("The look is copied. Choose others and paste it."), False)

    def _paste_look(self, part: str) -> None:
        mime = _clipped()
        if mime is None or self._no_look():
            self._session.said.emit(self._no_look(), True)
            return
        data = bytes(mime.data(LOOK_MIME).data())
        self._edit(tr("paste look"), lambda site, ids: paste_look(
            site, self._session.chosen, data, part))

    def _mark(self, kind: str, value: str = "") -> None:
        self._canvas.mark_words(kind, value)

    def _link(self) -> None:
        address, taken = QInputDialog.getText(self._window, tr("Link"),
                                              tr("Address (empty takes the link away)"))
        if taken:
            self._mark("link", address.strip())

    def _advert(self) -> None:
        asking = AdvertDialog(self._session, self._window)
        if asking.exec() and asking.chosen is not None:
            self._mark("advert", asking.chosen)


def _clipped() -> QMimeData | None:
    clipboard = QApplication.clipboard()
    return clipboard.mimeData() if clipboard else None


def _nudged(steps: int) -> Callable[[Site, Sequence[Id]], Site]:
    def how(site: Site, ids: Sequence[Id]) -> Site:
        for node_id in (ids if steps < 0 else reversed(ids)):
            site = nudge(site, node_id, -1 if steps < 0 else 1)
        return site

    return how
