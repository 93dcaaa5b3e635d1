"""One machine, seen through its root folder."""

from __future__ import annotations

import errno
import hashlib
import os
import re
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path
from typing import BinaryIO

from swept_shelf.core.documents.errors import CouldNotRead, Refused, one_line, printable
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Identity
from swept_shelf.core.documents.times import held_ns
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.description import Description, find_description

OVERFLOW_UID = 65534
MOST = 64 << 20  # bytes of one file read at once
NO_UUID = "dev-"  # begins what stands for a file system that has none
NOT_A_FILE = "is not a regular file"
NOTHING = "/dev/null"  # where a link leads that stands for an empty file
SHELF = ".swept-shelf"


class Machine:
    """Every path is absolute inside the machine. Links resolve inside the root; none leads out of it."""

    def __init__(self, root: Path, description: Description | None) -> None:
        self.root = str(root)
        self.description = description
        self.live = self.root == "/"
        self._root_fd = os.open(root, os.O_PATH | os.O_DIRECTORY | os.O_CLOEXEC)
        self._file_systems: dict[int, str] = {}
        self.in_user_namespace = False
        self.odd: dict[str, str] = {}  # what `text` could not read, with why
        self.unheeded = ""  # a description without our seal, which names nothing

    # -- what it is -----------------------------------------------------------------------------------------

    @property
    def name(self) -> str:
        if self.description:
            return self.description.name
        return one_line(self._said("/etc/hostname")) or (
            "this computer" if self.live else printable(self.root)
        )

    @property
    def key(self) -> str:
        """By which the ledger knows it again: a salted hash of its machine-id and its root volume, here and plugged in elsewhere."""
        if self.description:
            return self.description.key
        status, known = os.stat(self._root_fd), self._said("/etc/machine-id").strip()
        volume = self.file_system(status.st_dev)
        if not re.fullmatch(r"[0-9a-f]{32}", known) or not known.strip("0"):
            known = f"{volume}:{status.st_ino}"
        else:  # copies of one image have one machine-id: its volume and its place there tell them apart
            known += f":{'' if volume.startswith(NO_UUID) else volume}:{status.st_ino}"
        return hashlib.sha256(b"swept-shelf machine\0" + known.encode()).hexdigest()[:32]

    def _said(self, path: str) -> str:
        """A short text of the machine about itself; "" where there is none to be had."""
        try:
            return self.read_bytes(path, 4096).decode("utf-8", "replace")
        except CouldNotRead:
            return ""

    @property
    def chrootless(self) -> bool:
        """True only for a made-up root whose maintainer scripts are ours."""
        return bool(self.description and self.description.chrootless)

    def now(self) -> datetime:
        return (self.description and self.description.clock) or datetime.now(UTC)

    # -- reading --------------------------------------------------------------------------------------------

    def open(self, path: str, flags: int = os.O_RDONLY) -> int:
        """A descriptor, links resolved inside the root, access time left alone where allowed. OSError.

        What stands there is known before it is opened to be read: pipes, sockets and devices never are (CouldNotRead)."""
        place = beneath.open_in_root(
            self._root_fd, path, os.O_PATH | (flags & (os.O_NOFOLLOW | os.O_DIRECTORY))
        )
        if flags & os.O_PATH:
            return place
        try:
            mode = os.fstat(place).st_mode
            if stat.S_ISLNK(mode):
                raise OSError(errno.ELOOP, os.strerror(errno.ELOOP), path)
            if not (stat.S_ISREG(mode) or stat.S_ISDIR(mode)):
                raise CouldNotRead(NOT_A_FILE, path)
            again = (flags & ~os.O_NOFOLLOW) | os.O_NONBLOCK
            try:
                return beneath.opened_again(place, again | os.O_NOATIME)
            except PermissionError:
                return beneath.opened_again(place, again)
        finally:
            os.close(place)

    @contextmanager
    def opened(self, path: str) -> Iterator[BinaryIO]:
        """A regular file to read from, of no more than that the machine holds. Raises CouldNotRead with the path and the reason."""
        try:
            fd = self.open(path)
        except OSError as error:
            raise CouldNotRead(reason_of(error), path) from None
        with os.fdopen(fd, "rb") as handle:
            if not stat.S_ISREG(os.fstat(fd).st_mode):
                raise CouldNotRead(NOT_A_FILE, path)
            yield handle

    def read_bytes(self, path: str, limit: int = 0) -> bytes:
        """A regular file's content, whole, or its first `limit` bytes. Raises CouldNotRead with the path and the reason."""
        try:
            with self.opened(path) as handle:
                data = handle.read(limit or MOST + 1)
        except OSError as error:
            raise CouldNotRead(reason_of(error), path) from None
        if not limit and len(data) > MOST:
            raise CouldNotRead(f"is larger than the {MOST >> 20} MiB that are read at once", path)
        return data

    def read_text(self, path: str, default: str | None = None, most: int = MOST) -> str:
        """Text with undecodable bytes kept as surrogates; `default` where the file is not there; larger than `most` is not read."""
        try:
            data = self.read_bytes(path, most + 1)
            if len(data) > most:
                raise CouldNotRead(
                    f"is larger than the {human_bytes(most)} that are read of such a file", path
                )
            return data.decode("utf-8", "surrogateescape")
        except CouldNotRead as error:
            if default is not None and error.reason == reason_of(FileNotFoundError(errno.ENOENT, "")):
                return default
            raise

    def text(self, path: str) -> str:
        """What a file says that need not be there, or need not be read for the work to go on: "" where it cannot be, which is
        then noted in `odd`. Nothing is ever written by what this returns."""
        try:
            return self.read_text(path, default="")
        except CouldNotRead as error:
            if self.readlink(path) != NOTHING:
                self.note(path, error.reason)
            return ""

    def note(self, path: str, reason: str) -> None:
        """Something of the machine is odd, and the work goes on without it."""
        self.odd[path] = reason

    def listdir(self, path: str) -> list[str]:
        """Names in a folder, sorted. Raises CouldNotRead."""
        try:
            fd = self.open(path, os.O_RDONLY | os.O_DIRECTORY)
            try:
                return sorted(os.listdir(fd))
            finally:
                os.close(fd)
        except OSError as error:
            raise CouldNotRead(reason_of(error), path) from None

    def names(self, path: str) -> list[str]:
        """Like listdir, but empty where there is nothing to list or it may not be read."""
        try:
            return self.listdir(path)
        except CouldNotRead:
            return []

    def lstat(self, path: str) -> os.stat_result | None:
        """The path's own status, its last part not followed; None where nothing stands. Raises CouldNotRead."""
        try:
            if path == "/":
                return os.stat(self._root_fd)
            fd = self.open(parent(path), os.O_PATH | os.O_DIRECTORY)
            try:
                return os.stat(base(path), dir_fd=fd, follow_symlinks=False)
            finally:
                os.close(fd)
        except (FileNotFoundError, NotADirectoryError):
            return None
        except OSError as error:
            raise CouldNotRead(reason_of(error), path) from None

    def exists(self, path: str) -> bool:
        """True when something stands there, a dangling link included; False where it may not be looked at."""
        try:
            return self.lstat(path) is not None
        except CouldNotRead:
            return False

    def resolve(self, path: str) -> str | None:
        """Where `path` leads with all links followed inside the root; None when nowhere."""
        try:
            fd = self.open(path, os.O_PATH)
        except OSError:
            return None
        try:
            real = os.readlink(f"/proc/self/fd/{fd}")
            top = os.readlink(f"/proc/self/fd/{self._root_fd}")
        finally:
            os.close(fd)
        return real if top == "/" else (real[len(top) :] or "/") if within(real, top) else None

    def readlink(self, path: str) -> str | None:
        try:
            fd = self.open(path, os.O_PATH | os.O_NOFOLLOW)
            try:
                return os.fsdecode(os.readlink("", dir_fd=fd))
            finally:
                os.close(fd)
        except OSError:
            return None

    # -- identity -------------------------------------------------------------------------------------------

    def file_system(self, device: int) -> str:
        """The UUID of the file system a device number stands for, else the number itself."""
        if device not in self._file_systems:
            self._file_systems[device] = _uuid_of(device)
        return self._file_systems[device]

    def identity(self, status: os.stat_result) -> Identity:
        hidden = self.in_user_namespace and status.st_uid == OVERFLOW_UID
        return Identity(
            file_system=self.file_system(status.st_dev),
            inode=status.st_ino,
            type=type_of(status.st_mode),
            size=0 if stat.S_ISDIR(status.st_mode) else status.st_size,
            mtime_ns=held_ns(status.st_mtime_ns),
            ctime_ns=held_ns(status.st_ctime_ns),
            uid=None if hidden else status.st_uid,
            gid=None if hidden else status.st_gid,
            mode=stat.S_IMODE(status.st_mode),
        )

    # -- descriptors for changes and commands ---------------------------------------------------------------

    @contextmanager
    def folder(self, path: str) -> Iterator[int]:
        """A folder's descriptor, reached without following any link. Raises OSError (ELOOP: a link)."""
        fd = beneath.open_strict(self._root_fd, path, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW)
        try:
            yield fd
        finally:
            os.close(fd)

    @contextmanager
    def handed_file(self, path: str, most: int) -> Iterator[tuple[str, int]]:
        """Like `handed`, of a regular file of at most `most` bytes. Raises CouldNotRead."""
        with self.opened(path) as handle:
            if os.fstat(handle.fileno()).st_size > most:
                raise CouldNotRead(f"is larger than the {human_bytes(most)} that are searched", path)
            yield f"/proc/self/fd/{handle.fileno()}", handle.fileno()

    @contextmanager
    def handed(self, path: str) -> Iterator[tuple[str, int]]:
        """A path of this process that leads to `path`, and the descriptor to pass on, for commands."""
        try:
            fd = self.open(path, os.O_PATH)
        except OSError as error:
            raise CouldNotRead(reason_of(error), path) from None
        try:
            yield f"/proc/self/fd/{fd}", fd
        finally:
            os.close(fd)


