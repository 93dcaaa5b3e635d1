"""Changes through flatpak: what it would take, uninstalling with the commit kept in the repository, deploying it from there again.

The installation is changed by flatpak alone, as the person whose it is. Before, every commit gets a name of ours in the repository
(a file below refs/heads: libostree's layout), so that nothing of it is pruned: put back deploys it without a network, and emptying the
shelf drops the name and prunes."""

from __future__ import annotations

import base64
import configparser
import contextlib
import os
import re
import stat
from collections.abc import Collection, Iterator
from contextlib import contextmanager
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.commands import CHANGE, FLATPAK_INSIDE, Ran, available, bus_runs, run
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.replacing import replace_text
from swept_shelf.core.machine.walled import shows_processes, wall
from swept_shelf.core.registries.flatpak.deployed import Deployed, deployed

SYSTEM = "/var/lib/flatpak"
PERSONAL = ".local/share/flatpak"
_HEADS = "repo/refs/heads"
_OURS = "swept-shelf"
_NOWHERE = "/dev/null/none"  # where flatpak would make folders of its own: none can be
_REMOVED = ".removed"
_REF = re.compile(r"(app|runtime)/[A-Za-z0-9_.-]+/[A-Za-z0-9_]+/[A-Za-z0-9_.-]+")
_ROW = re.compile(r"^\s*\d+\.\t[^\t\n]*\t([^\t\n]+)\t([^\t\n]+)\tr", re.M)
_UNDER_WAY = re.compile(r"tmp\.\w{6}")
_HALF = re.compile(r"\.[0-9a-f]{64}-")
_COMMIT = re.compile(r"[0-9a-f]{64}")
_SAFE = re.compile(r"\w[\w.-]*")
_MOST_KEYS = 1 << 20


def why_not(machine: Machine, op: Uninstall) -> str:
    """Why the installation cannot be changed, known before anything is tried; "" where it can."""
    if not all(_REF.fullmatch(r) for r in op.refs) or not op.refs:
        return "names what no flatpak is called"
    if machine.lstat(f"{op.place}/repo/config") is None:
        return f"{op.place} has no repository: nothing of it could be kept"
    if machine.live or machine.chrootless:
        if not available("flatpak"):
            return "the command flatpak is not on this computer"
        if op.person and _owner(machine, op)[0] != 0 and not bus_runs():
            return f"no message bus runs on this computer: flatpak could not install it back for {op.person}"
        return ""
    if os.geteuid() != 0:
        return "removing applications of another root needs the administrator"
    if machine.resolve(FLATPAK_INSIDE) is None:
        return "has no flatpak of its own: its applications are removed when it runs"
    with machine.folder("/") as root:
        if not shows_processes(root):
            return (
                "this kernel shows flatpak no processes behind its walls: it could not install anything back"
            )
    return ""


def may_change(machine: Machine, op: Uninstall) -> bool:
    """Whether the caller has the rights: the administrator, or the person whose installation it is."""
    if os.geteuid() == 0:
        return True
    with contextlib.suppress(OSError), machine.folder(f"{op.place}/repo") as fd:
        return os.fstat(fd).st_uid == os.geteuid() and os.access(f"/proc/self/fd/{fd}", os.W_OK | os.X_OK)
    return False


def there(machine: Machine, op: Uninstall) -> dict[str, Deployed]:
    """What of it stands deployed now. Raises CouldNotRead."""
    return {r: d for r in op.refs if (d := deployed(machine, op.place, r))}


def ask(machine: Machine, op: Uninstall, along: Collection[str] = ()) -> list[str]:
    """What flatpak would take, by its own dry listing, which must be what stands in the order, with what goes `along` before.
    Raises Refused, CouldNotRead."""
    now = there(machine, op)
    for ref, is_ in now.items():
        if is_.commit != op.commits[op.refs.index(ref)]:
            raise Refused(f"{ref} is another version by now: survey again")
        if not _SAFE.fullmatch(is_.origin):
            raise Refused(f"{ref} says that it came from no remote")
    if not now:
        return []
    before = [r for r in sorted(along) if r not in now and deployed(machine, op.place, r)]
    done = _flatpak(machine, op, "uninstall", "--no-related", *before, *now)
    said = {(i, b) for i, b in _ROW.findall(done.out.decode("utf-8", "replace"))}
    if said != {(r.split("/")[1], r.split("/")[3]) for r in (*before, *now)}:
        words = " ".join((done.out.decode("utf-8", "replace") + done.err).split())[:300]
        raise Refused(f"flatpak would not remove exactly {', '.join(now)}: {words or 'it gave no answer'}")
    return sorted(now)


