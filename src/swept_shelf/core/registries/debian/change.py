"""Changes through dpkg: simulate, remove sparing configuration, purge, install back from an original.

Maintainer scripts of a serviced root never run on this computer: they run inside the root (chroot in private
mount and process namespaces, nothing may start). Only a made-up root of our own runs them chrootless."""

from __future__ import annotations

import base64
import contextlib
import fcntl
import os
import re
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.commands import Ran, run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.original import status_stanza
from swept_shelf.core.registries.debian.read import ADMIN, MARKS, query

# Tools of essential packages that start services are replaced by nothing; with an empty /run no systemd answers.
_INSIDE = r"""
set -e
for tool in /usr/sbin/invoke-rc.d /usr/bin/deb-systemd-invoke /sbin/start-stop-daemon /usr/sbin/service; do
  if [ -e "$1$tool" ] && [ ! -L "$1$tool" ]; then mount --bind "$1/bin/true" "$1$tool"; fi
done
[ -d "$1/proc" ] && mount -t proc proc "$1/proc" || true
[ -d "$1/run" ] && mount -t tmpfs tmpfs "$1/run" && mkdir -p "$1/run/lock" || true
root=$1; shift
exec chroot "$root" "$@"
"""


def states(machine: Machine, names: list[str]) -> dict[str, tuple[str, str]]:
    """(status, version) of the named packages; not-installed where the registry knows nothing."""
    found = {p.name: (p.status, p.version) for p in query(machine, *names)} if names else {}
    return {n: found.get(n, ("not-installed", "")) for n in names}


def simulate(machine: Machine, names: list[str], purge: bool = False) -> list[str]:
    """The packages dpkg would remove, by its own word. Raises Refused with its reason."""
    done = _dpkg(machine, ["--no-act", "--log=/dev/null", "-P" if purge else "-r", *names], simulate=True)
    if done.status != 0:
        raise Refused(f"dpkg would refuse: {_words(done.err)}")
    return sorted(set(re.findall(r"Would remove or purge (\S+) ", done.out.decode("utf-8", "replace"))))


def remove(machine: Machine, names: list[str]) -> None:
    """Remove, sparing configuration. Raises CouldNotRead with dpkg's words when a package is still there."""
    done = _dpkg(machine, ["-r", *names])
    after = states(machine, names)
    still = [n for n, (s, _) in after.items() if s not in ("not-installed", "config-files")]
    if still:
        raise CouldNotRead(f"dpkg left {', '.join(still)} ({after[still[0]][0]}): {_words(done.err)}")


def purge(machine: Machine, names: list[str]) -> None:
    """Forget configuration too. Raises CouldNotRead when the registry still knows a package."""
    done = _dpkg(machine, ["-P", *names])
    still = [n for n, (s, _) in states(machine, names).items() if s != "not-installed"]
    if still:
        raise CouldNotRead(f"dpkg did not purge {', '.join(still)}: {_words(done.err)}")


def install_back(machine: Machine, originals: list[dict[str, Any]]) -> None:
    """Install kept originals, conffiles as they stand, and restore what a package file cannot hold.

    `originals`: {"package", "version", "file", "status", "automatic"} each. Raises CouldNotRead."""
    files = [o["file"] for o in originals]
    done = _dpkg(machine, ["--force-confold", "--force-confmiss", "--force-bad-version", "-i"], files=files)
    names = [o["package"] for o in originals]
    missing = [n for n, (s, _) in states(machine, names).items() if s != "installed"]
    if missing:
        raise CouldNotRead(f"dpkg did not install {', '.join(missing)} again: {_words(done.err)}")
    for original in originals:
        restore_attributes(machine, original["status"]["paths"])
        _restore_times(machine, original["status"]["info"])
    _restore_stanzas(machine, originals)
    _restore_marks(machine, originals)


def restore_attributes(machine: Machine, paths: dict[str, dict[str, Any]]) -> None:
    """Owner, mode, extended attributes and times of each path that is still of its type, deepest first."""
    for path in sorted(paths, key=lambda p: -p.count("/")):
        kept = paths[path]
        real = machine.resolve(parent(path))
        if real is None:
            continue
        with contextlib.suppress(FileNotFoundError), machine.folder(real) as folder:
            name = base(path)
            now = os.stat(name, dir_fd=folder, follow_symlinks=False)
            if (now.st_uid, now.st_gid) != (kept["uid"], kept["gid"]):
                os.chown(name, kept["uid"], kept["gid"], dir_fd=folder, follow_symlinks=False)
            if kept["type"] in ("file", "folder") and kept.get("xattrs") is not None:
                fd = os.open(name, os.O_RDONLY | os.O_NOFOLLOW, dir_fd=folder)
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


def _restore_times(machine: Machine, times: dict[str, int]) -> None:
    """Times of the package's files in the registry's folder: by them it knows when it was installed."""
    for path, mtime_ns in times.items():
        with contextlib.suppress(FileNotFoundError), machine.folder(parent(path)) as folder:
            status = os.stat(base(path), dir_fd=folder, follow_symlinks=False)
            os.utime(base(path), ns=(status.st_atime_ns, mtime_ns), dir_fd=folder, follow_symlinks=False)


def wait_for_lock(machine: Machine, seconds: float = 60) -> None:
    """Wait until no other dpkg works on this root. Raises Refused when it does not end."""
    until = time.monotonic() + seconds
    while True:
        try:
            with _locked(machine):
                return
        except BlockingIOError:
            if time.monotonic() > until:
                raise Refused("another package tool holds the lock", f"{ADMIN}/lock") from None
            time.sleep(0.05)


