"""Writes an archive of what waits of a run, then reads it again from the medium and compares: only then it counts."""

from __future__ import annotations

import contextlib
import io
import os
import stat
import tarfile
import uuid
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import zstandard

from swept_shelf.core.carry.archive.members import (
    DIGESTS,
    HEAD,
    ORIGINALS,
    PURPOSE,
    Digest,
    Hashed,
    member_of,
    plain,
)
from swept_shelf.core.carry.archive.read import checked
from swept_shelf.core.carry.originals import originals_folder
from swept_shelf.core.carry.records import MANIFEST, read_record
from swept_shelf.core.carry.shelf import Slot, opened_shelf, slots_on_shelves
from swept_shelf.core.carry.work import Tell
from swept_shelf.core.documents.archive import ARCHIVE_FORMAT, ARCHIVE_VERSION, Archive, Thing, Whose
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.sealing import seal
from swept_shelf.core.machine.volumes import read_volumes

_LEVEL = 9
_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC
_FILE = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC
# Of a way back that was cut off.
_NOT_KEPT = ("settling.json", "returning.json", "returned.json", "again.json", "again")


def write_archive(
    machine: Machine, run: str, file: str, tops: dict[str, int], tell: Tell = lambda _: None
) -> Archive:
    """Everything of the run that waits, into a new `file`. Raises Refused, CouldNotRead, OSError; nothing half made stays."""
    slots = [
        s for s in slots_on_shelves(machine, read_volumes(machine), run, tops) if s.sealed and not s.emptying
    ]
    if not slots:
        raise Refused("nothing of this waits on the holding shelf")
    head = _head_of(machine, run, slots)
    part = Path(f"{file}.{uuid.uuid4().hex}.part")
    with open(part, "xb", opener=lambda p, f: os.open(p, f | os.O_NOFOLLOW, 0o600)) as out:
        try:
            _Writer(machine, out, tell).write(head, slots)
            out.flush()
            os.fsync(out.fileno())
            checked(str(part), tell)
            _name(part, file)
        finally:
            part.unlink(missing_ok=True)
    return head


def _name(part: Path, file: str) -> None:
    """Give it its name, and never in another's place where its file system knows second names. Raises Refused."""
    try:
        os.link(part, file)
    except FileExistsError:
        raise Refused("is there already: it was not overwritten", file) from None
    except OSError:
        if os.path.lexists(file):
            raise Refused("is there already: it was not overwritten", file) from None
        part.rename(file)


def _head_of(machine: Machine, run: str, slots: list[Slot]) -> Archive:
    things, left_out = [], []
    for slot in slots:
        m = slot.manifest
        path = m.get("path") or m.get("place") or ""
        things.append(Thing(slot.number, m["line"], m["name"], m["do"], path, m["bytes"]))
        if m["do"] == "uninstall" and m["registry"] == "flatpak":
            left_out.append(
                f"{m['name']}: {', '.join(m['refs'])} stays in Flatpak’s own store until the shelf is emptied"
            )
    people = [Whose(p.name, p.uid, p.home) for p in read_people(machine)]
    return Archive(
        ARCHIVE_FORMAT,
        ARCHIVE_VERSION,
        run,
        slots[0].manifest["order"],
        machine.now(),
        machine.key,
        machine.name,
        people,
        things,
        left_out,
    )