def to_keep(machine: Machine, op: Uninstall, prefix: str) -> list[dict[str, Any]]:
    """What put back needs to know of each that stands deployed; `name`: ours for its commit. Raises CouldNotRead."""
    return [
        {
            "ref": ref,
            "commit": is_.commit,
            "origin": is_.origin,
            "parts": list(is_.parts),
            "name": f"{prefix}-{i}",
            "remote": _remote(machine, op.place, is_.origin),
            "needs": _runs_on(machine, f"{op.place}/{ref}/{is_.commit}"),
        }
        for i, (ref, is_) in enumerate(there(machine, op).items())
    ]


def lacking(machine: Machine, op: Uninstall, kept: list[dict[str, Any]]) -> list[str]:
    """Runtimes that what was kept runs on and that stand nowhere it would find them. Raises CouldNotRead."""
    wanted = dict.fromkeys(k.get("needs", "") for k in kept)
    return [
        r
        for r in wanted
        if _REF.fullmatch(r)
        and r not in op.refs
        and not any(deployed(machine, place, r) for place in (op.place, SYSTEM))
    ]


def _runs_on(machine: Machine, folder: str) -> str:
    """The runtime of a deployed application; "" where it says none."""
    known = configparser.ConfigParser(strict=False, interpolation=None)
    try:
        known.read_string(machine.text(f"{folder}/metadata"))
        ref = f"runtime/{known.get('Application', 'runtime')}"
    except configparser.Error:
        return ""
    return ref if _REF.fullmatch(ref) else ""


def keep(machine: Machine, op: Uninstall, kept: list[dict[str, Any]], slot: int) -> None:
    """Give each commit a name of ours in the repository. Raises CouldNotRead, Refused, OSError."""
    with _ours(machine, op, make=True) as (fd, owner):
        for one in kept:
            if not _COMMIT.fullmatch(one["commit"]):
                raise CouldNotRead("leads to no commit", f"{op.place}/{one['ref']}/active")
            _put(fd, one["name"], one["commit"], owner)


def uninstall(machine: Machine, op: Uninstall, kept: list[dict[str, Any]]) -> None:
    """Raises CouldNotRead with flatpak's words when something is still there."""
    left = list(there(machine, op))
    if not left:
        return
    done = _flatpak(machine, op, "uninstall", "-y", "--noninteractive", "--no-related", *left, change=True)
    if still := list(there(machine, op)):
        raise CouldNotRead(f"flatpak left {', '.join(still)}: {_words(done)}")


def remains(machine: Machine, op: Uninstall) -> list[str]:
    """What flatpak leaves where it was cut off inside, the innermost first: the folder of what is deployed no more, links that lead
    nowhere now, folders with nothing in them."""
    found: list[str] = []
    for path in op.paths:
        inside = path.startswith(f"{op.place}/exports/")
        if inside and machine.readlink(path) is not None and machine.resolve(path) is None:
            found.append(path)
    for ref in op.refs:
        if deployed(machine, op.place, ref) is not None:
            continue
        kind, id, architecture, _ = ref.split("/")
        branch, above, top = (
            f"{op.place}/{ref}",
            f"{op.place}/{kind}/{id}/{architecture}",
            f"{op.place}/{kind}/{id}",
        )
        current = f"{top}/current"
        found += [p for p in (branch,) if machine.lstat(p) is not None]
        left = [n for n in machine.names(above) if f"{above}/{n}" not in found]
        if machine.lstat(above) is None or left:
            continue
        found += [p for p in (above, current) if machine.lstat(p) is not None]
        found += [top] if not [n for n in machine.names(top) if f"{top}/{n}" not in found] else []
    return found


def half_made(machine: Machine, op: Uninstall, kept: dict[str, Any]) -> list[str]:
    """What flatpak leaves where it was cut off deploying, and was not there before: half a commit beside it, files under way."""
    found = [
        f"{ref}/{name}" for ref in op.refs for name in machine.names(f"{op.place}/{ref}") if _HALF.match(name)
    ]
    return [f"{op.place}/{p}" for p in (*found, *_under_way(machine, op)) if p not in kept["names"]]


def _under_way(machine: Machine, op: Uninstall) -> list[str]:
    """Files that libostree writes before it gives them their names, from the installation on."""
    folders = ["repo", *(f"{_HEADS}/deploy/{r.rpartition('/')[0]}" for r in op.refs)]
    return [f"{f}/{n}" for f in folders for n in machine.names(f"{op.place}/{f}") if _UNDER_WAY.fullmatch(n)]


