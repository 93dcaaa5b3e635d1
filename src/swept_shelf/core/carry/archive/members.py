"""Members of an archive: a file with all that a path has, as a tar header, and its digest."""

from __future__ import annotations

import contextlib
import hashlib
import json
import os
import stat
import tarfile
from collections.abc import Iterator
from typing import IO, Any

HEAD, DIGESTS, ORIGINALS = "archive.json", "digests.json", "originals"
PURPOSE = "digests of an archive"
PIECE = 1 << 20
_XATTR = "SCHILY.xattr."
_TYPES = {
    stat.S_IFREG: tarfile.REGTYPE,
    stat.S_IFDIR: tarfile.DIRTYPE,
    stat.S_IFLNK: tarfile.SYMTYPE,
    stat.S_IFIFO: tarfile.FIFOTYPE,
    stat.S_IFCHR: tarfile.CHRTYPE,
    stat.S_IFBLK: tarfile.BLKTYPE,
}


def member_of(
    name: str, folder: int, inner: str, status: os.stat_result, fd: int | None = None
) -> tarfile.TarInfo | None:
    """The header for `inner` of a folder, with the extended attributes of `fd`; None for what no tar can hold (a socket)."""
    kind = _TYPES.get(stat.S_IFMT(status.st_mode))
    if kind is None:
        return None
    info = tarfile.TarInfo(name)
    info.type, info.mode = kind, stat.S_IMODE(status.st_mode)
    info.uid, info.gid = status.st_uid, status.st_gid
    info.mtime = int(status.st_mtime)
    info.pax_headers = _headers(status, fd)
    if kind == tarfile.REGTYPE:
        info.size = status.st_size
    elif kind == tarfile.SYMTYPE:
        info.linkname = os.readlink(inner, dir_fd=folder)
    elif kind in (tarfile.CHRTYPE, tarfile.BLKTYPE):
        info.devmajor, info.devminor = os.major(status.st_rdev), os.minor(status.st_rdev)
    return info


def _headers(status: os.stat_result, fd: int | None) -> dict[str, str]:
    found = {"mtime": f"{status.st_mtime_ns // 10**9}.{status.st_mtime_ns % 10**9:09}"}
    if fd is not None:
        with contextlib.suppress(OSError):  # a file system without any
            for name in os.listxattr(fd):
                found[_XATTR + name] = os.getxattr(fd, name).decode("utf-8", "surrogateescape")
    return found


def attributes_in(info: tarfile.TarInfo) -> dict[str, bytes]:
    return {
        k.removeprefix(_XATTR): v.encode("utf-8", "surrogateescape")
        for k, v in info.pax_headers.items()
        if k.startswith(_XATTR)
    }


def mtime_ns(info: tarfile.TarInfo) -> int:
    """Its modification time as it was written, to the nanosecond. Raises ValueError."""
    whole, _, part = info.pax_headers.get("mtime", str(int(info.mtime))).partition(".")
    return int(whole) * 10**9 + int((part + "000000000")[:9])


class Digest:
    """SHA-256 over what a header says and the content that follows."""

    def __init__(self, info: tarfile.TarInfo) -> None:
        said = [info.type.decode(), info.mode, info.uid, info.gid, info.size if info.isreg() else 0]
        said += [info.linkname, info.devmajor if info.isdev() else 0, info.devminor if info.isdev() else 0]
        more = sorted((k, v) for k, v in info.pax_headers.items() if k == "mtime" or k.startswith(_XATTR))
        self._sum = hashlib.sha256(json.dumps([said, more], ensure_ascii=True).encode() + b"\n")

    def update(self, piece: bytes) -> None:
        self._sum.update(piece)

    @property
    def value(self) -> str:
        return self._sum.hexdigest()


class Hashed:
    """A file that is read on into a tar, and hashed on the way."""

    def __init__(self, source: IO[bytes], digest: Digest) -> None:
        self._source, self._digest = source, digest

    def read(self, count: int = -1) -> bytes:
        piece = self._source.read(count)
        self._digest.update(piece)
        return piece


def pieces(source: IO[bytes]) -> Iterator[bytes]:
    while piece := source.read(PIECE):
        yield piece


def plain(value: Any) -> bytes:
    return json.dumps(value, ensure_ascii=True, indent=1).encode() + b"\n"
