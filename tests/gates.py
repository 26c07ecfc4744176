"""`./needle test`: lint, types, import check, then all tests; one closing line."""

import os
import subprocess
import sys
import tempfile
import time
import unittest
from pathlib import Path

ROOT = Path(__file__).parent.parent


def _gate(name: str, *command: str) -> bool:
    done = subprocess.run([sys.executable, "-m", *command], cwd=ROOT, check=False)
    print(f"{'ok    ' if done.returncode == 0 else 'FAILED'} {name}", flush=True)
    return done.returncode == 0


def _suite(names: list[str]) -> unittest.TestSuite:
    loader = unittest.defaultTestLoader
    if names:
        return loader.loadTestsFromNames(names)
    return loader.discover(str(ROOT / "tests"), top_level_dir=str(ROOT))


def main(names: list[str]) -> int:
    """Run the gates (unless tests are named) and the tests."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    gates = [] if names else [
        _gate("lint", "ruff", "check", "src", "tests", "bench"),
        _gate("types", "mypy"),
        _gate("imports", "tests.imports")]
    started = time.monotonic()
    # Keys of services live apart from projects; tests must not touch the person's own.
    with tempfile.TemporaryDirectory() as config:
        os.environ["NEEDLE_CONFIG"] = config
        result = unittest.TextTestRunner(verbosity=1).run(_suite(names))
    failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
    failed += gates.count(False)
    passed = result.testsRun + len(gates) - failed - len(result.skipped)
    print(f"Tests took {time.monotonic() - started:.0f} s")
    skipped = f", {len(result.skipped)} skipped" if result.skipped else ""
    print(f"{passed} passed, {failed} failed{skipped}", flush=True)
    return int(failed > 0)


if __name__ == "__main__":
    code = main(sys.argv[1:])
    sys.stdout.flush()
    # The web engine's own threads may outlive Python's; everything of ours is closed by now.
    os._exit(code)
