"""A lead stored durably against one committed insert of the same row."""

import tempfile
from collections.abc import Iterator
from pathlib import Path

from sqlalchemy import insert

from bench.ratio import Ratio, median_ms
from needle.store.results.tables import leads, open_results
from needle.store.results.taking import NewLead, take_lead


def measure() -> Iterator[Ratio]:
    with tempfile.TemporaryDirectory() as name:
        engine = open_results(Path(name) / "results.db")
        count = iter(range(100_000))

        def lead() -> NewLead:
            return NewLead(key=f"{next(count):032d}", at_ms=1, visitor="v", form="f",
                           form_name="Form", page="p", variant="A", email="a@mail.example",
                           answers=[("a", "E-mail", "a@mail.example")], routes=["r1", "r2"])

        def bare() -> None:
            row = lead()
            with engine.begin() as connection:
                connection.execute(insert(leads).values(
                    key=row.key, at=1, visitor="v", form="f", form_name="Form", page="p",
                    variant="A", email=row.email, answers="[]", robot=False, signs="", source=""))

        floor = median_ms(bare, 200)
        yield Ratio("a lead accepted, with two deliveries", floor,
                    median_ms(lambda: take_lead(engine, lead()), 200), 3)
        engine.dispose()
