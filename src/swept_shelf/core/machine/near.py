"""Many files of many folders, read by their folders' descriptors: what a listing called a file is opened in one step."""

from __future__ import annotations

import os
import stat
from collections import OrderedDict
from collections.abc import Mapping

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine.machine import NOT_A_FILE, Machine, reason_of

_FOLDERS = 64  # kept open
_NAMES = (
    100_000  # of folders that were listed and are kept ready; of further ones they are kept as one text each
)
_KINDS = {"f": "file", "d": "folder", "l": "link", "o": "other"}
_LETTERS = {kind: letter for letter, kind in _KINDS.items()}
_SMALL, _HELD = 16 << 10, 32 << 20  # bytes of a file that is held in case it is read again; of all of them
_FILE = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC


class Near:
    """Folders in whose paths links are followed inside the root; each is listed once."""

    def __init__(self, machine: Machine) -> None:
        self._machine = machine
        self._folders: OrderedDict[str, int] = OrderedDict()
        self._listed: dict[str, dict[str, str] | str | CouldNotRead] = {}
        self._ready = 0  # names of those that are
        self._data: dict[str, bytes] = {}
        self._held = 0

    def __enter__(self) -> Near:
        return self

    def __exit__(self, *_: object) -> None:
        while self._folders:
            os.close(self._folders.popitem()[1])

    def listed(self, folder: str) -> dict[str, str]:
        """Names in a folder, sorted, with folder, link, file or other. Raises CouldNotRead."""
        folder = folder or "/"
        found = self._listed.get(folder)
        if found is None:
            try:
                found = self._list(folder)
            except CouldNotRead as error:
                found = error
            self._listed[folder] = self._kept(found) if isinstance(found, dict) else found
        if isinstance(found, CouldNotRead):
            raise found
        return found if isinstance(found, dict) else _unpacked(found)

    def _kept(self, names: dict[str, str]) -> dict[str, str] | str:
        if self._ready + len(names) > _NAMES:
            return "\0".join(_LETTERS[kind] + name for name, kind in names.items())
        self._ready += len(names)
        return names

    def _list(self, folder: str) -> dict[str, str]:
        try:
            with os.scandir(self._open(folder)) as entries:
                found = {e.name: "file" if e.is_file(follow_symlinks=False) else _type(e) for e in entries}
        except OSError as error:
            raise CouldNotRead(reason_of(error), folder) from None
        return {name: found[name] for name in sorted(found)}

    def _open(self, folder: str) -> int:
        fd = self._folders.pop(folder, None)
        if fd is None:
            fd = self._machine.open(folder, os.O_RDONLY | os.O_DIRECTORY)
            if len(self._folders) >= _FOLDERS:
                os.close(self._folders.popitem(last=False)[1])
        self._folders[folder] = fd
        return fd

    @property
    def held(self) -> Mapping[str, bytes]:
        """Small files that were read, whole."""
        return self._data

    def readlink(self, path: str) -> str:
        """What stands in a link; "" where none stands there, or it may not be read."""
        try:
            return os.readlink(base(path), dir_fd=self._open(parent(path)))
        except (OSError, CouldNotRead):
            return ""

    def read(self, path: str, limit: int) -> bytes:
        """The first `limit` bytes of a file. What its folder was not listed for, and links, go the way of all paths. A small
        file is read once.

        Raises CouldNotRead."""
        data = self._data.get(path)
        if data is None:
            data = self._read(path, limit)
            if len(data) < min(limit, _SMALL) and self._held < _HELD:
                self._data[path] = data
                self._held += len(data)
        return data[:limit]

    def _read(self, path: str, limit: int) -> bytes:
        folder, name = parent(path), base(path)
        known = self._listed.get(folder)
        kind = known.get(name) if isinstance(known, dict) else None
        if kind == "other":
            raise CouldNotRead(NOT_A_FILE, path)
        if kind != "file":
            return self._machine.read_bytes(path, limit)
        try:
            fd = self._opened(name, self._open(folder))
            try:
                status = os.fstat(fd)
                if not stat.S_ISREG(status.st_mode):
                    raise CouldNotRead(NOT_A_FILE, path)
                return _read(fd, limit, status.st_size)
            finally:
                os.close(fd)
        except OSError as error:
            raise CouldNotRead(reason_of(error), path) from None

    def _opened(self, name: str, folder: int) -> int:
        """A file that was listed as one: a pipe, a link or a socket that stands there since is not waited for or followed."""
        try:
            return os.open(name, _FILE | os.O_NOATIME, dir_fd=folder)
        except PermissionError:
            return os.open(name, _FILE, dir_fd=folder)


def _read(fd: int, limit: int, size: int) -> bytes:
    data = os.read(fd, min(limit, 1 << 20))
    if not data or len(data) == limit or len(data) == size:
        return data
    parts, left = [data], limit - len(data)
    while left and (data := os.read(fd, min(left, 1 << 20))):
        parts.append(data)
        left -= len(data)
    return b"".join(parts)


def _unpacked(text: str) -> dict[str, str]:
    return {each[1:]: _KINDS[each[0]] for each in text.split("\0")} if text else {}


def _type(entry: os.DirEntry[str]) -> str:
    """Of what is no file."""
    if entry.is_symlink():
        return "link"
    return "folder" if entry.is_dir(follow_symlinks=False) else "other"
