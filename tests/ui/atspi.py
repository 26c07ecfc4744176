"""What a screen reader is told: a small reader of AT-SPI, over D-Bus, for tests.

A session bus and the accessibility bus of the tests' own; neither is that of the person.
"""

import contextlib
import os
import select
import subprocess
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path
from typing import Any

from jeepney import DBusAddress, new_method_call
from jeepney.io.blocking import DBusConnection, open_dbus_connection

__all__ = ["Buses", "Part", "installed"]

_LAUNCHER = Path("/usr/libexec/at-spi-bus-launcher")
_FOCUSED, _FOCUSABLE, _SENSITIVE, _SHOWING, _VISIBLE = 12, 11, 24, 25, 30
_LABELLED_BY = 2
_ROOT = ("org.a11y.atspi.Registry", "/org/a11y/atspi/accessible/root")
_TRIES, _LISTS_WITHIN_S = 5, 40
_I = "org.a11y.atspi."


def installed() -> bool:
    """Whether the system has what this takes."""
    return _LAUNCHER.exists() and Path("/usr/bin/dbus-daemon").exists()


@dataclass(frozen=True)
class Part:
    """Something that a screen reader sees.

    Attributes:
        place: Its bus name and path.
        name: What it is called; what labels it, if it has no name of its own.
        role: What it is, as "push button".
        states: The numbers of its states.
    """

    place: tuple[str, str]
    name: str
    role: str
    states: frozenset[int]

    @property
    def focused(self) -> bool:
        """Whether the keys go to it."""
        return _FOCUSED in self.states

    @property
    def showing(self) -> bool:
        """Whether it is on the screen."""
        return _SHOWING in self.states

    @property
    def reachable(self) -> bool:
        """Whether it can be used now, and so must be reached."""
        return {_FOCUSABLE, _SENSITIVE, _SHOWING, _VISIBLE} <= self.states


class Buses:
    """A session bus with an accessibility bus, and what the programs on it show."""

    def __init__(self, display: str) -> None:
        """Start both, and what lists the programs on them.

        Args:
            display: The X display of the programs.
        """
        for left in range(_TRIES - 1, -1, -1):
            self._start(display)
            try:
                # The bus starts it when it is first asked for, and now and then that hangs.
                self._ask(_ROOT, _I + "Accessible", "GetChildren", timeout_s=_LISTS_WITHIN_S)
            except (LookupError, TimeoutError):
                self.end()
                if not left:
                    raise
            else:
                return

    def _start(self, display: str) -> None:
        read_end, write_end = os.pipe()
        self._daemon = subprocess.Popen(
            ["dbus-daemon", "--session", "--nofork", f"--print-address={write_end}"],
            pass_fds=[write_end], stderr=subprocess.DEVNULL)
        os.close(write_end)
        select.select([read_end], [], [], 60)
        address = os.read(read_end, 400).decode().strip()
        os.close(read_end)
        self.environment = {"DBUS_SESSION_BUS_ADDRESS": address,
                            "QT_LINUX_ACCESSIBILITY_ALWAYS_ON": "1"}
        self._launcher = subprocess.Popen(
            [str(_LAUNCHER), "--launch-immediately"], stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
            env=os.environ | self.environment | {"DISPLAY": display})
        self._bus = self._connected(address)

    @staticmethod
    def _connected(address: str) -> DBusConnection:
        end = time.monotonic() + 240
        while True:
            try:
                with _session_at(address), open_dbus_connection("SESSION") as session:
                    (inner,) = session.send_and_get_reply(new_method_call(DBusAddress(
                        "/org/a11y/bus", "org.a11y.Bus", "org.a11y.Bus"), "GetAddress"),
                        timeout=120).body
                with _session_at(inner):
                    return open_dbus_connection("SESSION")
            except Exception:
                if time.monotonic() > end:
                    raise
                time.sleep(0.2)

    def end(self) -> None:
        """End both."""
        with contextlib.suppress(Exception):
            self._bus.close()
        for process in (self._launcher, self._daemon):
            process.terminate()
            process.wait()

    def _ask(self, place: tuple[str, str], interface: str, method: str, signature: str = "",
             body: tuple[Any, ...] = (), timeout_s: float = 120) -> Any:
        address = DBusAddress(place[1], place[0], interface)
        reply = self._bus.send_and_get_reply(
            new_method_call(address, method, signature or None, body), timeout=timeout_s)
        if reply.header.message_type.name == "error":
            raise LookupError(str(reply.body))
        return reply.body[0] if reply.body else None

    def part(self, place: tuple[str, str]) -> Part:
        """Return what is known of a place."""
        name = self._ask(place, "org.freedesktop.DBus.Properties", "Get", "ss",
                         (_I + "Accessible", "Name"))[1]
        role = self._ask(place, _I + "Accessible", "GetRoleName")
        low, high = self._ask(place, _I + "Accessible", "GetState")
        states = frozenset(n for n in range(64) if ((high << 32) | low) >> n & 1)
        if role == "combo box":  # Qt calls one by its value; its label says what it is.
            name = self._label(place)
        return Part(place, str(name), str(role), states)

    def _label(self, place: tuple[str, str]) -> str:
        for kind, targets in self._ask(place, _I + "Accessible", "GetRelationSet"):
            if kind == _LABELLED_BY and targets:
                return str(self._ask(targets[0], "org.freedesktop.DBus.Properties", "Get", "ss",
                                     (_I + "Accessible", "Name"))[1])
        return ""

    def inside(self, place: tuple[str, str]) -> list[tuple[str, str]]:
        """Return what is directly in a place."""
        return [tuple(one) for one in self._ask(place, _I + "Accessible", "GetChildren")]

    def windows(self) -> list[tuple[str, str]]:
        """Return the windows of all programs."""
        found: list[tuple[str, str]] = []
        for program in self.inside(_ROOT):
            with contextlib.suppress(LookupError):  # One that begins has no answer yet.
                found += self.inside(program)
        return found

    def focused(self, place: tuple[str, str]) -> Iterator[tuple[str, str]]:
        """Yield what in a place the keys go to; quicker than walking all that shows.

        A page in a view goes on telling its own after the keys have left the view.
        """
        low, high = self._ask(place, _I + "Accessible", "GetState")
        states = (high << 32) | low
        if not states >> _SHOWING & 1:
            return
        if states >> _FOCUSED & 1:
            yield place
        for child in self.inside(place):
            with contextlib.suppress(LookupError):
                yield from self.focused(child)

    def walk(self, place: tuple[str, str]) -> Iterator[Part]:
        """Yield everything that shows in a place, in order; rows of tables and trees are one."""
        part = self.part(place)
        if _SHOWING not in part.states:
            return
        yield part
        if part.role not in ("table", "tree table", "tree", "list", "combo box", "menu bar",
                             "document web", "spin button"):
            for child in self.inside(place):
                with contextlib.suppress(LookupError):  # It may have gone meanwhile.
                    yield from self.walk(child)


@contextlib.contextmanager
def _session_at(address: str) -> Iterator[None]:
    before = os.environ.get("DBUS_SESSION_BUS_ADDRESS")
    os.environ["DBUS_SESSION_BUS_ADDRESS"] = address
    try:
        yield
    finally:
        if before is None:
            del os.environ["DBUS_SESSION_BUS_ADDRESS"]
        else:
            os.environ["DBUS_SESSION_BUS_ADDRESS"] = before
