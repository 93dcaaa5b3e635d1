"""Programs that the machine starts by itself: at login, by a schedule, as a service, for thumbnails or for search."""

from __future__ import annotations

import re

from swept_shelf.core.documents.command_folders import COMMAND_FOLDERS
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.grammars.commands import command_words, program_of
from swept_shelf.core.references.kinds import KINDS
from swept_shelf.core.use.schedule_times import Schedule, crontab, timers
from swept_shelf.core.use.trace import Look, Subject

LOGIN, SCHEDULE, SERVICE = (
    "started at login, not by a person",
    "started by a schedule",
    "started as a service",
)
THUMBNAILS, SEARCH = "started for thumbnails", "started for a search of the desktop"
_BY_REFERENCE = {"login": LOGIN, "schedule": SCHEDULE}
_EXEC = re.compile(r"^\s*(?:Exec|TryExec|ExecStart)\s*=\s*[-@:+!]*(.+)$", re.M)


def started_unasked(subject: Subject, at: Look) -> dict[str, str]:
    """Path of a program to how it is started without anybody's asking; only what is in effect counts. A helper of its own that is
    started so counts under its path."""
    found: dict[str, str] = {}
    own = set(subject.files)

    def note(word: str, how: str) -> None:
        if word.startswith("/") and word in own:
            found.setdefault(word, how)
        for path in subject.app.executables:
            if word and (path == word or base(path) == base("/" + word)):
                found.setdefault(path, how)

    for r in subject.references:
        if r.in_effect and (how := _BY_REFERENCE.get(KINDS[r.kind].starts)):
            for word in re.findall(r"[\w./+-]+", r.text):
                note(word, how)
    enabled = {
        base("/" + name)
        for r in subject.references
        if r.in_effect and KINDS[r.kind].links and KINDS[r.kind].starts
        for name in (r.path, r.key)
    }
    for path in subject.files:
        how, texts = _file_that_starts(path, enabled), _EXEC
        if not how or (how == SEARCH and not _is_asked(path, at)):
            continue
        try:
            text = at.machine.read_text(path)
        except CouldNotRead:
            continue
        if how == SEARCH and (name := re.search(r"^BusName\s*=\s*(\S+)", text, re.M)):
            service = f"/usr/share/dbus-1/services/{name[1]}.service"
            text = at.machine.read_text(service) if service in at.tree else ""
        for command in texts.findall(text):
            note(program_of(command_words(command)), how)
    return found


def schedules_of(subject: Subject, at: Look) -> list[Schedule]:
    """When crontabs and timers start something of it, where they say so."""
    found = []
    for r in subject.references:
        if r.in_effect and KINDS[r.kind].starts == "schedule" and (schedule := crontab(r.text)):
            found.append(schedule)
    for path in subject.files:
        if path.startswith(("/etc/cron.", "/etc/cron.d/")):
            found += _of_cron_file(path, at)
        elif "/systemd/" in path and path.endswith(".timer"):
            found += timers(at.machine.text(path))
    return list(dict.fromkeys(found))


def _of_cron_file(path: str, at: Look) -> list[Schedule]:
    """A table of the package's own; a script in cron.daily and the like runs when the system's table says so."""
    lines = at.machine.text(path).splitlines()
    if not path.startswith("/etc/cron.d/"):
        folder = path.rsplit("/", 1)[0]
        lines = [line for line in at.machine.text("/etc/crontab").splitlines() if f"{folder} " in f"{line} "]
    return [s for line in lines if not line.lstrip().startswith("#") and (s := crontab(line))]


def _is_asked(path: str, at: Look) -> bool:
    """Whether what asks those that a search is told of is on this machine: their folder lies in one that is called like it."""
    asks = base(parent(parent(path)))
    return any(f"{folder}/{asks}" in at.tree for folder in COMMAND_FOLDERS)


def _file_that_starts(path: str, enabled: set[str]) -> str:
    if path.startswith("/etc/xdg/autostart/"):
        return LOGIN
    if path.endswith(".thumbnailer"):
        return THUMBNAILS
    if "/search-providers/" in path:
        return SEARCH
    if "/systemd/" in path and path.endswith(".service"):
        timer = base(path).removesuffix(".service") + ".timer"
        return SCHEDULE if timer in enabled else SERVICE if base(path) in enabled else ""
    if path.startswith(("/etc/cron.", "/etc/cron.d/")):
        return SCHEDULE
    return ""
