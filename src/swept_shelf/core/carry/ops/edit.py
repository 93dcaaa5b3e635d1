"""Editing a file that points at an application: only its pieces, written beside, exchanged, the old one kept.

Any number of lines may cut from one file, in any order. What the file holds is always what was surveyed without the cuts of
all slots that wait; so each of them can be undone alone."""

from __future__ import annotations

import contextlib
import os
import stat
from dataclasses import replace
from typing import Any

from swept_shelf.core.carry import durable
from swept_shelf.core.carry.ask import Ask, may_write, must_be_writable, must_have_shelf
from swept_shelf.core.carry.back import Back
from swept_shelf.core.carry.checks import check_unchanged, why_not_back
from swept_shelf.core.carry.exchange import content_of, digest, exchange, write_alike
from swept_shelf.core.carry.holders import holders_of, let_go
from swept_shelf.core.carry.parents import begin_settling, note_after, parent_of, set_mtime, settle_parent
from swept_shelf.core.carry.records import read_record
from swept_shelf.core.carry.shelf import Slot, drop_slot, new_slot, opened_shelf
from swept_shelf.core.carry.work import Work, names_in
from swept_shelf.core.documents.errors import Changed, CouldNotRead, Gone
from swept_shelf.core.documents.operations import Cut, EditLines
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.survey import Identity, Volume
from swept_shelf.core.documents.wire import to_plain
from swept_shelf.core.grammars.lines import lines_of
from swept_shelf.core.machine import beneath
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.references.cutting import put_in_again, whole_line, without
from swept_shelf.core.references.kind import TEXT
from swept_shelf.core.references.take_out import codec_of, why_broken

STOPS = False
_SLOT = 32 << 10
# Lists of lines that maintainer scripts add to and take from, by tools that lock them (Debian Policy 9.2, 11.4).
_WRITTEN_BY_SCRIPTS = frozenset(
    f"/etc/{name}" for name in ("passwd", "group", "shadow", "gshadow", "subuid", "subgid", "shells")
)
_SURVEYED, _BACK = "surveyed", "back"


def describe(op: EditLines) -> tuple[str, str]:
    lines = sorted({c.line for c in op.cuts})
    numbers = ", ".join(map(str, lines[:4])) + (" …" if len(lines) > 4 else "")
    changed = all(c.put for c in op.cuts)
    return (
        f"Change {plural(len(op.cuts), 'setting')}"
        if changed
        else f"Take out {plural(len(op.cuts), 'mention')}",
        f"{op.path}, line{'s' if len(lines) != 1 else ''} {numbers}",
    )


def why_not_mine(op: EditLines, machine: Machine) -> str:
    return "" if may_write(machine, parent(op.path)) else op.rights


def room(op: EditLines, machine: Machine, volumes: list[Volume]) -> dict[str, int]:
    return {volume_of(volumes, op.path).id: _SLOT + 2 * op.length}


def check(op: EditLines, ask: Ask) -> None:
    must_be_writable(ask, parent(op.path))
    ask.bounds.check(op.path, edited=True)
    must_have_shelf(ask, op.path)
    for p in holders_of(ask.machine, op.kind, op.identity.uid):
        ask.notes[
            f"{p.name} of {p.user} holds {op.path}: it is asked to end, and starts when it is needed"
        ] = None


def do(op: EditLines, number: int, work: Work) -> dict[str, Any]:
    machine, above = work.machine, None
    slot = work.earlier(number)
    if slot is not None:
        above = slot.manifest["parent"]  # its time before that try, which wrote there
        with opened_shelf(machine, slot.shelf, work.run.id, f"{number:04}") as fd:
            if _finish(machine, op.path, fd, slot.manifest):
                if "after.json" not in names_in(fd):
                    note_after(machine, fd, slot.manifest["parent"], number, work.times)
                return _let_go(machine, op)
        drop_slot(machine, slot.shelf, work.run.id, number)
    work.bounds.check(op.path, edited=True)
    status = machine.lstat(op.path)
    if status is None:
        raise Gone("was gone already", op.path)
    old = machine.read_bytes(op.path)
    others = _others(work.edits, op.path, number, op.sha256)
    if op.path in _WRITTEN_BY_SCRIPTS and not _is_as_left(machine, op, old, others):
        op, others = _where_they_stand(op, old, machine.identity(status)), []
    surveyed = _as_surveyed(work, op, old, others)
    new = without(_text(surveyed, op.kind), [*(c for s in others for c in _cuts(s)), *op.cuts])
    if _text(old, op.kind) == new:
        raise Gone("was gone already", op.path)
    if why := why_broken(op.kind, op.path, _text(old, op.kind), new):
        raise Changed(why, op.path)
    made = codec_of(op.kind).data_of(new)
    shelf = work.shelf(op.path)
    part = beneath.beside_name(base(op.path))
    manifest = work.manifest(
        number,
        op,
        path=op.path,
        identity=to_plain(machine.identity(status)),
        surveyed_mtime_ns=op.identity.mtime_ns,
        surveyed_sha256=op.sha256,
        old_sha256=digest(old),
        new_sha256=digest(made),
        kind=op.kind,
        cuts=to_plain(op)["cuts"],
        beside=part,
        parent=above or parent_of(machine, op.path, work.times),
    )
    with new_slot(machine, shelf, work.run.id, number, manifest) as fd:
        if digest(old) != op.sha256:
            durable.write_bytes(fd, _SURVEYED, surveyed)
        exchange(machine, op.path, op.identity, fd, old, made, part)
        note_after(machine, fd, manifest["parent"], number, work.times)
    work.edits.append(Slot(shelf, work.run.id, number, manifest, True))
    return _let_go(machine, op)


