"""Units, timers, sockets and the like that were written by hand (systemd.unit(5)): whole where they are there to start it. What one
that works for another program does besides is a line of it (unit_line.py)."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.grammars.commands import command_words, program_of
from swept_shelf.core.grammars.key_file import Group, Item, groups_of
from swept_shelf.core.references.building import whole_file
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import of_exec, of_words, one

FOLDERS = (
    "/etc/systemd/system",
    "/run/systemd/system",
    "/usr/local/lib/systemd/system",
    "/etc/systemd/user",
    "/usr/local/lib/systemd/user",
    "/usr/lib/systemd/system",
    "/usr/lib/systemd/user",
)
TYPES = ("service", "timer", "socket", "path", "mount", "automount", "target", "slice")


def is_beside(group: Group, item: Item) -> bool:
    """Whether something is not what a service is there for: a command where another one is, or one of several; a socket or a name
    on the bus where a command says what it is there for."""
    work = [i for i in group.items if i.key == "ExecStart" and i.value]
    programs = {program_of(command_words(i.value.lstrip("-@:+!| "))) for i in work}
    if group.name in ("Socket", "Mount", "Swap"):
        return item.key.startswith("Exec")
    its_own = item.key.startswith("Exec") or (group.name == "Service" and item.key in ("Sockets", "BusName"))
    return its_own and bool(work) and (item.key != "ExecStart" or len(programs) > 1)


def watches(group: Group, item: Item) -> bool:
    """Whether it is what a path unit waits for."""
    return group.name == "Path" and item.key.startswith(("Path", "Directory", "File"))


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path)
    for group in groups_of(text, comments="#;"):
        for item in group.items:
            if is_beside(group, item):
                continue
            if item.key.startswith("Exec"):
                yield whole_file(
                    item.number, item.key, item.text, of_exec(item.value), "a unit written by hand starts it"
                )
            elif item.key in ("Unit", "Service", "Sockets") and group.name in (
                "Timer",
                "Socket",
                "Path",
                "Service",
            ):
                yield whole_file(
                    item.number,
                    item.key,
                    item.text,
                    one(By.UNIT, item.value),
                    "a unit written by hand starts it",
                )
            elif item.key == "BusName":
                yield whole_file(
                    item.number,
                    item.key,
                    item.text,
                    one(By.BUS, item.value),
                    "a unit written by hand waits for its name",
                )
            elif watches(group, item) and sum(watches(group, i) for i in group.items) == 1:
                watched = one(By.PATH, item.value)
                entry = whole_file(
                    item.number, item.key, item.text, watched, "a unit written by hand watches it"
                )
                yield replace(entry, ask=True)  # what it starts may be another's
            elif item.key in ("Type", "What", "Options") and group.name == "Mount":
                kind = item.value.removeprefix("fuse.")
                helpers = (kind, f"mount.{kind}", f"/usr/sbin/mount.{kind}")
                targets = (*(Target(By.COMMAND, h) for h in helpers), *of_words(item.value))
                yield whole_file(item.number, item.key, item.text, targets, "a volume is mounted with it")
            elif item.key == "User" and group.name == "Service":
                account = one(By.ACCOUNT, item.value)
                entry = whole_file(
                    item.number, item.key, item.text, account, "a unit written by hand runs as its account"
                )
                yield replace(entry, ask=True)
    stem, _, type = name.rpartition(".")
    if type in ("timer", "socket", "path") or not text.strip():
        yield whole_file(
            1,
            name,
            text.split("\n", 1)[0] or "(empty: masked)",
            (Target(By.UNIT, name), Target(By.UNIT, f"{stem}.service")),
            "a unit in place of its own" if text.strip() else "masks its unit",
            bool(text.strip()),
        )
    elif parent(path).startswith(("/etc", "/run", "/usr/local")) or ".config" in path:
        yield whole_file(1, name, text.split("\n", 1)[0], one(By.UNIT, name), "a unit in place of its own")


KIND = Kind(
    "unit",
    "startup",
    ("unit", "units"),
    (
        *(Place(f"{folder}/*.{type}", rank) for rank, folder in enumerate(FOLDERS) for type in TYPES),
        *(Place(f"~config/systemd/user/*.{type}") for type in TYPES),
        *(Place(f"~data/systemd/user/*.{type}", 1) for type in TYPES),
    ),
    _parse,
    whole=True,
    masks=True,
    starts="service",
)
