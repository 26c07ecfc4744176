"""`python -m bench.posts`: ten thousand leads at once, and how many are stored in a second."""

import os
import sys
import tempfile
import threading
import time
from concurrent.futures import ProcessPoolExecutor
from pathlib import Path

import httpx
from tests.sites import EMAIL, FORM, NAME, PAGE, small_site

from needle.core.edit.forms import change_form
from needle.publish.live import send_pages
from needle.running.stand import Stand
from needle.store.project import Project
from needle.store.results.book import Filter, count_leads
from needle.store.results.tables import open_results

_THREADS = 60
_PROCESSES = 4


def _post_all(port: int, start: int, count: int) -> dict[int, int]:
    """Post from many threads at once; return how often each status was answered."""
    statuses: dict[int, int] = {}
    lock = threading.Lock()
    numbers = iter(range(start, start + count))

    def work() -> None:
        with httpx.Client(base_url=f"http://127.0.0.1:{port}", timeout=60, trust_env=False,
                          headers={"Accept": "application/json"}) as client:
            while True:
                with lock:
                    number = next(numbers, None)
                if number is None:
                    return
                try:
                    code = client.post(f"/_needle/lead/{FORM}", data={
                        NAME: f"N{number}", EMAIL: f"p{number}@mail.example", "_page": PAGE,
                        "_took": "9000", "_key": f"{number:032d}"}).status_code
                except httpx.HTTPError:
                    code = 0
                with lock:
                    statuses[code] = statuses.get(code, 0) + 1

    threads = [threading.Thread(target=work) for _ in range(_THREADS)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return statuses


def main(count: int) -> None:
    """Post, and tell how it went."""
    with tempfile.TemporaryDirectory() as name:
        os.environ["NEEDLE_CONFIG"] = name
        folder = Path(name) / "project"
        site = change_form(small_site(), FORM, lambda form: form.__class__(
            id=form.id, name=form.name, fields=form.fields, check_robots=False))
        Project.create(folder, site).close()
        send_pages(site, folder, [page.id for page in site.pages])
        stand = Stand(folder, 0, ())
        part = count // _PROCESSES
        started = time.monotonic()
        with ProcessPoolExecutor(_PROCESSES) as pool:
            parts = [pool.submit(_post_all, stand.port, n * part, part)
                     for n in range(_PROCESSES)]
            told = [one.result() for one in parts]
        took = time.monotonic() - started
        engine = open_results(folder / "results.db")
        kept = count_leads(engine, Filter())
        answers: dict[int, int] = {}
        for one in told:
            for status, times in one.items():
                answers[status] = answers.get(status, 0) + times
        print(f"{count} posts from {_PROCESSES * _THREADS} connections in {took:.1f} s: "
              f"{count / took:.0f} a second; answers {answers}; kept {kept}")
        engine.dispose()
        stand.stop()


if __name__ == "__main__":
    main(int(sys.argv[1]) if len(sys.argv) > 1 else 10_000)
