"""`python -m northfold`."""

import sys

from northfold.command import main

if __name__ == "__main__":
    sys.exit(main())
