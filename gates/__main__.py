"""`./needle test`: lint, types and our own checks, then all tests; one closing line.

Test modules run in processes of their own, two at a time, so that a crash in one is a failure of
that one alone.
"""

import json
import os
import subprocess
import sys
import tempfile
import time
import unittest
from collections.abc import Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path

ROOT = Path(__file__).parent.parent
_AT_ONCE = 2
_COUNTED = "needle-counted "
# The longest first, so that none of them is left over at the end.
_LONG = ("tests.ui", "tests.host", "tests.hostile")
_LONGEST_S = 2400
# What Qt says of itself, often enough to hide what a failure says.
_NOISE = ("This plugin does not support propagateSizeHints()",)


def _gate(name: str, *command: str) -> bool:
    done = subprocess.run([sys.executable, "-m", *command], cwd=ROOT, check=False)
    print(f"{'ok    ' if done.returncode == 0 else 'FAILED'} {name}", flush=True)
    return done.returncode == 0


def _modules() -> list[str]:
    found = [".".join(path.relative_to(ROOT).with_suffix("").parts)
             for path in (ROOT / "tests").rglob("test_*.py")]
    return sorted(found, key=lambda name: (not name.startswith(_LONG), name))


def _run_here(names: Sequence[str]) -> int:
    """Run tests in this process and print how many passed, failed and were skipped."""
    result = unittest.TextTestRunner(verbosity=1).run(
        unittest.defaultTestLoader.loadTestsFromNames(list(names)))
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    skipped = len(result.skipped)
    print(_COUNTED + json.dumps([result.testsRun - failed - skipped, failed, skipped]), flush=True)
    return int(failed > 0)


def _run_apart(module: str) -> tuple[str, list[int], str, float]:
    """Run a module in a process of its own; return its name, its counts, what it said and how
    long it took, in seconds."""
    began = time.monotonic()
    counts, words = _ran(module)
    return module, counts, words, time.monotonic() - began


def _ran(module: str) -> tuple[list[int], str]:
    with tempfile.TemporaryDirectory() as config:
        # Keys of services live apart from projects; tests must not touch the person's own.
        environment = os.environ | {"NEEDLE_CONFIG": config, "NEEDLE_STATE": config}
        try:
            done = subprocess.run(
                [sys.executable, "-m", "gates", "--here", module], cwd=ROOT, text=True,
                env=environment, stdin=subprocess.DEVNULL, stdout=subprocess.PIPE,
                stderr=subprocess.STDOUT, check=False, timeout=_LONGEST_S)
        except subprocess.TimeoutExpired as error:
            said = error.stdout or b""
            return [0, 1, 0], f"{said!r}\nIt did not end within {_LONGEST_S} s."
    lines = done.stdout.splitlines()
    told = [line for line in lines if line.startswith(_COUNTED)]
    words = "\n".join(line for line in lines if not line.startswith(_COUNTED)
                      and not line.endswith(_NOISE))
    if not told:
        return [0, 1, 0], f"{words}\nIt ended with code {done.returncode}."
    return json.loads(told[-1][len(_COUNTED):]), words


def _run_all(modules: Sequence[str]) -> Iterator[list[int]]:
    with ThreadPoolExecutor(_AT_ONCE) as pool:
        for module, counts, words, took_s in pool.map(_run_apart, modules):
            good = counts[1] == 0
            print(f"{'ok    ' if good else 'FAILED'} {module} {counts[0]} in {took_s:.0f} s",
                  flush=True)
            if not good:
                print(words, flush=True)
            yield counts


def main(names: list[str]) -> int:
    """Run the gates (unless tests are named) and the tests."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    if names[:1] == ["--here"]:
        return _run_here(names[1:])
    gates = [] if names else [
        _gate("lint", "ruff", "check", "src", "tests", "bench", "gates"),
        _gate("types", "mypy"),
        _gate("imports", "gates.imports"),
        _gate("plain words", "gates.plainwords")]
    started = time.monotonic()
    counts = list(_run_all(names or _modules()))
    passed, failed, skipped = (sum(one[place] for one in counts) for place in range(3))
    passed, failed = passed + gates.count(True), failed + gates.count(False)
    print(f"Tests took {time.monotonic() - started:.0f} s")
    print(f"{passed} passed, {failed} failed{f', {skipped} skipped' if skipped else ''}",
          flush=True)
    return int(failed > 0)


if __name__ == "__main__":
    code = main(sys.argv[1:])
    sys.stdout.flush()
    # The web engine's own threads may outlive Python's; everything of ours is closed by now.
    os._exit(code)
