"""Where this program keeps its own: in the person's folders (XDG Base Directory Specification), by platformdirs.

Root's own stand below /var/lib/swept-shelf where those folders lie on another's path: sudo may keep that person's HOME."""

from __future__ import annotations

import os
import stat
from pathlib import Path

_ROOTS = Path("/var/lib/swept-shelf")


def own_folder(kind: str) -> Path:
    """`kind`: data, state or config."""
    import platformdirs

    usual = Path(getattr(platformdirs, f"user_{kind}_path")("swept-shelf"))
    return usual if os.geteuid() != 0 or only_root_can_change(usual) else _ROOTS / kind


def only_root_can_change(path: Path) -> bool:
    """Whether nobody but root can put another thing in the place of `path` or of a folder above it, or write to it."""
    for place in (path, *path.parents):
        try:
            status = place.lstat()
        except (FileNotFoundError, NotADirectoryError):
            continue
        open_to_all = status.st_mode & 0o022 and not status.st_mode & stat.S_ISVTX
        if stat.S_ISLNK(status.st_mode) or status.st_uid != 0 or open_to_all:
            return False
    return True
