"""Reads AppImage files in the usual places: an ELF program whose bytes 8 to 10 are `AI` and the type's number.

Type 2 carries a squashfs image behind the ELF's section headers; its launcher is read from there."""

from __future__ import annotations

import os
from collections.abc import Iterator

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.commands import parse_entry
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.images import image_behind, text_inside

_PERSONAL = (
    "",
    "/Applications",
    "/Downloads",
    "/Desktop",
    "/bin",
    "/.local/bin",
    "/.local/opt",
    "/.local/share/applications",
    "/AppImages",
)
_SYSTEM = ("/opt", "/usr/local/bin", "/usr/local/share/applications", "/Applications")
_SMALLEST = 4096


def read(reading: Reading) -> None:
    reading.each(list(_candidates(reading)), lambda path: _one(reading, path))


def _candidates(reading: Reading) -> Iterator[str]:
    """Regular files large enough to be one, directly in the usual places (two folders down below /opt)."""
    tree = reading.tree
    tops = [*_SYSTEM, *(f"{home}{p}" for _, home in reading.homes() for p in _PERSONAL)]
    folders = [t for t in tops if tree.kind(t) == "folder"]
    folders += [
        c
        for t in ("/opt", *(f"{home}/.local/opt" for _, home in reading.homes()))
        for c in tree.children(t)
        if tree.kind(c) == "folder"
    ]
    for folder in dict.fromkeys(folders):
        for child in tree.children(folder):
            entry = tree.entry(child)
            if entry is not None and entry.type == "file" and entry.identity.size >= _SMALLEST:
                yield child


def _one(reading: Reading, path: str) -> None:
    try:
        fd = reading.machine.open(path)
    except OSError as error:
        if error.errno != 13:  # another's file: only a home that may be read is looked into
            raise CouldNotRead(error.strerror or str(error), path) from None
        return
    with os.fdopen(fd, "rb") as handle:
        head = handle.read(64)
        if len(head) < 64 or head[:4] != b"\x7fELF" or head[8:10] != b"AI" or head[10] not in (1, 2):
            return
        keys: dict[str, str] = {}
        if head[10] == 2:
            try:
                keys = {
                    k: v
                    for k, (_, v) in parse_entry(
                        text_inside(handle, image_behind(head), "", ".desktop", path)
                    ).items()
                }
            except CouldNotRead as error:
                reading.trouble(path, error.reason)
    whose = person_of(reading.people, path)
    name = keys.get("Name") or base(path).rsplit(".", 1)[0]
    reading.found.append(
        Registered(
            id=f"appimage:{path}",
            name=name,
            version=keys.get("X-AppImage-Version", ""),
            registry="appimage",
            source="AppImage file",
            tops=(path,),
            receipt=path,
            type="terminal" if keys.get("Terminal", "").lower() == "true" else "desktop",
            summary=keys.get("Comment", ""),
            icon=keys.get("Icon", ""),
            person="" if whose == EVERYONE else whose,
            executables=(path,),
        )
    )
