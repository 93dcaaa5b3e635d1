"""Reads the RPM database of a root: one query for packages, one for files, on a copy, so that nothing is written there."""

from __future__ import annotations

import contextlib
import os
import re
import secrets
import shutil
from collections import Counter, defaultdict
from dataclasses import replace

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.numbers import whole
from swept_shelf.core.documents.paths import outermost, parent, spelled
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.scratch import scratch_folder
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.launchers import main_launcher, read_launcher
from swept_shelf.core.registries.rpm.kernels import Kernel, kernels_of, made_for
from swept_shelf.core.registries.rpm.package import Package

PLACES = ("/usr/lib/sysimage/rpm", "/var/lib/rpm")
_DATABASES = ("rpmdb.sqlite", "Packages", "Packages.db")
_BESIDE = ("rpmdb.sqlite-wal", "Index.db")
_MOST = 1 << 30
_FIELDS = (
    "NAME",
    "EPOCHNUM",
    "VERSION",
    "RELEASE",
    "ARCH",
    "INSTALLTIME",
    "VENDOR",
    "PACKAGER",
    "URL",
    "SUMMARY",
    "PREUN",
    "POSTUN",
)
_COMMANDS = ("/usr/bin", "/bin", "/usr/games", "/usr/sbin", "/sbin")
_BASE = (
    "filesystem",
    "setup",
    "basesystem",
    "glibc",
    "bash",
    "rpm",
    "systemd",
    "coreutils",
    "kernel",
    "kernel-core",
    "grub2-common",
    "dnf",
)


def read(reading: Reading) -> None:
    place = place_of(reading.machine)
    if not place:
        return
    try:
        packages = packages_of(reading.machine, place)
    except CouldNotRead as error:
        reading.trouble(error.path or place, error.reason)
        return
    needs, users = _dependencies(packages)
    heads: dict[str, str] = {}
    kernels = [k for k in kernels_of(reading.machine, packages) if not k.kept]
    for package in packages.values():
        if package.several:
            continue
        name = _shown(reading, package)
        asked = not users[package.id]
        if name or (
            asked and package.name not in _BASE and any(parent(f) in _COMMANDS for f in package.files)
        ):
            heads[package.id] = name
    reached: dict[str, set[str]] = defaultdict(set)
    for head in heads:
        for other in _reach(head, needs):
            reached[other].add(head)
    owners: dict[str, set[str]] = defaultdict(set)
    for package in packages.values():
        for path in package.files:
            owners[reading.tree.real(path)].add(package.id)
    for kernel in kernels:
        reading.found.append(_kernel(kernel, packages, owners, reading))
    for id, name in heads.items():
        reading.found.append(
            _application(packages[id], name, packages, needs, users, reached, heads, owners, reading)
        )


def place_of(machine: Machine) -> str:
    """Where the database stands; "" where there is none."""
    return next((p for p in PLACES if any(machine.exists(f"{p}/{d}") for d in _DATABASES)), "")


def packages_of(machine: Machine, place: str) -> dict[str, Package]:
    """All packages. Raises CouldNotRead with rpm's own words."""
    with scratch_folder() as copy:
        folder = str(copy)
        for name in machine.names(place):
            if name in _DATABASES or name in _BESIDE:
                with machine.opened(f"{place}/{name}") as source, open(copy / name, "wb") as to:
                    if os.fstat(source.fileno()).st_size > _MOST:
                        raise CouldNotRead(
                            f"is larger than the {_MOST >> 20} MiB that are read", f"{place}/{name}"
                        )
                    shutil.copyfileobj(source, to, 1 << 20)
        unit, end = (f"\x1f{secrets.token_hex(6)}\x1f" for _ in range(2))  # which no package's text can hold
        form = unit.join(f"%{{{f}}}" for f in _FIELDS)
        lists = "".join(f"{unit}[%{{{t}}}\\n]" for t in ("REQUIRENAME", "PROVIDENAME", "FILENAMES"))
        done = run("rpm", "--dbpath", folder, "-qa", "--qf", form + lists + end, writable=folder)
    errors = done.err.replace(folder, place)
    if done.status != 0 or (not done.out and errors.strip()):
        raise CouldNotRead(f"rpm could not read it: {' '.join(errors.split())[:200]}", place)
    found = []
    for row in done.out.decode("utf-8", "surrogateescape").split(end):
        parts = row.split(unit)
        if len(parts) != len(_FIELDS) + 3:
            if row.strip():
                raise CouldNotRead(f"a record of {len(parts)} fields instead of {len(_FIELDS) + 3}", place)
            continue
        name, epoch, version, release, arch, time, vendor, packager, url, summary, before, after = map(
            spelled, parts[: len(_FIELDS)]
        )
        requires, provides, files = parts[len(_FIELDS) :]
        if name == "gpg-pubkey":
            continue
        full = f"{epoch}:{version}-{release}" if epoch not in ("0", "(none)") else f"{version}-{release}"
        who = next((x for x in (vendor, packager) if x != "(none)"), "")
        package = Package(
            name,
            full,
            arch,
            None if (at := whole(time, 1 << 40)) is None else from_ns(at * 1_000_000_000),
            re.sub(r"\s*<[^>]*>", "", who),
            "" if url == "(none)" else url,
            summary,
            tuple(requires.split("\n")[:-1]),
            tuple(provides.split("\n")[:-1]),
            tuple(f for f in files.split("\n")[:-1] if f.startswith("/")),
            "\n".join(s for s in (before, after) if s != "(none)"),
        )
        found.append(package)
    count = Counter(p.short for p in found)
    return {p.id: p for p in (replace(p, several=count[p.short] > 1) for p in found)}


