"""Sign: when a program's own files were last read (access time), with the mount's real behaviour."""

from __future__ import annotations

from datetime import datetime

from swept_shelf.core.documents.survey import Sign, Volume
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.tree.walk import Tree

KIND = "program read"
_INSTALL_GRAIN = 2 * 86400


def behaviour(volumes: list[Volume]) -> str:
    """What access times are worth here: noatime, relatime or strictatime, by the root's volume."""
    options = volumes[0].options.split(",") if volumes else []
    return "noatime" if "noatime" in options else "strictatime" if "strictatime" in options else "relatime"


def sign(tree: Tree, executables: list[str], installed: datetime | None, volumes: list[Volume], now: datetime) -> Sign | None:
    """The newest access time among an application's executables; None where the mount keeps none."""
    newest, source = 0, ""
    for path in executables:
        read = tree.accessed(path)
        if read is not None and read > newest:
            options = volume_of(volumes, path).options.split(",")
            if "noatime" not in options:
                newest, source = read, path
    if not source:
        return None
    at, aside = from_ns(newest), ""
    if installed is None and (entry := tree.entry(source)) is not None:
        installed = from_ns(entry.mtime_ns)  # no registry knows when it came: as old as its file at least
    if installed is not None and (at - installed).total_seconds() < _INSTALL_GRAIN:
        aside = "no later than its installation"
    elif at > now:
        aside = "lies in the future"
    elif newest <= 0:
        aside = "is zero"
    return Sign(KIND, at, None, "", source, "weak", "backups and indexers read programs too", aside)
