"""`python -m wattikos_core`: the command line."""

import sys

from wattikos_core.cli import main

if __name__ == "__main__":
    sys.exit(main())
