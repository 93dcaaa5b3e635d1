"""What stands on a box beside its name: drawings that say why something is not a plain case."""

from __future__ import annotations

from collections.abc import Collection
from enum import StrEnum

from swept_shelf.core.documents.comparison import Comparison, What
from swept_shelf.core.documents.survey import Application


class Mark(StrEnum):
    """The value is the name of the drawing."""

    LOGIN = "login"
    RUNNING = "running"
    NEEDED = "needed"
    VERSION = "version"
    UNKNOWN = "unknown"
    NEW = "new"


MARK_WORDS: dict[str, str] = {
    Mark.LOGIN: "starts at login",
    Mark.RUNNING: "is running",
    Mark.NEEDED: "something else needs it",
    Mark.VERSION: "another version of it is here",
    Mark.UNKNOWN: "nothing says what it is",
    Mark.NEW: "came since the last visit",
}


def marks_of(app: Application, came: Collection[str]) -> tuple[Mark, ...]:
    """In the order in which they are dropped last where there is little room. `came`: lines that the last visit did not know."""
    on = {
        Mark.RUNNING: bool(app.running),
        Mark.LOGIN: any(s.how == "login" and s.enabled for s in app.starts),
        Mark.NEEDED: bool(app.needed_by),
        Mark.NEW: app.id in came,
        Mark.VERSION: bool(app.other_versions or app.also_here_as),
        Mark.UNKNOWN: app.registry == "files" and not app.launchers and not app.summary,
    }
    return tuple(mark for mark, stands in on.items() if stands)


def came_since(since: Comparison | None) -> frozenset[str]:
    """What a comparison with the last visit says that it did not know."""
    return frozenset(c.id for c in since.changes if c.what == What.CAME) if since else frozenset()
