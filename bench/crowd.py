"""`./needle bench crowd [COUNT]`: connections that never finish, and one visitor among them.

COUNT connections (2,000 by default) are opened to one host from this machine and do nothing, send
half a head, half a body a byte at a time, or never read their answer. Meanwhile a visitor asks for
a page and sends a form, again and again; the slowest answer is told.
"""

import contextlib
import os
import random
import resource
import socket
import sys
import tempfile
import threading
import time
from pathlib import Path

import httpx
from tests.sites import EMAIL, FORM, NAME, PAGE, small_site

from needle.publish.live import send_pages
from needle.running.stand import Stand
from needle.store.project import Project

_SECONDS = 40
# So many are opened (again) every tenth of a second.
_NEW_AT_ONCE = 100
_BEGINNINGS = (
    b"", b"GET / HTTP/1.1\r\nHost: x\r\nX-Slow: ",
    b"POST /_needle/lead/form1 HTTP/1.1\r\nHost: x\r\nContent-Length: 100000\r\n"
    b"Content-Type: application/x-www-form-urlencoded\r\n\r\nmail1=",
    b"GET /night HTTP/1.1\r\nHost: dark.localhost\r\n\r\n")


def _hold(port: int, count: int, stop: threading.Event, alive: list[int]) -> None:
    held: list[socket.socket] = []
    while not stop.is_set():
        for _ in range(min(_NEW_AT_ONCE, count - len(held))):
            with contextlib.suppress(OSError):
                one = socket.create_connection(("127.0.0.1", port), timeout=5)
                one.setblocking(False)
                one.send(_BEGINNINGS[len(held) % len(_BEGINNINGS)])
                held.append(one)
        for one in random.sample(held, min(200, len(held))):
            try:
                one.send(b"a")
            except BlockingIOError:
                continue
            except OSError:  # The host has had enough of it; another one comes.
                held.remove(one)
                one.close()
        alive[0] = len(held)
        stop.wait(0.1)
    for one in held:
        one.close()


def main(count: int) -> int:
    """Run and tell; 1 if the visitor ever waited longer than a second."""
    _, hard = resource.getrlimit(resource.RLIMIT_NOFILE)
    resource.setrlimit(resource.RLIMIT_NOFILE, (min(hard, 20_000), hard))
    with tempfile.TemporaryDirectory() as name:
        os.environ["NEEDLE_CONFIG"] = os.environ["NEEDLE_STATE"] = name
        folder = Path(name) / "project"
        site = small_site()
        Project.create(folder, site).close()
        send_pages(site, folder, [page.id for page in site.pages])
        stand = Stand(folder, 0, ())
        stop, alive = threading.Event(), [0]
        holder = threading.Thread(target=_hold, args=(stand.port, count, stop, alive))
        holder.start()
        took: list[float] = []
        faults = 0
        slug = site.page(PAGE).slug  # type: ignore[union-attr]
        base = f"http://127.0.0.1:{stand.port}"
        end = time.monotonic() + _SECONDS
        most = 0
        while time.monotonic() < end:
            most = max(most, alive[0])
            began = time.monotonic()
            try:
                page = httpx.get(f"{base}/{slug}", trust_env=False, timeout=30)
                sent = httpx.post(f"{base}/_needle/lead/{FORM}", trust_env=False, timeout=30, data={
                    NAME: "Ro", EMAIL: f"v{len(took)}@mail.example", "_page": PAGE},
                    headers={"Accept": "application/json"})
                faults += (page.status_code, sent.status_code) != (200, 200)
            except httpx.HTTPError:
                faults += 1
            took.append((time.monotonic() - began) / 2)
            time.sleep(0.1)
        stop.set()
        holder.join()
        stand.stop()
    took.sort()
    print(f"{most} connections held open, {len(took)} pages and posts of a visitor meanwhile: "
          f"median {took[len(took) // 2] * 1000:.0f} ms, slowest {took[-1] * 1000:.0f} ms, "
          f"{faults} without an answer")
    return int(took[-1] > 1 or faults > 0)


if __name__ == "__main__":
    sys.exit(main(int(sys.argv[1]) if len(sys.argv) > 1 else 2000))