def open_machine(root: str | Path = "/") -> Machine:
    """The machine at `root`; a folder with machine.json names the rest. Raises Refused when it is not there."""
    given = Path(root)
    try:
        real = given.resolve(strict=True)
    except (OSError, RuntimeError) as error:
        raise Refused(f"no root to look at: {reason_of(error)}", str(given)) from None
    if not real.is_dir():
        raise Refused("is not a folder", str(given))
    folder, description, unheeded = find_description(real)
    try:
        machine = Machine(folder, description)
        machine.unheeded = unheeded
        return machine
    except OSError as error:
        raise Refused(f"no root to look at: {reason_of(error)}", str(given)) from None


def type_of(mode: int) -> str:
    for test, name in (
        (stat.S_ISREG, "file"),
        (stat.S_ISDIR, "folder"),
        (stat.S_ISLNK, "link"),
        (stat.S_ISFIFO, "pipe"),
        (stat.S_ISSOCK, "socket"),
    ):
        if test(mode):
            return name
    return "device"


def reason_of(error: BaseException) -> str:
    """Why something could not be had, in our words where there are any."""
    if isinstance(error, OSError) and error.errno:
        return {
            errno.ENOENT: "is not there",
            errno.EACCES: "may not be read",
            errno.ELOOP: "is a loop of links",
        }.get(error.errno, os.strerror(error.errno).lower())
    return str(error)


def _uuid_of(device: int) -> str:
    try:
        for entry in os.scandir("/dev/disk/by-uuid"):
            if os.stat(entry.path).st_rdev == device:
                return entry.name
    except OSError:
        pass
    return f"{NO_UUID}{os.major(device)}-{os.minor(device)}"
