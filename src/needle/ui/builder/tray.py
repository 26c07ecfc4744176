"""The tray: every setting of the chosen item at once, in columns that read left to right."""

from collections.abc import Callable
from functools import partial
from itertools import groupby

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import (
    QFrame,
    QHBoxLayout,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from needle.core.edit.legibility import text_contrast
from needle.core.edit.looks import alike, clear_at, resolved, set_look
from needle.core.edit.nodes import rename, set_field, set_hidden_all
from needle.core.edit.pages import set_letter_width
from needle.core.kinds.kind import Field
from needle.core.render.holders import kind_of
from needle.core.site.site import Site
from needle.core.site.tree import Row
from needle.core.values.ids import Id
from needle.core.values.node import Node
from needle.core.values.styletable import Property, properties_for
from needle.core.values.widths import Width
from needle.ui.builder.actions import ActionsEdit
from needle.ui.builder.fieldeditors import FieldEditors
from needle.ui.builder.properties import (
    WIDTH_WORDS,
    PropertyEditor,
    property_editor,
    show_property,
)
from needle.ui.builder.styles import StyleColumns
from needle.ui.builder.traycolumn import TrayColumn, dim_label
from needle.ui.cards import repaint, repaint_role
from needle.ui.editors import (
    DragLabel,
    Knot,
    NumberEdit,
    Segments,
)
from needle.ui.language import tr
from needle.ui.session import Change, Session
from needle.ui.timers import once
from needle.ui.words import Words, set_tip

__all__ = ["Tray"]

_REACH = {"one": "these {}", "row": "{} in row", "section": "{} in section",
          "page": "{} on page"}
_SHOWN = {Width.DESKTOP: "desk", Width.TABLET: "tablet", Width.PHONE: "phone"}
_COLUMNS = (("type", tr("Type")), ("box", tr("Box")), ("surface", tr("Surface")))


class Tray(QWidget):
    """The settings of the chosen node.

    Signals:
        medium_asked: The person wants to add a picture or video (node id, path of the field).
        reach_shown: The nodes that the next change of a look would reach (their ids).
        form_asked: The person wants to edit a form (its id).
    """

    medium_asked = pyqtSignal(str, str)
    reach_shown = pyqtSignal(list)
    form_asked = pyqtSignal(str)

    def __init__(self, session: Session) -> None:
        super().__init__()
        self.setObjectName("tray")
        self.setAttribute(Qt.WidgetAttribute.WA_StyledBackground)
        self._session = session
        self._reach = "one"
        self._measured: dict[str, float] = {}
        self._marked: QWidget | None = None
        self._shown: type[Node] | None = None
        self._refreshers: list[Callable[[Node], None]] = []
        self._fields = FieldEditors(session)
        self._fields.medium_asked.connect(self.medium_asked)
        self._fields.form_asked.connect(self.form_asked)
        self.editors: dict[str, QWidget] = {}
        self.knots: dict[str, Knot] = {}
        self._scroll = QScrollArea()
        self._scroll.setWidgetResizable(True)
        self._scroll.setFrameShape(QFrame.Shape.NoFrame)
        column = QVBoxLayout(self)
        column.setContentsMargins(0, 2, 0, 0)
        column.addWidget(self._scroll)
        self.setFixedHeight(216)
        # Typing changes the site at every letter; the tray follows at its own pace.
        self._later = once(self, 60)
        self._later.timeout.connect(self.refresh)
        session.selected.connect(self._on_selected)
        session.changed.connect(self._on_change)
        session.scoped.connect(self.refresh)
        session.turned.connect(self.refresh)
        self.refresh()

    def _on_selected(self, _node: Id) -> None:
        self._unmark()
        self._measured = {}
        self.refresh()

    def _on_change(self, change: Change) -> None:
        if change.asker is None:
            self.refresh()
        elif not self._later.isActive():
            self._later.start()

    def refresh(self) -> None:
        """Show the chosen node as it is now."""
        node = self._session.node()
        if node is None:
            if self._shown is not Node:
                self._show_nothing()
            self.styles.refresh()
            self.letters.show_value(self._session.page.letter_width or None, 1120)
            return
        if type(node) is not self._shown:
            self._build(node)
        for refresh in self._refreshers:
            refresh(node)

    def mark(self, name: str) -> None:
        """Mark the editor of a field or property, bring it into sight and give it the keys."""
        self._unmark()
        editor = self.editors.get(name)
        if editor is None:
            return
        editor.setProperty("marked", True)
        repaint(editor)
        self._marked = editor
        self._scroll.ensureWidgetVisible(editor)
        editor.setFocus(Qt.FocusReason.OtherFocusReason)

    def _unmark(self) -> None:
        editor, self._marked = self._marked, None
        if editor is not None and editor in self.editors.values():
            editor.setProperty("marked", False)
            repaint(editor)

    def show_measured(self, numbers: dict[str, float]) -> None:
        """Show, where nothing is set or inherited, the numbers that the view has worked out."""
        if numbers != self._measured:
            self._measured = numbers
            self.refresh()

    def _show_nothing(self) -> None:
        """With nothing chosen, the tray holds what the page and the site share: text styles."""
        self._shown = Node
        self._refreshers = []
        self.editors, self.knots = {}, {}
        words = Words(tr("Nothing is chosen. Click something on the page or in the Script; Ins "
                         "adds a section or an item, Ctrl+K finds anything."))
        words.setProperty("role", "dim")
        words.setWordWrap(True)
        words.setAlignment(Qt.AlignmentFlag.AlignTop)
        hint = TrayColumn(tr("This page"))
        hint.add_wide(words)
        self.letters = NumberEdit(tr("Content width"), 0, 2400, 20, "px")
        self.letters.chosen.connect(self._set_letters)
        self.letters.refused.connect(lambda words: self._session.said.emit(words, True))
        hint.add_line(DragLabel(tr("Content width"), self.letters), self.letters)
        body = QWidget()
        row = QHBoxLayout(body)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(hint, 3)
        self.styles = StyleColumns(self._session)
        row.addWidget(self.styles, 9)
        self._put(body)

    def _set_letters(self, value: object) -> None:
        page, px = self._session.page.id, int(value or 0)  # type: ignore[call-overload]
        self._session.edit(tr("letter width of page"),
                           lambda site: set_letter_width(site, page, px),
                           group=f"letters:{page}")

    def _put(self, body: QWidget) -> None:
        old = self._scroll.takeWidget()
        self._scroll.setWidget(body)
        if old is not None:
            old.deleteLater()

    def _build(self, node: Node) -> None:
        """Make the columns for this kind of node."""
        self._shown = type(node)
        self._refreshers = []
        self.editors, self.knots = {}, {}
        kind = kind_of(node)
        body = QWidget()
        row = QHBoxLayout(body)
        row.setContentsMargins(0, 0, 0, 0)
        row.setSpacing(0)
        row.addWidget(self._kind_column(node), 4)
        for title in dict.fromkeys(f.column for f in kind.fields if f.column):
            more = TrayColumn(title)
            for field in kind.fields:
                if field.column == title:
                    self._add_field(more, field)
            row.addWidget(more, 4)
        rows = properties_for(kind.traits)
        clicks = [field for field in kind.fields if field.editor == "actions"]
        if clicks:
            column = self._click_column(clicks[0])
            self._add_properties(column, [prop for prop in rows if prop.column == "state"])
            row.addWidget(column, 3)
        for key, title in _COLUMNS:
            mine = [prop for prop in rows if prop.column == key]
            if mine:
                column = TrayColumn(title)
                self._add_properties(column, mine)
                if key == "surface":
                    self._add_shown(column)
                row.addWidget(column, 4)
        self._put(body)

    # What it is

    def _kind_column(self, node: Node) -> TrayColumn:
        kind = kind_of(node)
        column = TrayColumn(tr(kind.label))
        for field in kind.fields:
            if field.editor != "actions" and not field.column:
                self._add_field(column, field)
        self._add_scope(column)
        return column

    def _add_scope(self, column: TrayColumn) -> None:
        reach = Segments(tr("Change"), dict.fromkeys(_REACH, ""))
        reach.chosen.connect(self._set_reach)
        widths = Segments(tr("For"), WIDTH_WORDS)
        widths.chosen.connect(self._session.set_scope)
        self.editors["scope"] = widths
        self.editors["reach"] = reach
        column.add_line(dim_label(tr("Change")), reach)
        column.add_line(dim_label(tr("For")), widths)

        def refresh(node: Node) -> None:
            counts = {key: len(self._reached(key, node)) for key in _REACH}
            if counts[self._reach] <= counts["one"]:
                self._reach = "one"
            most = 0
            for key, words in _REACH.items():
                # A wider reach is offered only where it reaches more than the narrower ones.
                reach.button(key).setVisible(counts[key] > most)
                most = max(most, counts[key])
                reach.show_words(key, tr("this one") if key == "one" and counts[key] == 1
                                 else words.format(counts[key]))
            reach.show_values([self._reach])
            widths.show_values([self._session.scope])

        self._refreshers.append(refresh)

    def _set_reach(self, reach: str) -> None:
        self._reach = reach
        self.refresh()
        node = self._session.node()
        self.reach_shown.emit(list(self._targets(node)) if node and reach != "one" else [])

    def _reached(self, reach: str, node: Node) -> tuple[Id, ...]:
        """Return the nodes that a change of looks reaches."""
        path = self._session.path(node.id)
        if reach == "one" or not path:
            return self._session.chosen or (node.id,)
        if reach == "page":
            variant = self._session.variant
            return alike((*variant.children, *variant.popups), node)
        row = next((n for n in path if isinstance(n, Row)), path[0])
        return alike([row if reach == "row" else path[0]], node)

    def _add_field(self, column: TrayColumn, field: Field) -> None:
        editor, refresh = self._fields.make(field, partial(self._set_field, field.name))
        self.editors[field.name] = editor
        column.add_line(dim_label(tr(field.label)), editor)
        self._refreshers.append(refresh)

    def _set_field(self, name: str, value: object) -> None:
        node = self._session.node()
        if node is None or getattr(node, name) == value:
            return
        if isinstance(value, float) and value.is_integer():
            value = int(value)
        if name == "name":
            self._session.edit("name", lambda site: rename(site, node.id, str(value)))
            return
        label = tr("{name} of {label}", name=name, label=tr(kind_of(node).label).lower())
        targets = self._targets_of_field(node, name)

        def how(site: Site) -> Site:
            for node_id in targets:
                site = set_field(site, node_id, name, value)
            return site

        if not self._session.edit(label, how):
            self.refresh()

    def _targets_of_field(self, node: Node, name: str) -> tuple[Id, ...]:
        """Return whom a value goes to: all of the kind that are chosen or alike.

        What makes an item itself, its picture, code or line of words, stays its own.
        """
        editor = next((f.editor for f in kind_of(node).fields if f.name == name), "line")
        if editor not in ("choice", "style", "icon", "number", "actions", "colour"):
            return (node.id,)
        return tuple(other for other in self._targets(node)
                     if type(self._session.node(other)) is type(node)) or (node.id,)

    def _click_column(self, field: Field) -> TrayColumn:
        column = TrayColumn(tr("When clicked"))
        actions = ActionsEdit(self._session)
        actions.chosen.connect(partial(self._set_field, field.name))
        self.editors[field.name] = actions
        column.add_wide(actions)
        self._refreshers.append(lambda node: actions.show_actions(getattr(node, field.name)))
        return column

    # How it looks

    def _add_properties(self, column: TrayColumn, rows: list[Property]) -> None:
        for line, group in groupby(rows, key=lambda prop: prop.line):
            members = list(group)
            widgets: list[QWidget] = []
            for prop in members:
                editor = self._property_editor(prop)
                if prop.beside:
                    widgets.append(DragLabel(tr(prop.beside), editor)
                                   if isinstance(editor, NumberEdit) else dim_label(
                                       tr(prop.beside)))
                widgets.append(editor)
            named = tr(line)
            knot = Knot(named)
            knot.clicked.connect(partial(self._put_back, [p.name for p in members]))
            for prop in members:
                self.knots[prop.name] = knot
            first = widgets[0]
            label = DragLabel(named, first) if isinstance(first, NumberEdit) else dim_label(
                named)
            extra = self._contrast_note(members[0]) if members[0].name == "colour" else None
            column.add_line(label, *widgets, *([extra] if extra else []), knot)
            self._refreshers.append(partial(self._refresh_knot, knot, members))

    def _property_editor(self, prop: Property) -> QWidget:
        editor = property_editor(prop, self._session)
        editor.chosen.connect(partial(self._set_look, prop.name))
        self.editors[prop.name] = editor
        self._refreshers.append(partial(self._refresh_property, editor, prop))
        return editor

    def _refresh_property(self, editor: PropertyEditor, prop: Property, node: Node) -> None:
        scope = self._session.scope
        own = node.look.at(scope).get(prop.name)
        inherited = resolved(self._session.site, node, prop.name, scope or Width.DESKTOP)
        if inherited is None:
            inherited = self._measured.get(prop.name)
        show_property(editor, own, inherited, self._session.site.brand)

    def _refresh_knot(self, knot: Knot, members: list[Property], node: Node) -> None:
        widths = {w for prop in members for w in node.look.differs(prop.name)}
        shown = [w.value for w in Width if w in widths]
        values = ", ".join(f"{node.look.at(w)[p.name]}" for p in members for w in Width
                           if p.name in node.look.at(w))
        knot.show_difference(shown, f" ({values})" if values else "")

    def _contrast_note(self, prop: Property) -> Words:
        note = Words()
        set_tip(note, tr("Contrast against the fill behind it (WCAG 2.2 asks for 4.5 : 1)"))
        self.editors["contrast"] = note

        def refresh(node: Node) -> None:
            width = self._session.scope or Width.DESKTOP
            ratio = text_contrast(self._session.site, self._session.path(node.id), width)
            note.setText("" if ratio is None else f"{ratio:.1f} : 1")
            repaint_role(note, "good" if ratio and ratio >= 4.5 else "fault")

        self._refreshers.append(refresh)
        return note

    def _add_shown(self, column: TrayColumn) -> None:
        shown = Segments(tr("Show on"), _SHOWN, exclusive=False)
        shown.chosen.connect(self._toggle_shown)
        self.editors["shown"] = shown
        column.add_line(dim_label(tr("Show on")), shown)
        self._refreshers.append(lambda node: shown.show_values(
            [width for width in Width if width not in node.hidden]))

    def _toggle_shown(self, width: Width) -> None:
        node = self._session.node()
        if node is not None:
            hide, chosen = width not in node.hidden, self._session.chosen
            self._session.edit(tr("{word} on {value}",
                                  word="hide" if hide else "show", value=width.value),
                               lambda site: set_hidden_all(site, chosen, width, hide))

    def _targets(self, node: Node) -> tuple[Id, ...]:
        return self._reached(self._reach, node)

    def _set_look(self, name: str, value: object) -> None:
        node = self._session.node()
        if node is None:
            return
        scope, targets = self._session.scope, self._targets(node)
        label = tr("{setting} of {label}",
                   setting=name.replace("_", " "), label=tr(kind_of(node).label).lower()) + (
            tr(" on {value}", value=scope.value) if scope else "")
        self._session.edit(
            label, lambda site: set_look(
                site, targets, name, value, scope),  # type: ignore[arg-type]
            group=f"look:{node.id}:{name}:{scope}")
        self.refresh()

    def _put_back(self, names: list[str]) -> None:
        node = self._session.node()
        if node is None:
            return

        def how(site):  # type: ignore[no-untyped-def]
            for name in names:
                site = clear_at(site, node.id, name)
            return site

        self._session.edit(tr("put back {setting}", setting=names[0].replace("_", " ")), how)
