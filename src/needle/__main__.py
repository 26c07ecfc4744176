"""`python -m needle`."""

import sys

from needle.cli import main

if __name__ == "__main__":
    sys.exit(main())
