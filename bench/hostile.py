"""`./needle bench hostile [--minutes N] [--inputs N] [--only NAME]`: our fuzzers, for long.

Every run has other seeds. For each fuzzer it tells how many inputs were tried and how many of them
ended in something that must not be; the first of each kind is printed with its input.
"""

import argparse
import logging
import multiprocessing
import random
import sys
import time
from collections import Counter
from typing import Any

from hypothesis import HealthCheck, Phase, given, seed, settings

from bench.fuzzing import FUZZERS, Fuzzer, Fuzzing

_AT_ONCE = 2_000


def _kind(error: BaseException) -> str:
    words = str(error)
    if isinstance(error, AssertionError):
        return "hang" if "it took" in words else "outside" if "outside" in words else (
            "lost" if "accepted lead" in words else "executable" if "script" in words else words)
    return f"traceback {type(error).__name__}"


def _run(fuzzer: Fuzzer, fuzz: Fuzzing, inputs: int, until: float) -> tuple[int, Counter[str]]:
    tried, found = 0, Counter[str]()

    def attempt(data: Any) -> None:
        nonlocal tried
        tried += 1
        try:
            fuzzer(fuzz, data)
        except Exception as error:
            kind = _kind(error)
            found[kind] += 1
            if found[kind] == 1:
                print(f"  {fuzzer.name}: {kind}: {str(error)[:300]}\n    input {data!r:.800}",
                      flush=True)

    while tried < inputs and time.monotonic() < until:
        count = min(_AT_ONCE, inputs - tried)
        batch = settings(max_examples=count, deadline=None, database=None,
                         phases=[Phase.generate], suppress_health_check=list(HealthCheck))(
            given(fuzzer.inputs)(attempt))
        seed(random.SystemRandom().randrange(2**64))(batch)()
    return tried, found


def _apart(number: int, inputs: int, until: float) -> None:
    logging.disable(logging.CRITICAL)
    fuzz = Fuzzing()
    try:
        began = time.monotonic()
        tried, found = _run(FUZZERS[number], fuzz, inputs, until)
        told = ", ".join(f"{count} {kind}" for kind, count in found.items()) or "nothing found"
        print(f"{FUZZERS[number].name:9} {tried:8,} inputs in {time.monotonic() - began:5.0f} s: "
              f"{told}", flush=True)
    finally:
        fuzz.end()
    sys.exit(bool(found))


def main() -> int:
    """Read the command line and run; two fuzzers at a time."""
    parser = argparse.ArgumentParser(prog="needle bench hostile")
    parser.add_argument("--minutes", type=float, default=1.0, help="for each fuzzer")
    parser.add_argument("--inputs", type=int, default=10**9)
    parser.add_argument("--only", default="")
    asked = parser.parse_args()
    wanted = [n for n, fuzzer in enumerate(FUZZERS) if asked.only in ("", fuzzer.name)]
    bad, running = 0, []
    context = multiprocessing.get_context("spawn")
    while wanted or running:
        if wanted and len(running) < 2:
            one = context.Process(target=_apart, args=(
                wanted.pop(0), asked.inputs, time.monotonic() + asked.minutes * 60))
            one.start()
            running.append(one)
            continue
        time.sleep(0.2)
        bad += sum(one.exitcode != 0 for one in running if one.exitcode is not None)
        running = [one for one in running if one.exitcode is None]
    return int(bad > 0)


if __name__ == "__main__":
    sys.exit(main())