@contextlib.contextmanager
def _locked(machine: Machine) -> Iterator[None]:
    with machine.folder(ADMIN) as folder, contextlib.ExitStack() as held:
        for name in ("lock-frontend", "lock"):
            fd = os.open(name, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NOFOLLOW, 0o640, dir_fd=folder)
            held.callback(os.close, fd)
            fcntl.lockf(fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
        yield


def _dpkg(machine: Machine, arguments: list[str], files: list[str] | None = None, simulate: bool = False) -> Ran:
    wait_for_lock(machine)
    files = files or []
    if machine.live:
        return run("dpkg", *arguments, *files, timeout=3600)
    if machine.chrootless:
        force = [] if os.geteuid() == 0 else ["--force-not-root"]
        return run("dpkg", f"--root={machine.root}", f"--log={machine.root}/var/log/dpkg.log", *force,
                   "--force-script-chrootless", "--force-unsafe-io", *arguments, *files, timeout=3600)  # fmt: skip
    if simulate:
        with machine.handed(ADMIN) as (folder, fd):
            return run("dpkg", f"--admindir={folder}", "--force-not-root", *arguments, fds=[fd])
    if os.geteuid() != 0:
        raise Refused("removing packages of another root needs the administrator", machine.root)
    if machine.resolve("/bin/sh") is None or machine.resolve("/usr/bin/dpkg") is None:
        raise Refused("has no shell or no dpkg of its own: its package scripts cannot run inside it", machine.root)
    with contextlib.ExitStack() as kept:
        inside = [_bring_in(machine, f, kept) for f in files]
        done = run("unshare", "--mount", "--pid", "--fork", "--kill-child", "--propagation", "private", "/bin/sh", "-c",
                   _INSIDE, "inside", machine.root, "/usr/bin/dpkg", *arguments, *inside, timeout=3600)  # fmt: skip
    return done


def _bring_in(machine: Machine, file: str, kept: contextlib.ExitStack) -> str:
    """A copy of `file` at the root's top on the holding shelf, so that a dpkg inside can see it."""
    if file.startswith(machine.root + "/"):
        return file[len(machine.root) :]
    folder = Path(machine.root) / ".swept-shelf-incoming"
    folder.mkdir(mode=0o700, exist_ok=True)
    copy = folder / base(file)
    copy.write_bytes(Path(file).read_bytes())
    kept.callback(_take_out_again, copy)
    return f"/.swept-shelf-incoming/{copy.name}"


def _take_out_again(copy: Path) -> None:
    copy.unlink(missing_ok=True)
    with contextlib.suppress(OSError):
        copy.parent.rmdir()


def _restore_stanzas(machine: Machine, originals: list[dict[str, Any]]) -> None:
    """Give back what the registry recorded: the packagers' digests of edited conffiles, holds.

    The status file is deb822(5) text; it is replaced under dpkg's own lock, only these stanzas changed."""
    wanted: dict[str, str] = {}
    for original in originals:
        package = next(iter(query(machine, original["package"])), None)
        if package and (now := status_stanza(machine, package)) != original["status"]["stanza"]:
            wanted[now] = original["status"]["stanza"]
    if not wanted:
        return
    with _locked(machine), machine.folder(ADMIN) as folder:
        text = machine.read_text(f"{ADMIN}/status")
        for now, before in wanted.items():
            text = text.replace(now + "\n", before + "\n", 1)
        _replace(folder, "status", text.encode("utf-8", "surrogateescape"))


def _restore_marks(machine: Machine, originals: list[dict[str, Any]]) -> None:
    """Asked for or pulled in, as before, in apt's extended_states."""
    text = machine.read_text(MARKS, default="")
    stanzas = [s for s in re.split(r"\n\s*\n", text.strip()) if s]
    changed = False
    for original in originals:
        name = original["package"].split(":")[0]
        mine = [i for i, s in enumerate(stanzas) if re.search(rf"^Package: {re.escape(name)}$", s, re.M)]
        now = any("Auto-Installed: 1" in stanzas[i] for i in mine)
        if now != original["automatic"]:
            changed = True
            for i in reversed(mine):
                del stanzas[i]
            if original["automatic"]:
                arch = original["architecture"]
                stanzas.append(f"Package: {name}\nArchitecture: {arch}\nAuto-Installed: 1")
    if changed:
        with _locked(machine), machine.folder(parent(MARKS)) as folder:
            _replace(folder, base(MARKS), "".join(s + "\n\n" for s in stanzas).encode())


def _replace(folder: int, name: str, content: bytes) -> None:
    """Write beside, sync, exchange; mode and owner kept."""
    beside = f".{name}.swept-shelf"
    before = os.stat(name, dir_fd=folder)
    fd = os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_NOFOLLOW, 0o600, dir_fd=folder)
    try:
        with os.fdopen(fd, "wb") as handle:
            handle.write(content)
            os.fchmod(fd, before.st_mode & 0o7777)
            if os.geteuid() == 0:
                os.fchown(fd, before.st_uid, before.st_gid)
            handle.flush()
            os.fsync(fd)
        beneath.rename(folder, beside, folder, name, flags=0)
        os.fsync(folder)
    except OSError:
        with contextlib.suppress(OSError):
            os.unlink(beside, dir_fd=folder)
        raise


def _words(text: str) -> str:
    return " ".join(text.split())[:400] or "no reason given"
