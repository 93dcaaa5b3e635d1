"""Changes through the snap service: what it would remove, removing with every image kept under a second name, and the same again.

The service takes a snap's data folders away with it, whatever was decided about them: for that moment they stand aside under a
name of ours, beside their own place. Back comes the image with what its publisher signed, so that it is the same revision."""

from __future__ import annotations

import contextlib
import os
import re
from collections.abc import Collection, Iterator
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.operations import Uninstall
from swept_shelf.core.documents.paths import base, join, parent
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.second_name import second_name
from swept_shelf.core.registries.plain_store import before as before
from swept_shelf.core.registries.plain_store import folder_of as folder_of
from swept_shelf.core.registries.plain_store import half_made as half_made
from swept_shelf.core.registries.plain_store import let_go as let_go
from swept_shelf.core.registries.plain_store import remains as remains
from swept_shelf.core.registries.plain_store import tidy as tidy
from swept_shelf.core.registries.snap import service
from swept_shelf.core.registries.snap.data import data_back, data_folders, data_set_aside, move
from swept_shelf.core.registries.snap.read import DATA, IMAGES, LAUNCHERS

_NAME = re.compile(r"[a-z0-9](?:-?[a-z0-9_])*")
_REF = re.compile(rf"({_NAME.pattern})(/[0-9]{{1,9}})?")  # a snap, or one revision of it that is not in use
_REVISION = re.compile(r"x?[0-9]{1,9}")
_SIGNED = "signed"
_READ = os.O_RDONLY | os.O_NOFOLLOW | os.O_CLOEXEC
_KINDS = (
    "account-key",
    "account",
    "snap-declaration",
    "snap-revision",
)  # in the order in which each is borne out


def why_not(machine: Machine, op: Uninstall) -> str:
    """Why snaps cannot be changed, known before anything is tried; "" where they can."""
    if not all(_REF.fullmatch(r) for r in op.refs) or not all(_REVISION.fullmatch(c) for c in op.commits):
        return "names what no snap is called"
    if not service.answers(machine):
        return "the snap service does not answer here: nothing is removed without it"
    return ""


def may_change(machine: Machine, op: Uninstall) -> bool:
    return os.geteuid() == 0


def there(machine: Machine, op: Uninstall) -> dict[str, list[dict[str, Any]]]:
    """What of each is installed now, by what it is called here: all revisions, the active one last, or the one. Raises
    CouldNotRead."""
    found: dict[str, list[dict[str, Any]]] = {}
    for row in service.rows(machine):
        for ref in (str(row.get("name")), f"{row.get('name')}/{row.get('revision')}"):
            if ref in op.refs:
                found.setdefault(ref, []).append(row)
    for revisions in found.values():
        revisions.sort(key=lambda r: r.get("status") == "active")
    return found


def ask(machine: Machine, op: Uninstall, along: Collection[str] = ()) -> list[str]:
    """What the service would remove. Raises Refused where it is another revision by now, or others run on it; CouldNotRead."""
    known = service.rows(machine)
    now = there(machine, op)
    for name, revisions in now.items():
        wanted = op.commits[op.refs.index(name)]
        if all(str(r.get("revision")) != wanted for r in revisions):
            raise Refused(f"{name} is another revision by now: survey again")
        if "/" in name and revisions[0].get("status") == "active":
            raise Refused(f"{name} is the revision in use by now: survey again")
        users = sorted(
            str(r.get("name"))
            for r in known
            if r.get("base") == name and r.get("name") not in {*op.refs, *along}
        )
        if users:
            raise Refused(f"{name} is what {', '.join(users)} run on: the snap service would refuse")
    return sorted(now)