@contextmanager
def folder_of(machine: Machine, op: Uninstall, path: str) -> Iterator[int]:
    """The folder that a path of the installation stands in, through no link, and its owner’s. Raises OSError, Refused."""
    owner = _owner(machine, op)
    with _strict(machine, _real(machine, op.place) + parent(path)[len(op.place) :]) as fd:
        if os.fstat(fd).st_uid != owner[0]:
            raise Refused("is not whose the repository is", parent(path))
        yield fd


def give_back(machine: Machine, op: Uninstall, kept: list[dict[str, Any]], slot: int) -> str:
    """Deploy what was kept, runtimes first. Returns "" or why not. Raises CouldNotRead, OSError."""
    for one in sorted(kept, key=lambda k: k["ref"].startswith("app/")):
        now = deployed(machine, op.place, one["ref"])
        if now is not None and now.commit != one["commit"]:
            return f"{one['ref']} is installed in another version by now; it was not overwritten"
        if now is not None and not (lacking := _not_offered(machine, op, now)):
            continue
        if now is not None:  # cut off inside an earlier try: taken away once more, its commit is kept
            _flatpak(machine, op, "uninstall", "-y", "--noninteractive", "--no-related", now.ref, change=True)
            if deployed(machine, op.place, now.ref):
                return f"flatpak left {now.ref} without {lacking[0]}"
        if why := _remote_again(machine, op.place, one["origin"], one["remote"]):
            return why
        _write_reference(machine, op, one)
        parts = [f"--subpath={p}" for p in one["parts"]]
        done = _flatpak(
            machine,
            op,
            "install",
            "-y",
            "--noninteractive",
            "--no-pull",
            "--no-related",
            "--no-deps",
            *parts,
            one["origin"],
            one["ref"],
            change=True,
        )
        now = deployed(machine, op.place, one["ref"])
        if now is None or now.commit != one["commit"] or _not_offered(machine, op, now):
            return f"flatpak did not install {one['ref']} again: {_words(done)}"
    return ""


def let_go(machine: Machine, op: Uninstall, kept: list[dict[str, Any]], prune: bool) -> None:
    """Take our names out of the repository; and what nothing names any more, with `prune`. Raises CouldNotRead, OSError."""
    with contextlib.suppress(FileNotFoundError), _ours(machine, op) as (fd, _):
        for one in kept:
            with contextlib.suppress(FileNotFoundError):
                os.unlink(one["name"], dir_fd=fd)
    with contextlib.suppress(OSError), _strict(machine, f"{_real(machine, op.place)}/{_HEADS}") as heads:
        os.rmdir(_OURS, dir_fd=heads)
    if prune:
        done = _flatpak(
            machine,
            op,
            "build-update-repo",
            "--no-update-summary",
            "--no-update-appstream",
            "--prune",
            f"{'' if machine.live or not machine.chrootless else machine.root}{op.place}/repo",
            change=True,
            scope=False,
        )
        if done.status != 0:
            raise CouldNotRead(f"flatpak did not prune {op.place}: {_words(done)}")


def touched(machine: Machine, op: Uninstall) -> Iterator[str]:
    """Every path whose owner, mode and times flatpak gives anew when it removes and deploys: all that is no plain content."""
    for ref in op.refs:
        top, parts = op.place, ref.split("/")
        for part in parts:
            top = f"{top}/{part}"
            yield top
        yield f"{op.place}/{parts[0]}"
        origin = is_.origin if (is_ := deployed(machine, op.place, ref)) else ""
        for kind in (f"remotes/{origin}", "heads/deploy"):
            yield from _way(f"{op.place}/repo/refs", kind, ref)
        yield from _shaped(machine, f"{op.place}/{ref}")
        yield f"{op.place}/app/{parts[1]}/current"
    yield from (
        op.place,
        f"{op.place}/repo",
        f"{op.place}/repo/tmp",
        f"{op.place}/.changed",
        f"{op.place}/{_REMOVED}",
        f"{op.place}/{_HEADS}",
    )
    yield f"{op.place}/repo/config"
    yield from _shaped(machine, f"{op.place}/exports", folders_only=True)
    yield from (p for p in op.paths if p.startswith(f"{op.place}/exports/"))


def _not_offered(machine: Machine, op: Uninstall, is_: Deployed) -> list[str]:
    """What a deployed application exports and its installation does not offer; and the name that flatpak gives what it deployed."""
    named = f"{op.place}/{_HEADS}/deploy"
    if machine.lstat(named) is not None and machine.lstat(f"{named}/{is_.ref}") is None:
        return [f"{named}/{is_.ref}"]
    top = f"{op.place}/{is_.ref}/{is_.commit}/export"
    files = [p for p in _shaped(machine, top) if (s := machine.lstat(p)) and not stat.S_ISDIR(s.st_mode)]
    return [o for p in files if machine.lstat(o := f"{op.place}/exports{p.removeprefix(top)}") is None]


