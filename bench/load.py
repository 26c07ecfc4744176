"""`./needle bench load [SECONDS] [--soak MINUTES]`: events and leads a second, one host and three.

The floors are measured in the same run: one committed insert after another, and a host that
answers nothing. Senders, hosts and the database share this machine. `--soak` keeps one host busy
for so long and tells its memory each minute.
"""

import itertools
import json
import os
import secrets
import socket
import sys
import tempfile
import threading
import time
from collections.abc import Callable, Iterator, Sequence
from pathlib import Path

from sqlalchemy import Engine, func, insert, select
from tests.host.cluster import Cluster, programs
from tests.sites import EMAIL, FORM, NAME, PAGE, small_site

from needle.publish.live import send_pages
from needle.running.children import Child
from needle.store.project import Project
from needle.store.results.place import database_of, remember_database
from needle.store.results.rolling import roll_up
from needle.store.results.tables import events, leads, open_results
from needle.store.seals import Seals

_SECONDS, _SENDERS, _TOLD = 8.0, 24, 10
_NUMBERS = itertools.count()
_AGENT = ("Mozilla/5.0 (X11; Linux x86_64) AppleWebKit/537.36 (KHTML, like Gecko) "
          "Chrome/124.0 Safari/537.36")


def _post(path: str, kind: str, body: bytes, seal: str) -> bytes:
    return (f"POST {path} HTTP/1.1\r\nHost: hill.localhost\r\nContent-Type: {kind}\r\n"
            f"Content-Length: {len(body)}\r\nUser-Agent: {_AGENT}\r\nAccept: application/json\r\n"
            f"Accept-Language: en\r\nX-Needle-Practice: {seal}\r\nX-Needle-Who: "
            f"{next(_NUMBERS) // 8}\r\n\r\n").encode() + body


def _visit(seal: str) -> bytes:
    return _post("/_needle/visit", "application/json", json.dumps(
        {"page": PAGE, "variant": "A", "query": "?utm_source=post"}).encode(), seal)


def _events(seal: str) -> bytes:
    told = [["open", FORM], *(["field", f"{FORM}.{NAME}", 900] for _ in range(_TOLD - 1))]
    return _post("/_needle/events", "application/json", json.dumps(
        {"page": PAGE, "variant": "A", "told": told}).encode(), seal)


def _lead(seal: str) -> bytes:
    number, key = next(_NUMBERS), secrets.token_hex(16)
    body = (f"{NAME}=Ann&{EMAIL}=v{number}%40mail.example&_page={PAGE}&_variant=A&_key={key}"
            "&_took=9000&_felt=40,2,0").encode()
    return _post(f"/_needle/lead/{FORM}", "application/x-www-form-urlencoded", body, seal)


def _answers(connection: socket.socket) -> Iterator[int]:
    """Yield the status of each answer on a connection that is kept."""
    held = b""
    while True:
        while b"\r\n\r\n" not in held:
            part = connection.recv(65_536)
            if not part:
                return
            held += part
        head, _, held = held.partition(b"\r\n\r\n")
        length = next((int(line.split(b":")[1]) for line in head.split(b"\r\n")
                       if line.lower().startswith(b"content-length")), 0)
        while len(held) < length:
            held += connection.recv(65_536)
        held = held[length:]
        yield int(head.split(b" ", 2)[1])


def rate(ports: Sequence[int], request: Callable[[], bytes], seconds: float) -> float:
    """Return how many requests a second are answered well, by all senders together."""
    end, counts = time.monotonic() + seconds, [0] * _SENDERS

    def send(number: int) -> None:
        with socket.create_connection(("127.0.0.1", ports[number % len(ports)])) as connection:
            answers = _answers(connection)
            while time.monotonic() < end:
                connection.sendall(request())
                if next(answers) >= 300:
                    raise RuntimeError("the host did not take it")
                counts[number] += 1

    threads = [threading.Thread(target=send, args=(number,)) for number in range(_SENDERS)]
    began = time.monotonic()
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return sum(counts) / (time.monotonic() - began)


def _committed(engine: Engine, seconds: float) -> float:
    """Return how many inserts a second are committed one after another."""
    end, count = time.monotonic() + seconds, 0
    while time.monotonic() < end:
        with engine.begin() as connection:
            connection.execute(insert(events), [{
                "at": 1, "visitor": "v", "kind": "visit", "page": "floor", "variant": "A"}])
        count += 1
    return count / seconds