def to_keep(machine: Machine, op: Uninstall, prefix: str) -> list[dict[str, Any]]:
    """What put back needs to know of each: its revisions in the order to come back in, and where its data stands aside."""
    kept = []
    for name, revisions in there(machine, op).items():
        numbers = [str(r.get("revision")) for r in revisions if _REVISION.fullmatch(str(r.get("revision")))]
        active = revisions[-1]
        aside = {path: join(parent(path), f".{base(path)}.{prefix}") for path in data_folders(machine, name)}
        kept.append(
            {
                "ref": name,
                "revisions": numbers,
                "version": str(active.get("version", "")),
                "id": str(active.get("id", "")),
                "in_use": _in_use(machine, _name(name)) if "/" in name else "",
                "aside": aside,
            }
        )
    return kept


def _in_use(machine: Machine, name: str) -> str:
    rows = service.rows(machine)
    return next(
        (str(r.get("revision")) for r in rows if r.get("name") == name and r.get("status") == "active"), ""
    )


def keep(machine: Machine, op: Uninstall, kept: list[dict[str, Any]], slot: int) -> None:
    """Give every image a second name in the slot, and keep what its publisher signed beside it. Raises OSError, CouldNotRead."""
    with machine.folder(IMAGES) as images:
        for one in kept:
            for number in one["revisions"]:
                with contextlib.suppress(FileNotFoundError):
                    second_name(images, _image(one, number), slot, _image(one, number))
    for one in kept:
        if signed := _signed(machine, one):
            fd = os.open(
                _signed_name(one), os.O_WRONLY | os.O_CREAT | os.O_TRUNC | os.O_NOFOLLOW, 0o600, dir_fd=slot
            )
            with os.fdopen(fd, "wb") as handle:
                handle.write(signed)
                handle.flush()
                os.fsync(fd)
    os.fsync(slot)


def _name(ref: str) -> str:
    return ref.partition("/")[0]


def _image(one: dict[str, Any], number: str) -> str:
    return f"{_name(one['ref'])}_{number}.snap"


def _signed_name(one: dict[str, Any]) -> str:
    return f"{_SIGNED}-{one['ref'].replace('/', '-')}"


def _signed(machine: Machine, one: dict[str, Any]) -> bytes:
    """The assertions that bear the revisions out; nothing for a snap that came from a file."""
    found: list[bytes] = []
    with contextlib.suppress(CouldNotRead):
        declaration = service.assertions(machine, "snap-declaration", snap_id=one["id"]) if one["id"] else b""
        if declaration:
            found = [service.assertions(machine, kind) for kind in _KINDS[:2]] + [declaration]
            found.append(service.assertions(machine, "snap-revision", snap_id=one["id"]))
    return b"\n\n".join(s.strip(b"\n") for s in found) + b"\n" if len(found) == len(_KINDS) else b""


def uninstall(machine: Machine, op: Uninstall, kept: list[dict[str, Any]]) -> None:
    """Raises CouldNotRead with the service's words when something is still there, and the data is in its place again."""
    words = ""
    if left := there(machine, op):
        for one in kept:
            for path, aside in one["aside"].items():
                move(machine, path, aside)
        try:
            for ref in sorted(left):
                service.remove(machine, *ref.split("/"))
        except CouldNotRead as error:
            words = error.reason
    data_back(machine, kept)
    if still := sorted(there(machine, op)):
        raise CouldNotRead(f"the snap service left {', '.join(still)}: {words or 'no reason given'}")


def give_back(machine: Machine, op: Uninstall, kept: list[dict[str, Any]], slot: int) -> str:
    """Every revision again from its own image, the active one last. Returns "" or why not. Raises CouldNotRead, OSError."""
    now = there(machine, op)
    for one in kept:
        if "/" in one["ref"]:
            if why := _revision_back(machine, one, now, slot):
                return why
            continue
        others = [
            str(r.get("revision"))
            for r in now.get(one["ref"], [])
            if str(r.get("revision")) not in one["revisions"]
        ]
        if others:
            return f"{one['ref']} is installed in revision {others[0]} by now; it was not overwritten"
    for one in (k for k in kept if "/" not in k["ref"]):
        data_back(machine, [one])
        signed = _read(slot, _signed_name(one))
        if not signed and _highest(one) > _MOST_LOCAL:
            return f"{one['ref']} was installed from a file {_highest(one)} times: it would come back as another revision"
        if signed:
            service.acknowledge(machine, signed)
        have = {str(r.get("revision")) for r in now.get(one["ref"], [])}
        with data_set_aside(machine, one["ref"]):
            for number, of in _in_order(one, bool(signed)):
                if number not in have:
                    _install(machine, one, of, slot, bool(signed))
            _only_these(machine, one)
    if left := [one["ref"] for one in kept if one["ref"] not in there(machine, op)]:
        return f"the snap service does not know {', '.join(left)} again"
    return ""


