"""Package files that have a second name elsewhere: removing the package takes one name away, and dpkg takes the rights of a
set-user-id program from what is left. Put back makes them one file again, with the rights it had."""

from __future__ import annotations

import contextlib
import os
import stat
from typing import Any

from swept_shelf.core.carry import copying
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.read import query
from swept_shelf.core.tree.index import Index


def names_elsewhere(machine: Machine, packages: list[str], index: Index) -> dict[str, Any]:
    """{path of a package's file: what it is, and its names that none of these packages lists}."""
    known = query(machine, *packages)
    files = {f: p.name for p in known for f in p.files}
    several: dict[tuple[str, int], tuple[str, os.stat_result]] = {}
    for path in files:
        status = machine.lstat(path)
        if status is not None and stat.S_ISREG(status.st_mode) and status.st_nlink > 1:
            several[machine.file_system(status.st_dev), status.st_ino] = path, status
    found: dict[str, Any] = {}
    real = {machine.resolve(f) for f in files} if several else set()
    for key, names in index.other_names(set(several)).items():
        path, status = several[key]
        if others := [n for n in names if n not in real]:
            found[path] = {
                "package": files[path],
                "names": others,
                "inode": status.st_ino,
                "uid": status.st_uid,
                "gid": status.st_gid,
                "mode": stat.S_IMODE(status.st_mode),
                "mtime_ns": status.st_mtime_ns,
            }
    return found


def one_file_again(machine: Machine, known: dict[str, Any], packages: set[str]) -> None:
    """After these packages stand again: give each file back its other name, where that still holds the same. Raises OSError."""
    for path, kept in known.items():
        real = machine.resolve(path)
        if kept["package"] not in packages or real is None:
            continue
        for name in kept["names"]:
            if _one_again(machine, real, name, kept):
                break


def _one_again(machine: Machine, path: str, name: str, kept: dict[str, Any]) -> bool:
    with (
        contextlib.suppress(FileNotFoundError),
        machine.folder(parent(path)) as here,
        machine.folder(parent(name)) as there,
    ):
        now, other = (
            os.stat(base(p), dir_fd=d, follow_symlinks=False) for p, d in ((path, here), (name, there))
        )
        if now.st_ino == other.st_ino:
            return True
        same = (other.st_ino, other.st_uid, other.st_gid) == (kept["inode"], kept["uid"], kept["gid"])
        if not same or not copying.same_content(here, base(path), there, base(name)):
            return False
        part = beneath.beside_name(base(path))
        os.link(base(name), part, src_dir_fd=there, dst_dir_fd=here, follow_symlinks=False)
        linked = os.stat(part, dir_fd=here, follow_symlinks=False)
        if linked.st_ino != kept["inode"]:
            os.unlink(part, dir_fd=here)
            return False
        fd = os.open(part, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=here)
        try:
            os.fchmod(fd, kept["mode"])
            os.utime(fd, ns=(linked.st_atime_ns, kept["mtime_ns"]))
        finally:
            os.close(fd)
        beneath.rename(here, part, here, base(path), flags=0)
        os.fsync(here)
        return True
    return False
