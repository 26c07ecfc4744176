"""Everything that runs beside a window: the host and the practice services."""

from collections.abc import Iterable
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

from needle.running.addresses import port_80_file, practice_folder
from needle.running.children import Child, ChildError
from needle.store.files import write_atomically

__all__ = ["PRACTICE_KINDS", "Stand"]

_HOST_PORT = 8420
_PRACTICE = {"list": "mailing", "mail": "mailbox", "hook": "ledger", "contacts": "contacts",
             "tags": "tags", "authority": "authority",
             "server": "webserver", "pay": "payments"}
PRACTICE_KINDS = tuple(_PRACTICE)


class Stand:
    """The host and the practice services of one project.

    Attributes:
        faults: What did not start, in words.
    """

    def __init__(self, project: Path, port: int = _HOST_PORT,
                 practice: Iterable[str] = ("list", "mail")) -> None:
        """Start them; one that does not start leaves the others running.

        Args:
            practice: Which practice services, by kind.
        """
        self.faults: list[str] = []
        self._project = project
        self._children: dict[str, Child] = {}
        wanted = {kind: (f"needle.practice.{_PRACTICE[kind]}",
                         [str(practice_folder(project, kind))])
                  for kind in practice if kind in _PRACTICE}
        wanted["host"] = ("needle.host", [*self._host(port), "--any-port"])
        with ThreadPoolExecutor(len(wanted)) as starters:
            started = {name: starters.submit(Child, *told) for name, told in wanted.items()}
        for name, child in started.items():
            try:
                self._children[name] = child.result()
            except ChildError as error:
                self.faults.append(f"The {name} process did not start: {error}")
        self._tell_authority()

    def _host(self, port: int) -> list[str]:
        return [str(self._project), "--port", str(port), "--tls-port", "0"]

    def _tell_authority(self) -> None:
        """Say which port stands for 80 on this machine."""
        write_atomically(port_80_file(self._project), str(self.port).encode())

    def start_host(self, port: int) -> None:
        """Start the host again after it has ended.

        Raises:
            ChildError: It did not start.
        """
        self._children["host"] = Child("needle.host", self._host(port))
        self._tell_authority()

    def start_practice(self, kind: str) -> None:
        """Start a practice service that was not needed before.

        Raises:
            ChildError: It did not start.
        """
        if kind in _PRACTICE and kind not in self._children:
            self._children[kind] = Child(f"needle.practice.{_PRACTICE[kind]}",
                                         [str(practice_folder(self._project, kind))])

    @property
    def port(self) -> int:
        """The host's port, or 0 if it does not run."""
        return self._host_fact("port")

    @property
    def tls_port(self) -> int:
        """The host's port for the own domain over https, or 0 if it does not run."""
        return self._host_fact("tls_port")

    def _host_fact(self, name: str) -> int:
        host = self._children.get("host")
        return int(host.facts[name]) if host else 0

    def child(self, name: str) -> Child | None:
        """Return one process: "host", or a practice service by its kind."""
        return self._children.get(name)

    def stop(self) -> None:
        """End them all."""
        with ThreadPoolExecutor(len(self._children) or 1) as enders:
            list(enders.map(Child.stop, self._children.values()))
        self._children.clear()
