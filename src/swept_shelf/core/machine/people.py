"""People: accounts with a home. A person is whose home it is, not which uid owns a file."""

from __future__ import annotations

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import is_clean, within
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.machine import Machine

EVERYONE = "everyone"


def read_people(machine: Machine) -> list[Person]:
    """Accounts of people in the root's own passwd(5), then homes that no account names."""
    found: dict[str, Person] = {}
    for line in machine.read_text("/etc/passwd", default="").splitlines():
        parts = line.split(":")
        if len(parts) < 7 or not parts[2].isdigit() or not is_clean(parts[5]):
            continue
        name, uid, home = parts[0], int(parts[2]), parts[5]
        if (1000 <= uid < 65534 or uid == 0) and home not in found and home != "/" and machine.exists(home):
            found[home] = Person(name, uid, home, _readable(machine, home))
    for name in machine.names("/home"):
        home = f"/home/{name}"
        status = machine.lstat(home)
        if home not in found and not name.startswith(".") and name != "lost+found" and status and status.st_nlink > 1:
            found[home] = Person(name, status.st_uid, home, _readable(machine, home))
    return sorted(found.values(), key=lambda p: (p.uid == 0, p.name))


def person_of(people: list[Person], path: str) -> str:
    """Whose home `path` lies in, else everyone's."""
    return next((p.name for p in people if within(path, p.home)), EVERYONE)


def _readable(machine: Machine, home: str) -> str:
    try:
        machine.listdir(home)
    except CouldNotRead:
        return "none"
    for name in (".config", ".local", ".local/share", ".cache"):
        try:
            machine.listdir(f"{home}/{name}")
        except CouldNotRead as error:
            if error.reason == "may not be read":
                return "part"
    return "all"
