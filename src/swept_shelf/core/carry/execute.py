"""Carries an order out, line by line; finishes what a crash cut off; skips what cannot be done."""

from __future__ import annotations

import contextlib
import time
from typing import Any

from swept_shelf.core.carry.ask import Ask
from swept_shelf.core.carry.asking import new_ask, running, why_not
from swept_shelf.core.carry.journal import Journal, read_journal, replay
from swept_shelf.core.carry.ops import describe, module_of
from swept_shelf.core.carry.rehearse import by_line
from swept_shelf.core.carry.room import check_room, lacking
from swept_shelf.core.carry.run import Run
from swept_shelf.core.carry.sheet import result_of
from swept_shelf.core.carry.shelf import drop_empty, find_shelves
from swept_shelf.core.carry.work import Tell, Work
from swept_shelf.core.documents.errors import Gone, PersonalChanged, Refused, SweptShelfError
from swept_shelf.core.documents.operations import Operation, PurgePackages, RemovePackages, Shelve
from swept_shelf.core.documents.order import FREED
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.terms import Ended, Task, Verdict
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.machine.facts import ADMINISTRATOR
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.volumes import free_bytes
from swept_shelf.core.orders.scope import goes_by_tool
from swept_shelf.core.registries.debian import change

Numbered = list[tuple[int, Operation]]


def carry_out(run: Run, machine: Machine, tell: Tell = lambda _: None) -> RunResult:
    """Carry out, or finish, the run. What fails is skipped with its reason; the rest goes on.

    Raises Refused before the first step when there is no room or another machine stands there."""
    if machine.key != run.order.machine.key:
        raise Refused("is another machine than the order’s", machine.root)
    if not read_journal(run.journal_path):
        check_room(machine, run.plan, run.head.originals)
    return _Carrier(run, machine, tell).work()


