"""People: accounts with a home. A person is whose home it is, not which uid owns a file."""

from __future__ import annotations

import pwd
from collections.abc import Iterator

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.numbers import whole
from swept_shelf.core.documents.paths import base, is_clean, spelled, within
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.machine import Machine, type_of

EVERYONE = "everyone"
_LOCKED = ("Access-Your-Private-Data.desktop",)  # what an encrypted home shows while it is locked
_FIRST, _NOBODY, _LARGEST_ID = 1000, (65534, 65535), (1 << 32) - 2


def read_people(machine: Machine) -> list[Person]:
    """Accounts of people in the root's own passwd(5); on this computer's own root those of the network too, as the name
    services know them (getpwuid(3)); then homes that no account names, also one folder down (/home/DOMAIN/NAME)."""
    found: dict[str, Person] = {}
    for line in machine.text("/etc/passwd").splitlines():
        parts = line.split(":")
        uid = whole(parts[2], _LARGEST_ID) if len(parts) >= 7 else None
        if uid is None or not is_clean(parts[5]):
            continue
        name, home = spelled(parts[0]), parts[5]
        if (_is_person(uid) or uid == 0) and home not in found and home != "/" and machine.exists(home):
            found[home] = Person(name, uid, home, _readable(machine, home))
    for home in _homes_without_account(machine, set(found)):
        status = machine.lstat(home)
        if status is not None:
            found[home] = Person(
                _account(machine, status.st_uid) or spelled(base(home)),
                status.st_uid,
                home,
                _readable(machine, home),
            )
    return sorted(found.values(), key=lambda p: (p.uid == 0, p.name))


def homes_not_there(machine: Machine) -> list[tuple[str, str]]:
    """(name, home) of people's accounts whose home does not stand there: it may lie on a volume that is not mounted."""
    found = []
    for line in machine.text("/etc/passwd").splitlines():
        parts = line.split(":")
        uid = whole(parts[2], _LARGEST_ID) if len(parts) >= 7 else None
        if uid is not None and _is_person(uid) and is_clean(parts[5]) and not machine.exists(parts[5]):
            found.append((spelled(parts[0]), parts[5]))
    return found


def _homes_without_account(machine: Machine, known: set[str]) -> Iterator[str]:
    for name in machine.names("/home"):
        home = f"/home/{name}"
        status = machine.lstat(home)
        if (
            home in known
            or name.startswith(".")
            or name == "lost+found"
            or status is None
            or type_of(status.st_mode) != "folder"
        ):
            continue
        inner = [f"{home}/{n}" for n in machine.names(home)] if status.st_uid == 0 else []
        below = [
            h
            for h in inner
            if (s := machine.lstat(h)) and type_of(s.st_mode) == "folder" and _is_person(s.st_uid)
        ]
        if below and len(below) == len(
            inner
        ):  # a domain's folder: root's own, with nothing but people's homes in it
            yield from (h for h in below if h not in known)
        elif not any(k.startswith(home + "/") for k in known):
            yield home


def _is_person(uid: int) -> bool:
    """Accounts of people begin at 1000 (login.defs(5)); those of a network lie far above; nobody is none."""
    return uid >= _FIRST and uid not in _NOBODY


def _account(machine: Machine, uid: int) -> str:
    """The account's name by this computer's name services; only its own root is asked about."""
    if not machine.live or uid < _FIRST:
        return ""
    try:
        return pwd.getpwuid(uid).pw_name
    except KeyError:
        return ""


def person_of(people: list[Person], path: str) -> str:
    """Whose home `path` lies in, else everyone's."""
    return next((p.name for p in people if within(path, p.home)), EVERYONE)


def _readable(machine: Machine, home: str) -> str:
    try:
        machine.listdir(home)
    except CouldNotRead:
        return "none"
    if any(machine.exists(f"{home}/{name}") for name in _LOCKED):
        return "none"
    for name in (".config", ".local", ".local/share", ".cache"):
        try:
            machine.listdir(f"{home}/{name}")
        except CouldNotRead as error:
            if error.reason == "may not be read":
                return "part"
    return "all"
