"""Reads the package database of a root: one dpkg-query, its logs, and apt's own marks and settings."""

from __future__ import annotations

import os
import re
import secrets
import stat
from collections.abc import Container, Iterator
from contextlib import contextmanager
from datetime import datetime

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.numbers import whole
from swept_shelf.core.documents.paths import spelled
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.descend import folders_below
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.scratch import scratch_folder
from swept_shelf.core.registries.debian.diversions import diversions
from swept_shelf.core.registries.debian.history import apt_history, asked, commands, dpkg_history, removed
from swept_shelf.core.registries.debian.offered import start_reading
from swept_shelf.core.registries.debian.package import Conffile, DebianRegistry, Package
from swept_shelf.core.registries.debian.settings import read_settings

ADMIN = "/var/lib/dpkg"
_READ_BY_DPKG = ("status", "available", "arch", "diversions", "statoverride", "alternatives")
MARKS = "/var/lib/apt/extended_states"
_LAST_SECOND = 253_370_764_800  # the year 9999
_LARGEST = 1 << 40  # kibibytes that a package may say it has
_FIELDS = (
    "${binary:Package}",
    "${Version}",
    "${Architecture}",
    "${db:Status-Want}",
    "${db:Status-Status}",
    "${db:Status-Eflag}",
    "${Section}",
    "${Priority}",
    "${Essential}",
    "${Protected}${Important}",
    "${source:Package}",
    "${Homepage}",
    "${Maintainer}",
    "${binary:Summary}",
    "${Pre-Depends}",
    "${Depends}",
    "${Recommends}",
    "${Suggests}",
    "${Provides}",
    "${Conffiles}",
    "${db-fsys:Last-Modified}",
    "${Installed-Size}",
    "${db-fsys:Files}",
)


def present(machine: Machine) -> bool:
    return machine.exists(ADMIN)


def read(machine: Machine) -> DebianRegistry:
    """Everything the registry knows. Raises CouldNotRead when its database is missing, empty or broken."""
    reading = start_reading(machine)
    packages = {p.name: p for p in query(machine)}
    problems = list(_without_entry(machine, packages))
    automatic = frozenset(automatic_packages(machine, packages))
    kept = read_settings(machine, problems)
    events, by_apt = list(dpkg_history(machine, problems)), list(apt_history(machine, problems))
    known = {(e.package, e.action) for e in events}
    events += [e for e in removed(machine, []) if (e.package, e.action) not in known]
    lists, unread = reading.result()
    return DebianRegistry(
        packages,
        automatic,
        tuple(sorted(events, key=lambda e: e.at)),
        asked(by_apt),
        lists.names,
        kept.recommends,
        kept.suggests,
        kept.never,
        tuple([*problems, *unread]),
        tuple(commands(by_apt)),
        diversions(machine),
        frozenset(
            p.name
            for p in packages.values()
            if lists.is_required(p.plain_name, p.version, p.priority == "required")
        ),
    )


def query(machine: Machine, *names: str) -> list[Package]:
    """Packages by dpkg-query(1), all of them or the named ones. Raises CouldNotRead with dpkg's own words."""
    status = machine.lstat(f"{ADMIN}/status")
    if status is None:
        raise CouldNotRead("is not there: no package can be listed", f"{ADMIN}/status")
    if not machine.read_bytes(f"{ADMIN}/status", 4096).strip():
        raise CouldNotRead("is empty: no package can be listed", f"{ADMIN}/status")
    with database(machine) as (folder, fd):
        unit, end = (f"\x1f{secrets.token_hex(6)}\x1f" for _ in range(2))  # which no package's text can hold
        form = unit.join(_FIELDS) + end
        done = run("dpkg-query", f"--admindir={folder}", "-W", "-f", form, *names, fds=[fd])
    if done.status == 2 or (not done.out and not names):
        told = " ".join(done.err.split()).replace(folder, ADMIN)
        raise CouldNotRead(f"dpkg could not read it: {told[:300]}", f"{ADMIN}/status")
    text = done.out.decode("utf-8", "surrogateescape")
    return [_package(row.split(unit)) for row in text.split(end) if row]


@contextmanager
def database(machine: Machine) -> Iterator[tuple[str, int]]:
    """dpkg's folder for a command that reads it: as it stands where every file in it is a plain one, else a private copy of
    the plain ones, since a command would follow a link out of the root and wait at a pipe. Raises CouldNotRead."""
    with machine.handed(ADMIN) as (folder, fd):
        if not any(_is_odd(f"{folder}/{part}") for part in ("", "info", "updates", "triggers")):
            yield folder, fd
            return
    with scratch_folder() as copy:
        for part in ("", "/info", "/updates", "/triggers"):
            (copy / part.lstrip("/")).mkdir(exist_ok=True)
            for name in machine.names(f"{ADMIN}{part}"):
                status = machine.lstat(f"{ADMIN}{part}/{name}")
                if status is not None and stat.S_ISREG(status.st_mode) and (name in _READ_BY_DPKG or part):
                    (copy / part.lstrip("/") / name).write_bytes(machine.read_bytes(f"{ADMIN}{part}/{name}"))
        fd = os.open(copy, os.O_PATH | os.O_CLOEXEC)
        try:
            yield str(copy), fd
        finally:
            os.close(fd)


