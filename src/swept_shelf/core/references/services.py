"""Services: D-Bus activation files, units in the administrator's and people's folders, and units enabled by link."""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees
from swept_shelf.core.registries.launchers import command_words, program_of

_BESIDE, _MOST = (".wants", ".requires", ".upholds"), 1 << 20

FAMILY = "services"
_UNIT_FOLDERS = ("/etc/systemd/system", "/etc/systemd/user")
_KEY = re.compile(r"^(Exec|ExecStart|ExecStartPre|ExecStop|Name)\s*=\s*[-@:+!]*(.*)$")


def bus_places(home: str | None) -> list[str]:
    if home:
        return [f"{home}/.local/share/dbus-1/services"]
    return [
        "/usr/local/share/dbus-1/services",
        "/usr/local/share/dbus-1/system-services",
        "/etc/dbus-1/services",
    ]


def unit_places(home: str | None) -> list[str]:
    return [f"{home}/.config/systemd/user"] if home else list(_UNIT_FOLDERS)


def find_bus(path: str, text: str, to: Pointees) -> Iterator[Hit]:
    for number, line in enumerate(text.split("\n"), 1):
        if match := _KEY.match(line):
            id = (
                to.bus(match[2].strip())
                if match[1] == "Name"
                else to.program(program_of(command_words(match[2])))
            )
            if id:
                yield Hit(
                    id,
                    FAMILY,
                    "D-Bus service",
                    path,
                    number,
                    match[1],
                    line,
                    "the message bus starts it",
                    True,
                )
                return


def find_units(
    machine: Machine, folder: str, owned: set[str], to: Pointees, trouble: Callable[[str, str], None]
) -> Iterator[Hit]:
    """Links that enable or rename a unit of it, and units written by hand that start it."""
    try:
        names = machine.listdir(folder)
    except CouldNotRead as error:
        trouble(folder, error.reason)
        return
    for name in names:
        path = f"{folder}/{name}"
        if name.endswith(_BESIDE) and not folder.endswith(_BESIDE):
            yield from find_units(machine, path, owned, to, trouble)
        elif target := machine.readlink(path):
            if id := to.unit(base(target)) if "/" in target else to.unit(target):
                where = base(folder).rpartition(".")[0] or base(folder)
                yield Hit(
                    id, FAMILY, "unit link", path, 0, target, f"-> {target}", f"starts with {where}", True
                )
        elif name.endswith((".service", ".timer", ".socket")) and path not in owned:
            try:
                text = machine.read_text(path, most=_MOST)
            except CouldNotRead as error:
                trouble(path, error.reason)
                continue
            for number, line in enumerate(text.split("\n"), 1):
                if (match := _KEY.match(line)) and (id := to.program(program_of(command_words(match[2])))):
                    yield Hit(
                        id,
                        FAMILY,
                        "unit",
                        path,
                        number,
                        match[1],
                        line,
                        "a unit written by hand starts it",
                        True,
                    )
                    break
