"""The verdict “move data”: what an application keeps goes to another volume, and a link stands in its place."""

from __future__ import annotations

from swept_shelf.core.documents.paths import is_clean, within
from swept_shelf.core.documents.survey import Application, Belonging, LeftBehind, Volume
from swept_shelf.core.documents.terms import Kind, Share
from swept_shelf.core.machine.volumes import volume_of

_KINDS = (Kind.SUPPORT, Kind.CACHE, Kind.STATE)
_SMALLEST = 1 << 20  # less is not worth a link, unless it is ticked by hand


def movable(entry: Application | LeftBehind) -> list[Belonging]:
    """Data that is its alone: never programs, settings, or what lies inside another that goes. Only folders are moved."""
    if not isinstance(entry, Application):
        return []
    pointers = {r.path for r in entry.references}
    found = [
        b
        for b in entry.belongings
        if b.is_path and b.kind in _KINDS and b.share == Share.SOLE and b.path not in pointers
    ]
    return [b for b in found if not any(o is not b and within(b.path, o.path) for o in found)]


def large(b: Belonging) -> bool:
    return b.bytes >= _SMALLEST


def why_not_to(to: str, paths: list[str], volumes: list[Volume]) -> str:
    """Why these may not go into the folder `to`; "" where they may."""
    if not is_clean(to) or to == "/":
        return "is no folder that anything could be moved to"
    there = volume_of(volumes, to).id
    for path in paths:
        if within(to, path):
            return f"lies inside {path}"
        if volume_of(volumes, path).id == there:
            return f"lies on the same volume as {path}"
    return ""


def target(to: str, path: str) -> str:
    """Where a path stands below the folder it is moved to: the whole path again, so that no two meet."""
    return f"{to.rstrip('/')}{path}"
