"""The import check: rooms import inwards only, and the core knows neither Qt nor sockets.

Inside core, practice and services it is alike: a module imports from its own part and from those
on floors below, never from one beside it or above.
"""

import ast
import sys
from collections.abc import Iterator, Mapping, Sequence
from pathlib import Path

__all__ = ["FLOORS", "SOURCE", "faults", "floors_of"]

SOURCE = Path(__file__).parent.parent / "src" / "needle"
# Which rooms each room may import besides itself.
ALLOWED: Mapping[str, set[str]] = {
    "core": set(),
    "store": {"core"},
    "running": {"core", "store"},
    "practice": {"store", "running"},
    "services": {"core", "store", "running"},
    "publish": {"core", "store"},
    "crowd": {"core", "store", "publish"},
    "host": {"core", "store", "publish", "services", "running"},
    "demo": {"core", "store", "publish", "app", "running", "ui"},
    "ui": {"core", "store", "publish", "services", "running", "practice", "crowd"},
}
CORE_NEVER = ("PyQt6", "socket", "httpx", "starlette", "sqlalchemy", "http", "smtplib")
# The parts of a room (folders or modules) from the ground up.
FLOORS: Mapping[str, Sequence[set[str]]] = {
    "core": (
        # What is said of things, and what they are.
        {"messages"}, {"colour", "charts", "icons", "films"}, {"values"}, {"type", "images"},
        {"brand"}, {"markup"}, {"kinds"}, {"site"},
        # What is made of a site, and what is done to it.
        {"render"}, {"edit"},
        # What is read into it and out of it.
        {"seeing", "wording", "leads", "tables", "measure", "domains"},
        {"snags", "progress", "shop"},
        # What is proposed.
        {"readymade"}, {"draft"}),
    "practice": ({"faults", "shelf", "zones"}, {"running"},
                 {"authority", "contacts", "ledger", "mailbox", "mailing", "names", "payments",
                  "tags", "webserver", "words"}),
    "services": ({"adapter"}, {"secrecy", "http"},
                 {"contacts", "files", "hooks", "lists", "mail", "payments", "words"}, {"registry"},
                 {"authority", "links", "names", "shown"}),
}


def _imports(path: Path) -> Iterator[tuple[int, str]]:
    for node in ast.walk(ast.parse(path.read_text("utf-8"))):
        if isinstance(node, ast.Import):
            yield from ((node.lineno, alias.name) for alias in node.names)
        elif isinstance(node, ast.ImportFrom) and node.module:
            below = node.module.split(".")
            # `from needle.core import leads` names the part only after the import.
            names = [alias.name for alias in node.names] if len(below) == 2 else [""]
            yield from ((node.lineno, f"{node.module}.{name}".rstrip(".")) for name in names)


def floors_of(room: str) -> dict[str, int]:
    """Return the floor of each part of a room, 0 at the ground; nothing if it has none."""
    return {part: number for number, parts in enumerate(FLOORS.get(room, ())) for part in parts}


def _inside(room: str, here: str, there: str) -> str:
    """Return what is wrong with an import between two parts of a room, or an empty text."""
    floors = floors_of(room)
    if not floors or here == there or "__init__" in (here, there):
        return ""
    for part in (here, there):
        if part not in floors:
            return f"{room}/{part} stands on no floor yet; give it one in gates/imports.py"
    if floors[there] >= floors[here]:
        return f"in {room}, {here} may not know {there}: it is not below it"
    return ""


def _wrong(room: str, here: str, module: str) -> str:
    parts = module.split(".")
    if room == "core" and parts[0] in CORE_NEVER:
        return "the core knows neither Qt nor sockets"
    if parts[0] == "PyQt6" and room not in ("ui", "demo"):
        return "only the ui room knows Qt"
    if parts[0] != "needle" or len(parts) < 2:
        return ""
    if parts[1] != room:
        return "" if parts[1] in ALLOWED[room] else f"{room} may not know {parts[1]}"
    return _inside(room, here, parts[2]) if len(parts) > 2 else ""


def faults(source: Path = SOURCE) -> list[str]:
    """Return every import below a `needle` folder that points the wrong way, in words."""
    found = []
    for path in sorted(source.rglob("*.py")):
        inner = path.relative_to(source)
        room = inner.parts[0]
        if room not in ALLOWED:
            continue
        here = inner.parts[1].removesuffix(".py")
        found.extend(f"needle/{inner}:{line} imports {module}: {wrong}"
                     for line, module in _imports(path) if (wrong := _wrong(room, here, module)))
    return found


if __name__ == "__main__":
    print("\n".join(faults()))
    sys.exit(bool(faults()))
