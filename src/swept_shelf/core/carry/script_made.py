"""What package scripts make outside their file lists: start links, unit links, what the unit helper remembers.

The registry does not know them. They are noted before and after its calls; put back makes those again that went,
and takes away links that a script made although they were not there before (a service that had been disabled)."""

from __future__ import annotations

import base64
import contextlib
import os
import stat
import time
from collections.abc import Iterable, Iterator
from typing import Any

from swept_shelf.core.carry.records import read_record, write_record
from swept_shelf.core.carry.shelf import Slot, opened_shelf
from swept_shelf.core.documents.paths import base, join, parent, within
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE, person_of, read_people
from swept_shelf.core.machine.removing import remove_tree

Made = dict[str, dict[str, Any]]
_LINKS = "/etc"
_STATE = "/var/lib/systemd"
_CHOSEN = "/etc/alternatives"
_LOCAL = "/usr/local"
_SMALL = 1 << 14
_LISTS = ("/etc/shells", "/etc/inetd.conf")  # scripts of many packages add their lines to them, at the end
AGAIN = "again.json"
_TICK = 20_000_000  # nanoseconds that the file system's clock may stand behind


def made_now(machine: Machine) -> Made:
    """Every link below /etc, every link and small file that the unit helper keeps, and the lists of lines: {path: {"target"} or
    {"content", "mode"}, with "uid", "gid", "mtime_ns"}. What may not be read is left out."""
    found: Made = {}
    for path, status, fd in _below(machine, _LINKS):
        if stat.S_ISLNK(status.st_mode):
            found[path] = _noted(path, status, fd)
    for name in machine.names(_STATE):
        if name.startswith("deb-systemd-"):
            for path, status, fd in _below(machine, join(_STATE, name)):
                if stat.S_ISLNK(status.st_mode) or (
                    stat.S_ISREG(status.st_mode) and status.st_size <= _SMALL
                ):
                    found[path] = _noted(path, status, fd)
    return found | _lists(machine)


def _lists(machine: Machine) -> Made:
    """Those of _LISTS that are there and small, with their content."""
    found: Made = {}
    for path in _LISTS:
        with contextlib.suppress(OSError), machine.folder(parent(path)) as folder:
            status = os.stat(base(path), dir_fd=folder, follow_symlinks=False)
            if stat.S_ISREG(status.st_mode) and status.st_size <= _SMALL:
                found[path] = _noted(path, status, folder)
    return found


def local_folders(machine: Machine) -> list[str]:
    """The upper folders of /usr/local, which package scripts make and take away."""
    return [
        p for p, status, _ in _below(machine, _LOCAL) if stat.S_ISDIR(status.st_mode) and p.count("/") <= 6
    ]


def make_again(machine: Machine, made: Made, paths: list[str]) -> None:
    """Make those of `paths` that are not there; give those that are the same their owner, mode and time.

    Where something else stands by now it stays. Raises OSError."""
    now = made_now(machine)
    for path in paths:
        kept = made[path]
        if now.get(path) == kept:
            continue
        try:
            with machine.folder(parent(path)) as folder:
                name = base(path)
                try:
                    _make(folder, name, kept)
                except FileExistsError:
                    if not _same(folder, name, kept):
                        continue
                status = os.stat(name, dir_fd=folder, follow_symlinks=False)
                if (status.st_uid, status.st_gid) != (kept["uid"], kept["gid"]):
                    os.chown(name, kept["uid"], kept["gid"], dir_fd=folder, follow_symlinks=False)
                if "mode" in kept and stat.S_IMODE(status.st_mode) != kept["mode"]:
                    os.chmod(name, kept["mode"], dir_fd=folder)
                os.utime(
                    name, ns=(status.st_atime_ns, kept["mtime_ns"]), dir_fd=folder, follow_symlinks=False
                )
        except (FileNotFoundError, NotADirectoryError):
            continue


def lines_again(machine: Machine, made: Made) -> None:
    """The lists whose lines are those that were noted, in another order: as they were. Raises OSError."""
    for path, now in _lists(machine).items():
        kept = made.get(path, {})
        if "content" not in kept:
            continue
        old, new = (base64.b64decode(each["content"]) for each in (kept, now))
        if old != new and sorted(old.splitlines(True)) == sorted(new.splitlines(True)):
            with machine.folder(parent(path)) as folder:
                put_in_place(folder, base(path), kept)


def put_in_place(folder: int, name: str, kept: dict[str, Any]) -> None:
    """A link or small file as it was noted, in the place of what stands there. Raises OSError."""
    part = f".{name}.swept-shelf"  # always the same, so that the next try sweeps what a crash left
    with contextlib.suppress(FileNotFoundError):
        os.unlink(part, dir_fd=folder)
    _make(folder, part, kept)
    os.chown(part, kept["uid"], kept["gid"], dir_fd=folder, follow_symlinks=False)
    if "mode" in kept:
        os.chmod(part, kept["mode"], dir_fd=folder)
    os.utime(part, ns=(kept["mtime_ns"],) * 2, dir_fd=folder, follow_symlinks=False)
    os.rename(part, name, src_dir_fd=folder, dst_dir_fd=folder)
    os.fsync(folder)


