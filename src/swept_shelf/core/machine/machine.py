"""One machine, seen through its root folder."""

from __future__ import annotations

import errno
import hashlib
import os
import stat
from collections.abc import Iterator
from contextlib import contextmanager
from datetime import UTC, datetime
from pathlib import Path

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.paths import base, parent, within
from swept_shelf.core.documents.survey import Identity
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.description import Description, find_description

OVERFLOW_UID = 65534
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

    # -- what it is -----------------------------------------------------------------------------------------

    @property
    def name(self) -> str:
        if self.description:
            return self.description.name
        return self.read_text("/etc/hostname", default="").strip() or ("this computer" if self.live else self.root)

    @property
    def key(self) -> str:
        """By which the ledger knows it again: a salted hash of its machine-id, else of its root volume."""
        if self.description:
            return self.description.key
        known = self.read_text("/etc/machine-id", default="").strip()
        if not known or known == "uninitialized":
            known = f"{self.file_system(os.stat(self._root_fd).st_dev)}:{os.stat(self._root_fd).st_ino}"
        return hashlib.sha256(b"swept-shelf machine\0" + known.encode()).hexdigest()[:32]

    @property
    def chrootless(self) -> bool:
        """True only for a made-up root whose maintainer scripts are ours."""
        return bool(self.description and self.description.chrootless)

    def now(self) -> datetime:
        return (self.description and self.description.clock) or datetime.now(UTC)

    # -- reading --------------------------------------------------------------------------------------------

    def open(self, path: str, flags: int = os.O_RDONLY) -> int:
        """A descriptor, links resolved inside the root, access time left alone where allowed. OSError."""
        if flags & os.O_PATH:
            return beneath.open_in_root(self._root_fd, path, flags)
        try:
            return beneath.open_in_root(self._root_fd, path, flags | os.O_NOATIME | os.O_NONBLOCK)
        except PermissionError:
            return beneath.open_in_root(self._root_fd, path, flags | os.O_NONBLOCK)

    def read_bytes(self, path: str, limit: int = 64 << 20) -> bytes:
        """A regular file's content, at most `limit` bytes. Raises CouldNotRead with the path and the reason."""
        try:
            fd = self.open(path)
            with os.fdopen(fd, "rb") as handle:
                if not stat.S_ISREG(os.fstat(fd).st_mode):
                    raise CouldNotRead("is not a regular file", path)
                return handle.read(limit)
        except OSError as error:
            raise CouldNotRead(_reason(error), path) from None

    def read_text(self, path: str, default: str | None = None) -> str:
        """Text with undecodable bytes kept as surrogates; `default` where the file is not there."""
        try:
            return self.read_bytes(path).decode("utf-8", "surrogateescape")
        except CouldNotRead as error:
            if default is not None and error.reason == _reason(FileNotFoundError(errno.ENOENT, "")):
                return default
            raise

    def listdir(self, path: str) -> list[str]:
        """Names in a folder, sorted. Raises CouldNotRead."""
        try:
            fd = self.open(path, os.O_RDONLY | os.O_DIRECTORY)
            try:
                return sorted(os.listdir(fd))
            finally:
                os.close(fd)
        except OSError as error:
            raise CouldNotRead(_reason(error), path) from None

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
            raise CouldNotRead(_reason(error), path) from None

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
            mtime_ns=status.st_mtime_ns,
            ctime_ns=status.st_ctime_ns,
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
    def handed(self, path: str) -> Iterator[tuple[str, int]]:
        """A path of this process that leads to `path`, and the descriptor to pass on, for commands."""
        try:
            fd = self.open(path, os.O_PATH)
        except OSError as error:
            raise CouldNotRead(_reason(error), path) from None
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
        raise Refused(f"no root to look at: {_reason(error)}", str(given)) from None
    if not real.is_dir():
        raise Refused("is not a folder", str(given))
    folder, description = find_description(real)
    try:
        return Machine(folder, description)
    except OSError as error:
        raise Refused(f"no root to look at: {_reason(error)}", str(given)) from None


def type_of(mode: int) -> str:
    for test, name in ((stat.S_ISREG, "file"), (stat.S_ISDIR, "folder"), (stat.S_ISLNK, "link"),
                       (stat.S_ISFIFO, "pipe"), (stat.S_ISSOCK, "socket")):  # fmt: skip
        if test(mode):
            return name
    return "device"


def _reason(error: BaseException) -> str:
    if isinstance(error, OSError) and error.errno:
        return {errno.ENOENT: "is not there", errno.EACCES: "may not be read", errno.ELOOP: "is a loop of links"}.get(
            error.errno, os.strerror(error.errno).lower()
        )
    return str(error)


def _uuid_of(device: int) -> str:
    try:
        for entry in os.scandir("/dev/disk/by-uuid"):
            if os.stat(entry.path).st_rdev == device:
                return entry.name
    except OSError:
        pass
    return f"dev-{os.major(device)}-{os.minor(device)}"
