"""Files that a tool of the system makes of others: the base of types of files, the list of a theme's icons, compiled schemas.

What was made still names a part that is gone until it is made anew. Here it is made of copies, in a folder of our own, by this
computer's own tool, which can write nowhere else; whoever asked compares it with what stands there."""

from __future__ import annotations

import os
import re
import stat
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.operations import WhatIsMade
from swept_shelf.core.documents.paths import base, join, parent, within
from swept_shelf.core.machine.commands import available, run
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import MOST, Machine
from swept_shelf.core.machine.scratch import scratch_folder


@dataclass(frozen=True, slots=True)
class Made:
    """What is made, by the first of `commands` that is here. `main`: the file without which nothing was ever made in a folder;
    `part`: the folder, and what in it something is made of."""

    what: str
    commands: tuple[str, ...]
    options: tuple[str, ...]
    main: str
    part: re.Pattern[str]


MADE: dict[WhatIsMade, Made] = {
    "mime": Made(
        "types of files",
        ("update-mime-database",),
        (),
        "mime.cache",
        re.compile(r"(/.+/mime)/packages/[^/]+\.xml"),
    ),
    "icons": Made(
        "icons",
        ("gtk-update-icon-cache", "gtk4-update-icon-cache"),
        ("-q", "-f", "-t"),
        "icon-theme.cache",
        re.compile(r"(/.+?/icons/[^/]+)/.+\.(?:png|svg|svgz|xpm|icon)"),
    ),
    "schemas": Made(
        "schemas of settings",
        ("glib-compile-schemas",),
        (),
        "gschemas.compiled",
        re.compile(r"(/.+/glib-2\.0/schemas)/[^/]+\.(?:gschema\.xml|gschema\.override|enums\.xml)"),
    ),
}
_NEAR = ("/mime/", "/icons/", "/glib-2.0/")
# What update-mime-database(1) writes straight into its folder; each type besides has a file that says who wrote it.
_BASE = frozenset(
    {
        "aliases",
        "generic-icons",
        "globs",
        "globs2",
        "icons",
        "magic",
        "mime.cache",
        "subclasses",
        "treemagic",
        "types",
        "version",
        "XMLnamespaces",
    }
)
_WRITTEN_BY_TOOL = b"<!--Created automatically by update-mime-database. DO NOT EDIT!-->"
_MOST_PARTS, _MOST_BYTES = 200_000, 256 << 20


def made_of(path: str) -> Iterator[tuple[WhatIsMade, str]]:
    """(key of MADE, folder) of everything that may be made of a path."""
    if any(n in path for n in _NEAR):
        for key, made in MADE.items():
            if found := made.part.fullmatch(path):
                yield key, found[1]


def command_of(key: WhatIsMade) -> str:
    """The tool that is on this computer; "" where none is."""
    return next((c for c in MADE[key].commands if available(c)), "")


def standing(machine: Machine, key: WhatIsMade, folder: str) -> dict[str, bytes]:
    """What its tool made that stands in a folder now, by name below it: files with one name alone, of whoever's."""
    names = [MADE[key].main]
    if key == "mime":
        names = [n for n in machine.names(folder) if n in _BASE]
        names += [f"{m}/{n}" for m in _media(machine, folder) for n in machine.names(join(folder, m))]
    found = {}
    for name in names:
        status = machine.lstat(join(folder, name))
        if status is None or not stat.S_ISREG(status.st_mode) or status.st_nlink > 1:
            continue
        data = machine.read_bytes(join(folder, name))
        if "/" not in name or _WRITTEN_BY_TOOL in data[:400]:
            found[name] = data
    return found


def _media(machine: Machine, folder: str) -> list[str]:
    """The folders of a base of types, one for each kind of medium."""
    return [
        n
        for n in machine.names(folder)
        if n != "packages" and (s := machine.lstat(join(folder, n))) and stat.S_ISDIR(s.st_mode)
    ]


def make(machine: Machine, key: WhatIsMade, folder: str) -> dict[str, bytes]:
    """What its tool makes of what stands in a folder now, by name below it. Raises CouldNotRead, with what it says."""
    command = command_of(key)
    if not command:
        raise CouldNotRead(f"the command {MADE[key].commands[0]} is not on this computer", folder)
    try:
        with scratch_folder() as place:
            _copy(machine, key, folder, place)
            done = run(
                command,
                *MADE[key].options,
                str(place),
                writable=str(place),
                environment={"PKGSYSTEM_ENABLE_FSYNC": "0"},
            )
            if done.status:
                last = done.err.strip().splitlines()[-1:]
                raise CouldNotRead(f"{command} ended with {done.status}: {''.join(last)[:200]}", folder)
            return _written(key, place)
    except OSError as error:
        raise CouldNotRead(error.strerror or str(error), folder) from None


def _copy(machine: Machine, key: WhatIsMade, folder: str, place: Path) -> None:
    """The parts, in a folder of our own: of pictures the names alone, for more of them is not looked at. Raises CouldNotRead."""
    left = _MOST_BYTES
    for number, name in enumerate(_parts(machine, key, folder)):
        if number >= _MOST_PARTS or left < 0:
            raise CouldNotRead("holds more parts than are put together", folder)
        data = b""
        if key != "icons" or name.endswith(".icon"):
            data = machine.read_bytes(_read_from(machine, folder, name))
            left -= len(data)
        (place / parent("/" + name)[1:]).mkdir(parents=True, exist_ok=True)
        (place / name).write_bytes(data)
    if key == "mime":
        (place / "packages").mkdir(exist_ok=True)


def _read_from(machine: Machine, folder: str, name: str) -> str:
    """Where a part is read: a link leads to nothing that whoever owns the folder could not read. Raises CouldNotRead."""
    path = join(folder, name)
    real, above = machine.resolve(path), machine.lstat(folder)
    status = machine.lstat(real) if real else None
    if real is None or status is None or above is None:
        raise CouldNotRead("leads nowhere", path)
    if real != path and status.st_uid != above.st_uid and not within(real, "/usr"):
        raise CouldNotRead("is a link to somebody else’s file", path)
    return real


def _parts(machine: Machine, key: WhatIsMade, folder: str) -> Iterator[str]:
    """Names, below a folder, of what something is made of there."""
    part = MADE[key].part
    if key == "icons":
        with machine.folder(folder) as top:
            for path, _, names in folders_below(top):
                yield from (
                    inside
                    for n in names
                    if part.fullmatch(join(folder, inside := f"{path}/{n}" if path else n))
                    and _is_picture(machine, join(folder, inside))
                )
        return
    below = "packages/" if key == "mime" else ""
    for name in machine.listdir(join(folder, below.rstrip("/")) if below else folder):
        if part.fullmatch(join(folder, below + name)):
            yield below + name


def _is_picture(machine: Machine, path: str) -> bool:
    """Whether a name is a file's, or leads to one."""
    real = machine.resolve(path)
    status = machine.lstat(real) if real else None
    return status is not None and stat.S_ISREG(status.st_mode)


def _written(key: WhatIsMade, place: Path) -> dict[str, bytes]:
    """What the tool left there beside the parts."""
    found = {}
    for above, folders, names in os.walk(place):
        folders[:] = [f for f in folders if f != "packages"]
        for name in names:
            path = Path(above, name)
            inside = str(path.relative_to(place))
            if key != "mime" and inside != MADE[key].main:
                continue
            if path.is_symlink() or path.stat().st_size > MOST:
                raise CouldNotRead(f"{base('/' + inside)} is no file that could be taken over")
            found[inside] = path.read_bytes()
    return found
