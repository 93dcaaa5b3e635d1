"""Rebuilds a package's file from the root alone, and checks it, so that it can be installed again.

The deb(5) container is an ar archive of debian-binary, control.tar and data.tar. Content comes through the
machine, never by a path; owners, modes, times and links are the root's."""

from __future__ import annotations

import base64
import contextlib
import gzip
import hashlib
import io
import os
import re
import stat
import tarfile
from collections.abc import Sequence
from dataclasses import dataclass
from pathlib import Path
from typing import Any, BinaryIO

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine.attributes import attributes
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.machine import Machine, type_of
from swept_shelf.core.registries.debian.diversions import diversions, stands_at
from swept_shelf.core.registries.debian.package import Package
from swept_shelf.core.registries.debian.read import ADMIN

CONTROL_FILES = (
    "preinst",
    "postinst",
    "prerm",
    "postrm",
    "config",
    "templates",
    "triggers",
    "shlibs",
    "symbols",
    "md5sums",
)
LIST = ".list"
SCRIPTS = tuple(f".{name}" for name in CONTROL_FILES[:5])
# Links of a merged /usr that packages still list as folders.
MERGED = ("/bin", "/sbin", "/lib", "/lib32", "/lib64", "/libx32")


@dataclass(frozen=True, slots=True)
class Original:
    """A kept original: where it is, its sha256, and what the tar format cannot hold of each path."""

    file: str
    sha256: str
    bytes: int
    status: dict[str, Any]


def info_listing(machine: Machine) -> dict[str, list[str]]:
    """Names in dpkg's info folder by what stands before their last dot."""
    found: dict[str, list[str]] = {}
    for name in machine.names(f"{ADMIN}/info"):
        found.setdefault(name.rpartition(".")[0], []).append(name)
    return found


def info_files(machine: Machine, package: Package, listing: dict[str, list[str]] | None = None) -> list[str]:
    """The package's own files in dpkg's info folder; `listing`: that folder, for whoever asks of many."""
    listing = info_listing(machine) if listing is None else listing
    for stem in (package.name, f"{package.plain_name}:{package.architecture}", package.plain_name):
        if f"{stem}.list" in listing.get(stem, ()):
            return [f"{ADMIN}/info/{n}" for n in listing[stem]]
    return []


def status_stanza(machine: Machine, package: Package) -> str:
    """The package's own stanza of the status file, as it stands."""
    for stanza in re.split(r"\n\n+", machine.read_text(f"{ADMIN}/status")):
        fields = dict((m[1], m[2]) for m in re.finditer(r"^(Package|Architecture): (.*)$", stanza, re.M))
        if fields.get("Package") == package.plain_name and fields.get("Architecture") == package.architecture:
            return stanza.strip("\n")
    raise CouldNotRead(f"has no entry for {package.name}", f"{ADMIN}/status")


def rebuild(machine: Machine, package: Package, folder: str, as_it_is: bool = False) -> Original:
    """Write `folder`/NAME.deb and check it with dpkg-deb(1). `as_it_is`: of a broken package, with what there is of it; its scripts and
    its list are kept beside it, to be written back and not to be run. Raises CouldNotRead or OSError (no space)."""
    target = Path(folder) / f"{package.name.replace(':', '_')}.deb"
    part = target.with_suffix(".part")
    status: dict[str, Any] = {"stanza": status_stanza(machine, package), "paths": {}, "info": {}}
    for path in info_files(machine, package):
        if known := machine.lstat(path):
            status["info"][path] = known.st_mtime_ns
            if as_it_is and path.endswith((*SCRIPTS, LIST)):
                content = base64.b64encode(machine.read_bytes(path)).decode()
                status.setdefault("aside", {})[path] = [content, stat.S_IMODE(known.st_mode)]
    try:
        with open(part, "wb") as out:
            out.write(b"!<arch>\n")
            _member(out, "debian-binary", lambda f: f.write(b"2.0\n"))
            _member(
                out, "control.tar.gz", lambda f: _control(machine, package, status["stanza"], f, as_it_is)
            )
            _member(out, "data.tar.gz", lambda f: _data(machine, package, f, status, as_it_is))
            out.flush()
            os.fsync(out.fileno())
        _check(package, part)
        part.replace(target)
    except BaseException:
        part.unlink(missing_ok=True)
        raise
    with open(target, "rb") as made:
        digest = hashlib.file_digest(made, "sha256").hexdigest()
    return Original(str(target), digest, target.stat().st_blocks * 512, status)


def _member(out: BinaryIO, name: str, write: Any) -> None:
    """One ar member whose size is known only after it was written."""
    head = out.tell()
    out.write(b" " * 60)
    write(out)
    size = out.tell() - head - 60
    if size % 2:
        out.write(b"\n")
    end = out.tell()
    out.seek(head)
    out.write(f"{name:<16}{0:<12}{0:<6}{0:<6}{'100644':<8}{size:<10}`\n".encode())
    out.seek(end)


@contextlib.contextmanager
def _tar(out: BinaryIO) -> Any:
    with (
        gzip.GzipFile(fileobj=out, mode="wb", compresslevel=1, mtime=0) as packed,
        tarfile.open(
            fileobj=packed, mode="w|", format=tarfile.GNU_FORMAT, encoding="utf-8", errors="surrogateescape"
        ) as tar,
    ):
        yield tar


