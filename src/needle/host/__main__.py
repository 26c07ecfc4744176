"""Running the host as a process of its own."""

import argparse
import sys
from pathlib import Path

from needle.host.app import make_app, remember_address
from needle.running.serving import PortTakenError, bound_socket, serve
from needle.store.results.tables import open_results

__all__ = ["DEFAULT_PORT", "run_host"]

DEFAULT_PORT = 8420


def run_host(project: Path, port: int, *, watched: bool, database: str = "",
             any_port: bool = False) -> int:
    """Serve a project until told to stop; return the exit code.

    Args:
        database: A SQLAlchemy address; by default SQLite in the project.
        any_port: Take a free port if `port` is in use.
    """
    try:
        listener = bound_socket(port)
    except PortTakenError as error:
        if not any_port:
            print(error, file=sys.stderr)
            return 2
        listener = bound_socket(0)
    remember_address(project, listener.getsockname()[1])
    engine = open_results(database or project / "results.db")
    serve(make_app(project, engine), listener, watched=watched)
    return 0


def main() -> int:
    """Read the command line and run."""
    parser = argparse.ArgumentParser(description="The host of one project.")
    parser.add_argument("project", type=Path)
    parser.add_argument("--port", type=int, default=DEFAULT_PORT)
    parser.add_argument("--any-port", action="store_true")
    parser.add_argument("--database", default="")
    parser.add_argument("--watched", action="store_true")
    asked = parser.parse_args()
    return run_host(asked.project, asked.port, watched=asked.watched, database=asked.database,
                    any_port=asked.any_port)


if __name__ == "__main__":
    sys.exit(main())