def _say(what: str, value: float, floor: float, floor_name: str) -> None:
    print(f"{what:46} {value:9,.0f} a second   {value / floor:5.2f} of {floor_name}", flush=True)


def _measure(folder: Path, hosts: int, seconds: float, empty: float, where: str) -> None:
    engine = open_results(database_of(folder))
    inserts = _committed(engine, min(3.0, seconds))
    print(f"{f'one committed insert, {where}':46} {inserts:9,.0f} a second", flush=True)
    seal = Seals(folder, engine).seal("practice", int(time.time() * 1000) + 3_600_000)
    children = [Child("needle.host", [str(folder), "--port", "0"]) for _ in range(hosts)]
    ports = [child.facts["port"] for child in children]
    name = f"{hosts} host{'s' if hosts > 1 else ''}, {where}"
    for what, request, each in (("visits", lambda: _visit(seal), 1),
                                (f"events, {_TOLD} told at once", lambda: _events(seal), _TOLD),
                                ("leads", lambda: _lead(seal), 1)):
        got = rate(ports, request, seconds)
        _say(f"{what}, {name}", got * each, inserts, "inserts")
        print(f"{'':46} {'':9}            {got / empty:5.2f} of empty answers", flush=True)
    began, left = time.monotonic(), roll_up(engine)
    print(f"{left:,} events were left to count, {time.monotonic() - began:.1f} s", flush=True)
    for child in children:
        child.stop()
    engine.dispose()


def _made(name: str) -> Path:
    folder = Path(name) / "project"
    site = small_site()
    Project.create(folder, site).close()
    send_pages(site, folder, [page.id for page in site.pages])
    return folder


def _memory_mb(child: Child) -> float:
    status = Path(f"/proc/{child.pid}/status").read_text("utf-8")
    return int(next(line for line in status.splitlines() if line.startswith("VmRSS")).split()[1]
               ) / 1024


def soak(minutes: int) -> None:
    """Keep one host busy, half of it events and half leads, and tell its memory a minute."""
    with tempfile.TemporaryDirectory() as name:
        os.environ["NEEDLE_CONFIG"] = os.environ["NEEDLE_STATE"] = name
        folder = _made(name)
        engine = open_results(database_of(folder))
        seal = Seals(folder, engine).seal("practice", int(time.time() * 1000) + 9_000_000)
        child = Child("needle.host", [str(folder), "--port", "0"])
        told: list[float] = []
        for minute in range(minutes):
            for request in (lambda: _events(seal), lambda: _lead(seal)):
                rate([child.facts["port"]], request, 30)
            told.append(_memory_mb(child))
            print(f"minute {minute + 1}: {told[-1]:.0f} MB", flush=True)
        with engine.connect() as connection:
            count = connection.execute(select(func.count()).select_from(events)).scalar_one()
            sent = connection.execute(select(func.count()).select_from(leads)).scalar_one()
        tenth = max(1, len(told) // 10)
        first, last = sum(told[:tenth]) / tenth, sum(told[-tenth:]) / tenth
        print(f"{count:,} events and {sent:,} leads in {minutes} minutes: "
              f"{first:.0f} MB in the first tenth, {last:.0f} MB in the last")
        child.stop()
        engine.dispose()


def main() -> None:
    """Measure, or soak."""
    numbers = [float(word) for word in sys.argv[1:] if word.replace(".", "").isdigit()]
    if "--soak" in sys.argv:
        soak(int(numbers[0]) if numbers else 60)
        return
    seconds = numbers[0] if numbers else _SECONDS
    floor = Child("bench.emptyhost", [])
    empty = rate([floor.facts["port"]], lambda: _visit("x"), seconds)
    floor.stop()
    print(f"{'an empty answer':46} {empty:9,.0f} a second", flush=True)
    with tempfile.TemporaryDirectory() as name:
        os.environ["NEEDLE_CONFIG"] = os.environ["NEEDLE_STATE"] = name
        _measure(_made(name), 1, seconds, empty, "SQLite")
    if not programs():
        return
    cluster = Cluster()
    try:
        for hosts in (1, 3):
            with tempfile.TemporaryDirectory() as name:
                os.environ["NEEDLE_CONFIG"] = os.environ["NEEDLE_STATE"] = name
                folder = _made(name)
                remember_database(folder, cluster.database(f"load{hosts}"))
                _measure(folder, hosts, seconds, empty, "PostgreSQL")
    finally:
        cluster.remove()


if __name__ == "__main__":
    main()
