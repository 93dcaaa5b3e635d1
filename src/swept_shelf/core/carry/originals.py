"""Originals of packages: where they stand, each beside a sealed record, and checked against its digest before it is used.

They stand on the shelf of the root (RUN/originals), or in a folder of this computer that the technician named."""

from __future__ import annotations

import contextlib
import hashlib
import os
import stat
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.shelf import ORIGINALS, Slot, is_ours, make_folder, opened_shelf
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.operations import KeepOriginal
from swept_shelf.core.documents.paths import base, join
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.original import rebuild
from swept_shelf.core.registries.debian.read import automatic_packages, query

_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC


def elsewhere_folder(elsewhere: str, run: str) -> str:
    return f"{elsewhere.rstrip('/')}/swept-shelf-originals-{run}"


@contextlib.contextmanager
def originals_folder(
    machine: Machine, shelf: str, run: str, elsewhere: str, make: bool = False
) -> Iterator[int]:
    """The folder as a descriptor, this carrier's own: on `shelf`, or below `elsewhere` on this computer. Raises OSError."""
    if elsewhere:
        folder = elsewhere_folder(elsewhere, run)
        if make:
            Path(folder).mkdir(parents=True, exist_ok=True, mode=0o700)
        fd = os.open(folder, _FOLDER)
        try:
            if not is_ours(fd):
                raise PermissionError(1, "is not this carrier’s own folder", folder)
            yield fd
        finally:
            os.close(fd)
        return
    if make:
        make_folder(machine, join(shelf, run))
        with opened_shelf(machine, shelf, run) as above, contextlib.suppress(FileExistsError):
            os.mkdir(ORIGINALS, 0o700, dir_fd=above)
    with opened_shelf(machine, shelf, run, ORIGINALS) as fd:
        yield fd


def keep_original(machine: Machine, op: KeepOriginal, folder: int) -> dict[str, Any]:
    """Rebuild, check and describe one original. Raises CouldNotRead, Refused, OSError."""
    found = [p for p in query(machine, op.package) if p.installed]
    if not found or found[0].version != op.version:
        raise Refused(f"{op.package} is not installed in version {op.version} any more")
    package = found[0]
    automatic = package.name in set(automatic_packages(machine, {package.name: package}))
    made = rebuild(machine, package, f"/proc/self/fd/{folder}", op.as_it_is)
    kept = {
        "package": package.name,
        "version": package.version,
        "architecture": package.architecture,
        "file": base(made.file),
        "sha256": made.sha256,
        "bytes": made.bytes,
        "status": made.status,
        "automatic": automatic,
    }
    write_record(machine, folder, f"{base(made.file)}.json", kept)
    return kept


def kept_originals(machine: Machine, folder: int, packages: list[str]) -> list[dict[str, Any]]:
    """The originals of these packages, each checked against its digest. Raises CouldNotRead."""
    found = []
    for name in packages:
        kept = read_record(machine, folder, f"{name.replace(':', '_')}.deb.json")
        if kept is None:
            raise CouldNotRead(f"no original of {name} is kept")
        check_original(folder, kept)
        found.append(kept)
    return found


def check_original(folder: int, kept: dict[str, Any]) -> None:
    try:
        fd = os.open(kept["file"], os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=folder)
        with os.fdopen(fd, "rb") as handle:
            if (
                not stat.S_ISREG(os.fstat(fd).st_mode)
                or hashlib.file_digest(handle, "sha256").hexdigest() != kept["sha256"]
            ):
                raise CouldNotRead("the kept original is not what was kept", kept["file"])
    except OSError as error:
        raise CouldNotRead(f"the kept original cannot be read: {error.strerror}", kept["file"]) from None


def original_files(folder: int, originals: list[dict[str, Any]]) -> list[str]:
    """Their paths on this computer, for a command."""
    top = os.readlink(f"/proc/self/fd/{folder}")
    return [join(top, o["file"]) for o in originals]


def drop_files(folder: int, originals: list[dict[str, Any]]) -> None:
    """Delete these originals with their records. What went already is no fault."""
    for original in originals:
        for name in (original["file"], original["file"] + ".json"):
            with contextlib.suppress(FileNotFoundError):
                os.unlink(name, dir_fd=folder)


def drop_originals(machine: Machine, slot: Slot) -> None:
    """Delete what a slot's manifest names, and their folder elsewhere when nothing is left in it. What went already is no fault."""
    elsewhere = slot.manifest.get("originals_in", "")
    with contextlib.suppress(FileNotFoundError):
        with originals_folder(machine, slot.shelf, slot.run, elsewhere) as fd:
            drop_files(fd, slot.manifest.get("originals", []))
            left = os.listdir(fd)
        if not left:
            with contextlib.suppress(OSError):
                if elsewhere:
                    os.rmdir(elsewhere_folder(elsewhere, slot.run))
                else:
                    with opened_shelf(machine, slot.shelf, slot.run) as above:
                        os.rmdir(ORIGINALS, dir_fd=above)
