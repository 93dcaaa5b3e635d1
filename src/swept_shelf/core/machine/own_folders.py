"""Where this program keeps its own: in the person's folders (XDG Base Directory Specification), by platformdirs.

Root's own stand below /var/lib/swept-shelf where those folders lie on another's path: sudo may keep that person's HOME."""

from __future__ import annotations

import os
import stat
from pathlib import Path

ROOTS = Path("/var/lib/swept-shelf")
_LONGEST_WAY = 40


def own_folder(kind: str) -> Path:
    """`kind`: data, state or config."""
    import platformdirs

    usual = Path(getattr(platformdirs, f"user_{kind}_path")("swept-shelf"))
    return usual if os.geteuid() != 0 or only_root_can_change(usual) else ROOTS / kind


def only_root_can_change(path: Path) -> bool:
    """Whether nobody but root can put another thing in the place of `path` or of a folder above it, or write to it."""
    for place in (path, *path.parents):
        try:
            status = place.lstat()
        except (FileNotFoundError, NotADirectoryError):
            continue
        if stat.S_ISLNK(status.st_mode) or _open_to_others(status):
            return False
    return True


def changeable_by_others(program: Path) -> str:
    """What of a program somebody but root could change: itself, what is in it, a folder above, a link on the way; "" for nothing.

    Raises OSError where it is not there."""
    ways, steps = [program.absolute()], 0
    while ways and steps < _LONGEST_WAY:
        way, steps = ways.pop(), steps + 1
        for place in reversed((way, *way.parents)):
            status = place.lstat()
            if not stat.S_ISLNK(status.st_mode):
                if _open_to_others(status):
                    return str(place)
            elif status.st_uid != 0:
                return str(place)
            else:  # whoever may change what the link leads to, changes the program
                ways.append(place.parent / place.readlink() / way.relative_to(place))
                break
    if ways:
        return f"{program} (links without end)"
    for folder, _, files in os.walk(program.resolve(strict=True)):
        for place in (Path(folder), *(Path(folder, f) for f in files)):
            if _open_to_others(place.lstat()):
                return str(place)
    return ""


def _open_to_others(status: os.stat_result) -> bool:
    said = 0 if stat.S_ISLNK(status.st_mode) else status.st_mode
    return status.st_uid != 0 or bool(said & 0o022 and not said & stat.S_ISVTX)