def _control(machine: Machine, package: Package, stanza: str, out: BinaryIO, as_it_is: bool) -> None:
    kept, dropped = [], False
    for line in stanza.split("\n"):
        if not line.startswith((" ", "\t")):
            dropped = line.split(":", 1)[0] in (
                "Status",
                "Conffiles",
                "Config-Version",
                "Triggers-Pending",
                "Triggers-Awaited",
            )
        if not dropped:
            kept.append(line)
    with _tar(out) as tar:
        _add_text(tar, "./control", "\n".join(kept) + "\n", 0o644)
        current = [c.path for c in package.conffiles if not c.obsolete and machine.exists(c.path)]
        if current:
            _add_text(tar, "./conffiles", "".join(f"{c}\n" for c in current), 0o644)
        for path in info_files(machine, package):
            name = path.rpartition(".")[2]
            if name in CONTROL_FILES and not (as_it_is and path.endswith(SCRIPTS)):
                text = machine.read_text(path)
                _add_text(tar, f"./{name}", text, 0o755 if name in CONTROL_FILES[:5] else 0o644)


def _add_text(tar: tarfile.TarFile, name: str, text: str, mode: int) -> None:
    data = text.encode("utf-8", "surrogateescape")
    member = tarfile.TarInfo(name)
    member.size, member.mode = len(data), mode
    tar.addfile(member, io.BytesIO(data))


def _data(machine: Machine, package: Package, out: BinaryIO, status: dict[str, Any], as_it_is: bool) -> None:
    """The files, and beside them what a tar rounds off: nanoseconds, extended attributes, owners as numbers."""
    seen: dict[tuple[int, int], str] = {}
    with _tar(out) as tar:
        root = tarfile.TarInfo("./")
        root.type, root.mode = tarfile.DIRTYPE, 0o755
        tar.addfile(root)
        away = diversions(machine)
        for name in _as_listed(package.files):
            path = stands_at(name, package, away)
            info = machine.lstat(path)
            if info is None:
                if as_it_is or any(c.path == name for c in package.conffiles):
                    continue
                raise CouldNotRead("is missing: the original of its package cannot be rebuilt", path)
            status["paths"][path] = attributes(machine, path, info) | {"in": machine.resolve(parent(path))}
            member = tarfile.TarInfo("." + name)
            member.mode, member.uid, member.gid = stat.S_IMODE(info.st_mode), info.st_uid, info.st_gid
            member.mtime = info.st_mtime_ns // 1_000_000_000
            kind = type_of(info.st_mode)
            if kind == "folder":
                member.type = tarfile.DIRTYPE
            elif kind == "link":
                if name in MERGED:
                    member.type = tarfile.DIRTYPE
                else:
                    member.type, member.linkname = tarfile.SYMTYPE, machine.readlink(path) or ""
            elif kind == "file":
                first = seen.setdefault((info.st_dev, info.st_ino), name)
                if first != name:
                    member.type, member.linkname = tarfile.LNKTYPE, "." + first
                    tar.addfile(member)
                    continue
                member.size = info.st_size
                with os.fdopen(machine.open(path, os.O_RDONLY | os.O_NOFOLLOW), "rb") as source:
                    tar.addfile(member, source)
                continue
            else:
                raise CouldNotRead(f"is a {kind}: the original of its package cannot be rebuilt", path)
            tar.addfile(member)


def _as_listed(files: Sequence[str]) -> Sequence[str]:
    """The order of the registry's own list, so that it is written the same again; by name where a folder stands behind what is in it."""
    place = {name: number for number, name in enumerate(files)}
    if all(place.get(parent(name), -1) < number for name, number in place.items()):
        return files
    return sorted(files)


def _check(package: Package, part: Path) -> None:
    """Ask dpkg-deb to read every byte of it, and compare name, version and architecture. Raises CouldNotRead."""
    with open(part, "rb") as handle:
        path, fds = f"/proc/self/fd/{handle.fileno()}", [handle.fileno()]
        control = run("dpkg-deb", "--ctrl-tarfile", path, fds=fds)  # -f would unpack it to a folder
        listing = run("dpkg-deb", "-c", path, fds=fds)
    said = _fields(control.out) if not control.status else {}
    wanted = {"Package": package.plain_name, "Version": package.version, "Architecture": package.architecture}
    if listing.status or any(said.get(name) != value for name, value in wanted.items()):
        raise CouldNotRead(
            f"the rebuilt original of {package.name} does not check: {control.err}{listing.err}"[:300],
            base(str(part)),
        )


def _fields(tar: bytes) -> dict[str, str]:
    """The fields of the control file in control.tar; none where it holds no such file."""
    with contextlib.suppress(tarfile.TarError, KeyError), tarfile.open(fileobj=io.BytesIO(tar)) as members:
        if (file := members.extractfile("./control")) is not None:
            lines = file.read().decode("utf-8", "surrogateescape").splitlines()
            return dict(line.split(": ", 1) for line in lines if ": " in line and not line.startswith(" "))
    return {}
