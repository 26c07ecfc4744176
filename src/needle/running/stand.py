"""Everything that runs beside a window: the host and the practice services."""

from pathlib import Path

from needle.practice.addresses import practice_folder
from needle.running.children import Child, ChildError

__all__ = ["Stand"]

_HOST_PORT = 8420


class Stand:
    """Host, practice mailing list and practice mailbox of one project.

    Attributes:
        faults: What did not start, in words.
    """

    def __init__(self, project: Path, port: int = _HOST_PORT) -> None:
        """Start all three; one that does not start leaves the others running."""
        self.faults: list[str] = []
        self._children: dict[str, Child] = {}
        wanted = {
            "list": ("needle.practice.mailing", [str(practice_folder(project, "list"))]),
            "mail": ("needle.practice.mailbox", [str(practice_folder(project, "mail"))]),
            "host": ("needle.host", [str(project), "--port", str(port), "--any-port"]),
        }
        for name, (module, arguments) in wanted.items():
            try:
                self._children[name] = Child(module, arguments)
            except ChildError as error:
                self.faults.append(f"The {name} process did not start: {error}")

    @property
    def port(self) -> int:
        """The host's port, or 0 if it does not run."""
        host = self._children.get("host")
        return int(host.facts["port"]) if host else 0

    def child(self, name: str) -> Child | None:
        """Return one process: "host", "list" or "mail"."""
        return self._children.get(name)

    def stop(self) -> None:
        """End them all."""
        for child in reversed(self._children.values()):
            child.stop()
        self._children.clear()
