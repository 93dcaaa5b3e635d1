"""Changes through rpm: what it would take, erasing with every file kept under a second name, and the same files and record again.

The files of a package get second names on the shelf before rpm erases it (copies where another volume holds them), so that put back
gives the very same files and needs no room; the record comes back from the package's own header, by --justdb."""

from __future__ import annotations

import base64
import contextlib
import os
import re
import stat
from collections.abc import Collection, Iterator, Mapping
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.paths import base, is_clean, parent
from swept_shelf.core.machine.attributes import attributes, restore_attributes
from swept_shelf.core.machine.commands import CHANGE, RPM_INSIDE, Ran, available, run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.scratch import scratch_folder
from swept_shelf.core.machine.second_name import copied, second_name
from swept_shelf.core.machine.walled import BROUGHT, wall
from swept_shelf.core.registries.plain_store import before as before
from swept_shelf.core.registries.plain_store import folder_of as folder_of
from swept_shelf.core.registries.plain_store import half_made as half_made
from swept_shelf.core.registries.plain_store import let_go as let_go
from swept_shelf.core.registries.plain_store import remains as remains
from swept_shelf.core.registries.plain_store import tidy as tidy
from swept_shelf.core.registries.rpm.header import package_of
from swept_shelf.core.registries.rpm.kernels import made_below, runs_now
from swept_shelf.core.registries.rpm.package import Package, called
from swept_shelf.core.registries.rpm.read import packages_of

_REF = re.compile(r"[A-Za-z0-9][\w.+~^-]*\.[A-Za-z0-9_]+")
_FILES = "files"
_SAVED = ".rpmsave"
_FOLDER = os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC


def why_not(machine: Machine, op: Uninstall) -> str:
    """Why packages cannot be changed, known before anything is tried; "" where they can."""
    if not op.refs or not all(_REF.fullmatch(r) for r in op.refs):
        return "names what no package is called"
    if machine.live or machine.chrootless:
        return "" if available("rpm") else "the command rpm is not on this computer"
    if os.geteuid() != 0:
        return "removing packages of another root needs the administrator"
    if machine.resolve("/bin/sh") is None or machine.resolve(RPM_INSIDE) is None:
        return "has no shell or no rpm of its own: its package scripts cannot run inside it"
    return ""


def may_change(machine: Machine, op: Uninstall) -> bool:
    return os.geteuid() == 0


def there(machine: Machine, op: Uninstall) -> dict[str, Package]:
    """What of it is installed now, by rpm's own word. Raises CouldNotRead."""
    known = packages_of(machine, op.place)
    each = zip(op.refs, op.commits, strict=True)
    return {r: p for r, version in each if (p := _standing(known, r, version))}


def _standing(known: Mapping[str, Package], ref: str, version: str) -> Package | None:
    """What is installed by that name; of several versions beside each other only the very one."""
    found = called(known, ref, version)
    return None if found is not None and found.several and found.version != version else found


def ask(machine: Machine, op: Uninstall, along: Collection[str] = ()) -> list[str]:
    """Whether rpm would erase exactly these, with those that go `along` before. Raises Refused with its words, CouldNotRead."""
    now = there(machine, op)
    for ref, is_ in now.items():
        if is_.version != op.commits[op.refs.index(ref)]:
            raise Refused(f"{ref} is another version by now: survey again")
        if runs_now(machine, is_):
            raise Refused(f"{ref} is the kernel that runs now")
    if not now:
        return []
    known = packages_of(machine, op.place)
    done = _rpm(machine, op, "-e", "--test", *sorted({*_ids(now), *(a for a in along if a in known)}))
    if done.status != 0:
        raise Refused(f"rpm would refuse: {_words(done)}")
    return sorted(now)


def _ids(now: Mapping[str, Package]) -> list[str]:
    return sorted(p.id for p in now.values())


def to_keep(machine: Machine, op: Uninstall, prefix: str) -> list[dict[str, Any]]:
    """What put back needs to know of each: its header, and every path that it lists with all that a path has. Raises CouldNotRead."""
    kept, number = [], 0
    for ref, package in there(machine, op).items():
        paths: dict[str, dict[str, Any]] = {}
        for path in dict.fromkeys((*package.files, *made_below(machine, package))):
            if not is_clean(path):
                raise CouldNotRead("lists a path that is none", path)
            real = _real(machine, path)
            status = machine.lstat(real) if real else None
            if status is None or real in paths:
                continue
            found = attributes(machine, real, status)
            if found["type"] == "file":
                number += 1
                found |= {"as": f"{number}", "inode": status.st_ino}
            elif found["type"] == "link":
                found["target"] = machine.readlink(real) or ""
            elif found["type"] != "folder":
                raise CouldNotRead(f"is a {found['type']}: it could not be put back", path)
            paths[real] = found
        when = package.installed
        kept.append(
            {
                "ref": ref,
                "version": package.version,
                "installed": int(when.timestamp()) if when else 0,
                "header": _header(machine, op, package.id),
                "paths": paths,
            }
        )
    return kept


