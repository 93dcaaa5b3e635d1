"""`python -m swept_shelf.rights look|carry`: the helper."""

import sys

from swept_shelf.rights.helper import main

sys.exit(main())
