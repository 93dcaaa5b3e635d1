"""Reads an archive: wholly checked first, then laid on the holding shelf, thing by thing, for put back to do the rest."""

from __future__ import annotations

import contextlib
import json
import os
import re
import stat
import tarfile
import uuid
from collections.abc import Callable, Collection, Iterator
from dataclasses import dataclass, field
from typing import IO, Any, cast

import zstandard

from swept_shelf.core.carry.archive.members import (
    DIGESTS,
    HEAD,
    ORIGINALS,
    PURPOSE,
    Digest,
    Hashed,
    attributes_in,
    mtime_ns,
    pieces,
)
from swept_shelf.core.carry.empty import empty_shelf
from swept_shelf.core.carry.put_back import put_back
from swept_shelf.core.carry.records import MANIFEST, why_no_manifest, write_record
from swept_shelf.core.carry.shelf import Slot, make_folder, new_slot, opened_shelf, shelf_for
from swept_shelf.core.carry.work import Tell
from swept_shelf.core.documents.archive import Archive
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.paths import join, parent
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.documents.wire import from_plain
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.machine.sealing import is_sealed
from swept_shelf.core.machine.volumes import read_volumes, volume_of

_RECORD = 64 << 20  # bytes of one record
_HEADERS = 1 << 20  # bytes of one member's extended headers
_MEMBERS = 20_000_000
_NAME = re.compile(rf"{re.escape(HEAD)}|{re.escape(DIGESTS)}|{ORIGINALS}/[^/]+|[0-9]{{4,9}}/.+", re.S)
_COMING = "coming"
_BROKEN = (tarfile.TarError, zstandard.ZstdError, EOFError, ValueError, KeyError, RecursionError, MemoryError)


@dataclass(slots=True)
class Checked:
    """`sealed`: made by this very carrier, and not changed since; `digests`: of every member; `bytes`: of every thing, those of
    originals under 0."""

    head: Archive
    sealed: bool
    digests: dict[str, str]
    bytes: dict[int, int] = field(default_factory=dict)


class _Member(tarfile.TarInfo):
    """Headers beyond reason are refused before they are read into memory."""

    def _proc_member(self, archive: tarfile.TarFile) -> tarfile.TarInfo:
        extended = (
            tarfile.XHDTYPE,
            tarfile.XGLTYPE,
            tarfile.SOLARIS_XHDTYPE,
            tarfile.GNUTYPE_LONGNAME,
            tarfile.GNUTYPE_LONGLINK,
        )
        if self.type in extended and self.size > _HEADERS:
            raise tarfile.TarError("a header is larger than any path and its attributes")
        found: tarfile.TarInfo = super()._proc_member(archive)  # type: ignore[misc]
        return found