def keep(machine: Machine, op: Uninstall, kept: list[dict[str, Any]], slot: int) -> None:
    """Give every file a second name in the slot. Raises OSError."""
    with contextlib.suppress(FileExistsError):
        os.mkdir(_FILES, 0o700, dir_fd=slot)
    folder = os.open(_FILES, _FOLDER, dir_fd=slot)
    try:
        for path, known in ((p, k) for one in kept for p, k in one["paths"].items() if k["type"] == "file"):
            with contextlib.suppress(FileNotFoundError), machine.folder(parent(path)) as above:
                second_name(above, base(path), folder, known["as"])
        os.fsync(folder)
    finally:
        os.close(folder)


def uninstall(machine: Machine, op: Uninstall, kept: list[dict[str, Any]]) -> None:
    """Raises CouldNotRead with rpm's words when something is still there."""
    left = there(machine, op)
    if left:
        done = _rpm(machine, op, "-e", *_ids(left), change=True)
        if still := sorted(there(machine, op)):
            raise CouldNotRead(f"rpm left {', '.join(still)}: {_words(done)}")
    for one, package in ((o, p) for o in kept if (p := left.get(o["ref"]))):
        for path in reversed([p for p in made_below(machine, package) if p in one["paths"]]):
            _take(machine, path, one["paths"][path])
    for path, known in ((p, k) for one in kept for p, k in one["paths"].items() if k["type"] == "file"):
        saved = base(path) + _SAVED  # an edited settings file, by another name: it stands on the shelf
        with contextlib.suppress(FileNotFoundError), machine.folder(parent(path)) as above:
            if os.stat(saved, dir_fd=above, follow_symlinks=False).st_ino == known["inode"]:
                os.unlink(saved, dir_fd=above)


def _take(machine: Machine, path: str, known: dict[str, Any]) -> None:
    """What was made for a package and its scripts did not take: it stands on the shelf. Raises OSError."""
    with contextlib.suppress(FileNotFoundError), machine.folder(parent(path)) as above:
        if known["type"] == "folder":
            with contextlib.suppress(OSError):
                os.rmdir(base(path), dir_fd=above)
        elif os.stat(base(path), dir_fd=above, follow_symlinks=False).st_ino == known.get("inode"):
            os.unlink(base(path), dir_fd=above)


def give_back(machine: Machine, op: Uninstall, kept: list[dict[str, Any]], slot: int) -> str:
    """The very files again, and the record. Returns "" or why not; nothing newer is overwritten. Raises CouldNotRead, OSError."""
    now = packages_of(machine, op.place)
    for one in kept:
        stands = _standing(now, one["ref"], one["version"])
        if stands is not None and stands.version != one["version"]:
            return f"{one['ref']} is installed in another version by now; it was not overwritten"
    folder = os.open(_FILES, _FOLDER, dir_fd=slot)
    try:
        everything = {p: k for one in kept for p, k in one["paths"].items()}
        for path in sorted(everything):
            if why := _in_the_way(machine, path, everything[path], folder):
                return f"{path}: {why}"
        for path in sorted(everything):
            _stand_again(machine, path, everything[path], folder)
    finally:
        os.close(folder)
    restore_attributes(machine, everything)
    for one in kept:
        if _standing(now, one["ref"], one["version"]) is None:
            _record_again(machine, op, one)
    now = packages_of(machine, op.place)
    if left := [one["ref"] for one in kept if _standing(now, one["ref"], one["version"]) is None]:
        return f"rpm does not know {', '.join(left)} again"
    return ""


def touched(machine: Machine, op: Uninstall) -> Iterator[str]:
    """The folders that its files lie in, whose times change."""
    for package in there(machine, op).values():
        listed = (*package.files, *made_below(machine, package))
        yield from (parent(real) for p in listed if (real := _real(machine, p)))


# -- files --------------------------------------------------------------------------------------------------------


def _real(machine: Machine, path: str) -> str:
    """Where a listed path stands; "" where its folder is not there."""
    above = machine.resolve(parent(path))
    return "" if above is None else f"{above.rstrip('/')}/{base(path)}"


