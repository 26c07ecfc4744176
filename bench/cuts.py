"""`./needle bench cuts [N]`: sends that are killed at any moment, while a visitor reads on.

For each kind of place, N releases are sent by a process that is killed after a random time, then
sent again until one is through; a visitor fetches pages and what they load all the while. Nothing
that they get may be half, of two releases, or missing; at the end the place holds what was planned,
byte for byte. A page names its release and its own assets, so a mixture shows.
"""

import hashlib
import os
import random
import re
import shutil
import signal
import socket
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from collections.abc import Callable
from pathlib import Path

import httpx
import msgspec
from tests.publish.places import (
    PASSWORD,
    Ground,
    bucket_ground,
    dav_ground,
    folder_ground,
    link_ground,
    sftp_ground,
)

from needle.core.values.targets import Target
from needle.publish.release import ReleasedFile
from needle.publish.targets.opening import open_place
from needle.publish.targets.place import MANIFEST
from needle.publish.targets.sending import Outside, send_to

__all__ = ["main"]

_PAGES, _TIMES = 12, 40
_NGINX = shutil.which("nginx") or "/usr/sbin/nginx"
_LOADS = re.compile(r'(?:href|src)="/(assets/[^"]+)"')


def _outside(number: int) -> Outside:
    """A release of which every page names the release, and loads an asset of its own."""
    made: dict[str, bytes] = {}
    for page in range(_PAGES):
        asset = f"assets/a-{number}-{page}.css"
        made[asset] = f"/* {number} {page} */".encode() * 400
        words = f'<link rel="stylesheet" href="/{asset}"><p>{number}</p>' + "x" * 3000
        made[f"p{page}/index.html"] = words.encode()
    made["index.html"] = f"<p>{number}</p>".encode()
    return Outside("site1", f"r{number}", {
        path: ReleasedFile(hashlib.sha256(data).hexdigest(), len(data))
        for path, data in made.items()}, made.__getitem__)


def _send(target: Target, number: int) -> None:
    with open_place(target, PASSWORD) as place:
        send_to(place, _outside(number))


class _Visitor(threading.Thread):
    """Reads pages and what they load, and notes whatever is not whole."""

    def __init__(self, get: Callable[[str], bytes | None]) -> None:
        super().__init__(daemon=True)
        self._get, self._left = get, threading.Event()
        self.faults: list[str] = []
        self.reads = 0

    def run(self) -> None:
        while not self._left.is_set():
            page = f"p{random.randrange(_PAGES)}/index.html"
            data = self._get(page)
            self.reads += 1
            if data is None:
                self.faults.append(f"{page} is missing")
                continue
            html = data.decode("utf-8", "replace")
            if not html.endswith("x" * 3000):
                self.faults.append(f"{page} is half")
            for asset in _LOADS.findall(html):
                held = self._get(asset)
                if held is None or len(held) % 400:
                    self.faults.append(f"{asset} of {page} is missing or half")

    def leave(self) -> None:
        """Stop reading."""
        self._left.set()
        self.join(60)


def _killed_after(target: Target, number: int, seconds: float) -> bool:
    """Send in a process of its own, kill it after a while, and say whether it was through."""
    child = subprocess.Popen(
        [sys.executable, "-m", "bench.cuts", "--send", msgspec.json.encode(target).decode(),
         str(number)], env=os.environ, stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    try:
        return child.wait(seconds) == 0
    except subprocess.TimeoutExpired:
        child.send_signal(signal.SIGKILL)
        child.wait()
        return False


def _try(name: str, ground: Ground, get: Callable[[str], bytes | None], times: int) -> bool:
    _send(ground.target, 0)
    visitor = _Visitor(get)
    visitor.start()
    began = time.monotonic()
    assert _killed_after(ground.target, 1, 120)
    whole = time.monotonic() - began
    kills = 0
    for number in range(2, times + 2):
        while not _killed_after(ground.target, number, random.uniform(0.3, 1.1) * whole):
            kills += 1
    visitor.leave()
    _send(ground.target, times + 2)
    planned = _outside(times + 2)
    held = {path: data for path, data in ground.files().items()
            if path != MANIFEST and path in planned.files}
    equal = held == {path: planned.read(path) for path in planned.files}
    good = equal and not visitor.faults
    print(f"{name:24} {times} releases, {kills} killed, {visitor.reads} reads, "
          f"{len(visitor.faults)} faults, {'as planned' if equal else 'NOT as planned'}",
          flush=True)
    for fault in visitor.faults[:5]:
        print(f"  {fault}")
    return good


def _by_nginx(case: unittest.TestCase, root: Path) -> Callable[[str], bytes | None]:
    """Serve a folder by nginx and return what fetches from it."""
    folder = Path(case.enterContext(tempfile.TemporaryDirectory()))
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    (folder / "nginx.conf").write_text(
        f"daemon off; pid {folder}/pid; error_log {folder}/log; user root;\n"
        f"events {{}} http {{ access_log off; server {{ listen 127.0.0.1:{port}; root {root}; "
        f"}} }}\n" if os.getuid() == 0 else "")
    server = subprocess.Popen([_NGINX, "-c", str(folder / "nginx.conf"), "-e", f"{folder}/log"],
                              stdout=subprocess.DEVNULL, stderr=subprocess.DEVNULL)
    case.addCleanup(server.wait, 30)
    case.addCleanup(server.terminate)
    client = httpx.Client(base_url=f"http://127.0.0.1:{port}", trust_env=False)
    case.addCleanup(client.close)
    end = time.monotonic() + 30
    while time.monotonic() < end:
        try:
            client.get("/")
            break
        except httpx.TransportError:
            time.sleep(0.1)

    def get(path: str) -> bytes | None:
        answer = client.get(f"/{path}")
        return answer.content if answer.status_code == 200 else None

    return get


def _over(case: unittest.TestCase, target: Target) -> Callable[[str], bytes | None]:
    """Return what fetches by the place's own protocol."""
    return case.enterContext(open_place(target, PASSWORD)).get


def main(times: int = _TIMES) -> int:
    """Try every kind of place; 0 if nothing was ever half, mixed or missing."""
    case = unittest.TestCase()
    good = True
    try:
        for name, ground in (("folder, nginx", folder_ground(case)),
                             ("folder as a link, nginx", link_ground(case))):
            root = Path(ground.target.place)
            good &= _try(name, ground, _by_nginx(case, root), times)
        for name, ground in (("SFTP", sftp_ground(case)),
                             ("SFTP without links", sftp_ground(case, links=False)),
                             ("WebDAV", dav_ground(case)), ("S3", bucket_ground(case))):
            good &= _try(name, ground, _over(case, ground.target), times)
    finally:
        case.doCleanups()
    return int(not good)


if __name__ == "__main__":
    if sys.argv[1:2] == ["--send"]:
        _send(msgspec.json.decode(sys.argv[2], type=Target), int(sys.argv[3]))
    else:
        sys.exit(main(int(sys.argv[1]) if sys.argv[1:] else _TIMES))
