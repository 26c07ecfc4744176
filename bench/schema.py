"""`./needle bench schema [--examples N]`: schemathesis against the host's own routes.

It comes in an environment of its own below the user's cache, since it pins other packages than
Needle does.
"""

import argparse
import json
import os
import subprocess
import sys
import tempfile
import venv
from pathlib import Path

from platformdirs import user_cache_path
from tests.sites import small_site

from needle.host.openapi import openapi
from needle.publish.live import send_pages
from needle.running.stand import Stand
from needle.store.project import Project

_VERSION = "schemathesis==4.32.5"


def _program() -> Path:
    folder = user_cache_path("needle") / "schemathesis"
    program = folder / "bin" / "schemathesis"
    if not program.exists():
        venv.create(folder, with_pip=True)
        subprocess.run([folder / "bin" / "pip", "install", "-q", _VERSION], check=True)
    return program


def main() -> int:
    """Run and return schemathesis' own exit code."""
    parser = argparse.ArgumentParser(prog="needle bench schema")
    parser.add_argument("--examples", type=int, default=300, help="for each way in")
    asked = parser.parse_args()
    with tempfile.TemporaryDirectory() as name:
        os.environ["NEEDLE_CONFIG"] = os.environ["NEEDLE_STATE"] = name
        folder, spec = Path(name) / "project", Path(name) / "openapi.json"
        Project.create(folder, small_site()).close()
        send_pages(small_site(), folder, [page.id for page in small_site().pages])
        spec.write_text(json.dumps(openapi()))
        stand = Stand(folder, 0, ())
        try:
            return subprocess.run([
                _program(), "run", spec, "--url", f"http://127.0.0.1:{stand.port}",
                "--checks", "not_a_server_error,status_code_conformance",
                "--max-examples", str(asked.examples)], check=False, cwd=name).returncode
        finally:
            stand.stop()


if __name__ == "__main__":
    sys.exit(main())
