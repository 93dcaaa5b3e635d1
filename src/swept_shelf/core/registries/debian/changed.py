"""Installed files whose content is no longer what the package brought (its md5sums)."""

from __future__ import annotations

import hashlib
import os
from collections.abc import Mapping

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.package import Package
from swept_shelf.core.tree.walk import Tree

ADMIN = "/var/lib/dpkg"
_AT_MOST = 200
_GRAIN_NS = 120 * 10**9


def changed_files(
    machine: Machine, tree: Tree, packages: list[Package], files: Mapping[str, list[str]]
) -> list[str]:
    """Files of these packages that differ from their md5sums; `files`: where each package's lie, links followed.

    Only files written later than the package was installed are compared: dpkg gives the others the time of their archive.
    A file whose time was set back by hand is not noticed."""
    found: list[str] = []
    for package in packages:
        if package.changed_at is None:
            continue
        since = int(package.changed_at.timestamp() * 1e9) + _GRAIN_NS
        late = [
            p
            for p in files.get(package.name, ())
            if (i := tree.where.get(p)) is not None and tree.is_file[i] and tree.mtime[i] > since
        ]
        if not late:
            continue
        late = sorted(late)[:_AT_MOST]
        sums = _sums(machine, tree, package, {base(p) for p in late})
        for path in late:
            if path in sums and _md5(machine, path) not in ("", sums[path]):
                found.append(path)
    return found


def _sums(machine: Machine, tree: Tree, package: Package, names: set[str]) -> dict[str, str]:
    text = ""
    for name in (package.name, package.plain_name, f"{package.plain_name}:{package.architecture}"):
        text = text or machine.text(f"{ADMIN}/info/{name}.md5sums")
    rows = (line.split("  ", 1) for line in text.splitlines() if "  " in line)
    return {tree.real("/" + path): md5 for md5, path in rows if base("/" + path) in names}


def _md5(machine: Machine, path: str) -> str:
    """The digest, read without moving the access time; "" where it may not be read."""
    try:
        with os.fdopen(machine.open(path), "rb") as handle:
            return hashlib.file_digest(handle, lambda: hashlib.md5(usedforsecurity=False)).hexdigest()
    except (OSError, CouldNotRead):
        return ""
