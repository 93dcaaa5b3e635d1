"""Sign: records of use that desktops keep: application_state (XML), activity databases (SQLite)."""

from __future__ import annotations

from collections.abc import Iterator
from sqlite3 import Connection
from xml.parsers import expat

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.databases import copied_database
from swept_shelf.core.use.trace import GOOD, Look, Trace

KIND = "desktop’s record"
_STATE = ".local/share/gnome-shell/application_state"
_RESOURCES = ".local/share/kactivitymanagerd/resources/database"
_ACTIVITIES = ".local/share/zeitgeist/activity.sqlite"
_LIMIT = 200_000  # rows of one database, the newest first


def look(at: Look) -> None:
    for person in at.people:
        path = f"{person.home}/{_STATE}"
        if at.machine.exists(path):
            try:
                rows = [(name, when, line) for name, when, line in _states(at.machine.read_text(path))]
                at.saw(KIND)
                for name, when, line in rows:
                    _note(at, person, path, name, when, line)
            except (CouldNotRead, ValueError) as error:
                at.trouble(path, getattr(error, "reason", str(error)))
        for name, read in ((_RESOURCES, _resources), (_ACTIVITIES, _activities)):
            path = f"{person.home}/{name}"
            if at.machine.exists(path):
                try:
                    with copied_database(at.machine, path) as db:
                        for called, when in read(db):
                            _note(at, person, path, called, when)
                    at.saw(KIND)
                except CouldNotRead as error:
                    at.trouble(error.path or path, error.reason)


def _note(at: Look, person: Person, path: str, called: str, when: int, line: int = 0) -> None:
    name = called.removeprefix("applications:").removeprefix("application://")
    if id := at.launched(name) or at.command(name):
        at.traces.append(
            Trace(id, KIND, when, person.name, path, GOOD, None, line, "", at.timely(when), name)
        )


def _states(text: str) -> list[tuple[str, int, int]]:
    """(launcher, seconds, line) of an application_state. Raises ValueError when it is not well-formed."""
    found: list[tuple[str, int, int]] = []
    parser = expat.ParserCreate()

    def start(name: str, attributes: dict[str, str]) -> None:
        seen = attributes.get("last-seen", "")
        if name == "application" and seen.isdigit() and len(seen) < 13:
            found.append((attributes.get("id", ""), int(seen), parser.CurrentLineNumber))

    def refuse(*_: object) -> None:
        raise ValueError("declares entities")

    parser.StartElementHandler, parser.EntityDeclHandler = start, refuse
    try:
        parser.Parse(text.encode("utf-8", "surrogateescape"), True)
    except expat.ExpatError as error:
        raise ValueError(f"is not well-formed: {error}") from None
    return found


def _resources(db: Connection) -> Iterator[tuple[str, int]]:
    """What was started, and what opened something (seconds)."""
    events = db.execute(
        'SELECT targettedResource, initiatingAgent, max(start, coalesce("end", 0)) FROM ResourceEvent '
        "GROUP BY rowid ORDER BY start DESC LIMIT ?",
        (_LIMIT,),
    )
    for resource, agent, at in events:
        if (when := _moment(at)) is not None:
            yield str(resource) if str(resource).startswith("applications:") else str(agent), when
    for resource, agent, at in db.execute(
        "SELECT targettedResource, initiatingAgent, lastUpdate FROM ResourceScoreCache LIMIT ?", (_LIMIT,)
    ):
        if (when := _moment(at)) is not None:
            yield str(resource) if str(resource).startswith("applications:") else str(agent), when


def _activities(db: Connection) -> Iterator[tuple[str, int]]:
    """Who did something, by the log of events (milliseconds)."""
    for actor, at in db.execute(
        "SELECT a.value, max(e.timestamp) FROM event e JOIN actor a ON a.id = e.actor "
        "GROUP BY a.value, e.timestamp / 86400000 LIMIT ?",
        (_LIMIT,),
    ):
        if (when := _moment(at)) is not None:
            yield str(actor), when // 1000


def _moment(value: object) -> int | None:
    """A time as the database should hold it; None for a column that holds something else."""
    return value if isinstance(value, int) and 0 <= value < 1 << 50 else None
