"""`python -m drying`: the core on the command line."""

import sys

from drying.cli.main import main

sys.exit(main(sys.argv[1:]))