_MOST_LOCAL = 40  # installations of one snap from a file, one after the other


def _highest(one: dict[str, Any]) -> int:
    """Of the revisions that came from files, which the service counts x1, x2 and so on; 0 where none did."""
    return max((int(n[1:]) for n in one["revisions"] if n.startswith("x")), default=0)


def _in_order(one: dict[str, Any], signed: bool) -> list[tuple[str, str]]:
    """(revision, that whose image is installed for it) one after the other, the one in use last where they are signed.

    Without a signature the service counts: what lies between is installed too, and goes again."""
    revisions: list[str] = one["revisions"]
    if signed:
        return [(n, n) for n in revisions]
    if not (highest := _highest(one)):
        return [(revisions[-1], revisions[-1])]
    counted = [f"x{i}" for i in range(1, highest + 1)]
    return [(n, n if n in revisions else revisions[-1]) for n in counted]


def _install(machine: Machine, one: dict[str, Any], number: str, slot: int, signed: bool) -> None:
    fd = os.open(_image(one, number), _READ, dir_fd=slot)
    try:
        service.install(machine, fd, _image(one, number), signed)
    finally:
        os.close(fd)


def _only_these(machine: Machine, one: dict[str, Any]) -> None:
    """What was installed on the way goes, and what was in use is."""
    name, active = one["ref"], one["revisions"][-1]
    have = {str(r.get("revision")) for r in service.rows(machine) if r.get("name") == name}
    if active not in have:
        return  # it came back unsigned, by another number
    if _in_use(machine, name) != active:
        service.use_again(machine, name, active)
    for number in sorted(have - set(one["revisions"])):
        service.remove(machine, name, number)


def _revision_back(
    machine: Machine, one: dict[str, Any], now: dict[str, list[dict[str, Any]]], slot: int
) -> str:
    """An older revision again beside the one in use, which the service puts aside for that moment. Returns "" or why not.
    Raises CouldNotRead, OSError."""
    name, _, number = one["ref"].partition("/")
    data_back(machine, [one])
    active = _in_use(machine, name)
    if not active:
        return f"{name} is not installed by now: its older revision does not come back alone"
    signed = _read(slot, _signed_name(one))
    if one["ref"] not in now:
        if not signed:
            return f"the publisher’s signature of {name} was not kept: it would come back as another revision"
        service.acknowledge(machine, signed)
    meant = one["in_use"] if active == number else active  # a try that was cut off may have put it into use
    if one["ref"] in now and active == meant:
        return ""
    with data_set_aside(machine, name):
        if one["ref"] not in now:
            _install(machine, one, number, slot, True)
        if _in_use(machine, name) != meant:
            service.use_again(machine, name, meant)
    return ""


def _read(slot: int, name: str) -> bytes:
    try:
        with os.fdopen(os.open(name, _READ, dir_fd=slot), "rb") as handle:
            return handle.read()
    except FileNotFoundError:
        return b""


def touched(machine: Machine, op: Uninstall) -> Iterator[str]:
    """The folders that images, launchers and data stand in, whose times change."""
    yield from (IMAGES, LAUNCHERS, DATA)
    called = dict.fromkeys(name for ref in op.refs for name in (ref, _name(ref)))
    yield from (parent(p) for name in called for p in data_folders(machine, name) if parent(p) != DATA)
