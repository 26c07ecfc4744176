"""Opens a database, as a process of its own; for a test of many that do so at once."""

import sys

from needle.running.serving import announce
from needle.store.results.tables import open_results

if __name__ == "__main__":
    open_results(sys.argv[1]).dispose()
    announce(opened=True)
    sys.stdin.read()
