"""The verdict “stop starting”: everything that starts an application by itself is turned off, and it stays."""

from __future__ import annotations

from swept_shelf.core.documents.survey import Application, LeftBehind
from swept_shelf.core.references.kinds import KINDS

_CALLED = ("D-Bus service",)  # starts it only where somebody asks for it
_OF_FILES = ("login", "schedule")


def to_stop(entry: Application | LeftBehind) -> tuple[list[str], list[str]]:
    """(its own files that start it, references that do, by id): what is in effect now."""
    if not isinstance(entry, Application):
        return [], []
    references = [
        r
        for r in entry.pointers
        if r.in_effect and r.action == "take_out" and KINDS[r.kind].starts and r.kind not in _CALLED
    ]
    elsewhere = {r.path for r in references}
    own = {b.path for b in entry.belongings if b.is_path}
    files = [
        s.path
        for s in entry.starts
        if s.enabled and s.how in _OF_FILES and s.path in own and s.path not in elsewhere
    ]
    return list(dict.fromkeys(files)), [r.id for r in references]
