"""`./needle bench`: each figure as a ratio against a floor measured in the same run."""

import sys

from bench import disk, edits, leads

if __name__ == "__main__":
    print(f"{'what':58} {'floor ms':>9} {'ours ms':>9} {'ratio':>6}  aim")
    for part in (disk, leads, edits):
        for row in part.measure():
            print(row, flush=True)
    sys.stdout.flush()
