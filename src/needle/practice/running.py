"""Running a practice service over HTTP as a process of its own."""

import argparse
import secrets
from collections.abc import Callable
from pathlib import Path

from starlette.applications import Starlette

from needle.running.addresses import read_address, write_address
from needle.running.serving import bound_socket, serve

__all__ = ["run_practice"]


def run_practice(what: str, make: Callable[[Path, str], Starlette], below: str = "",
                 **facts: str) -> None:
    """Serve a stand-in until it is told to stop; its address and key stand in its folder.

    Args:
        what: For `--help`.
        make: Makes the service from its folder and its key.
        below: What follows the port in its address, as "/v1".
        facts: What is written down besides address and key.
    """
    parser = argparse.ArgumentParser(description=what)
    parser.add_argument("folder", type=Path)
    parser.add_argument("--port", type=int, default=0)
    parser.add_argument("--watched", action="store_true")
    asked = parser.parse_args()
    asked.folder.mkdir(parents=True, exist_ok=True)
    listener = bound_socket(asked.port)
    key = (read_address(asked.folder) or {}).get("key") or secrets.token_urlsafe(16)
    url = f"http://127.0.0.1:{listener.getsockname()[1]}{below}"
    write_address(asked.folder, url=url, key=key, **facts)
    serve(make(asked.folder, key), listener, watched=asked.watched, url=url)
