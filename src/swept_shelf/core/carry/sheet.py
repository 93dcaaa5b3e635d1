"""The run sheet: every operation as it went, from plan and journal."""

from __future__ import annotations

from swept_shelf.core.carry.journal import read_journal
from swept_shelf.core.carry.ops import describe
from swept_shelf.core.carry.run import Run
from swept_shelf.core.documents.run import RUN_FORMAT, RUN_VERSION, Record, RunResult
from swept_shelf.core.documents.terms import Ended, Went

_STATES = {
    "begin": Went.NOW,
    "done": Went.DONE,
    "skipped": Went.SKIPPED,
    "left": Went.LEFT,
    "stays": Went.STAYS,
    "returned": Went.PUT_BACK,
}


def records_of(run: Run) -> list[Record]:
    """Every operation of the run."""
    state = run.state
    found = []
    for n, op in enumerate(run.plan.operations, 1):
        entry = state.operations.get(n)
        said = _STATES[entry.event] if entry else Went.WAITS
        if n in state.open:
            said = Went.SKIPPED if state.ended else Went.NOW
        what, where = describe(op)
        size, note, seconds = (
            getattr(op, "bytes", 0),
            entry.note if entry else "",
            entry.seconds if entry else 0.0,
        )
        found.append(Record(n, op.line, what, where, size, said, note, seconds))
    return found


def result_of(run: Run, state: Ended, before: dict[str, int], after: dict[str, int]) -> RunResult:
    journal = read_journal(run.journal_path)
    return RunResult(
        RUN_FORMAT,
        RUN_VERSION,
        run.id,
        run.order.id,
        run.order.machine.key,
        journal[0].at,
        journal[-1].at,
        state,
        records_of(run),
        before,
        after,
    )
