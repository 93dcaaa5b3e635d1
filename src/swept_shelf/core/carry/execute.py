"""Carries an order out, operation by operation; finishes what a crash cut off; skips what cannot be done."""

from __future__ import annotations

import os
import time
from collections.abc import Callable
from contextlib import AbstractContextManager
from typing import Any

from swept_shelf.core.belongings.common import normal
from swept_shelf.core.carry import edits, moves, packages
from swept_shelf.core.carry.journal import ENDINGS, Journal, read_journal, tops_noted
from swept_shelf.core.carry.originals import keep_original, kept_originals, originals_folder
from swept_shelf.core.carry.records import FORMAT, VERSION
from swept_shelf.core.carry.room import check_room
from swept_shelf.core.carry.run import Run, describe, result_of
from swept_shelf.core.carry.shelf import (
    drop_empty,
    drop_slot,
    find_shelves,
    make_folder,
    new_slot,
    opened_shelf,
    shelf_for,
    slots_on_shelves,
)
from swept_shelf.core.documents.errors import Changed, CouldNotRead, Refused, SweptShelfError
from swept_shelf.core.documents.operations import (
    EditLines,
    KeepOriginal,
    Operation,
    PurgePackages,
    RemovePackages,
    Shelve,
)
from swept_shelf.core.documents.paths import base, within
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.survey import Application
from swept_shelf.core.documents.wire import to_json, to_plain
from swept_shelf.core.machine.beneath import beside_name
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.processes import holders, read_processes
from swept_shelf.core.machine.volumes import free_bytes, read_volumes
from swept_shelf.core.registries.debian import change

Tell = Callable[[dict[str, Any]], None]


def carry_out(run: Run, machine: Machine, tell: Tell = lambda _: None) -> RunResult:
    """Carry out, or finish, the run. What fails is skipped with its reason; the rest goes on.

    Raises Refused before the first step when there is no room or another machine stands there."""
    if machine.key != run.order.machine.key:
        raise Refused("is another machine than the order’s", machine.root)
    fresh = not read_journal(run.journal_path)
    if fresh:
        check_room(machine, run.plan, run.head["originals"])
    return _Carrier(run, machine, tell).work()


