"""`./needle bench`: each figure as a ratio against a floor measured in the same run.

`./needle bench NAME …` runs another one: hostile, outages, crowd, schema, faults, robots, posts,
pauses, cuts, honesty, stalls, started, visits, load, desk, drafts, themes, pictures, reading,
shifts, tables, shop.
"""

import runpy
import sys

from bench import disk, edits, leads

_OTHERS = ("hostile", "outages", "crowd", "schema", "faults", "robots", "posts", "pauses", "cuts",
           "honesty", "stalls", "started", "visits", "load", "desk", "drafts", "themes", "pictures",
           "reading", "shifts", "tables", "shop")

if __name__ == "__main__":
    if sys.argv[1:2] and sys.argv[1] in _OTHERS:
        name = sys.argv.pop(1)
        runpy.run_module(f"bench.{name}", run_name="__main__", alter_sys=True)
        sys.exit(0)
    print(f"{'what':58} {'floor ms':>9} {'ours ms':>9} {'ratio':>6}  aim")
    for part in (disk, leads, edits):
        for row in part.measure():
            print(row, flush=True)
    sys.stdout.flush()