def _let_go(machine: Machine, op: EditLines) -> dict[str, Any]:
    """After the exchange, also where that was cut off behind it."""
    said = let_go(machine, op.kind, op.identity.uid)
    return {"note": said} if said else {}


def _as_surveyed(work: Work, op: EditLines, old: bytes, others: list[Slot]) -> bytes:
    """What the file held as it was surveyed. It must hold that now, or what the other edits of this run left. Raises Changed."""
    if not others:
        if digest(old) != op.sha256:
            raise Changed("was written to since it was surveyed", op.path)
        check_unchanged(work.machine, op.path, op.identity, True)
        return old
    surveyed = surveyed_data(work.machine, others[0])
    if digest(surveyed) != op.sha256 or not _is_left_of(old, surveyed, op.kind, others):
        raise Changed("was written to since it was surveyed", op.path)
    return surveyed


def _is_as_left(machine: Machine, op: EditLines, old: bytes, others: list[Slot]) -> bool:
    """Whether it holds what was surveyed, or what the other edits left of that."""
    if not others:
        return digest(old) == op.sha256
    return _is_left_of(old, surveyed_data(machine, others[0]), op.kind, others)


def _is_left_of(now: bytes, surveyed: bytes, kind: str, others: list[Slot]) -> bool:
    return _text(now, kind) == without(_text(surveyed, kind), [c for s in others for c in _cuts(s)])


def _where_they_stand(op: EditLines, old: bytes, now: Identity) -> EditLines:
    """The operation for a list that the scripts of packages write to as well: its whole lines where they stand now, each once.

    Any other file must be what was surveyed, or what earlier edits left of it. Raises Gone where a script took them already."""
    text = _text(old, op.kind)
    same = all(getattr(op.identity, n) in (None, getattr(now, n)) for n in ("type", "uid", "gid", "mode"))
    if not op.pieces or not same or any((c.start, c.end) != (c.whole_start, c.whole_end) for c in op.cuts):
        return op
    stands: dict[str, list[Cut]] = {}
    for line in lines_of(text):
        cut = whole_line(line.number, line.start, line.end)
        stands.setdefault(digest(TEXT.data_of(text[line.start : line.end])), []).append(cut)
    if not any(piece in stands for piece in op.pieces):
        raise Gone("was gone already", op.path)
    cuts: list[Cut] = []
    for piece in op.pieces:
        here = stands.get(piece, [])
        if len(here) > 1:
            return op
        cuts += here
    return replace(op, cuts=cuts, sha256=digest(old), length=len(old), identity=now)


def _others(slots: list[Slot], path: str, number: int, surveyed: str) -> list[Slot]:
    """Other edits of the same file, as it was surveyed then, that wait."""
    return [
        s
        for s in slots
        if s.sealed
        and s.waiting
        and not s.emptying
        and s.manifest["do"] == "edit_lines"
        and s.manifest["path"] == path
        and s.manifest["surveyed_sha256"] == surveyed
        and s.number != number
    ]


def _cuts(slot: Slot) -> list[Cut]:
    return [Cut(**c) for c in slot.manifest["cuts"]]


def surveyed_data(machine: Machine, slot: Slot) -> bytes:
    """What a slot's file held when it was surveyed. Raises Changed where the slot does not hold it."""
    name = "item" if slot.manifest["old_sha256"] == slot.manifest["surveyed_sha256"] else _SURVEYED
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        data = content_of(fd, name)
    if digest(data) != slot.manifest["surveyed_sha256"]:
        raise Changed("is not the file that was put on the shelf: it was left there", slot.manifest["path"])
    return data


def _text(data: bytes, kind: str) -> str:
    """Raises Changed where it is no such file any more."""
    try:
        return codec_of(kind).text_of(data)
    except ValueError as error:
        raise Changed(str(error)) from None


