"""A small run of every fuzzer; `./needle bench hostile` is the long one."""

import logging
import unittest
from functools import partial
from typing import Any

from bench.fuzzing import FUZZERS, Fuzzer, Fuzzing
from hypothesis import HealthCheck, given, settings

_EXAMPLES = 60


class FuzzTest(unittest.TestCase):
    fuzz: Fuzzing

    @classmethod
    def setUpClass(cls) -> None:
        logging.disable(logging.CRITICAL)
        cls.addClassCleanup(logging.disable, logging.NOTSET)
        cls.fuzz = Fuzzing()
        cls.addClassCleanup(cls.fuzz.end)

    def run_one(self, fuzzer: Fuzzer) -> None:
        @settings(max_examples=_EXAMPLES, deadline=None, database=None,
                  suppress_health_check=list(HealthCheck))
        @given(fuzzer.inputs)
        def attempt(data: Any) -> None:
            fuzzer(self.fuzz, data)

        attempt()


for one in FUZZERS:
    setattr(FuzzTest, f"test_{one.name}",
            lambda self, fuzzer=one: partial(FuzzTest.run_one, self)(fuzzer))
