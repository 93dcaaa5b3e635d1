"""Changes through dpkg: simulate, remove sparing configuration, purge, install back from an original.

Maintainer scripts of a serviced root never run on this computer: they run inside the root, behind walls, and nothing may
start. Only a made-up root of our own runs them chrootless."""

from __future__ import annotations

import base64
import contextlib
import fcntl
import os
import re
import stat
import time
from collections.abc import Collection, Iterator
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine.attributes import restore_attributes
from swept_shelf.core.machine.commands import CHANGE, INSIDE, READ, Ran, run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.replacing import put_file, replace_text, sweep_beside
from swept_shelf.core.machine.walled import BROUGHT, wall
from swept_shelf.core.registries.debian.locks import LOCKS, held_locks
from swept_shelf.core.registries.debian.original import LIST, SCRIPTS, info_files, status_stanza
from swept_shelf.core.registries.debian.read import ADMIN, MARKS, database, query

_AS_IT_STANDS = ["--force-confold", "--force-confmiss", "--force-bad-version", "--abort-after=100000"]
_UNPACKED = ("unpacked", "half-configured", "triggers-awaited", "triggers-pending", "installed")  # dpkg(1)
_BROKEN_TOO = ["--force-remove-reinstreq"]


def states(machine: Machine, names: list[str]) -> dict[str, tuple[str, str]]:
    """(status, version) of the named packages; not-installed where the registry knows nothing."""
    found = {p.name: (p.status, p.version) for p in query(machine, *names)} if names else {}
    return {n: found.get(n, ("not-installed", "")) for n in names}


def all_states(machine: Machine) -> dict[str, tuple[str, str]]:
    """(status, version) of everything that is installed in any way."""
    gone = ("not-installed", "config-files")
    return {p.name: (p.status, p.version) for p in query(machine) if p.status not in gone}


def simulate(
    machine: Machine, names: list[str], purge: bool = False, without_scripts: Collection[str] = ()
) -> list[str]:
    """The packages dpkg would remove, by its own word. Raises Refused with its reason."""
    force = _BROKEN_TOO if without_scripts else []
    how = "-P" if purge else "-r"
    done = _dpkg(machine, ["--no-act", "--log=/dev/null", *force, how, *names], simulate=True)
    if done.status != 0:
        raise Refused(f"dpkg would refuse: {words(done.err)}")
    return sorted(set(re.findall(r"Would remove or purge (\S+) ", done.out.decode("utf-8", "replace"))))


def remove(machine: Machine, names: list[str], without_scripts: Collection[str] = ()) -> None:
    """Remove, sparing configuration; some after their own scripts were taken away: what is kept of them has those.

    Raises CouldNotRead with dpkg's words when a package is still there."""
    taken = _take_scripts(machine, without_scripts) if without_scripts else {}
    done = _dpkg(machine, [*(_BROKEN_TOO if without_scripts else []), "-r", *names])
    after = states(machine, names)
    still = [n for n, (s, _) in after.items() if s not in ("not-installed", "config-files")]
    if still:
        for name in still:
            _write_aside(machine, name, taken)
        raise CouldNotRead(f"dpkg left {', '.join(still)} ({after[still[0]][0]}): {words(done.err)}")


def _take_scripts(machine: Machine, names: Collection[str]) -> dict[str, list[Any]]:
    """Take the scripts of these packages out of the registry's folder: {path: [content in base64, mode]}."""
    taken: dict[str, list[Any]] = {}
    with _locked(machine), machine.folder(f"{ADMIN}/info") as folder:
        for package in query(machine, *names):
            for path in info_files(machine, package):
                if path.endswith(SCRIPTS) and (status := machine.lstat(path)):
                    taken[path] = [
                        base64.b64encode(machine.read_bytes(path)).decode(),
                        stat.S_IMODE(status.st_mode),
                    ]
                    os.unlink(base(path), dir_fd=folder)
        os.fsync(folder)
    return taken


def _write_aside(machine: Machine, package: str, aside: dict[str, list[Any]]) -> None:
    """What was set aside of a package stands in the registry's folder again; nothing of any other."""
    stems = {f"{ADMIN}/info/{n}" for n in (package, package.partition(":")[0])}
    own = {
        p: told for p, told in aside.items() if p.rpartition(".")[0] in stems and p.endswith((*SCRIPTS, LIST))
    }
    if not own:
        return
    with _locked(machine), machine.folder(f"{ADMIN}/info") as folder:
        for path, (content, mode) in own.items():
            put_file(folder, base(path), base64.b64decode(content), mode)