class _Writer:
    def __init__(self, machine: Machine, out: Any, tell: Tell) -> None:
        self._machine, self._tell = machine, tell
        self._digests: dict[str, str] = {}
        self._packed = zstandard.ZstdCompressor(level=_LEVEL, write_checksum=True).stream_writer(
            out, closefd=False
        )
        self._tar = tarfile.open(fileobj=self._packed, mode="w|", format=tarfile.PAX_FORMAT)  # noqa: SIM115

    def write(self, head: Archive, slots: list[Slot]) -> None:
        self._text(HEAD, plain(to_plain(head)))
        for number, slot in enumerate(slots):
            self._tell(
                {"event": "progress", "what": slot.manifest["name"], "done": number, "total": len(slots)}
            )
            self._slot(slot)
        for shelf, run, elsewhere in dict.fromkeys(
            (s.shelf, s.run, s.manifest["originals_in"])
            for s in slots
            if s.manifest["do"] == "remove_packages"
        ):
            with (
                contextlib.suppress(FileNotFoundError),
                originals_folder(self._machine, shelf, run, elsewhere) as fd,
            ):
                self._originals(fd)
        self._text(DIGESTS, plain({"members": self._digests, "seal": seal(PURPOSE, content=self._digests)}))
        self._tar.close()
        self._packed.close()  # type: ignore[no-untyped-call]

    def _slot(self, slot: Slot) -> None:
        with opened_shelf(self._machine, slot.shelf, slot.run, slot.name) as fd:
            self._text(f"{slot.number:04}/{MANIFEST}", plain(slot.manifest))
            for name in sorted(os.listdir(fd)):
                if name == MANIFEST or name in _NOT_KEPT or name.startswith("."):
                    continue
                if name.endswith(".json"):
                    if (record := read_record(self._machine, fd, name)) is not None:
                        self._text(f"{slot.number:04}/{name}", plain(record))
                else:
                    self._tree(f"{slot.number:04}/{name}", fd, name)

    def _originals(self, top: int) -> None:
        for name in sorted(os.listdir(top)):
            if name.endswith(".json"):
                if (record := read_record(self._machine, top, name)) is not None:
                    self._text(f"{ORIGINALS}/{name}", plain(record))
            else:
                self._tree(f"{ORIGINALS}/{name}", top, name)

    def _text(self, name: str, content: bytes) -> None:
        info = tarfile.TarInfo(name)
        info.mode, info.size = 0o600, len(content)
        digest = Digest(info)
        self._tar.addfile(info, Hashed(io.BytesIO(content), digest))
        self._digests[name] = digest.value

    def _tree(self, name: str, folder: int, inner: str) -> None:
        names: dict[tuple[int, int], str] = {}
        status = os.stat(inner, dir_fd=folder, follow_symlinks=False)
        self._one(name, folder, inner, status, names)
        if stat.S_ISDIR(status.st_mode):
            for path, fd, inside in self._below(folder, inner):
                for each in sorted(inside):
                    s = os.stat(each, dir_fd=fd, follow_symlinks=False)
                    self._one("/".join(p for p in (name, path, each) if p), fd, each, s, names)

    def _below(self, folder: int, inner: str) -> Iterator[tuple[str, int, list[str]]]:
        top = os.open(inner, _FOLDER, dir_fd=folder)
        try:
            yield from folders_below(top)
        finally:
            os.close(top)

    def _one(
        self, name: str, folder: int, inner: str, s: os.stat_result, names: dict[tuple[int, int], str]
    ) -> None:
        second = s.st_nlink > 1 and not stat.S_ISDIR(s.st_mode)
        first = names.setdefault((s.st_dev, s.st_ino), name) if second else name
        with contextlib.ExitStack() as kept:
            fd = None
            if stat.S_ISREG(s.st_mode) or stat.S_ISDIR(s.st_mode):
                fd = os.open(inner, _FILE, dir_fd=folder)
                kept.callback(os.close, fd)
            info = member_of(name, folder, inner, s, fd)
            if info is None:
                raise CouldNotRead("is a socket: no archive can hold it", name)
            if first != name:
                info.type, info.linkname, info.size = tarfile.LNKTYPE, first, 0
            self._add(
                info, kept.enter_context(open(fd, "rb", closefd=False)) if fd and info.isreg() else None
            )

    def _add(self, info: tarfile.TarInfo, source: Any) -> None:
        digest = Digest(info)
        self._tar.addfile(info, Hashed(source, digest) if source else None)
        self._digests[info.name] = digest.value
