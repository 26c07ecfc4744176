"""`python -m bench.outages [SECONDS]`: two hosts over one PostgreSQL, and all that goes wrong.

While leads come in at both hosts, hosts are killed (60 times), the database is restarted (20), its
disk is full (10) and the hosts' clocks jump (5). In the end every lead that a visitor was thanked
for must be kept once, and be once by its key at each of five services. Needs root, for a small
disk of its own (tmpfs), and Debian's PostgreSQL.
"""

import os
import random
import signal
import subprocess
import sys
import tempfile
import threading
import time
from collections import Counter
from contextlib import suppress
from pathlib import Path
from typing import Any

import httpx
import msgspec
from sqlalchemy import select
from tests.host.cluster import Cluster
from tests.sites import EMAIL, FORM, NAME, PAGE, wired_site

from needle.practice.mailbox import messages
from needle.publish.live import send_pages
from needle.running.addresses import practice_folder, read_address
from needle.running.children import Child, ChildError
from needle.running.stand import Stand
from needle.store.project import Project
from needle.store.results.deliveries import behind
from needle.store.results.place import remember_database
from needle.store.results.tables import leads, open_results

_KINDS = ("list", "mail", "hook", "contacts")
_KILLS, _RESTARTS, _FULL, _JUMPS = 60, 20, 10, 5
_JUMPS_S = (6 * 86_400, -2 * 86_400, 3_600, -600, 40 * 86_400)
_FULL_S, _JUMP_S = 2.5, 8.0
_LONGEST_AFTER_S = 240
_DISK = "400M"


class _Hosts:
    """Two hosts on ports of their own, begun again whenever they end."""

    def __init__(self, folder: Path, clock: Path) -> None:
        self._folder, self._clock = folder, clock
        self.children: list[Child | None] = [None, None]
        self.ports = [0, 0]
        self.lock = threading.Lock()
        for number in range(2):
            self.begin(number)

    def begin(self, number: int) -> None:
        """Start a host on the port that it had."""
        with suppress(ChildError):
            child = Child("bench.clockwork", [
                str(self._clock), "needle.host", str(self._folder), "--port",
                str(self.ports[number])])
            self.children[number] = child
            self.ports[number] = int(child.facts["port"])

    def kill(self, number: int) -> None:
        """Kill a host as a power cut does, and begin it again."""
        with self.lock:
            child = self.children[number]
            if child is not None and child.alive:
                os.kill(child.pid, signal.SIGKILL)
                child.stop()
            self.begin(number)

    def keep_up(self, stop: threading.Event) -> None:
        """Begin again what has ended by itself, as the window and systemd do."""
        while not stop.wait(1):
            for number in range(2):
                with self.lock:
                    child = self.children[number]
                    if child is None or not child.alive:
                        self.begin(number)

    def end(self) -> None:
        """End both."""
        for child in self.children:
            if child is not None:
                child.stop()