def purge(machine: Machine, names: list[str]) -> None:
    """Forget configuration too. Raises CouldNotRead when the registry still knows a package."""
    done = _dpkg(machine, ["-P", *names])
    still = [n for n, (s, _) in states(machine, names).items() if s != "not-installed"]
    if still:
        raise CouldNotRead(f"dpkg did not purge {', '.join(still)}: {words(done.err)}")


def install_back(machine: Machine, originals: list[dict[str, Any]], files: list[str]) -> None:
    """Install kept originals, conffiles as they stand, and restore what a package file cannot hold.

    `originals`: {"package", "version", "status", "automatic"} each; `files`: where each stands on this computer. Raises CouldNotRead."""
    said = _installed(machine, originals, files)
    missing = [
        n for n, (s, _) in states(machine, [o["package"] for o in originals]).items() if s != "installed"
    ]
    if missing:
        raise CouldNotRead(f"dpkg did not install {', '.join(missing)} again: {said}")
    for original in originals:
        _write_aside(machine, original["package"], original["status"].get("aside", {}))
    for original in originals:
        own = {p: k for p, k in original["status"]["paths"].items() if k["type"] != "folder"}
        restore_attributes(machine, own)
        _restore_times(machine, original["status"]["info"])
    write_up(machine)  # or what a dpkg that was cut off noted would be written over it later
    _restore_stanzas(machine, originals)
    _restore_marks(machine, originals)


def away_again(machine: Machine, names: list[str]) -> None:
    """After a try that did not install all: what it unpacked is removed, and other package tools can work as before."""
    if there := [
        n for n, (s, _) in states(machine, names).items() if s not in ("not-installed", "config-files")
    ]:
        _dpkg(machine, [*_BROKEN_TOO, "-r", *there])


def _installed(machine: Machine, originals: list[dict[str, Any]], files: list[str]) -> str:
    """What is away, unpacked and configured, in as many tries as bring anything: what another one must find configured before it is
    unpacked may stand behind it (Debian Policy 7.2, Pre-Depends). What never went is not installed over itself: its scripts
    would be run. Returns dpkg's last words."""
    wanted = {o["package"]: (o["version"], f) for o, f in zip(originals, files, strict=True)}
    before: dict[str, tuple[str, str]] = {}
    said = "no reason given"
    while (now := states(machine, list(wanted))) != before:
        enough = (
            _UNPACKED if before else ("installed",)
        )  # first all of it: what was cut off inside is unpacked anew
        before = now
        if away := [f for n, (v, f) in wanted.items() if now[n][0] not in enough or now[n][1] != v]:
            done = _dpkg(machine, [*_AS_IT_STANDS, "-i"], files=away)
            said = words(done.err) if done.status else said
            now = states(machine, list(wanted))
        if undone := [n for n in wanted if now[n][0] in _UNPACKED and now[n][0] != "installed"]:
            done = _dpkg(machine, [*_AS_IT_STANDS, "--configure", *undone])
            said = words(done.err) if done.status else said
    return said


def write_up(machine: Machine) -> None:
    """What dpkg noted beside its list, and could not write into it any more (it was ended, or felt an error), is written there:
    before that other package tools refuse to work. Raises CouldNotRead, Refused."""
    if _noted(machine):
        done = _dpkg(
            machine, ["--set-selections"]
        )  # of nothing: it only opens its list to write, and closes it
        if _noted(machine):
            raise CouldNotRead(f"dpkg did not write up its list: {words(done.err)}", f"{ADMIN}/updates")


def _noted(machine: Machine) -> bool:
    return any(name.isdigit() for name in machine.names(f"{ADMIN}/updates"))


def configured_again(machine: Machine, originals: list[dict[str, Any]]) -> None:
    """After a removal that its own script refused: what is only not configured any more is, by its registry, and as it was asked for."""
    names = [o["package"] for o in originals]
    undone = [n for n, (s, _) in states(machine, names).items() if s == "half-configured"]
    if undone:
        _dpkg(machine, ["--configure", *undone])
    whole = [n for n, (s, _) in states(machine, names).items() if s == "installed"]
    _restore_stanzas(machine, [o for o in originals if o["package"] in whole])


