"""The import check: rooms import inwards only, and the core knows neither Qt nor sockets."""

import ast
import sys
from collections.abc import Iterator
from pathlib import Path

__all__ = ["faults"]

SOURCE = Path(__file__).parent.parent / "src" / "needle"
# Which rooms each room may import besides itself.
ALLOWED = {
    "core": set(),
    "store": {"core"},
    "running": {"practice"},
    "practice": {"store", "running"},
    "services": {"core", "store", "practice"},
    "publish": {"core", "store"},
    "host": {"core", "store", "publish", "services", "running", "practice"},
    "demo": {"core", "store", "publish", "app", "running", "ui"},
    "ui": {"core", "store", "publish", "services", "running", "practice"},
}
CORE_NEVER = ("PyQt6", "socket", "httpx", "starlette", "sqlalchemy", "http", "smtplib")


def _imports(path: Path) -> Iterator[tuple[int, str]]:
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            yield from ((node.lineno, alias.name) for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            yield node.lineno, node.module


def faults() -> list[str]:
    """Return every import that points the wrong way."""
    found = []
    for path in sorted(SOURCE.rglob("*.py")):
        room = path.relative_to(SOURCE).parts[0]
        if room not in ALLOWED:
            continue
        for line, module in _imports(path):
            where = f"{path.relative_to(SOURCE.parent)}:{line}"
            parts = module.split(".")
            if parts[0] == "needle" and len(parts) > 1 and parts[1] != room and (
                    parts[1] not in ALLOWED[room]):
                found.append(f"{where} imports {module}: {room} may not know {parts[1]}")
            if room == "core" and parts[0] in CORE_NEVER:
                found.append(f"{where} imports {module}: the core knows neither Qt nor sockets")
            if room != "ui" and room != "demo" and parts[0] == "PyQt6":
                found.append(f"{where} imports {module}: only the ui room knows Qt")
    return found


if __name__ == "__main__":
    print("\n".join(faults()))
    sys.exit(bool(faults()))
