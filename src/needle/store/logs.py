"""The log: one set-up for every process of ours.

It holds what happened to Needle itself, never an answer, an address or a key: what writes to it
names kinds of faults, not their words.
"""

import logging
import logging.handlers
import os
import sys
from pathlib import Path

from platformdirs import user_state_path

__all__ = ["log_file", "set_up_log"]

_LARGEST = 2_000_000
_KEPT = 3
_LINE = "%(asctime)s %(levelname)s %(process)d %(name)s: %(message)s"


def log_file(process: str) -> Path:
    """Return the log of a process ("window", "host"). NEEDLE_STATE moves its folder."""
    folder = os.environ.get("NEEDLE_STATE")
    return (Path(folder) if folder else user_state_path("needle")) / f"{process}.log"


def set_up_log(process: str, level: str = "") -> None:
    """Have this process write its log.

    Args:
        level: "debug", "info", "warning" or "error"; by default what NEEDLE_LOG says, or "info".
    """
    wanted = (level or os.environ.get("NEEDLE_LOG", "info")).upper()
    root = logging.getLogger()
    root.setLevel(wanted if wanted in logging.getLevelNamesMapping() else "INFO")
    path = log_file(process)
    try:
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        handler: logging.Handler = logging.handlers.RotatingFileHandler(
            path, maxBytes=_LARGEST, backupCount=_KEPT, encoding="utf-8")
        path.chmod(0o600)
    except OSError:
        handler = logging.StreamHandler(sys.stderr)
    handler.setFormatter(logging.Formatter(_LINE))
    root.addHandler(handler)
    # They tell addresses of requests.
    for name in ("httpx", "httpcore", "uvicorn.access", "asyncio"):
        logging.getLogger(name).setLevel(logging.WARNING)
