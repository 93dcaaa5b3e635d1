"""Bytes of files that other files share (reflinks), by the file system's own map of extents (FS_IOC_FIEMAP, linux/fiemap.h)."""

from __future__ import annotations

import fcntl
import os
import struct

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine

SHARING = frozenset({"btrfs", "xfs", "bcachefs", "ocfs2"})
WORTH = 128 * 1024
_FIEMAP = 0xC020660B  # _IOWR('f', 11, struct fiemap)
_HEAD, _EXTENT = struct.Struct("=QQIIII"), struct.Struct("=QQQQQIIII")
_LAST, _SHARED = 0x1, 0x2000
_AT_ONCE = 256


def shared_bytes(machine: Machine, path: str) -> int:
    """Bytes of the file's extents that are shared with other files; 0 where its file system cannot tell.

    The map counts what extents hold unpacked; a file's allocated bytes bound it where that is compressed."""
    try:
        fd = machine.open(path)
    except (OSError, CouldNotRead):
        return 0
    try:
        return min(_shared(fd), os.fstat(fd).st_blocks * 512)
    except OSError:
        return 0
    finally:
        os.close(fd)


def _shared(fd: int) -> int:
    start, found = 0, 0
    while True:
        request = bytearray(_HEAD.size + _EXTENT.size * _AT_ONCE)
        _HEAD.pack_into(request, 0, start, (1 << 64) - 1 - start, 0, 0, _AT_ONCE, 0)
        fcntl.ioctl(fd, _FIEMAP, request)
        count = _HEAD.unpack_from(request)[3]
        if not count:
            return found
        for i in range(count):
            logical, _, length, _, _, flags, *_ = _EXTENT.unpack_from(request, _HEAD.size + i * _EXTENT.size)
            found += length if flags & _SHARED else 0
            start = logical + length
            if flags & _LAST:
                return found
