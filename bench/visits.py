"""`./needle bench visits [N]`: what the screens of Measure cost at a million visits.

The floor is one plain aggregate over the same rows.
"""

import random
import sys
import tempfile
from pathlib import Path

from sqlalchemy import func, insert, select
from tests.sites import PAGE, THANKS

from bench.ratio import Ratio, median_ms
from needle.core.measure.period import SplitPeriod
from needle.store.results.book import count_leads
from needle.store.results.counting import page_counts, split_days, traffic
from needle.store.results.tables import goals, open_results, visits

_VISITS, _DAY_MS, _DAYS, _BATCH, _TIMES = 1_000_000, 86_400_000, 90, 20_000, 3


def _fill(folder: Path, count: int) -> int:
    """Write visits of three months, every twentieth with a goal; return when the last one was."""
    draw, engine = random.Random(3), open_results(f"sqlite:///{folder}/results.db")
    now = 2_000_000_000_000
    with engine.begin() as connection:
        for start in range(0, count, _BATCH):
            rows = [{"visitor": f"v{draw.randrange(count * 2 // 3)}", "variant": draw.choice("AB"),
                     "page": PAGE if draw.random() < 0.7 else THANKS, "source": "direct",
                     "campaign": "", "device": "phone",
                     "at": now - draw.randrange(_DAYS * _DAY_MS)}
                    for _ in range(min(_BATCH, count - start))]
            connection.execute(insert(visits).prefix_with("OR IGNORE"), rows)
            connection.execute(insert(goals).prefix_with("OR IGNORE"), [
                {name: row[name] for name in ("visitor", "page", "variant", "at")} | {"goal": "x"}
                for row in rows[::20]])
    engine.dispose()
    return now


def main(count: int = _VISITS) -> None:
    """Print the ratios."""
    with tempfile.TemporaryDirectory() as made:
        now = _fill(Path(made), count)
        engine = open_results(f"sqlite:///{made}/results.db")

        def plain() -> None:
            with engine.connect() as connection:
                connection.execute(select(visits.c.page, visits.c.variant, func.count(
                    visits.c.visitor.distinct())).group_by(
                    visits.c.page, visits.c.variant)).all()

        test = SplitPeriod(PAGE, (("A", 50), ("B", 50)), now - 28 * _DAY_MS)
        floor = median_ms(plain, _TIMES)
        print(f"{'what':58} {'floor ms':>9} {'ours ms':>9} {'ratio':>6}  aim")
        for what, run in (("pages", lambda: page_counts(engine)),
                          ("a split test of four weeks", lambda: split_days(engine, test)),
                          ("the last four weeks", lambda: traffic(engine, now)),
                          ("leads", lambda: count_leads(engine))):
            print(Ratio(f"{what}, {count:,} visits (floor: one aggregate)", floor,
                        median_ms(run, _TIMES), 2), flush=True)
        engine.dispose()


if __name__ == "__main__":
    main(int(sys.argv[1]) if sys.argv[1:] else _VISITS)
