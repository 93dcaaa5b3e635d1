"""Shared stores: space that no single application owns. Named with size and age, each with its own way to clear it."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import datetime

import numpy as np

from swept_shelf.core.documents.paths import base, join
from swept_shelf.core.documents.survey import Person, SharedStore, Volume
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.registries.debian.package import DebianRegistry
from swept_shelf.core.tree.walk import Tree

_DAY_NS = 86400 * 10**9
# (kind, what people call it, where, how it is cleared)
_SYSTEM = (
    ("package_downloads", "package downloads", "/var/cache/apt/archives", "apt-get clean"),
    ("package_lists", "package lists", "/var/lib/apt/lists", "apt-get update fetches them again"),
    ("package_downloads", "package downloads of dnf", "/var/cache/dnf", "dnf clean packages"),
    ("crash_records", "crash records", "/var/crash", "delete the records"),
    ("core_dumps", "core dumps", "/var/lib/systemd/coredump", "delete them; coredumpctl(1) lists them"),
    ("journal", "system journal", "/var/log/journal", "journalctl --vacuum-size"),
    ("temporary", "temporary files", "/tmp", "emptied at the next start"),
    ("temporary", "temporary files that stay", "/var/tmp", "systemd-tmpfiles --clean"),
)
_PERSONAL = (
    ("trash", "trash", ".local/share/Trash", "empty the trash"),
    ("thumbnails", "thumbnails", ".cache/thumbnails", "delete them; they are made again"),
    ("tool_downloads", "downloads of pip", ".cache/pip", "pip cache purge"),
    ("tool_downloads", "downloads of npm", ".npm/_cacache", "npm cache clean --force"),
    ("tool_downloads", "downloads of cargo", ".cargo/registry/cache", "delete them; they are fetched again"),
    ("downloads", "downloads", "Downloads", ""),  # a person's own: listed, never offered
)
_KERNEL = re.compile(r"^linux-(?:image|modules|modules-extra|headers)-(\d[\w.+~-]*)$")


def find_stores(tree: Tree, people: list[Person], volumes: list[Volume], now: datetime, registry: DebianRegistry | None = None,
                running_kernel: str = "") -> list[SharedStore]:  # fmt: skip
    """Stores that hold anything, largest first. `running_kernel`: the release of the machine's own kernel, where it runs."""
    found = [*_stores(tree, people, volumes, now), *_old_kernels(tree, volumes, now, registry, running_kernel)]
    return sorted(found, key=lambda s: (-s.bytes, s.id))


def _stores(tree: Tree, people: list[Person], volumes: list[Volume], now: datetime) -> Iterator[SharedStore]:
    for kind, name, path, clear_by in _SYSTEM:
        yield from _store(f"store:{kind}" if kind != "temporary" else f"store:temporary:{path}", kind, name, [path], EVERYONE, clear_by, tree, volumes, now)
    for person in people:
        for kind, name, inner, clear_by in _PERSONAL:
            id = f"store:{kind}:{person.name}" + (f"/{name.rsplit(' ', 1)[1]}" if kind == "tool_downloads" else "")
            yield from _store(id, kind, f"{name} of {person.name}", [join(person.home, *inner.split("/"))], person.name, clear_by, tree, volumes, now)
    for volume in volumes:
        yield from _trash_of(volume, tree, people, volumes, now)


def _trash_of(volume: Volume, tree: Tree, people: list[Person], volumes: list[Volume], now: datetime) -> Iterator[SharedStore]:
    """A volume's own trash folders (Trash specification): .Trash/UID and .Trash-UID at its top."""
    uids = {str(p.uid): p.name for p in people}
    for top in tree.children(volume.mount):
        parts = [top] if base(top).startswith(".Trash-") else tree.children(top) if base(top) == ".Trash" else []
        for path in parts:
            uid = base(path).removeprefix(".Trash-")
            name = uids.get(uid, f"account {uid}")
            yield from _store(f"store:trash:{name}@{volume.mount}", "trash", f"trash of {name} on {volume.mount}", [path], name, "empty the trash", tree, volumes, now)


def _old_kernels(tree: Tree, volumes: list[Volume], now: datetime, registry: DebianRegistry | None, running: str) -> Iterator[SharedStore]:
    """Kernels beside the newest one and the running one: their packages, cleared through the registry alone."""
    versions: dict[str, list[str]] = {}
    for package in registry.packages.values() if registry else ():
        if package.installed and (match := _KERNEL.match(package.plain_name)):
            versions.setdefault(match[1], []).extend(f for f in package.files if tree.kind(f) == "file")
    images = [v for v, files in versions.items() if any(f.startswith("/boot/vmlinuz") for f in files)]
    newest = max(images, key=_version_key, default="")
    old = [v for v in versions if v not in (newest, running) and newest]
    files = [f for v in old for f in versions[v]]
    if files:
        yield from _store("store:old_kernels", "old_kernels", f"kernels before {newest}", files, EVERYONE, "apt-get autoremove --purge", tree, volumes, now)


def _version_key(text: str) -> list[int]:
    return [int(n) for n in re.findall(r"\d+", text)]


def _store(id: str, kind: str, name: str, paths: list[str], person: str, clear_by: str, tree: Tree, volumes: list[Volume], now: datetime) -> Iterator[SharedStore]:
    """One store, where it holds anything; its age profile by when its files were last written."""
    positions = np.concatenate([np.arange(s.start, s.stop) for p in paths if (s := tree.slice(p))] or [np.empty(0, dtype=np.int64)]).astype(np.int64)
    positions = positions[~tree.is_folder[positions]] if len(positions) else positions
    if not len(positions):
        return
    times, sizes = tree.mtime[positions], tree.once[positions]
    age = int(now.timestamp()) * 10**9 - times
    yield SharedStore(
        id, kind, name, person, volume_of(volumes, paths[0]).id, paths[0], sum(tree.bytes_below(p) for p in paths), from_ns(int(times.min())),
        from_ns(int(times.max())), clear_by, False, int(sizes[age > 30 * _DAY_NS].sum()), int(sizes[age > 365 * _DAY_NS].sum()), len(positions),
    )  # fmt: skip