class _Carrier:
    def __init__(self, run: Run, machine: Machine, tell: Tell) -> None:
        self._run, self._machine, self._tell = run, machine, tell

    def work(self) -> RunResult:
        entries = read_journal(self._run.journal_path)
        state = replay(entries)
        self._journal = Journal(self._run.journal_path)
        try:
            (self._run.folder / "stop").unlink(missing_ok=True)
            self._journal.write("mode", mode=Task.CARRY_OUT, again=bool(entries))
            before = state.free or free_bytes(self._machine)
            if not state.free:
                self._journal.write("free", free=before)
            self._work = Work(self._run, self._machine, state, self._journal)
            self._state = state
            how = self._lines()
            self._compare_with_registry()
            for shelf in find_shelves(self._machine, self._work.volumes, self._work.noted):
                drop_empty(self._machine, shelf, self._run.id, noted=self._work.noted)
            result = result_of(self._run, how, before, free_bytes(self._machine))
            self._keep(
                to_json(result)
            )  # before the end is told: a run without a result is one that was cut off
            self._journal.write("end", state=how)
            (self._run.folder / "room").unlink(missing_ok=True)
            self._tell({"event": "end", "state": how})
            return result
        finally:
            self._journal.close()

    def _keep(self, result: bytes) -> None:
        """Whole or not at all. Raises OSError."""
        part = self._run.folder / ".result.part"
        try:
            part.write_bytes(result)
        except OSError:
            (self._run.folder / "room").unlink(missing_ok=True)
            part.write_bytes(result)
        part.replace(self._run.folder / "result.json")

    def _lines(self) -> Ended:
        lines = list(by_line(self._run.plan))
        busy = running(self._machine, self._run.survey, self._run.plan.operations)
        ask = new_ask(self._machine, pure=False)
        ask.going = lambda line, packages: self._work.going(line, list(packages))
        for line, operations in lines:
            left = [(n, op) for n, op in operations if not self._state.done(n)]
            if left and not self._line(line, left, len(left) < len(operations), busy.get(line, ""), ask):
                return Ended.STOPPED
        return Ended.CARRIED_OUT

    def _line(self, line: str, left: Numbered, begun: bool, busy: str, ask: Ask) -> bool:
        """Work the operations of a line that are left. False when a stop was asked for."""
        if (self._run.folder / "stop").exists():
            return False
        begun = begun or any(n in self._state.open for n, _ in left)
        if line == FREED:
            self._shrink()
        why = busy or "; ".join(self._hinders(left, begun, ask))
        if why:
            rest = "the rest of it was left" if begun else "nothing of it was touched"
            self._leave(line, left, f"{why}; {rest}")
            return True
        skipped = False
        for place, (number, op) in enumerate(left):
            if (self._run.folder / "stop").exists():
                return False
            if (
                isinstance(op, PurgePackages)
                and skipped
                and set(op.packages) <= set(self._work.keep_settings(op.line, op.packages))
            ):
                self._end(
                    self._head(number, op),
                    "skipped",
                    time.monotonic(),
                    "something of this line was skipped: the registry keeps its settings",
                )
                continue
            done, stops = self._one(number, op)
            skipped = skipped or (not done and isinstance(op, Shelve) and op.rights == ADMINISTRATOR)
            if stops and place + 1 < len(left):
                self._leave(line, left[place + 1 :], f"the line stopped at operation {number}")
                return True
        return True

    def _hinders(self, left: Numbered, begun: bool, ask: Ask) -> list[str]:
        """What could stop the line, asked before its first operation; again where it was cut off inside."""
        open_ = {n for n, _ in left if n in self._state.open}
        found = why_not(ask, [op for n, op in left if n not in open_])
        if (
            not found
            and not begun
            and (why := lacking(self._machine, [op for _, op in left], self._run.head.originals))
        ):
            found.append(why)
        return found

    def _compare_with_registry(self) -> None:
        """Every package of every removal that was done must be gone by the registry's word; else it is done again, or said."""
        state = replay(read_journal(self._run.journal_path))
        done = [
            (n, op)
            for n, op in enumerate(self._run.plan.operations, 1)
            if isinstance(op, RemovePackages | PurgePackages) and state.done(n)
        ]
        states = change.states(self._machine, sorted({p for _, op in done for p in op.packages}))
        wrong = [(n, op) for n, op in done if any(states[p][0] not in _gone(op) for p in self._meant(op))]
        if wrong:
            self._work.reread(state)
        for number, op in wrong:
            self._one(number, op)
        if done:
            with contextlib.suppress(SweptShelfError):  # said by the next survey as what stands in the way
                change.write_up(self._machine)

    def _meant(self, op: RemovePackages | PurgePackages) -> list[str]:
        """Its packages without those whose settings the registry was to keep."""
        kept = self._work.keep_settings(op.line, op.packages) if isinstance(op, PurgePackages) else []
        return [p for p in op.packages if p not in kept]

    def _shrink(self) -> None:
        """What nothing else needs any more, asked again now that it is known which lines were done."""
        heads = set()
        freed = self._run.order.line(FREED)
        packages = freed.packages if freed else []
        for line in self._run.order.lines:
            entry = self._work.scope.entries.get(line.id)
            if entry is not None and goes_by_tool(entry) and line.verdict == Verdict.REMOVE:
                heads.add(entry.own_packages[0])
        states = change.states(self._machine, sorted(heads))
        gone = {h for h in heads if states[h][0] in ("not-installed", "config-files")}
        self._work.shrunk[FREED] = frozenset(self._work.scope.goes_with(gone)) & frozenset(packages)

    def _leave(self, line: str, left: Numbered, note: str) -> None:
        """Operations of a line that are not done, as one record."""
        numbers = [n for n, _ in left]
        self._journal.write("left", n=numbers[0], line=line, numbers=numbers, note=note)
        self._tell({"event": "left", "n": numbers[0], "line": line, "numbers": numbers, "note": note})

    def _head(self, number: int, op: Operation) -> dict[str, Any]:
        what, where = describe(op)
        return {"n": number, "line": op.line, "what": what, "where": where}

    def _one(self, number: int, op: Operation) -> tuple[bool, bool]:
        """Whether it was done, and whether its line stops."""
        began, head = time.monotonic(), self._head(number, op)
        self._journal.write("begin", **head)
        self._tell({"event": "begin", **head})
        try:
            more = module_of(op).do(op, number, self._work)
        except Gone as error:
            self._work.clean(number)
            self._end(head, "done", began, error.reason)
            return True, False
        except (SweptShelfError, OSError) as error:
            self._work.clean(number)
            words = _words(error, getattr(op, "path", ""))
            self._end(
                head, "skipped", began, f"{words}. Nothing was moved." if isinstance(op, Shelve) else words
            )
            return False, module_of(op).STOPS or isinstance(error, PersonalChanged)
        self._end(head, "done", began, **more)
        return True, False

    def _end(self, head: dict[str, Any], event: str, began: float, note: str = "", **more: Any) -> None:
        seconds = round(time.monotonic() - began, 3)
        self._journal.write(event, **head, seconds=seconds, note=note, **more)
        self._tell({"event": event, **head, "seconds": seconds, "note": note})


def _gone(op: Operation) -> tuple[str, ...]:
    """What the registry says of a package when the operation is done."""
    return ("not-installed",) if isinstance(op, PurgePackages) else ("not-installed", "config-files")


def _words(error: SweptShelfError | OSError, path: str) -> str:
    """The reason; with its place where that is not the operation's own."""
    if isinstance(error, OSError):
        return error.strerror or str(error)
    return error.reason if error.path == path else str(error)
