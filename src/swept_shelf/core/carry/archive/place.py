"""Whether an archive can be written into a file: asked before anything goes that it is to hold."""

from __future__ import annotations

import os
from pathlib import Path

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes


def check_place(file: str, needed: int) -> None:
    """`needed`: bytes that it may come to. Raises Refused where the file is there, or cannot come to be there whole."""
    folder = Path(file).absolute().parent
    if os.path.lexists(file):
        raise Refused("is there already: it would not be overwritten", file)
    if not folder.is_dir():
        raise Refused("is no folder: the archive cannot be written there", str(folder))
    if not os.access(folder, os.W_OK | os.X_OK):
        raise Refused("may not be written to: the archive cannot be written there", str(folder))
    numbers = os.statvfs(folder)
    free = numbers.f_bavail * numbers.f_frsize
    if free < needed:
        raise Refused(f"has {human_bytes(free)} free, and what goes is {human_bytes(needed)}", str(folder))