def _restore_times(machine: Machine, times: dict[str, int]) -> None:
    """Times of the package's files in the registry's folder: by them it knows when it was installed."""
    for path, mtime_ns in times.items():
        with contextlib.suppress(FileNotFoundError), machine.folder(parent(path)) as folder:
            status = os.stat(base(path), dir_fd=folder, follow_symlinks=False)
            os.utime(base(path), ns=(status.st_atime_ns, mtime_ns), dir_fd=folder, follow_symlinks=False)


def lock_held(machine: Machine) -> tuple[str, str] | None:
    """(lock, who holds it) where another package tool works on this root now."""
    return next(held_locks(machine, LOCKS[:2]), None)


def may_change(machine: Machine) -> bool:
    """Whether the caller has the rights to change this registry."""
    if os.geteuid() == 0:
        return True
    try:
        with machine.folder(ADMIN) as fd:
            return machine.chrootless and os.access(f"/proc/self/fd/{fd}", os.W_OK | os.X_OK)
    except OSError:
        return False


def wait_for_lock(machine: Machine, seconds: float = 60) -> None:
    """Wait until no other dpkg works on this root. Raises Refused when it does not end."""
    until = time.monotonic() + seconds
    while held := lock_held(machine):
        if time.monotonic() > until:
            raise Refused(f"another package tool holds the lock: {held[1]}", held[0])
        time.sleep(0.05)


@contextlib.contextmanager
def _locked(machine: Machine) -> Iterator[None]:
    with machine.folder(ADMIN) as folder, contextlib.ExitStack() as held:
        for name in ("lock-frontend", "lock"):
            fd = os.open(name, os.O_RDWR | os.O_CREAT | os.O_CLOEXEC | os.O_NOFOLLOW, 0o640, dir_fd=folder)
            held.callback(os.close, fd)
            fcntl.lockf(fd, fcntl.LOCK_EX | fcntl.LOCK_NB)
        yield


def _dpkg(
    machine: Machine, arguments: list[str], files: list[str] | None = None, simulate: bool = False
) -> Ran:
    if not simulate:
        wait_for_lock(machine)
    files = files or []
    as_ = READ if simulate else CHANGE
    if machine.live:
        return run("dpkg", *arguments, *files, timeout=3600, as_=as_)
    if machine.chrootless:
        force = [] if os.geteuid() == 0 else ["--force-not-root"]
        log = [] if simulate else [f"--log={machine.root}/var/log/dpkg.log"]
        return run(
            "dpkg",
            f"--root={machine.root}",
            *log,
            *force,
            "--force-script-chrootless",
            "--force-unsafe-io",
            *arguments,
            *files,
            timeout=3600,
            as_=as_,
        )
    if simulate:
        with database(machine) as (folder, fd):
            return run("dpkg", f"--admindir={folder}", "--force-not-root", *arguments, fds=[fd])
    if why := cannot_work_inside(machine):
        raise Refused(why, machine.root)
    brought = os.path.dirname(files[0]) if files else ""
    with machine.folder("/") as root:
        return run(
            INSIDE,
            *arguments,
            *(f"{BROUGHT}/{base(f)}" for f in files),
            timeout=3600,
            walled=wall(root, brought),
        )


def tool(machine: Machine, name: str, *arguments: str) -> Ran:
    """One of the registry's tools for its own tables (rows.py), of the root and inside it. Raises CouldNotRead, Refused."""
    wait_for_lock(machine)
    if machine.live:
        return run(name, *arguments, as_=CHANGE)
    if machine.chrootless:
        return run(name, "--root", machine.root, *arguments, as_=CHANGE)
    if why := cannot_work_inside(machine):
        raise Refused(why, machine.root)
    with machine.folder("/") as root:
        return run(f"/usr/bin/{name}", *arguments, walled=wall(root))


def cannot_work_inside(machine: Machine) -> str:
    """Why packages of a foreign root cannot be changed, known before anything is tried; "" where they can."""
    if machine.live or machine.chrootless:
        return ""
    if os.geteuid() != 0:
        return "removing packages of another root needs the administrator"
    if machine.resolve("/bin/sh") is None or machine.resolve(INSIDE) is None:
        return "has no shell or no dpkg of its own: its package scripts cannot run inside it"
    return ""


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
        sweep_beside(folder, "status")
        replace_text(folder, "status", text.encode("utf-8", "surrogateescape"))


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
            sweep_beside(folder, base(MARKS))
            replace_text(folder, base(MARKS), "".join(s + "\n\n" for s in stanzas).encode())


def words(text: str) -> str:
    """What a tool said, short."""
    return " ".join(text.split())[:400] or "no reason given"
