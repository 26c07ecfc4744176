"""`python -m bench.faults`: leads come in while every service has each of its faults in turn.

First with the host running, then with it killed every few seconds. In the end every lead must be
at every service once, by its key, and each person's leads in their order.
"""

import os
import random
import signal
import sys
import tempfile
import threading
import time
from pathlib import Path
from typing import Any

import httpx
from tests.sites import EMAIL, FORM, NAME, PAGE, wired_site

from needle.practice.faults import FAULTS, set_fault
from needle.practice.mailbox import messages
from needle.publish.live import send_pages
from needle.running.addresses import practice_folder, read_address
from needle.running.stand import Stand
from needle.store.project import Project
from needle.store.results.book import count_leads
from needle.store.results.tables import open_results

_KINDS = ("list", "mail", "hook", "contacts")
_PEOPLE = 0.8  # As many e-mail addresses for each lead: some people come back.


class _Trial:
    def __init__(self, folder: Path, leads: int, kills: bool) -> None:
        self.folder, self.leads, self.kills = folder, leads, kills
        site = wired_site()
        forms = tuple(form.__class__(**{name: getattr(form, name) for name in
                                        form.__struct_fields__ if name != "check_robots"},
                                     check_robots=False) for form in site.forms)
        site = site.__class__(**{name: getattr(site, name) for name in site.__struct_fields__
                                 if name != "forms"}, forms=forms)
        Project.create(folder, site).close()
        send_pages(site, folder, [page.id for page in site.pages])
        self.stand = Stand(folder, 0, _KINDS)
        self.port = self.stand.port
        self.engine = open_results(folder / "results.db")
        self.refused = 0

    def post(self, number: int) -> None:
        """Send a lead until it is thanked for, as a person would."""
        email = f"p{number % int(self.leads * _PEOPLE)}@mail.example"
        sent = {"kind": "school", "year": str(number // int(self.leads * _PEOPLE) + 1),
                NAME: f"N{number}", EMAIL: email, "_page": PAGE, "_variant": "A", "_took": "9000",
                "_key": f"{number:032d}", "src1": "bench"}
        while True:
            try:
                answer = httpx.post(f"http://127.0.0.1:{self.port}/_needle/lead/{FORM}",
                                    data=sent, timeout=20, trust_env=False,
                                    headers={"Accept": "application/json"})
                if answer.status_code == 200:
                    return
            except httpx.HTTPError:
                pass
            self.refused += 1
            time.sleep(0.2)

    def run(self) -> None:
        stop = threading.Event()
        fault = threading.Thread(target=self._break, args=(stop,))
        killer = threading.Thread(target=self._kill, args=(stop,))
        started = time.monotonic()
        fault.start()
        if self.kills:
            killer.start()
        for number in range(self.leads):
            self.post(number)
            time.sleep(random.uniform(0, 0.012))
        taken = time.monotonic() - started
        fault.join()
        stop.set()
        if self.kills:
            killer.join()
        for kind in _KINDS:
            set_fault(practice_folder(self.folder, kind), "none")
        quiet = time.monotonic()
        while not self._everywhere() and time.monotonic() - quiet < 240:
            time.sleep(1)
        self._tell(taken, time.monotonic() - quiet)
        self.stand.stop()
        self.engine.dispose()

    def _break(self, stop: threading.Event) -> None:
        for name in [fault for fault in FAULTS if fault != "none"]:
            for kind in _KINDS:
                set_fault(practice_folder(self.folder, kind), name)
                stop.wait(0.9)
                set_fault(practice_folder(self.folder, kind), "none")

    def _kill(self, stop: threading.Event) -> None:
        while not stop.wait(3):
            host = self.stand.child("host")
            assert host is not None
            os.kill(host.pid, signal.SIGKILL)
            host.stop()
            self.stand.start_host(self.port)

    def _facts(self, kind: str) -> dict[str, Any]:
        return read_address(practice_folder(self.folder, kind)) or {}

    def _held(self) -> dict[str, list[Any]]:
        lists = self._facts("list")
        file = practice_folder(self.folder, "file") / "leads.csv"
        return {
            "list": httpx.get(f"{lists['url']}/lists/meteor-guests/members", timeout=30,
                              trust_env=False, headers={
                                  "Authorization": f"Bearer {lists['key']}"}).json(),
            "mail": [str(m["Message-ID"]) for m in messages(practice_folder(self.folder, "mail"))],
            "hook": httpx.get(self._facts("hook")["url"], timeout=30, trust_env=False).json(),
            "file": file.read_text("utf-8").splitlines()[1:] if file.exists() else [],
            "contacts": list((practice_folder(self.folder, "contacts") / "guests").glob("*.vcf"))}

    def _wanted(self) -> dict[str, int]:
        people = min(self.leads, int(self.leads * _PEOPLE))
        return {"list": people, "mail": self.leads, "hook": self.leads, "file": self.leads,
                "contacts": people}

    def _everywhere(self) -> bool:
        return {kind: len(held) for kind, held in self._held().items()} == self._wanted()

    def _tell(self, taken: float, after: float) -> None:
        held = self._held()
        once = {"mail": len(set(held["mail"])), "hook": len({e["key"] for e in held["hook"]}),
                "file": len({line.split(",")[0] for line in held["file"]})}
        years: dict[str, list[int]] = {}
        for entry in held["hook"]:
            fields = entry["body"]["fields"]
            years.setdefault(fields["mail"], []).append(int(fields["year"]))
        disorder = sum(seen != sorted(seen) for seen in years.values())
        writes = sum(member["writes"] for member in held["list"])
        print(f"{'host killed every 3 s' if self.kills else 'host running'}: "
              f"{count_leads(self.engine)} of {self.leads} leads kept, "
              f"{taken:.0f} s of arrivals, {self.refused} sent again by their visitors")
        for kind, wanted in self._wanted().items():
            print(f"  {kind:9} {len(held[kind])} of {wanted}"
                  + (f", {once[kind]} different keys" if kind in once else ""))
        print(f"  list writes {writes}, persons out of order {disorder}, all there "
              f"{after:.0f} s after the last fault", flush=True)


if __name__ == "__main__":
    amount = int(sys.argv[1]) if len(sys.argv) > 1 else 2000
    for killed in (False, True):
        with tempfile.TemporaryDirectory() as name:
            os.environ["NEEDLE_CONFIG"] = name
            _Trial(Path(name) / "project", amount, killed).run()
