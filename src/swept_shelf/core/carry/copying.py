"""Where a rename is impossible (overlays, subvolumes): copied, compared with what was copied, and only then removed.

Everything goes through descriptors; links are copied as links. What cannot be made again (another's device) is an error."""

from __future__ import annotations

import contextlib
import errno
import os
import stat
from collections.abc import Iterator

from swept_shelf.core.documents.errors import Changed
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.descend import folders_below

_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC
_FILE = os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC
_PIECE = 1 << 20


def copy(source: int, name: str, target: int, as_: str) -> None:
    """Copy `name` in folder `source` to `as_` in folder `target`, everything below it too. Raises OSError."""
    names: dict[tuple[int, int], str] = {}
    status = os.stat(name, dir_fd=source, follow_symlinks=False)
    if not stat.S_ISDIR(status.st_mode):
        _copy_one(source, name, target, as_, status)
        return
    os.mkdir(as_, 0o700, dir_fd=target)
    with _opened(source, name) as top, _opened(target, as_) as made:
        folders = []
        for path, fd, inside in folders_below(top):
            with _folder(made, path) as here:
                for inner in inside:
                    s = os.stat(inner, dir_fd=fd, follow_symlinks=False)
                    whole = f"{path}/{inner}" if path else inner
                    if stat.S_ISDIR(s.st_mode):
                        os.mkdir(inner, 0o700, dir_fd=here)
                        folders.append((whole, s))
                    elif s.st_nlink > 1 and (first := names.get((s.st_dev, s.st_ino))):
                        os.link(first, inner, src_dir_fd=made, dst_dir_fd=here, follow_symlinks=False)
                    else:
                        names[s.st_dev, s.st_ino] = whole
                        _copy_one(fd, inner, here, inner, s)
        for path, s in reversed(folders):
            with _folder(top, path) as old, _folder(made, path) as new:
                _alike(old, new, s)
        _alike(top, made, status)
        os.fsync(made)


def compare(source: int, name: str, target: int, as_: str) -> None:
    """Raises Changed where the two are not alike in type, owner, mode, times, attributes or content."""
    if not alike(source, name, target, as_):
        raise Changed("was changed while it was copied: it was left", name)


def alike(source: int, name: str, target: int, as_: str, times: bool = True, content: bool = True) -> bool:
    """Whether two things are the same in everything that a copy can hold; without `content`: as their sizes and times say."""
    a, b = (os.stat(n, dir_fd=d, follow_symlinks=False) for n, d in ((name, source), (as_, target)))
    if not _same(source, name, a, target, as_, b, times, content):
        return False
    if not stat.S_ISDIR(a.st_mode):
        return True
    with _opened(source, name) as top, _opened(target, as_) as other:
        for path, fd, inside in folders_below(top):
            with _folder(other, path) as here:
                if sorted(os.listdir(here)) != sorted(inside):
                    return False
                for inner in inside:
                    s, t = (os.stat(inner, dir_fd=d, follow_symlinks=False) for d in (fd, here))
                    if not _same(fd, inner, s, here, inner, t, times, content):
                        return False
    return True


def same_content(source: int, name: str, target: int, as_: str) -> bool:
    """Whether two regular files hold the same bytes, compared piece by piece, however large they are. Raises OSError."""
    with (
        os.fdopen(os.open(name, _FILE, dir_fd=source), "rb") as a,
        os.fdopen(os.open(as_, _FILE, dir_fd=target), "rb") as b,
    ):
        if not (stat.S_ISREG(os.fstat(a.fileno()).st_mode) and stat.S_ISREG(os.fstat(b.fileno()).st_mode)):
            return False
        while True:
            left, right = a.read(_PIECE), b.read(_PIECE)
            if left != right:
                return False
            if not left:
                return True


def _same(
    a: int, name: str, s: os.stat_result, b: int, as_: str, t: os.stat_result, times: bool, content: bool
) -> bool:
    if (s.st_mode, s.st_uid, s.st_gid) != (t.st_mode, t.st_uid, t.st_gid):
        return False
    if times and s.st_mtime_ns != t.st_mtime_ns:
        return False
    if stat.S_ISLNK(s.st_mode):
        return os.readlink(name, dir_fd=a) == os.readlink(as_, dir_fd=b)
    if stat.S_ISREG(s.st_mode):
        return s.st_size == t.st_size and (not content or same_content(a, name, b, as_))
    return True


def _copy_one(source: int, name: str, target: int, as_: str, s: os.stat_result) -> None:
    if stat.S_ISLNK(s.st_mode):
        os.symlink(os.readlink(name, dir_fd=source), as_, dir_fd=target)
        _owner(target, as_, s)
        os.utime(as_, ns=(s.st_atime_ns, s.st_mtime_ns), dir_fd=target, follow_symlinks=False)
        return
    if not stat.S_ISREG(s.st_mode):
        os.mknod(as_, s.st_mode, s.st_rdev, dir_fd=target)
        _owner(target, as_, s)
        os.chmod(as_, stat.S_IMODE(s.st_mode), dir_fd=target)
        os.utime(as_, ns=(s.st_atime_ns, s.st_mtime_ns), dir_fd=target, follow_symlinks=False)
        return
    old = os.open(name, _FILE, dir_fd=source)
    try:
        new = os.open(
            as_, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600, dir_fd=target
        )
        try:
            _content(old, new)
            _alike(old, new, s)
            os.fsync(new)
        finally:
            os.close(new)
    finally:
        os.close(old)


def _content(old: int, new: int) -> None:
    """The bytes, holes left as holes (lseek(2))."""
    size, at = os.fstat(old).st_size, 0
    os.ftruncate(new, size)
    while at < size:
        try:
            at = os.lseek(old, at, os.SEEK_DATA)
        except OSError as error:
            if error.errno != errno.ENXIO:  # lseek(2): no data beyond
                raise
            return
        end = os.lseek(old, at, os.SEEK_HOLE)
        while at < end:
            piece = os.pread(old, min(_PIECE, end - at), at)
            if not piece:
                return
            view, place = memoryview(piece), at
            while view:
                written = os.pwrite(new, view, place)
                view, place = view[written:], place + written
            at += len(piece)


def _alike(old: int, new: int, s: os.stat_result) -> None:
    """Owner, mode, attributes and times, of open files or folders."""
    if (os.fstat(new).st_uid, os.fstat(new).st_gid) != (s.st_uid, s.st_gid):
        os.fchown(new, s.st_uid, s.st_gid)
    os.fchmod(new, stat.S_IMODE(s.st_mode))
    for attribute in os.listxattr(old):
        os.setxattr(new, attribute, os.getxattr(old, attribute))
    os.utime(new, ns=(s.st_atime_ns, s.st_mtime_ns))


def _owner(folder: int, name: str, s: os.stat_result) -> None:
    now = os.stat(name, dir_fd=folder, follow_symlinks=False)
    if (now.st_uid, now.st_gid) != (s.st_uid, s.st_gid):
        os.chown(name, s.st_uid, s.st_gid, dir_fd=folder, follow_symlinks=False)


@contextlib.contextmanager
def _opened(folder: int, name: str) -> Iterator[int]:
    fd = os.open(name, _FOLDER, dir_fd=folder)
    try:
        yield fd
    finally:
        os.close(fd)


@contextlib.contextmanager
def _folder(top: int, path: str) -> Iterator[int]:
    fd = beneath.open_strict(top, path, _FOLDER)
    try:
        yield fd
    finally:
        os.close(fd)
