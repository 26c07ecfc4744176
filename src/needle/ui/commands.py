"""Commands as rows: menus, shortcuts and the finder all read them."""

from collections.abc import Callable
from dataclasses import dataclass

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenuBar, QWidget

__all__ = ["Command", "CommandSet"]


def _always() -> bool:
    return True


@dataclass(frozen=True, slots=True, kw_only=True)
class Command:
    """One thing that a person can ask for.

    Attributes:
        menu: The menu it is in.
        title: Its words; a function where they change ("Undo: words of heading").
        keys: Its shortcut, or empty.
        enabled: Whether it can be done now.
        keywords: Other words by which the finder finds it.
    """

    id: str
    menu: str
    title: str | Callable[[], str]
    run: Callable[[], object]
    keys: str = ""
    enabled: Callable[[], bool] = _always
    keywords: str = ""

    @property
    def words(self) -> str:
        """The title as it is now."""
        return self.title if isinstance(self.title, str) else self.title()


class CommandSet:
    """All commands of a window, each with its QAction."""

    def __init__(self, window: QWidget, bar: QMenuBar) -> None:
        self._window = window
        self._bar = bar
        self._menus: dict[str, list[Command]] = {}
        self._actions: dict[str, QAction] = {}
        self._commands: dict[str, Command] = {}

    def add(self, *commands: Command) -> None:
        """Add commands to their menus, in this order."""
        for command in commands:
            if command.menu not in self._menus:
                self._menus[command.menu] = []
                menu = self._bar.addMenu(command.menu)
                assert menu is not None
                menu.aboutToShow.connect(self.refresh)
                menu.menuAction().setData(command.menu)  # type: ignore[union-attr]
            action = QAction(command.words, self._window)
            if command.keys:
                action.setShortcut(QKeySequence(command.keys))
            action.triggered.connect(lambda _checked=False, c=command: self.run(c.id))
            self._window.addAction(action)
            self._menu(command.menu).addAction(action)
            self._menus[command.menu].append(command)
            self._actions[command.id] = action
            self._commands[command.id] = command

    def _menu(self, name: str) -> QWidget:
        for action in self._bar.actions():
            if action.data() == name:
                menu = action.menu()
                assert menu is not None
                return menu
        raise KeyError(name)

    def run(self, command_id: str) -> None:
        """Do a command, if it can be done now."""
        command = self._commands[command_id]
        if command.enabled():
            command.run()
        self.refresh()

    def refresh(self) -> None:
        """Bring titles up to date. A shortcut stays alive; `run` asks whether it can be done."""
        for command_id, command in self._commands.items():
            action = self._actions[command_id]
            action.setText(command.words)

    def all(self) -> list[Command]:
        """Return every command."""
        return list(self._commands.values())

    def action(self, command_id: str) -> QAction:
        """Return the action of a command."""
        return self._actions[command_id]