def _is_odd(folder: str) -> bool:
    try:
        top = os.open(folder, os.O_RDONLY | os.O_DIRECTORY | os.O_CLOEXEC)
        try:
            for _, fd, names in folders_below(top, unreadable_too=True):
                kinds = [os.stat(n, dir_fd=fd, follow_symlinks=False).st_mode for n in names]
                names.clear()  # its own entries alone
                return any(not (stat.S_ISREG(k) or stat.S_ISDIR(k)) for k in kinds)
        finally:
            os.close(top)
    except OSError:
        pass
    return os.path.lexists(folder)


def _package(row: list[str]) -> Package:
    row = [*map(spelled, row[:-3]), *row[-3:]]
    if len(row) != len(_FIELDS):
        raise CouldNotRead(
            f"a record of {len(row)} fields instead of {len(_FIELDS)}: {row[0][:60]}", f"{ADMIN}/status"
        )
    (
        name,
        version,
        arch,
        want,
        status,
        error,
        section,
        priority,
        essential,
        protected,
        source,
        homepage,
        maintainer,
        summary,
        pre,
        depends,
        recommends,
        suggests,
        provides,
        conffiles,
        changed,
        kibibytes,
        files,
    ) = row
    return Package(
        name,
        version,
        arch,
        want,
        status,
        error,
        section,
        priority,
        essential == "yes",
        "yes" in protected,
        source,
        homepage,
        maintainer,
        summary,
        ", ".join(x for x in (pre, depends) if x),
        recommends,
        suggests,
        provides,
        tuple(_conffiles(conffiles)),
        _moment(changed),
        (whole(kibibytes, _LARGEST) or 0) << 10,
        _files(files),
    )


def _moment(text: str) -> datetime | None:
    seconds = whole(text, _LAST_SECOND)
    return None if seconds is None else from_ns(seconds * 1_000_000_000)


def _files(text: str) -> tuple[str, ...]:
    """Paths, one a line behind a space; the root itself ("/.") left out."""
    parts = text[1:].rstrip("\n").split("\n ")
    if text.startswith(" /.\n") and text.count("\n /") == len(parts) - 1:
        return tuple(parts[1:])
    return tuple(f[1:] for f in text.split("\n") if f.startswith(" /") and f != " /.")


def _conffiles(text: str) -> Iterator[Conffile]:
    """` PATH MD5[ obsolete][ remove-on-upgrade]` a line (deb822, Conffiles)."""
    for line in text.split("\n"):
        parts = line.strip().rsplit(" ", 3)
        flags = []
        while parts and parts[-1] in ("obsolete", "remove-on-upgrade"):
            flags.append(parts.pop())
        path, _, md5 = " ".join(parts).rpartition(" ")
        if path.startswith("/"):
            yield Conffile(path, md5, "obsolete" in flags)


def _without_entry(machine: Machine, packages: dict[str, Package]) -> Iterator[tuple[str, str]]:
    """File lists without an entry: what a cut-off status file leaves."""
    known = {p.name for p in packages.values()} | {p.plain_name for p in packages.values()}
    lost = [n[:-5] for n in machine.names(f"{ADMIN}/info") if n.endswith(".list") and n[:-5] not in known]
    if not machine.read_bytes(f"{ADMIN}/status").endswith(b"\n\n"):
        yield f"{ADMIN}/status", "does not end with an empty line: it may be cut off"
    if lost:
        names = ", ".join(lost[:4]) + (f" and {len(lost) - 4} more" if len(lost) > 4 else "")
        yield f"{ADMIN}/status", f"has no entry for {names}, whose file lists are there: it may be cut off"


def automatic_packages(machine: Machine, packages: Container[str]) -> Iterator[str]:
    """Packages that were pulled in, not asked for (apt's extended_states)."""
    for stanza in re.split(r"\n\s*\n", machine.text(MARKS)):
        fields = dict(line.split(": ", 1) for line in stanza.split("\n") if ": " in line)
        if fields.get("Auto-Installed") == "1":
            name, arch = fields.get("Package", ""), fields.get("Architecture", "")
            for known in (name, f"{name}:{arch}"):
                if known in packages:
                    yield known
