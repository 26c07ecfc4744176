"""`./needle bench desk [COUNT]`: the desk of a hundred sites, against reading their files."""

import os
import sys
import tempfile
import time
from pathlib import Path

import msgspec
from tests.sites import wired_site

from bench.ratio import Ratio, median_ms
from needle.core.values.ids import new_id
from needle.publish.standing import read_standing
from needle.store.project import Project, read_site
from needle.store.sites import known_sites, remember_site

_COUNT = 100


def main(count: int) -> None:
    """Print the ratios."""
    os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
    with tempfile.TemporaryDirectory() as made:
        os.environ["NEEDLE_CONFIG"] = str(Path(made) / "config")
        folders = [Path(made) / f"site{number}" for number in range(count)]
        for number, folder in enumerate(folders):
            Project.create(folder, msgspec.structs.replace(
                wired_site(), id=new_id(), name=f"Site {number}")).close()
            remember_site(folder, f"Site {number}")

        def floor() -> None:
            for folder in folders:
                read_site(folder)

        def standings() -> None:
            for folder in folders:
                read_standing(folder)

        print(f"{'what':58} {'floor ms':>9} {'ours ms':>9} {'ratio':>6}  aim")
        reading = median_ms(floor, 5)
        print(Ratio(f"where {count} sites stand (floor: read their files)", reading,
                    median_ms(standings, 3), 2), flush=True)
        from needle.app import make_app
        from needle.ui.desk.desk import Desk

        app = make_app()
        began = time.perf_counter()
        desk = Desk(lambda _: True, lambda: True)
        desk.show()
        app.processEvents()
        print(Ratio(f"the desk lists {len(known_sites())} sites", reading,
                    (time.perf_counter() - began) * 1000, 2))
        desk.close()


if __name__ == "__main__":
    main(int(sys.argv[1]) if sys.argv[1:] else _COUNT)