def _in_the_way(machine: Machine, path: str, known: dict[str, Any], folder: int) -> str:
    status = machine.lstat(path)
    if known["type"] == "file":
        try:
            kept = os.stat(known["as"], dir_fd=folder, follow_symlinks=False)
        except FileNotFoundError:
            return "" if status is not None else "its content is not on the shelf any more"
        if status is None or (
            stat.S_ISREG(status.st_mode) and _is_same(machine, path, status, folder, known["as"], kept)
        ):
            return ""
        return "something newer stands there"
    if status is None:
        return ""
    if known["type"] == "link":
        return "" if machine.readlink(path) == known["target"] else "something newer stands there"
    return "" if stat.S_ISDIR(status.st_mode) else "something newer stands there"


def _is_same(
    machine: Machine, path: str, status: os.stat_result, folder: int, number: str, kept: os.stat_result
) -> bool:
    if (status.st_dev, status.st_ino) == (kept.st_dev, kept.st_ino):
        return True
    if status.st_size != kept.st_size:
        return False
    fd = os.open(number, os.O_RDONLY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=folder)
    with os.fdopen(fd, "rb") as mine, machine.opened(path) as theirs:
        while piece := mine.read(1 << 20):
            if piece != theirs.read(len(piece)):
                return False
    return True


def _stand_again(machine: Machine, path: str, known: dict[str, Any], folder: int) -> None:
    if machine.lstat(path) is not None:
        return
    with machine.folder(parent(path)) as above:
        name = base(path)
        if known["type"] == "folder":
            os.mkdir(name, 0o700, dir_fd=above)
        elif known["type"] == "link":
            os.symlink(known["target"], name, dir_fd=above)
        else:
            try:
                os.link(known["as"], name, src_dir_fd=folder, dst_dir_fd=above, follow_symlinks=False)
            except OSError:
                copied(folder, known["as"], above, name)
        os.fsync(above)


# -- the record ---------------------------------------------------------------------------------------------------


def _header(machine: Machine, op: Uninstall, ref: str) -> str:
    """Its immutable region, as rpm gives it. Raises CouldNotRead."""
    done = _rpm(machine, op, "-q", ref, "--qf", "%{HEADERIMMUTABLE:base64}")
    text = "".join(done.out.decode("ascii", "replace").split())
    try:
        package_of(ref, base64.b64decode(text, validate=True))
    except ValueError as error:
        raise CouldNotRead(f"rpm gave no header of {ref}: {error}", op.place) from None
    return text


def _record_again(machine: Machine, op: Uninstall, kept: dict[str, Any]) -> None:
    """Raises CouldNotRead with rpm's words."""
    with scratch_folder() as folder:
        (folder / "record.rpm").write_bytes(package_of(kept["ref"], base64.b64decode(kept["header"])))
        when = {"SOURCE_DATE_EPOCH": str(kept["installed"])} if kept["installed"] else {}
        words = (
            "--justdb",
            "--nodeps",
            "--noscripts",
            "--notriggers",
            "--nodigest",
            "--nosignature",
            "--ignoresize",
            "--oldpackage",  # beside a newer one it stood before too
        )
        done = _rpm(machine, op, "-i", *words, brought=str(folder / "record.rpm"), change=True, more=when)
    if done.status != 0:
        raise CouldNotRead(f"rpm did not take the record of {kept['ref']} again: {_words(done)}")


def _rpm(
    machine: Machine,
    op: Uninstall,
    *arguments: str,
    change: bool = False,
    brought: str = "",
    more: dict[str, str] | None = None,
) -> Ran:
    environment = more or {}
    where = ["--dbpath", op.place]
    if machine.live or machine.chrootless:
        within = [] if machine.live else ["--root", str(machine.root)]
        given = [brought] if brought else []
        return run(
            "rpm", *within, *where, *arguments, *given, as_=CHANGE, environment=environment, timeout=3600
        )
    if why := why_not(machine, op):
        raise Refused(why, machine.root)
    given = [f"{BROUGHT}/{base('/' + brought)}"] if brought else []
    with machine.folder("/") as root:
        return run(
            RPM_INSIDE,
            *where,
            *arguments,
            *given,
            walled=wall(root, parent(brought) if brought else ""),
            environment=environment,
            timeout=3600,
        )


def _words(done: Ran) -> str:
    text = "\n".join(x for x in done.err.splitlines() if not x.startswith("rpm: "))
    return " ".join((text or done.out.decode("utf-8", "replace")).split())[:400] or "no reason given"