class _Carrier:
    def __init__(self, run: Run, machine: Machine, tell: Tell) -> None:
        self._run, self._machine, self._tell = run, machine, tell
        self._index = run.index
        self._volumes = read_volumes(machine)
        self._stopped: dict[str, str] = {}
        self._ours: set[str] = set()
        self._skipped: set[str] = set()
        self._busy: dict[str, str] = {}
        self._ended: dict[int, dict[str, Any]] = {}
        self._open: set[int] = set()
        self._noted: dict[str, int] = {}

    def work(self) -> RunResult:
        records = read_journal(self._run.journal_path)
        self._remember(records)
        self._noted = tops_noted(records)
        self._journal = Journal(self._run.journal_path)
        try:
            (self._run.folder / "stop").unlink(missing_ok=True)
            self._journal.write("mode", mode="carry_out", again=bool(records))
            before = self._free_before(records)
            self._busy = self._running()
            state = "carried_out"
            for number, op in enumerate(self._run.plan.operations, 1):
                if self._ended.get(number, {}).get("event") == "done":
                    continue
                if (self._run.folder / "stop").exists():
                    state = "stopped"
                    break
                self._one(number, op)
            for shelf in find_shelves(self._machine, self._volumes):
                drop_empty(self._machine, shelf, self._run.id, noted=self._noted)
            self._journal.write("end", state=state)
            self._free_room()
            result = result_of(self._run, state, before, free_bytes(self._machine))
            (self._run.folder / "result.json").write_bytes(to_json(result))
            self._tell({"event": "end", "state": state})
            return result
        finally:
            self._journal.close()

    def _free_room(self) -> None:
        (self._run.folder / "room").unlink(missing_ok=True)

    def _free_before(self, records: list[dict[str, Any]]) -> dict[str, int]:
        for record in records:
            if record["event"] == "free":
                return dict(record["free"])
        free = free_bytes(self._machine)
        self._journal.write("free", free=free)
        return free

    def _remember(self, records: list[dict[str, Any]]) -> None:
        """What earlier parts of this run did. Skipped operations are tried again."""
        for record in records:
            if record["event"] == "begin":
                self._open.add(record["n"])
            elif record["event"] in ENDINGS and "n" in record:
                self._ended[record["n"]] = record
                self._open.discard(record["n"])
                if "new_sha256" in record:
                    self._ours.add(record["new_sha256"])

    def _running(self) -> dict[str, str]:
        """Lines whose application runs now: running programs are refused."""
        found: dict[str, str] = {}
        processes = read_processes(self._machine)
        for line in self._run.order.lines:
            entry = self._run.survey.find(line.id)
            if isinstance(entry, Application) and line.verdict != "keep":
                programs = set(entry.pointed_at.get("programs", ()))
                for p in processes:
                    if any(x in programs for x in p.programs):
                        found[line.id] = (
                            f"{entry.name} is running ({p.user}, process {p.pid}); nothing of it was touched"
                        )
        return found

    def _one(self, number: int, op: Operation) -> None:
        began = time.monotonic()
        what, where = describe(op)
        head = {"n": number, "line": op.line, "what": what, "where": where}
        reason = self._busy.get(op.line) or self._stopped.get(op.line, "")
        if not reason and isinstance(op, PurgePackages) and op.line in self._skipped:
            reason = "something of this line was skipped: the registry keeps its settings"
        if reason:
            self._end(head, "skipped", began, reason)
            return
        self._journal.write("begin", **head)
        self._tell({"event": "begin", **head})
        try:
            more = self._do(number, op)
        except (SweptShelfError, OSError) as error:
            words = _words(error, getattr(op, "path", ""))
            if isinstance(error, Changed) or isinstance(op, KeepOriginal | RemovePackages):
                self._stopped[op.line] = f"the line stopped at operation {number}"
            self._skipped.add(op.line)
            self._clean_slot(number)
            self._end(
                head, "skipped", began, f"{words}. Nothing was moved." if isinstance(op, Shelve) else words
            )
            return
        self._end(head, "done", began, "", **more)

    def _end(self, head: dict[str, Any], event: str, began: float, note: str, **more: Any) -> None:
        seconds = round(time.monotonic() - began, 3)
        self._journal.write(event, **head, seconds=seconds, note=note, **more)
        self._tell({"event": event, **head, "seconds": seconds, "note": note})

    def _clean_slot(self, number: int) -> None:
        for slot in slots_on_shelves(self._machine, self._volumes, self._run.id):
            if (
                slot.number == number
                and slot.sealed
                and not (slot.waiting or slot.emptying)
                and slot.manifest["do"] in ("shelve", "edit_lines")
            ):
                try:
                    drop_slot(self._machine, slot.shelf, slot.run, number)
                except OSError:
                    pass

    # -- one operation each ---------------------------------------------------------------------------------

    def _do(self, number: int, op: Operation) -> dict[str, Any]:
        if isinstance(op, KeepOriginal):
            with self._originals(make=True) as folder:
                return {"bytes": keep_original(self._machine, op, folder)["bytes"]}
        if isinstance(op, RemovePackages):
            return self._remove(number, op)
        if isinstance(op, PurgePackages):
            return self._purge(number, op)
        if isinstance(op, Shelve):
            return self._shelve(number, op)
        return self._edit(number, op)

    def _originals(self, make: bool = False) -> AbstractContextManager[int]:
        elsewhere = self._run.head["originals"]
        return originals_folder(
            self._machine, "" if elsewhere else self._shelf("/x"), self._run.id, elsewhere, make
        )

    def _manifest(self, number: int, op: Operation, **more: Any) -> dict[str, Any]:
        line = self._run.order.line(op.line)
        return {
            "format": FORMAT,
            "version": VERSION,
            "run": self._run.id,
            "order": self._run.order.id,
            "machine": self._run.order.machine.key,
            "number": number,
            "line": op.line,
            "name": line.name if line else op.line,
            "do": op.do,
            "at": to_plain(self._run.order)["drawn_at"],
            "bytes": getattr(op, "bytes", 0),
            "files": getattr(op, "files", 0),
            "volume": getattr(op, "volume", self._volumes[0].id),
            **more,
        }

    def _existing(self, number: int) -> tuple[str, dict[str, Any]] | None:
        """A slot that an earlier, cut-off try of this operation left: its shelf and manifest."""
        if number in self._open or number in self._ended:
            for slot in slots_on_shelves(self._machine, self._volumes, self._run.id):
                if slot.number == number and slot.sealed and not slot.emptying:
                    return slot.shelf, slot.manifest
        return None

    def _remove(self, number: int, op: RemovePackages) -> dict[str, Any]:
        change.wait_for_lock(self._machine)
        left = self._existing(number)
        if left is None:
            packages.check_paths(self._machine, op, self._index)
            with self._originals() as folder:
                kept = kept_originals(self._machine, folder, op.packages)
            manifest = self._manifest(
                number,
                op,
                originals=kept,
                originals_in=self._run.head["originals"],
                **packages.surroundings(self._machine, op.packages),
            )
            shelf = self._shelf("/x")
        else:
            shelf, manifest = left
        with new_slot(self._machine, shelf, self._run.id, number, manifest) as slot:
            packages.remove_packages(self._machine, op, slot, manifest)
        return {}

    def _purge(self, number: int, op: PurgePackages) -> dict[str, Any]:
        change.wait_for_lock(self._machine)
        left = self._existing(number)
        if left is None:
            manifest = self._manifest(
                number, op, packages=op.packages, **packages.surroundings(self._machine, op.packages)
            )
            shelf = self._shelf("/x")
        else:
            shelf, manifest = left
        with new_slot(self._machine, shelf, self._run.id, number, manifest) as slot:
            packages.purge_packages(self._machine, op, slot, manifest)
        return {}

    def _shelve(self, number: int, op: Shelve) -> dict[str, Any]:
        left = self._existing(number)
        if left is not None:
            with opened_shelf(self._machine, left[0], self._run.id, f"{number:04}") as slot:
                if "item" in os.listdir(slot):
                    if "after.json" not in os.listdir(slot):
                        moves.note_after(self._machine, slot, left[1]["parent"]["path"])
                    return {}
            drop_slot(self._machine, left[0], self._run.id, number)
        now = self._machine.identity(moves.check_unchanged(self._machine, op.path, op.identity, op.exactly))
        new = 0
        if op.identity.type == "folder":
            new = moves.check_inside(self._machine, op, self._index, self._other_names(op.line))
        self._not_held(op.path)
        shelf = self._shelf(op.path)
        manifest = self._manifest(
            number,
            op,
            path=op.path,
            identity=to_plain(now),  # a package's script may have changed its mode
            parent=moves.parent_times(self._machine, op.path),
        )
        with new_slot(self._machine, shelf, self._run.id, number, manifest) as slot:
            moves.move_to_slot(self._machine, op.path, slot, op.identity)
        return {"new_inside": new} if new else {}

    def _edit(self, number: int, op: EditLines) -> dict[str, Any]:
        left = self._existing(number)
        if left is not None:
            with opened_shelf(self._machine, left[0], self._run.id, f"{number:04}") as slot:
                if edits.finish_edit(self._machine, op.path, slot, left[1]):
                    if "after.json" not in os.listdir(slot):
                        moves.note_after(self._machine, slot, left[1]["parent"]["path"])
                    return {"new_sha256": left[1]["new_sha256"]}
            drop_slot(self._machine, left[0], self._run.id, number)
        old, new = edits.new_content(self._machine, op, frozenset(self._ours))
        if edits.digest(old) == op.sha256:
            moves.check_unchanged(self._machine, op.path, op.identity, True)
        shelf = self._shelf(op.path)
        part = beside_name(base(op.path))
        manifest = self._manifest(
            number,
            op,
            path=op.path,
            identity=to_plain(op.identity),
            old_sha256=edits.digest(old),
            new_sha256=edits.digest(new),
            beside=part,
            parent=moves.parent_times(self._machine, op.path),
        )
        with new_slot(self._machine, shelf, self._run.id, number, manifest) as slot:
            edits.edit_to_slot(self._machine, op, slot, old, new, part)
        self._ours.add(manifest["new_sha256"])
        return {"new_sha256": manifest["new_sha256"]}

    def _shelf(self, path: str) -> str:
        """The shelf for a path, made. The time of the folder above it is in the journal before that changes."""
        shelf = shelf_for(self._machine, path, self._volumes)
        make_folder(self._machine, shelf, self._note_top, self._noted)
        return shelf

    def _note_top(self, top: str, before: int) -> None:
        self._journal.write("shelf", path=top, before=before)
        self._noted[top] = before

    def _other_names(self, line: str) -> frozenset[str]:
        names = {
            normal(base("/" + n))
            for a in self._run.survey.applications
            if a.id != line
            for n in (*a.pointed_at.get("commands", ()), *a.pointed_at.get("launchers", ()))
        }
        entry = self._run.survey.find(line)
        own = (
            {normal(base("/" + n)) for n in entry.pointed_at.get("commands", ())}
            if isinstance(entry, Application)
            else set()
        )
        return frozenset(n for n in names - own if len(n) >= 4)

    def _not_held(self, path: str) -> None:
        held, _ = holders(self._machine, [path])
        if held:
            pid, name, inside = held[0]
            raise CouldNotRead(
                f"a file in it is held open by process {pid} ({name})",
                inside if within(inside, path) else path,
            )


def _words(error: SweptShelfError | OSError, path: str) -> str:
    """The reason; with its place where that is not the operation's own."""
    if isinstance(error, OSError):
        return error.strerror or str(error)
    return error.reason if error.path == path else str(error)