def _way(top: str, kind: str, ref: str) -> Iterator[str]:
    yield top
    for part in (*kind.split("/"), *ref.split("/")):
        top = f"{top}/{part}"
        yield top


def _shaped(machine: Machine, top: str, folders_only: bool = False) -> Iterator[str]:
    """Folders and links below, and the two files that are written at deploying."""
    stack = [top]
    while stack:
        path = stack.pop()
        status = machine.lstat(path)
        if status is None:
            continue
        if stat.S_ISDIR(status.st_mode):
            yield path
            stack += [f"{path}/{n}" for n in machine.names(path)]
        elif not folders_only and (
            stat.S_ISLNK(status.st_mode) or base(path) in ("deploy", ".ref") or "/export/" in path
        ):
            yield path


def tidy(machine: Machine, op: Uninstall, kept: dict[str, Any]) -> None:
    """What flatpak adds of its own: the note that a runtime was asked for, and the folder that it empties at once and leaves."""
    before, now = kept["config"], machine.text(f"{op.place}/repo/config")
    differing = set(before.splitlines()) ^ set(now.splitlines())
    if before != now and all(line.startswith("xa.pinned=") or not line for line in differing):
        with _strict(machine, f"{_real(machine, op.place)}/repo") as fd:
            replace_text(fd, "config", before.encode("utf-8", "surrogateescape"))
    with contextlib.suppress(OSError), _strict(machine, _real(machine, op.place)) as fd:
        if "lock" not in kept["names"]:
            with contextlib.suppress(FileNotFoundError):
                os.unlink("lock", dir_fd=fd)
        if _REMOVED not in kept["names"]:
            os.rmdir(_REMOVED, dir_fd=fd)


def before(machine: Machine, op: Uninstall) -> dict[str, Any]:
    """What `tidy` needs to know."""
    names = [*machine.names(op.place), *_under_way(machine, op)]
    return {"names": names, "config": machine.text(f"{op.place}/repo/config")}


# -- the repository -----------------------------------------------------------------------------------------------


def _real(machine: Machine, path: str) -> str:
    real = machine.resolve(path)
    if real is None:
        raise CouldNotRead("is not there", path)
    return real


@contextmanager
def _strict(machine: Machine, path: str) -> Iterator[int]:
    """A folder reached through no link at all. Raises OSError."""
    with machine.folder("/") as root:
        fd = beneath.open_strict(root, path, os.O_RDONLY | os.O_DIRECTORY)
    try:
        yield fd
    finally:
        os.close(fd)


def _owner(machine: Machine, op: Uninstall) -> tuple[int, int]:
    """Whose the repository is. Raises Refused where that is not whose installation it is said to be."""
    with machine.folder(f"{op.place}/repo") as fd:
        status = os.fstat(fd)
    if op.person and machine.lstat(_home(op.place)) is not None:
        home = machine.lstat(_home(op.place))
        if home is not None and home.st_uid != status.st_uid:
            raise Refused(f"the repository is not {op.person}’s", op.place)
    elif not op.person and status.st_uid != 0 and os.geteuid() == 0 and not machine.chrootless:
        raise Refused("the repository is not the administrator’s", op.place)
    return status.st_uid, status.st_gid


def _home(place: str) -> str:
    return place.removesuffix("/" + PERSONAL)


@contextmanager
def _ours(machine: Machine, op: Uninstall, make: bool = False) -> Iterator[tuple[int, tuple[int, int]]]:
    """The folder of our names in the repository, and whose it is. Raises OSError, FileNotFoundError where there is none."""
    owner = _owner(machine, op)
    with _strict(machine, f"{_real(machine, op.place)}/{_HEADS}") as heads:
        if os.fstat(heads).st_uid != owner[0]:
            raise Refused("is not whose the repository is", f"{op.place}/{_HEADS}")
        if make:
            with contextlib.suppress(FileExistsError):
                os.mkdir(_OURS, 0o755, dir_fd=heads)
                os.chown(_OURS, *owner, dir_fd=heads, follow_symlinks=False)
        fd = os.open(_OURS, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=heads)
    try:
        yield fd, owner
    finally:
        os.close(fd)


