"""Commands as rows: menus, shortcuts and the finder all read them."""

from collections.abc import Callable, Iterable
from dataclasses import dataclass

from PyQt6.QtCore import QTimer
from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QMenuBar, QWidget

from needle.ui.language import tr
from needle.ui.words import plain_tip

__all__ = ["Command", "CommandSet", "showing"]


def _nothing() -> str:
    return ""


@dataclass(frozen=True, slots=True, kw_only=True)
class Command:
    """One thing that a person can ask for.

    Attributes:
        menu: The menu it is in.
        title: Its words; a function where they change ("Undo: words of heading").
        keys: Its shortcut, or empty.
        unless: Returns why it cannot be done now, in words; an empty text if it can.
        keywords: Other words by which the finder finds it.
        listed: Whether its menu shows it; else its keys and the finder reach it.
    """

    id: str
    menu: str
    title: str | Callable[[], str]
    run: Callable[[], object]
    keys: str = ""
    unless: Callable[[], str] = _nothing
    keywords: str = ""
    listed: bool = True

    @property
    def words(self) -> str:
        """The title as it is now."""
        return self.title if isinstance(self.title, str) else self.title()


def showing(stage: str, parts: Iterable[str], show: Callable[[str], object]) -> list[Command]:
    """Return a command for each part of a stage that shows it."""
    return [Command(id=f"{stage.lower()}.{name.split()[0].lower()}", menu=stage,
                    title=tr("Show {name}", name=tr(name).lower()),
                    run=lambda n=name: show(n))  # type: ignore[misc]
            for name in parts]


class CommandSet:
    """All commands of a window, each with its QAction."""

    def __init__(self, window: QWidget, bar: QMenuBar, say: Callable[[str], object],
                 opens: Callable[[str], object]) -> None:
        """Make an empty set.

        Args:
            say: Gets why a command cannot be done when somebody asks for it all the same.
            opens: Gets the name of a menu before it is shown.
        """
        self._window = window
        self._say = say
        self._opens = opens
        self._bar = bar
        self._menus: dict[str, list[Command]] = {}
        self._actions: dict[str, QAction] = {}
        self._commands: dict[str, Command] = {}

    def add(self, *commands: Command) -> None:
        """Add commands to their menus, in this order.

        Raises:
            ValueError: Another command has this id or these keys.
        """
        for command in commands:
            self._check_own(command)
            if command.menu not in self._menus:
                self._menus[command.menu] = []
                menu = self._bar.addMenu(tr(command.menu))
                assert menu is not None
                menu.setToolTipsVisible(True)
                menu.aboutToShow.connect(lambda m=command.menu: self._grey(m))
                menu.aboutToHide.connect(self._wake)
                menu.menuAction().setData(command.menu)  # type: ignore[union-attr]
            action = QAction(command.words, self._window)
            if command.keys:
                action.setShortcut(QKeySequence(command.keys))
            action.triggered.connect(lambda _checked=False, c=command: self.run(c.id))
            self._window.addAction(action)
            if command.listed:
                self._menu(command.menu).addAction(action)
            self._menus[command.menu].append(command)
            self._actions[command.id] = action
            self._commands[command.id] = command

    def _check_own(self, command: Command) -> None:
        if command.id in self._commands:
            raise ValueError(f"two commands are called {command.id}")
        same = next((other for other in self._commands.values()
                     if command.keys and other.keys == command.keys), None)
        if same is not None:
            raise ValueError(f"{command.id} and {same.id} both have the keys {command.keys}")

    def _menu(self, name: str) -> QMenu:
        for action in self._bar.actions():
            if action.data() == name:
                menu = action.menu()
                assert isinstance(menu, QMenu)
                return menu
        raise KeyError(name)

    def run(self, command_id: str) -> None:
        """Do a command, or say why it cannot be done now."""
        command = self._commands[command_id]
        if why := command.unless():
            self._say(why)
        else:
            command.run()
        self.refresh()

    def refresh(self) -> None:
        """Bring titles up to date."""
        for command_id, command in self._commands.items():
            self._actions[command_id].setText(command.words)

    def _grey(self, menu: str) -> None:
        """Show in a menu what cannot be done now, and why."""
        self._opens(menu)
        self.refresh()
        for command in self._menus[menu]:
            why = command.unless()
            self._actions[command.id].setEnabled(not why)
            self._actions[command.id].setToolTip(plain_tip(why))

    def _wake(self) -> None:
        """Let every key be heard again: `run` says what cannot be done."""
        # An action that is chosen is triggered after its menu has gone; only then.
        QTimer.singleShot(0, self._enable_all)

    def _enable_all(self) -> None:
        if any(self._menu(name).isVisible() for name in self._menus):
            return  # The arrows went on to another menu.
        for action in self._actions.values():
            action.setEnabled(True)

    def all(self) -> list[Command]:
        """Return every command."""
        return list(self._commands.values())

    def action(self, command_id: str) -> QAction:
        """Return the action of a command."""
        return self._actions[command_id]
