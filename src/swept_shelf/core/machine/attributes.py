"""What put back must restore of a path beside its content, and restoring it."""

from __future__ import annotations

import base64
import contextlib
import os
import stat
from typing import Any

from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine.machine import Machine, type_of


def attributes(machine: Machine, path: str, info: os.stat_result) -> dict[str, Any]:
    """What put back must restore of a path: type, owner, mode, modification time, extended attributes."""
    found: dict[str, Any] = {
        "type": type_of(info.st_mode),
        "uid": info.st_uid,
        "gid": info.st_gid,
        "mode": stat.S_IMODE(info.st_mode),
        "mtime_ns": info.st_mtime_ns,
    }
    if found["type"] in ("file", "folder"):
        try:
            fd = machine.open(path, os.O_RDONLY | os.O_NOFOLLOW)
        except OSError:
            return found
        try:
            names = os.listxattr(fd)
            found["xattrs"] = {n: base64.b64encode(os.getxattr(fd, n)).decode() for n in names}
        except OSError:
            pass
        finally:
            os.close(fd)
    return found


def restore_attributes(machine: Machine, paths: dict[str, dict[str, Any]]) -> None:
    """Owner, mode, extended attributes and times of each path that is still of its type, deepest first."""
    for path in sorted(paths, key=lambda p: -p.count("/")):
        kept = paths[path]
        real = machine.resolve(parent(path))
        if real is None or real != kept.get("in", parent(path)):  # a link was put on the way since
            continue
        with contextlib.suppress(FileNotFoundError), machine.folder(real) as folder:
            name = base(path)
            now = os.stat(name, dir_fd=folder, follow_symlinks=False)
            if type_of(now.st_mode) != kept["type"]:
                continue
            if (now.st_uid, now.st_gid) != (kept["uid"], kept["gid"]):
                os.chown(name, kept["uid"], kept["gid"], dir_fd=folder, follow_symlinks=False)
            if kept["type"] in ("file", "folder") and kept.get("xattrs") is not None:
                fd = os.open(name, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=folder)
                try:
                    if now.st_mode & 0o7777 != kept["mode"]:
                        os.fchmod(fd, kept["mode"])
                    for attribute, value in kept["xattrs"].items():
                        wanted = base64.b64decode(value)
                        if attribute not in os.listxattr(fd) or os.getxattr(fd, attribute) != wanted:
                            os.setxattr(fd, attribute, wanted)
                finally:
                    os.close(fd)
            os.utime(name, ns=(now.st_atime_ns, kept["mtime_ns"]), dir_fd=folder, follow_symlinks=False)