@contextlib.contextmanager
def _opened(file: str) -> Iterator[tarfile.TarFile]:
    """Raises CouldNotRead, OSError."""
    with contextlib.ExitStack() as kept:
        fd = os.open(file, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        source = kept.enter_context(os.fdopen(fd, "rb"))
        if not stat.S_ISREG(os.fstat(fd).st_mode):
            raise CouldNotRead("is no file", file)
        try:
            packed = zstandard.ZstdDecompressor(max_window_size=1 << 27).stream_reader(source)
            tar = kept.enter_context(tarfile.open(fileobj=packed, mode="r|", tarinfo=_Member))
            yield tar
        except _BROKEN as error:
            first = str(error).split("\n", 1)[0][:200]
            raise CouldNotRead(
                f"is no whole archive of a holding shelf: {first or type(error).__name__}", file
            ) from None


def checked(file: str, tell: Tell = lambda _: None) -> Checked:
    """What an archive says, after all of it was read and every digest held. Raises CouldNotRead, OSError."""
    with _opened(file) as tar:
        head: Archive | None = None
        found: dict[str, str] = {}
        told: Any = None
        sizes: dict[int, int] = {}
        for count, info in enumerate(tar):
            _must_be_plain(info, count)
            digest = Digest(info)
            text = b""
            if info.isreg():
                source = _content(tar, info)
                if info.name in (HEAD, DIGESTS):
                    text = source.read(_RECORD)
                    digest.update(text)
                else:
                    for piece in pieces(source):
                        digest.update(piece)
                    top = info.name.partition("/")[0]
                    number = int(top) if top.isdigit() else 0
                    sizes[number] = sizes.get(number, 0) + info.size
            if info.name == HEAD:
                head = from_plain(Archive, json.loads(text))
            if info.name == DIGESTS:
                told = json.loads(text)
            elif info.name in found:
                raise ValueError(f"{info.name} stands in it twice")
            else:
                found[info.name] = digest.value
            tell({"event": "progress", "what": "checking the archive", "done": count, "total": 0})
        if head is None or not isinstance(told, dict) or set(told) != {"members", "seal"}:
            raise ValueError("its first or last member is missing")
        if told["members"] != found:
            wrong = sorted({k for k in {*found, *told["members"]} if found.get(k) != told["members"].get(k)})
            raise ValueError(f"{wrong[0]} is not what was put into it")
    return Checked(head, is_sealed(told["seal"], PURPOSE, content=found), found, sizes)


def _must_be_plain(info: tarfile.TarInfo, count: int) -> None:
    """Raises ValueError for a name that could lead out."""
    if count >= _MEMBERS or not _NAME.fullmatch(info.name) or {"", ".", ".."} & set(info.name.split("/")):
        raise ValueError(f"it holds a member that no such archive has: {info.name[:100]!r}")
    if info.islnk() and (
        not _NAME.fullmatch(info.linkname) or {"", ".", ".."} & set(info.linkname.split("/"))
    ):
        raise ValueError(f"{info.name[:100]!r} leads out of it")


def _content(tar: tarfile.TarFile, info: tarfile.TarInfo) -> IO[bytes]:
    source = tar.extractfile(info)
    if source is None:
        raise ValueError(f"{info.name} has no content")
    return source


def restore(
    machine: Machine,
    file: str,
    lines: Collection[str] = (),
    elsewhere: bool = False,
    tell: Tell = lambda _: None,
) -> tuple[str, list[tuple[Slot, str]]]:
    """Put back what an archive holds, or some lines of it: the run by which it lay on the shelf meanwhile, and what stays there.

    `elsewhere`: also an archive that another carrier made, or of another machine. Raises Refused, CouldNotRead, OSError."""
    archive = checked(file, tell)
    head = archive.head
    if not elsewhere and not archive.sealed:
        raise Refused(
            "does not carry this carrier’s seal: it was made on another computer, or changed since", file
        )
    if not elsewhere and head.machine != machine.key:
        raise Refused(f"is of another computer ({head.machine_name})", file)
    wanted = {t.number for t in head.things if not lines or t.line in lines}
    if not wanted:
        raise Refused("holds nothing of that", file)
    run = str(uuid.uuid4())
    unpacking = _Unpacking(machine, archive, run, wanted, elsewhere)
    unpacking.must_have_room()
    try:
        with _opened(file) as tar:
            for count, info in enumerate(tar):
                _must_be_plain(info, count)
                unpacking.take(info, tar)
            unpacking.end()
    except BaseException:
        empty_shelf(machine, run)  # nothing of it was put back yet
        raise
    return run, put_back(machine, run, tell=tell)


class _Unpacking:
    """Lays things on the shelf; what arrives wholly gets the name by which put back knows it."""

    def __init__(
        self, machine: Machine, archive: Checked, run: str, wanted: set[int], elsewhere: bool
    ) -> None:
        self._machine, self._archive, self._run, self._wanted = machine, archive, run, wanted
        self._elsewhere = elsewhere
        self._volumes: list[Volume] = read_volumes(machine)
        self._owners = self._who_is_who() if elsewhere else {}
        self._manifest: dict[str, Any] = {}
        self._records: dict[str, Any] = {}
        self._folders: list[tuple[str, tarfile.TarInfo]] = []
        self._number = 0

    def _who_is_who(self) -> dict[int, int]:
        here = {p.name: p for p in read_people(self._machine)}
        return {p.uid: here[p.name].uid for p in self._archive.head.people if p.name in here}

    def must_have_room(self) -> None:
        """Raises Refused where it does not fit."""
        needed = {volume_of(self._volumes, "/etc").id: self._archive.bytes.get(0, 0)}
        for thing in self._archive.head.things:
            if thing.number in self._wanted:
                place = volume_of(self._volumes, thing.path or "/").id
                needed[place] = needed.get(place, 0) + self._archive.bytes.get(thing.number, 0)
        for volume in self._volumes:
            if volume.free < needed.get(volume.id, 0):
                raise Refused(
                    f"has {human_bytes(volume.free)} free and {human_bytes(needed[volume.id])} would come",
                    volume.mount,
                )

    # -- member by member -------------------------------------------------------------------------------------

    def take(self, info: tarfile.TarInfo, tar: tarfile.TarFile) -> None:
        """Raises ValueError where a member is another by now than when all of it was checked."""
        top, _, rest = info.name.partition("/")
        digest = Digest(info)

        def content() -> IO[bytes]:
            return cast(IO[bytes], Hashed(_content(tar, info), digest))

        if top == ORIGINALS:
            self._original(rest, info, content)
        elif top.isdigit() and int(top) in self._wanted:
            if int(top) != self._number:
                self._finish()
                self._number = int(top)
            self._of_slot(rest, info, content)
        else:
            return
        if digest.value != self._archive.digests.get(info.name):
            raise ValueError(f"{info.name} is not what was checked a moment ago")

    def end(self) -> None:
        self._finish()

    def _of_slot(self, rest: str, info: tarfile.TarInfo, content: Callable[[], IO[bytes]]) -> None:
        if rest == MANIFEST:
            self._begin(json.loads(content().read(_RECORD)))
        elif not self._manifest:
            raise ValueError(f"{info.name} stands before its record")
        elif "/" not in rest and rest.endswith(".json"):
            self._records[rest] = json.loads(content().read(_RECORD))
        else:
            self._lay(rest, info, content)

    def _begin(self, manifest: Any) -> None:
        """A slot with the record of its thing, made this carrier's. Raises ValueError, Refused."""
        if not isinstance(manifest, dict) or (
            why := why_no_manifest(manifest, self._archive.head.run, self._number)
        ):
            raise ValueError(
                f"the record of {self._number} {why if isinstance(manifest, dict) else 'is none'}"
            )
        path = str(manifest.get("path") or manifest.get("place") or "/")
        manifest |= {
            "run": self._run,
            "machine": self._machine.key,
            "volume": volume_of(self._volumes, path).id,
        }
        if "originals_in" in manifest:
            manifest["originals_in"] = ""
        if self._elsewhere and "parent" in manifest and (above := self._machine.lstat(parent(path))):
            manifest["parent"] = manifest["parent"] | {"before": above.st_mtime_ns}
        self._shelf = shelf_for(
            self._machine, "/" if path == "/" or "originals" in manifest else self._there(path), self._volumes
        )
        make_folder(self._machine, self._shelf)
        self._manifest, self._records, self._folders = manifest, {}, []
        with self._slot() as fd:
            os.mkdir(_COMING, 0o700, dir_fd=fd)

    def _there(self, path: str) -> str:
        """The path itself, or below the nearest folder that stands here: its own may have gone, and is made again."""
        while not self._machine.exists(parent(path)):
            path = parent(path)
        return path

    @contextlib.contextmanager
    def _slot(self) -> Iterator[int]:
        with new_slot(self._machine, self._shelf, self._run, self._number, self._manifest) as fd:
            yield fd

    def _lay(self, rest: str, info: tarfile.TarInfo, content: Callable[[], IO[bytes]]) -> None:
        with self._slot_open() as slot, _folder_of(slot, f"{_COMING}/{rest}") as (folder, name):
            if info.isdir():
                os.mkdir(name, 0o700, dir_fd=folder)
                self._folders.append((rest, info))
                return
            if info.islnk():
                first = info.linkname.partition("/")[2]
                if int(info.linkname.partition("/")[0]) != self._number:
                    raise ValueError(f"{info.name} is a second name of another thing")
                with _folder_of(slot, f"{_COMING}/{first}") as (there, other):
                    os.link(other, name, src_dir_fd=there, dst_dir_fd=folder, follow_symlinks=False)
                return
            if info.isreg():
                self._file(folder, name, info, content())
            elif info.issym():
                os.symlink(info.linkname, name, dir_fd=folder)
            elif info.isfifo() or (info.isdev() and self._archive.sealed):
                kind = stat.S_IFIFO if info.isfifo() else stat.S_IFCHR if info.ischr() else stat.S_IFBLK
                os.mknod(name, kind | 0o600, os.makedev(info.devmajor, info.devminor), dir_fd=folder)
            else:
                raise ValueError(f"{info.name} is of a kind that is not taken from another’s archive")
            self._alike(folder, name, info)

    @contextlib.contextmanager
    def _slot_open(self) -> Iterator[int]:
        with opened_shelf(self._machine, self._shelf, self._run, f"{self._number:04}") as fd:
            yield fd

    def _file(self, folder: int, name: str, info: tarfile.TarInfo, source: IO[bytes]) -> None:
        fd = os.open(name, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o600, dir_fd=folder)
        with os.fdopen(fd, "wb") as out:
            for piece in pieces(source):
                out.write(piece)
            out.flush()
            os.fsync(fd)

    def _alike(self, folder: int, name: str, info: tarfile.TarInfo) -> None:
        """Owner, mode, attributes and time as they were."""
        uid, gid = self._owner(info.uid, info.gid)
        if (os.geteuid(), os.getegid()) != (uid, gid):
            os.chown(name, uid, gid, dir_fd=folder, follow_symlinks=False)
        if not info.issym():
            mode = info.mode if self._archive.sealed else info.mode & 0o1777
            fd = (
                os.open(name, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=folder)
                if info.isreg() or info.isdir()
                else -1
            )
            if fd < 0:
                os.chmod(name, mode, dir_fd=folder)
            else:
                with os.fdopen(fd, "rb") if info.isreg() else contextlib.nullcontext():
                    for attribute, value in attributes_in(info).items():
                        if self._archive.sealed or attribute.startswith("user."):
                            os.setxattr(fd, attribute, value)
                    os.fchmod(fd, mode)
                if info.isdir():
                    os.close(fd)
        os.utime(name, ns=(mtime_ns(info), mtime_ns(info)), dir_fd=folder, follow_symlinks=False)

    def _owner(self, uid: int, gid: int) -> tuple[int, int]:
        """By name where the numbers of people differ; a person's own group is called like the person."""
        return self._owners.get(uid, uid), self._owners.get(uid, gid) if gid == uid else gid

    def _finish(self) -> None:
        """All of the slot arrived: its parts get their names, its record what the item is here."""
        if not self._manifest:
            return
        with self._slot_open() as slot:
            for rest, info in reversed(self._folders):
                with _folder_of(slot, f"{_COMING}/{rest}") as (folder, name):
                    self._alike(folder, name, info)
            here = os.open(_COMING, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=slot)
            try:
                if "item" in os.listdir(here) and "identity" in self._manifest:
                    now = self._machine.identity(os.stat("item", dir_fd=here, follow_symlinks=False))
                    stands = {
                        "file_system": now.file_system,
                        "inode": now.inode,
                        "uid": now.uid,
                        "gid": now.gid,
                    }
                    self._manifest["identity"] = self._manifest["identity"] | stands
                    if "copied" in self._manifest:
                        self._manifest["copied"] = False
                    write_record(self._machine, slot, MANIFEST, self._manifest)
                if not self._elsewhere:
                    for name, record in self._records.items():
                        write_record(self._machine, slot, name, record)
                for name in os.listdir(here):
                    os.rename(name, name, src_dir_fd=here, dst_dir_fd=slot)
            finally:
                os.close(here)
            os.rmdir(_COMING, dir_fd=slot)
            os.fsync(slot)
        self._manifest = {}

    def _original(self, name: str, info: tarfile.TarInfo, content: Callable[[], IO[bytes]]) -> None:
        self._finish()
        shelf = shelf_for(self._machine, "/etc", self._volumes)
        make_folder(self._machine, join(shelf, self._run))
        with opened_shelf(self._machine, shelf, self._run) as run, contextlib.suppress(FileExistsError):
            os.mkdir(ORIGINALS, 0o700, dir_fd=run)
        with opened_shelf(self._machine, shelf, self._run, ORIGINALS) as folder:
            if name.endswith(".json"):
                write_record(self._machine, folder, name, json.loads(content().read(_RECORD)))
            elif info.isreg():
                self._file(folder, name, info, content())


@contextlib.contextmanager
def _folder_of(top: int, path: str) -> Iterator[tuple[int, str]]:
    """The folder a path below `top` stands in, no link on the way, and the path's own name."""
    *above, name = path.split("/")
    fd = os.dup(top)
    try:
        for folder in above:
            inner = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=fd)
            os.close(fd)
            fd = inner
        yield fd, name
    finally:
        os.close(fd)
