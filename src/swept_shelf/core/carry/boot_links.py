"""Links that lead to the kernel to start: scripts of kernels turn them to what was installed last, also when that is put back."""

from __future__ import annotations

import os
from typing import Any

from swept_shelf.core.carry.parents import set_mtime
from swept_shelf.core.carry.script_made import noted, put_in_place
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine.machine import Machine

_NAMES = ("vmlinuz", "vmlinuz.old", "initrd.img", "initrd.img.old")
_PLACES = tuple(f"{folder}/{name}" for folder in ("", "/boot") for name in _NAMES)


def boot_links(machine: Machine) -> dict[str, Any]:
    """Those that are there, as they are, and the times of the folders that they stand in. Raises OSError."""
    links = {path: kept for path, kept in noted(machine, _PLACES).items() if "target" in kept}
    times = {f: s.st_mtime_ns for f in {parent(p) for p in links} if (s := machine.lstat(f))}
    return {"links": links, "times": times}


def boot_links_again(machine: Machine, kept: dict[str, Any]) -> None:
    """Turn those back that lead elsewhere by now, and take away those that were not there. Raises OSError."""
    now = boot_links(machine)["links"]
    for path in _PLACES:
        link = kept["links"].get(path)
        if now.get(path) == link or path not in now:
            continue
        with machine.folder(parent(path)) as folder:
            if link is None:
                os.unlink(base(path), dir_fd=folder)
            else:
                put_in_place(folder, base(path), link)
        if (mtime_ns := kept["times"].get(parent(path))) is not None:
            set_mtime(machine, parent(path), mtime_ns)
