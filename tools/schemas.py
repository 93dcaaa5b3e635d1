"""Writes the JSON Schemas of the open documents: `make schemas`."""

import json
import sys
from pathlib import Path

from swept_shelf.core.documents.wire import schemas

for name, schema in schemas().items():
    Path(sys.argv[1], f"{name}.json").write_text(json.dumps(schema, indent=1) + "\n")