def take_away_new(machine: Machine, before: set[str], owned: set[str]) -> None:
    """Take away links that were not there `before` and lead to a file of `owned`: what a script made just now.

    `owned` holds paths without links in them. Chosen alternatives are the registry's own and stay. Raises OSError."""
    for path, kept in made_now(machine).items():
        if (
            "target" in kept
            and path not in before
            and not within(path, _CHOSEN)
            and machine.resolve(path) in owned
        ):
            with machine.folder(parent(path)) as folder:
                if _same(folder, base(path), kept):
                    os.unlink(base(path), dir_fd=folder)


def _below(machine: Machine, top: str) -> Iterator[tuple[str, os.stat_result, int]]:
    try:
        with machine.folder(top) as above:
            for folder, fd, names in folders_below(above, unreadable_too=True):
                for name in names:
                    yield (
                        join(top, *folder.split("/"), name) if folder else join(top, name),
                        os.stat(name, dir_fd=fd, follow_symlinks=False),
                        fd,
                    )
    except OSError:
        return


def noted(machine: Machine, paths: Iterable[str]) -> Made:
    """Links and small files as made_now gives them. What is not there, or is something else, is left out. Raises OSError."""
    found: Made = {}
    for path in paths:
        with (
            contextlib.suppress(FileNotFoundError, NotADirectoryError),
            machine.folder(parent(path)) as folder,
        ):
            status = os.stat(base(path), dir_fd=folder, follow_symlinks=False)
            small = stat.S_ISREG(status.st_mode) and status.st_size <= _SMALL
            if small or stat.S_ISLNK(status.st_mode):
                found[path] = _noted(path, status, folder)
    return found


def _noted(path: str, status: os.stat_result, folder: int) -> dict[str, Any]:
    noted: dict[str, Any] = {"uid": status.st_uid, "gid": status.st_gid, "mtime_ns": status.st_mtime_ns}
    if stat.S_ISLNK(status.st_mode):
        return noted | {"target": os.readlink(base(path), dir_fd=folder)}
    return noted | {"mode": stat.S_IMODE(status.st_mode), "content": _content(folder, base(path))}


def _content(folder: int, name: str) -> str:
    fd = os.open(name, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK, dir_fd=folder)
    try:
        return base64.b64encode(os.read(fd, _SMALL)).decode()
    finally:
        os.close(fd)


def _make(folder: int, name: str, kept: dict[str, Any]) -> None:
    """Raises FileExistsError where something stands."""
    if "target" in kept:
        os.symlink(kept["target"], name, dir_fd=folder)
        return
    fd = os.open(name, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, kept["mode"], dir_fd=folder)
    try:
        os.write(fd, base64.b64decode(kept["content"]))
    finally:
        os.close(fd)


def _same(folder: int, name: str, kept: dict[str, Any]) -> bool:
    try:
        if "target" in kept:
            return bool(os.readlink(name, dir_fd=folder) == kept["target"])
        regular = stat.S_ISREG(os.stat(name, dir_fd=folder, follow_symlinks=False).st_mode)
        return regular and bool(_content(folder, name) == kept["content"])
    except OSError:
        return False


# -- what scripts make again where something of this run waits to come back ---------------------------------------


def before_scripts(machine: Machine, slots: Iterable[Slot]) -> None:
    """Note in their slots which places are empty before packages are installed back. Raises OSError.

    A note that a cut-off try left stays: what stands there since then is the scripts' too. Homes are nobody's but people's."""
    people = read_people(machine)
    now = time.clock_gettime_ns(time.CLOCK_REALTIME) - _TICK
    for slot in slots:
        if slot.sealed and slot.waiting and slot.manifest["do"] == "shelve":
            path = slot.manifest["path"]
            if person_of(people, path) == EVERYONE and not machine.exists(path):
                with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
                    write_record(machine, fd, AGAIN, {"from": now, "to": 0})


def after_scripts(machine: Machine, slots: Iterable[Slot]) -> None:
    """The packages stand: what stands in those places by now, their scripts made. Raises OSError."""
    now = time.clock_gettime_ns(time.CLOCK_REALTIME)
    for slot in slots:
        if slot.sealed and slot.waiting and slot.manifest["do"] == "shelve":
            with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
                noted = read_record(machine, fd, AGAIN)
                if isinstance(noted, dict) and not noted["to"]:
                    write_record(machine, fd, AGAIN, noted | {"to": now})


def only_made_by(machine: Machine, path: str, noted: dict[str, Any]) -> bool:
    """Whether all that stands at `path` changed last while packages were installed back."""
    stack = [path]
    while stack:
        here = stack.pop()
        status = machine.lstat(here)
        if status is None or not noted["from"] <= status.st_ctime_ns <= noted["to"]:
            return False
        if stat.S_ISDIR(status.st_mode):
            stack += [join(here, n) for n in machine.listdir(here)]
    return True


def take_away_made_again(machine: Machine, slots: Iterable[Slot]) -> None:
    """What scripts made while packages were made whole, where something of this run waits: it goes again. Raises OSError."""
    for slot in slots:
        if not (slot.sealed and slot.waiting and slot.manifest["do"] == "shelve"):
            continue
        path = slot.manifest["path"]
        with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
            noted = read_record(machine, fd, AGAIN)
        if not isinstance(noted, dict) or not machine.exists(path) or not only_made_by(machine, path, noted):
            continue
        with machine.folder(parent(path)) as folder:
            remove_tree(folder, base(path))
