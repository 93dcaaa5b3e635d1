"""A private folder for copies of what the machine holds: inside the worker's own folder, else the system's for temporary files."""

from __future__ import annotations

import os
import tempfile
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

_place: str | None = None


def keep_copies_in(folder: str) -> None:
    """From now on copies stand in `folder`: where everything else is read-only, it is the one that is not."""
    global _place
    _place = folder
    os.environ["SQLITE_TMPDIR"] = folder  # what SQLite sorts too (sqlite.org/tempfiles.html)


@contextmanager
def scratch_folder() -> Iterator[Path]:
    """An empty folder (0700) that is gone afterwards. Raises OSError."""
    with tempfile.TemporaryDirectory(dir=_place, prefix="copy-", ignore_cleanup_errors=True) as folder:
        yield Path(folder)
