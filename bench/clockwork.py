"""Runs a module with a clock that is set by a file: `python -m bench.clockwork FILE MODULE ARGS…`.

The file holds how many seconds the clock is ahead (or behind). Only clocks that tell the date are
moved; the ones that only go forward are not, as on a machine whose clock is set.
"""

import runpy
import sys
import time
from pathlib import Path

_real_ns, _place = time.time_ns, Path(sys.argv[1])


def _ahead_ns() -> int:
    try:
        return int(float(_place.read_text() or "0") * 1e9)
    except (OSError, ValueError):
        return 0


def _set_ns() -> int:
    return _real_ns() + _ahead_ns()


if __name__ == "__main__":
    time.time_ns = _set_ns
    time.time = lambda: _set_ns() / 1e9
    module = sys.argv[2]
    sys.argv = [module, *sys.argv[3:]]
    runpy.run_module(module, run_name="__main__", alter_sys=True)