def _put(folder: int, name: str, commit: str, owner: tuple[int, int]) -> None:
    part = f".{name}.part"
    with contextlib.suppress(FileNotFoundError):
        os.unlink(part, dir_fd=folder)
    fd = os.open(
        part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o644, dir_fd=folder
    )
    with os.fdopen(fd, "w") as handle:
        handle.write(commit + "\n")
        os.fchown(fd, *owner)
        handle.flush()
        os.fsync(fd)
    beneath.rename(folder, part, folder, name, flags=0)
    os.fsync(folder)


def _write_reference(machine: Machine, op: Uninstall, kept: dict[str, Any]) -> None:
    """The name under which flatpak itself knows the commit, where it lets go of that when it uninstalls."""
    place = f"{op.place}/repo/refs/remotes/{kept['origin']}/{kept['ref']}"
    if machine.lstat(place) is not None:
        return
    owner = _owner(machine, op)
    way = parent(place)[len(op.place) + 1 :].split("/")
    with contextlib.ExitStack() as held:
        fd = held.enter_context(_strict(machine, _real(machine, op.place)))
        for part in way:
            with contextlib.suppress(FileExistsError):
                os.mkdir(part, 0o755, dir_fd=fd)
                os.chown(part, *owner, dir_fd=fd, follow_symlinks=False)
            fd = os.open(part, os.O_RDONLY | os.O_DIRECTORY | os.O_NOFOLLOW | os.O_CLOEXEC, dir_fd=fd)
            held.callback(os.close, fd)
        _put(fd, base(place), kept["commit"], owner)


def _remote(machine: Machine, place: str, origin: str) -> dict[str, str]:
    """The remote as the repository has it: the lines of its group, and its keys. flatpak drops one that nothing else needs."""
    group = re.search(
        rf'^\[remote "{re.escape(origin)}"\]\n(?:(?!\[).*\n?)*', machine.text(f"{place}/repo/config"), re.M
    )
    keys = f"{place}/repo/{origin}.trustedkeys.gpg"
    data = machine.read_bytes(keys, _MOST_KEYS) if machine.lstat(keys) is not None else b""
    return {"group": group[0] if group else "", "keys": base64.b64encode(data).decode()}


def _remote_again(machine: Machine, place: str, origin: str, remote: dict[str, str]) -> str:
    """The remote as it was, where it is not there any more. Returns "" or why not."""
    text = machine.text(f"{place}/repo/config")
    if f'[remote "{origin}"]' in text:
        return ""
    if not remote["group"]:
        return f"its remote {origin} is not there any more"
    with _strict(machine, f"{_real(machine, place)}/repo") as fd:
        if (keys := base64.b64decode(remote["keys"])) and machine.lstat(
            f"{place}/repo/{origin}.trustedkeys.gpg"
        ) is None:
            status = os.fstat(fd)
            name = f"{origin}.trustedkeys.gpg"
            new = os.open(name, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW, 0o644, dir_fd=fd)
            with os.fdopen(new, "wb") as handle:
                handle.write(keys)
                os.fchown(new, status.st_uid, status.st_gid)
        made = f"{text.rstrip(chr(10))}\n\n{remote['group'].rstrip(chr(10))}\n"
        replace_text(fd, "config", made.encode("utf-8", "surrogateescape"))
    return ""


# -- the command --------------------------------------------------------------------------------------------------


def _flatpak(
    machine: Machine, op: Uninstall, *arguments: str, change: bool = False, scope: bool = True
) -> Ran:
    """Its output is text for people: it is asked about the state of things by its files. Without -y it only lists."""
    first = [arguments[0], *(["--user" if op.person else "--system"] if scope else [])]
    owner = _owner(machine, op)
    within = "" if machine.live or not machine.chrootless else machine.root
    environment = {
        "FLATPAK_USER_DIR" if op.person else "FLATPAK_SYSTEM_DIR": f"{within}{op.place}",
        "HOME": _NOWHERE,
        "XDG_DATA_HOME": _NOWHERE,
        "XDG_CACHE_HOME": _NOWHERE,
        "XDG_CONFIG_HOME": _NOWHERE,
    }
    if within:
        environment["FLATPAK_CONFIG_DIR"] = _NOWHERE
    ids = owner if op.person else None
    if machine.live or machine.chrootless:
        return run(
            "flatpak", *first, *arguments[1:], as_=CHANGE, person=ids, environment=environment, timeout=3600
        )
    with machine.folder("/") as root:
        return run(
            FLATPAK_INSIDE,
            *first,
            *arguments[1:],
            walled=wall(root, person=ids),
            environment=environment,
            timeout=3600,
        )


def _words(done: Ran) -> str:
    return " ".join((done.err or done.out.decode("utf-8", "replace")).split())[:400] or "no reason given"