def _finish(machine: Machine, path: str, slot: int, manifest: dict[str, Any]) -> bool:
    """After a crash: True when the edit is whole now, False when nothing of it is left."""
    part = manifest["beside"]
    if "item" in names_in(slot):
        return True
    with machine.folder(parent(path)) as folder:
        try:
            stands = digest(content_of(folder, part))
        except FileNotFoundError:
            return False
        if stands == manifest["old_sha256"] and digest(machine.read_bytes(path)) == manifest["new_sha256"]:
            beneath.rename(folder, part, slot, "item")
            os.fsync(slot)
            os.fsync(folder)
            return True
        os.unlink(part, dir_fd=folder)
        os.fsync(folder)
        return False


# -- back -------------------------------------------------------------------------------------------------------


def undo(slot: Slot, back: Back) -> str:
    """Put this line's pieces in again, in what the file is by now. Returns "" or why it stays. Raises OSError, CouldNotRead."""
    machine, manifest = back.machine, slot.manifest
    if why := why_not_back(machine, slot, back.bounds):
        return why
    with opened_shelf(machine, slot.shelf, slot.run, slot.name) as fd:
        settling = read_record(machine, fd, "settling.json")
        if not isinstance(settling, dict):
            settling = None
        if not slot.waiting and settling is None and not _finish(machine, manifest["path"], fd, manifest):
            above = manifest["parent"]  # the file that was written beside changed the folder's time
            set_mtime(
                machine, above["path"], back.times.returned(slot.number, above["path"], above["before"])
            )
            drop_slot(machine, slot.shelf, slot.run, slot.number)
            return ""
        exchanged = settling is not None and _is_exchanged(fd, settling)
        if not exchanged and (why := _put_in(machine, slot, fd, back)):
            return why
        let_go(machine, manifest["kind"], manifest["identity"]["uid"])
        for name in ("item", _BACK):
            with contextlib.suppress(FileNotFoundError):
                os.unlink(name, dir_fd=fd)
        os.fsync(fd)
    settle_parent(machine, slot, back.times)
    drop_slot(machine, slot.shelf, slot.run, slot.number)
    return ""


def _is_exchanged(slot: int, settling: dict[str, Any]) -> bool:
    """After a crash: whether the file of the slot had been exchanged for what stood at the path."""
    try:
        return bool(digest(content_of(slot, settling["name"])) != settling["mine"])
    except FileNotFoundError:
        return True


def _put_in(machine: Machine, slot: Slot, fd: int, back: Back) -> str:
    """Exchange the file for one with the pieces in it again. Returns "" or why not."""
    manifest, path, kind = slot.manifest, slot.manifest["path"], slot.manifest["kind"]
    if not machine.exists(path):
        return "the file went meanwhile; its earlier content stays on the shelf"
    if digest(content_of(fd, "item")) != manifest["old_sha256"]:
        return "is not the file that was put on the shelf: it was left there"
    try:
        now, held = machine.read_bytes(path), surveyed_data(machine, slot)
        surveyed, stands_now = _text(held, kind), _text(now, kind)
    except (Changed, CouldNotRead) as error:
        return error.reason
    same = _others(back.slots, path, slot.number, manifest["surveyed_sha256"])
    rest = [c for s in same for c in _cuts(s)]
    left = without(surveyed, [*rest, *_cuts(slot)])
    text = put_in_again(left, without(surveyed, rest), stands_now)
    if text is None:
        return "was written to since, where its lines stood; it was not overwritten"
    try:
        mine = held if text == surveyed else codec_of(kind).data_of(text)
    except ValueError as error:
        return f"was written to since, and {error}; it was not overwritten"
    whole = digest(mine) == manifest["surveyed_sha256"]
    name = "item" if whole and manifest["old_sha256"] == manifest["surveyed_sha256"] else _BACK
    with machine.folder(parent(path)) as folder:
        if name == _BACK:
            with contextlib.suppress(FileNotFoundError):
                os.unlink(_BACK, dir_fd=fd)
            stands = os.open(
                base(path), os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_CLOEXEC, dir_fd=folder
            )
            try:
                if not stat.S_ISREG(os.fstat(stands).st_mode) or os.fstat(stands).st_nlink > 1:
                    return "is no file of its own any more; it was not overwritten"
                write_alike(fd, stands, _BACK, mine)
            finally:
                os.close(stands)
            if whole:
                times = manifest["surveyed_mtime_ns"], os.stat(_BACK, dir_fd=fd).st_atime_ns
                os.utime(_BACK, ns=(times[1], times[0]), dir_fd=fd, follow_symlinks=False)
        begin_settling(machine, fd, manifest["parent"], back.times, name=name, mine=digest(mine))
        beneath.rename(fd, name, folder, base(path), beneath.EXCHANGE)
        if content_of(fd, name) != now:
            beneath.rename(fd, name, folder, base(path), beneath.EXCHANGE)
            return "was written to at the last moment; it was not overwritten"
        os.fsync(folder)
    return ""