def _dependencies(packages: dict[str, Package]) -> tuple[dict[str, set[str]], dict[str, set[str]]]:
    """(what each needs, who needs it) by what packages provide and the files they hold; a choice counts for all of it."""
    provided: dict[str, set[str]] = defaultdict(set)
    for package in packages.values():
        for capability in (*package.provides, package.name, *package.files):
            provided[capability].add(package.id)
    needs: dict[str, set[str]] = {p: set() for p in packages}
    users: dict[str, set[str]] = {p: set() for p in packages}
    for package in packages.values():
        for capability in package.requires:
            for other in provided.get(capability, ()):
                if other != package.id and _may_need(package, packages[other]):
                    needs[package.id].add(other)
                    users[other].add(package.id)
    return needs, users


def _may_need(package: Package, other: Package) -> bool:
    """Of several versions beside each other each needs what is of its own; which of them another one needs rpm is asked."""
    return not other.several or (package.several and package.version == other.version)


def _shown(reading: Reading, package: Package) -> str:
    found = []
    for path in package.files:
        if path.startswith("/usr/share/applications/") and path.endswith(".desktop") and path in reading.tree:
            with contextlib.suppress(CouldNotRead):  # said by whoever reads the launchers
                found.append(read_launcher(reading.machine, path))
    launcher = main_launcher(found, package.name)
    return launcher.name if launcher else ""


def _goes(
    id: str, packages: dict[str, Package], needs: dict[str, set[str]], users: dict[str, set[str]]
) -> list[str]:
    """The package, whoever needs it, and what then nobody needs any more."""
    gone = {id}
    while more := {u for g in gone for u in users[g]} - gone:
        gone |= more
    while (
        more := {
            n
            for g in gone
            for n in needs[g]
            if users[n] and users[n] <= gone and packages[n].name not in _BASE
        }
        - gone
    ):
        gone |= more
    return [id, *sorted(gone - {id})]


def _application(
    package: Package,
    name: str,
    packages: dict[str, Package],
    needs: dict[str, set[str]],
    users: dict[str, set[str]],
    reached: dict[str, set[str]],
    heads: dict[str, str],
    owners: dict[str, set[str]],
    reading: Reading,
) -> Registered:
    goes = _goes(package.id, packages, needs, users)
    own = [package.id, *(g for g in goes[1:] if g not in heads and reached[g] == {package.id})]
    tops = _tops(own, packages, owners, reading)
    launchers = tuple(
        f for f in package.files if f.startswith("/usr/share/applications/") and f in reading.tree
    )
    dependents = sorted(u for u in goes[1:] if u in heads and package.id in needs[u])
    return Registered(
        id=f"rpm:{package.id}",
        name=name or package.name,
        version=package.version,
        registry="rpm",
        source="RPM packages",
        tops=tuple(tops),
        receipt=PLACES[1],
        type="desktop" if name else "terminal",
        summary=package.summary,
        publisher=package.publisher,
        homepage=package.homepage,
        executables=tuple(f for f in tops if parent(f) in _COMMANDS),
        launchers=launchers,
        packages=tuple(goes),
        own_packages=tuple(own),
        needed_by=tuple(f"rpm:{d}" for d in dependents),
        installed_first=package.installed,
        installed_last=package.installed,
        protected="the system cannot run without it" if package.name in _BASE else None,
    )


def _kernel(
    kernel: Kernel, packages: dict[str, Package], owners: dict[str, set[str]], reading: Reading
) -> Registered:
    """An older one, with what is made for it when it is installed."""
    image = packages[kernel.packages[0]]
    made = [p for p in made_for(reading.machine, kernel.release) if p in reading.tree]
    tops = outermost([*_tops(list(kernel.packages), packages, owners, reading), *made])
    return Registered(
        id=f"rpm:{image.full}",
        name=f"Linux {kernel.release}",
        version=image.version,
        registry="rpm",
        source="RPM packages",
        tops=tuple(tops),
        receipt=PLACES[1],
        type="kernel",
        summary=image.summary,
        publisher=image.publisher,
        homepage=image.homepage,
        packages=kernel.packages,
        own_packages=kernel.packages,
        installed_first=image.installed,
        installed_last=image.installed,
    )


def _tops(
    own: list[str], packages: dict[str, Package], owners: dict[str, set[str]], reading: Reading
) -> list[str]:
    """Places that these packages list and nobody else."""
    files = {real for p in own for f in packages[p].files if (real := reading.tree.real(f)) in reading.tree}
    alone = {f for f in files if owners[f] <= set(own) and f.count("/") > 1}
    wide = [f for f in alone if f.count("/") > 2 or reading.tree.kind(f) != "folder"]
    return outermost([f for f in wide if reading.tree.kind(f) != "folder" or _whole(reading, f, alone)])


def _whole(reading: Reading, folder: str, listed: set[str]) -> bool:
    """True for a folder in which there is nothing but what these packages list."""
    return all(reading.tree.paths[i] in listed for i in reading.tree.slice(folder))


def _reach(start: str, needs: dict[str, set[str]]) -> set[str]:
    seen, stack = {start}, [start]
    while stack:
        for other in needs[stack.pop()] - seen:
            seen.add(other)
            stack.append(other)
    return seen
