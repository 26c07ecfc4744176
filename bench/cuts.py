"""`./needle bench cuts [N] [PLACE…]`: sends that are killed at any moment, a visitor reading on.

For each kind of place, N releases are sent by a process that is killed after a random time, then
sent again until one is through; a visitor fetches pages and what they load all the while. Nothing
that they get may be half, of two releases, or missing; at the end the place holds what was planned,
byte for byte. A page names its release and its own assets, so a mixture shows.
"""

import contextlib
import hashlib
import multiprocessing
import os
import random
import re
import shutil
import socket
import subprocess
import sys
import tempfile
import threading
import time
import unittest
from collections.abc import Callable, Sequence
from pathlib import Path

import httpx
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
from needle.publish.targets.place import MANIFEST, PlaceError
from needle.publish.targets.sending import Outside, send_to

__all__ = ["main"]

# Forked from a process that has imported everything, and has no threads.
_CHILDREN = multiprocessing.get_context("forkserver")
_PAGES, _TIMES = 12, 40
# A WebDAV server may take a page away before it moves the new one there (RFC 4918, 9.9.3), and
# answer that it is not there, or with a fault. Who asks again a moment later must get it.
_GAP_S = 0.05
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

    def __init__(self, get: Callable[[str], bytes | None], gaps_allowed: bool) -> None:
        super().__init__(daemon=True)
        self._get, self._left = get, threading.Event()
        self._gaps_allowed = gaps_allowed
        self.faults: list[str] = []
        self.reads = self.gaps = 0

    def run(self) -> None:
        while not self._left.is_set():
            page = f"p{random.randrange(_PAGES)}/index.html"
            data = self._fetched(page)
            self.reads += 1
            if data is None:
                self.faults.append(f"{page} is missing")
                continue
            html = data.decode("utf-8", "replace")
            if not html.endswith("x" * 3000):
                self.faults.append(f"{page} is half")
            for asset in _LOADS.findall(html):
                held = self._fetched(asset)
                if held is None or len(held) % 400:
                    self.faults.append(f"{asset} of {page} is missing or half")

    def _fetched(self, path: str) -> bytes | None:
        with contextlib.suppress(PlaceError) if self._gaps_allowed else contextlib.nullcontext():
            if (data := self._get(path)) is not None or not self._gaps_allowed:
                return data
        self.gaps += 1
        time.sleep(_GAP_S)
        return self._get(path)

    def leave(self) -> None:
        """Stop reading."""
        self._left.set()
        self.join(60)


def _killed_after(target: Target, number: int, seconds: float) -> bool:
    """Send in a process of its own, kill it after a while, and say whether it was through."""
    child = _CHILDREN.Process(target=_send, args=(target, number))
    child.start()
    child.join(seconds)
    child.kill()
    child.join()
    return child.exitcode == 0


def _try(name: str, ground: Ground, get: Callable[[str], bytes | None], times: int) -> bool:
    _send(ground.target, 0)
    visitor = _Visitor(get, ground.target.kind == "webdav")
    visitor.start()
    assert _killed_after(ground.target, 1, 120)  # Starts what the others are forked from.
    began = time.monotonic()
    assert _killed_after(ground.target, 2, 120)
    whole = time.monotonic() - began
    kills = 0
    for number in range(3, times + 3):
        longest = 0.95  # Cut once at least.
        while not _killed_after(ground.target, number, random.uniform(0.05, longest) * whole):
            kills += 1
            longest = 2.0
    visitor.leave()
    _send(ground.target, times + 3)
    planned = _outside(times + 3)
    held = {path: data for path, data in ground.files().items()
            if path != MANIFEST and path in planned.files}
    equal = held == {path: planned.read(path) for path in planned.files}
    good = equal and not visitor.faults
    gaps = f"{visitor.gaps} in the server's own gap, " if visitor.gaps else ""
    print(f"{name:24} {times} releases, {kills} killed, {visitor.reads} reads, {gaps}"
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


_PLACES: dict[str, Callable[[unittest.TestCase], Ground]] = {
    "folder": folder_ground, "link": link_ground, "sftp": sftp_ground,
    "sftp-without-links": lambda case: sftp_ground(case, links=False),
    "webdav": dav_ground, "s3": bucket_ground}


def main(times: int = _TIMES, names: Sequence[str] = ()) -> int:
    """Try the named kinds of place, or every one; 0 if nothing was ever half or missing."""
    _CHILDREN.set_forkserver_preload(["bench.cuts"])
    case = unittest.TestCase()
    good = True
    try:
        for name in names or _PLACES:
            ground = _PLACES[name](case)
            by_nginx = name in ("folder", "link")
            get = (_by_nginx(case, Path(ground.target.place)) if by_nginx
                   else _over(case, ground.target))
            good &= _try(f"{name}, nginx" if by_nginx else name, ground, get, times)
    finally:
        case.doCleanups()
    return int(not good)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if sys.argv[1:] else _TIMES, sys.argv[2:]))