class _Run:
    def __init__(self, root: Path, seconds: float) -> None:
        self.seconds = seconds
        root.chmod(0o711)  # The database's user must reach its folder.
        self.disk = root / "disk"
        self.disk.mkdir()
        subprocess.run(["mount", "-t", "tmpfs", "-o", f"size={_DISK},mode=777", "tmpfs",
                        str(self.disk)], check=True)
        self.cluster = Cluster(self.disk)
        self.folder, self.clock = root / "project", root / "clock"
        self.clock.write_text("0")
        site = wired_site()
        # Posts come faster than people's here; what is tried is keeping, not judging.
        site = msgspec.structs.replace(site, forms=tuple(
            msgspec.structs.replace(form, check_robots=False) for form in site.forms))
        Project.create(self.folder, site).close()
        send_pages(site, self.folder, [page.id for page in site.pages])
        remember_database(self.folder, self.cluster.address)
        # Its own host is not needed; the two under trial have clocks that can be set.
        self.stand = Stand(self.folder, 0, _KINDS)
        host = self.stand.child("host")
        assert host is not None
        host.stop()
        self.hosts = _Hosts(self.folder, self.clock)
        self.thanked: list[str] = []
        self.refused = 0
        self.done: Counter[str] = Counter()
        self.database = threading.Lock()

    def run(self) -> bool:
        stop = threading.Event()
        keeper = threading.Thread(target=self.hosts.keep_up, args=(stop,), daemon=True)
        visitors = [threading.Thread(target=self._visit, args=(n,), daemon=True)
                    for n in range(4)]
        plan = ((self._kill, _KILLS), (self._restart, _RESTARTS), (self._fill, _FULL),
                (self._jump, _JUMPS))
        trouble = [threading.Thread(target=self._often, args=one, daemon=True) for one in plan]
        for one in (keeper, *visitors, *trouble):
            one.start()
        for one in trouble:
            one.join()
        last = time.monotonic()
        time.sleep(2)
        self._no_more = True
        for one in visitors:
            one.join()
        while time.monotonic() - last < _LONGEST_AFTER_S and not self._everywhere():
            time.sleep(0.5)
        after = time.monotonic() - last
        good = self._tell(after)
        stop.set()
        keeper.join()
        self.end()
        return good

    _no_more = False

    def _often(self, how: Any, times: int) -> None:
        each = self.seconds / times
        began = time.monotonic()
        for number in range(times):
            time.sleep(max(0.0, began + (number + random.random() * 0.5) * each
                           - time.monotonic()))
            how(number)
            self.done[how.__name__] += 1
            if os.environ.get("BENCH_LOUD"):
                print(f"{time.monotonic() - began:6.0f} s {how.__name__} {number + 1}, "
                      f"{len(self.thanked)} thanked, {self.refused} refused", flush=True)

    def _kill(self, number: int) -> None:
        self.hosts.kill(number % 2)

    def _restart(self, _: int) -> None:
        with self.database:
            with suppress(subprocess.SubprocessError):
                self.cluster.stop()
            self._up()

    def _fill(self, _: int) -> None:
        filler = self.disk / "filler"
        with self.database:
            with suppress(OSError), filler.open("wb") as file:
                while True:
                    file.write(b"\0" * 1_000_000)
            time.sleep(_FULL_S)
            filler.unlink(missing_ok=True)
            self._up()

    def _up(self) -> None:
        for _ in range(20):
            if self.cluster.runs:
                return
            with suppress(subprocess.SubprocessError):
                self.cluster.start()
            time.sleep(0.3)

    def _jump(self, number: int) -> None:
        self.clock.write_text(str(_JUMPS_S[number % len(_JUMPS_S)]))
        time.sleep(_JUMP_S)
        self.clock.write_text("0")

    # Visitors

    def _visit(self, which: int) -> None:
        number = 0
        while not self._no_more:
            key = f"{which}{number:031d}"
            self._send(key, f"p{which}-{number}@mail.example")
            number += 1
            time.sleep(random.uniform(0.02, 0.3))

    def _send(self, key: str, email: str) -> None:
        sent = {"kind": "school", "year": "7", NAME: f"N{key.lstrip('0') or '0'}", EMAIL: email,
                "_page": PAGE, "_variant": "A", "_took": "9000", "_key": key, "src1": "bench"}
        while True:
            port = random.choice(self.hosts.ports)
            with suppress(httpx.HTTPError):
                answer = httpx.post(f"http://127.0.0.1:{port}/_needle/lead/{FORM}", data=sent,
                                    timeout=20, trust_env=False,
                                    headers={"Accept": "application/json"})
                if answer.status_code == 200:
                    self.thanked.append(key)
                    return
            self.refused += 1
            time.sleep(0.3)

    # What came of it

    def _held(self) -> dict[str, list[str]]:
        lists = read_address(practice_folder(self.folder, "list")) or {}
        hook = read_address(practice_folder(self.folder, "hook")) or {}
        file = practice_folder(self.folder, "file") / "leads.csv"
        members = httpx.get(f"{lists['url']}/lists/meteor-guests/members", timeout=30,
                            trust_env=False, headers={"Authorization": f"Bearer {lists['key']}"})
        entries = httpx.get(hook["url"], timeout=30, trust_env=False)
        return {"list": [str(one["email"]) for one in members.json()],
                "mail": [str(one["Message-ID"])
                         for one in messages(practice_folder(self.folder, "mail"))],
                "hook": [str(one["key"]) for one in entries.json()],
                "file": [line.split(",")[0] for line in file.read_text("utf-8").splitlines()[1:]]
                if file.exists() else [],
                "contacts": [path.name for path in (
                    practice_folder(self.folder, "contacts") / "guests").glob("*.vcf")]}

    def _everywhere(self) -> bool:
        return all(len(set(held)) >= len(self.thanked) for held in self._held().values())

    def _tell(self, after: float) -> bool:
        engine = open_results(self.cluster.address)
        with engine.connect() as connection:
            kept = Counter(connection.execute(select(leads.c.key)).scalars())
        late = behind(engine)
        engine.dispose()
        wanted = len(self.thanked)
        lost = [key for key in self.thanked if key not in kept]
        print(f"{self.done['_kill']} kills, {self.done['_restart']} restarts of the database, "
              f"{self.done['_fill']} full disks, {self.done['_jump']} clock jumps in "
              f"{self.seconds:.0f} s")
        print(f"{wanted} leads thanked for ({self.refused} tries refused), {len(kept)} kept, "
              f"{len(lost)} lost, {sum(n > 1 for n in kept.values())} kept twice")
        good = not lost and max(kept.values(), default=1) == 1
        for kind, held in self._held().items():
            doubled = len(held) - len(set(held))
            good &= len(set(held)) == wanted and not doubled
            print(f"  {kind:9} {len(set(held))} of {wanted}, {doubled} double")
        print(f"  all there {after:.0f} s after the last fault; {late.waiting} still wait",
              flush=True)
        return good

    def end(self) -> None:
        self.hosts.end()
        self.stand.stop()
        self.cluster.remove()


if __name__ == "__main__":
    with tempfile.TemporaryDirectory(prefix="needle-outages-") as name:
        os.environ["NEEDLE_CONFIG"] = os.environ["NEEDLE_STATE"] = name
        try:
            run = _Run(Path(name), float(sys.argv[1]) if len(sys.argv) > 1 else 240)
            good = run.run()
        finally:
            subprocess.run(["umount", "-q", str(Path(name) / "disk")], check=False)
        sys.exit(0 if good else 1)
