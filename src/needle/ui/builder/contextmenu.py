"""The menu of a chosen part: what is done most at once, the rest in groups."""

from collections.abc import Sequence

from PyQt6.QtWidgets import QMenu, QWidget

from needle.ui.commands import Command
from needle.ui.language import tr
from needle.ui.words import plain_tip

__all__ = ["context_menu"]

# Ids of commands, or a group of them under a title of its own; None draws a line.
_LINES: tuple[str | tuple[str, tuple[str, ...]] | None, ...] = (
    "node.edit", None,
    "node.cut", "node.clip", "node.paste", "node.copy", "node.delete", None,
    "node.outer", "insert.open", None,
    (tr("Move"), ("node.up", "node.down", "node.phone.")),
    (tr("Arrange"), ("node.row", "node.box", "row.")),
    (tr("Look"), ("look.",)),
    (tr("Hide or show"), ("node.hide.",)),
    (tr("Keep this section"), ("kept.",)),
)


def context_menu(commands: Sequence[Command], parent: QWidget) -> QMenu:
    """Return the menu of a part.

    Args:
        commands: Those of the stage; what cannot be done now is grey and says why.
    """
    menu = QMenu(parent)
    menu.setToolTipsVisible(True)
    for line in _LINES:
        if line is None:
            menu.addSeparator()
        elif isinstance(line, str):
            _add(menu, [command for command in commands if command.id == line])
        else:
            words, wanted = line
            of_it = [command for command in commands if command.id.startswith(wanted)]
            if any(not command.unless() for command in of_it):
                group = menu.addMenu(words)
                assert group is not None
                group.setToolTipsVisible(True)
                _add(group, of_it)
    return menu


def _add(menu: QMenu, commands: Sequence[Command]) -> None:
    for command in commands:
        action = menu.addAction(f"{command.words}\t{command.keys}")
        assert action is not None
        why = command.unless()
        action.setEnabled(not why)
        action.setToolTip(plain_tip(why))
        action.triggered.connect(lambda _=False, c=command: c.run())
