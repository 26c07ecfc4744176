"""A few weeks of made-up visits and leads for the demo."""

import json
import time
from datetime import UTC, date, datetime
from pathlib import Path

import numpy as np
from sqlalchemy import insert

from needle.core.site.site import Page, Site
from needle.core.values.form import Form, Role
from needle.demo.ways import walk_on
from needle.store.results.stream import append
from needle.store.results.tables import leads, open_results, outbox

__all__ = ["TEST_DAYS", "fill_results"]

TEST_DAYS = 18
_DAYS = 26
_DAY_MS = 86_400_000
_FIRST = ("Rowan", "Ilse", "Tobin", "Marit", "Edda", "Corin", "Wilf", "Anwen", "Jory", "Sunniva",
          "Piet", "Hesper", "Lowri", "Osric", "Tilde", "Bram", "Nessa", "Alder", "Idony", "Fenn")
_LAST = ("Harrow", "Finch", "Wren", "Quill", "Arkle", "Thorne", "Pell", "Cawl", "Nettle", "Sloe",
         "Marsh", "Vane", "Holt", "Tarn", "Brook", "Lark")
_SOURCES = ("direct", "hill-letter", "county-news.example", "star-club", "poster", "search")
_ODDS = (0.27, 0.24, 0.16, 0.13, 0.08, 0.12)


def fill_results(folder: Path, site: Site, today: date) -> None:
    """Write visits, leads and deliveries of the last weeks into the project's results."""
    rng = np.random.default_rng(1609)
    start = int(datetime(today.year, today.month, today.day, tzinfo=UTC).timestamp() * 1000)
    start -= _DAYS * _DAY_MS
    engine = open_results(folder / "results.db")
    by_name = {page.name: page for page in site.pages}
    form = {form.name: form for form in site.forms}
    night, home = by_name["Meteor Night"], by_name["Home"]
    seen: list[dict[str, object]] = []
    won: list[dict[str, object]] = []
    fallen = (_DAYS - TEST_DAYS) * _DAY_MS
    for count, page, key, rate, wanted, after in (
            (3219, night, "A", 0.0556, "Keep me a place", fallen),
            (2146, night, "B", 0.0643, "Keep me a place", fallen),
            (2480, home, "A", 0.0282, "Sky calendar", 0),
            (611, by_name["Sky calendar"], "A", 0.091, "Sky calendar", 0)):
        _visitors(rng, seen, won, count, page, key, rate, form[wanted], start + after)
    told = walk_on(seen, won, site)
    _robots(rng, won, night, form["Keep me a place"], start)
    with engine.begin() as connection:
        append(connection, told)
        won.sort(key=lambda row: int(str(row["at"])))
        connection.execute(insert(leads), [
            {k: v for k, v in row.items() if k != "routes"} | {"id": number}
            for number, row in enumerate(won, 1)])
        connection.execute(insert(outbox), _deliveries(won, site))
    engine.dispose()


def _visitors(rng: np.random.Generator, seen: list[dict[str, object]],
              won: list[dict[str, object]], count: int, page: Page, key: str, rate: float,
              form: Form, start: int) -> None:
    end = int(time.time() * 1000)
    span = max(_DAY_MS, end - start - 600_000)
    winners = set(rng.choice(count, round(count * rate), replace=False).tolist())
    for number in range(count):
        at = start + int(rng.random() * span)
        visitor = rng.bytes(12).hex()
        source = str(rng.choice(_SOURCES, p=_ODDS))
        seen.append({"at": at, "visitor": visitor, "page": page.id, "variant": key,
                     "source": source, "campaign": "perseids" if source == "hill-letter" else "",
                     "device": str(rng.choice(["phone", "desktop", "tablet"], p=[.64, .3, .06]))})
        if number in winners:
            won.append(_lead(rng, form, page, key, visitor, source, at + 40_000))


def _lead(rng: np.random.Generator, form: Form, page: Page, key: str, visitor: str, source: str,
          at: int) -> dict[str, object]:
    first, last = str(rng.choice(_FIRST)), str(rng.choice(_LAST))
    email = f"{first}.{last}{rng.integers(2, 99)}@mail.example".lower()
    said = {Role.NAME: f"{first} {last}", Role.EMAIL: email, Role.HIDDEN: source,
            Role.CONSENT: "yes" if rng.random() < 0.7 else "",
            Role.CHOICE: str(rng.choice(["1", "2", "3–6", "more"], p=[.2, .5, .25, .05]))}
    answers = [[f.id, f.label, said[f.role]] for f in form.fields if said.get(f.role)]
    return {"key": rng.bytes(16).hex(), "at": at, "visitor": visitor, "form": form.id,
            "form_name": form.name, "page": page.id, "variant": key, "email": email,
            "answers": json.dumps(answers, ensure_ascii=False), "robot": False, "signs": "",
            "source": source, "routes": [route.id for route in form.routes]}


def _robots(rng: np.random.Generator, won: list[dict[str, object]], page: Page, form: Form,
            start: int) -> None:
    for _ in range(37):
        row = _lead(rng, form, page, "A", rng.bytes(12).hex(), "direct",
                    start + int(rng.random() * _DAYS * _DAY_MS))
        row |= {"robot": True, "routes": [], "signs": "filled in 0.2 s; filled the trap field"}
        won.append(row)


def _deliveries(won: list[dict[str, object]], site: Site) -> list[dict[str, object]]:
    words = {}
    for form in site.forms:
        for route in form.routes:
            service = site.service(route.service)
            name = service.name if service else ""
            does = service.does if service else ""
            words[route.id] = {"mail": "notice delivered", "hook": f"{name} 201"}.get(
                does, f"{name} added")
    return [{"lead": number, "route": route, "key": f"{row['key']}-{route}", "state": "done",
             "tries": 1, "due": row["at"], "result": words[route], "result_at": row["at"]}
            for number, row in enumerate(won, 1) for route in row["routes"]]  # type: ignore[attr-defined]
