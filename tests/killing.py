"""The bench for kill tests: one small order, its beginning and its end known, every cut resumed and compared."""

from __future__ import annotations

from dataclasses import dataclass, field
from pathlib import Path

from helpers import Job, MadeUp, add_rows, built, differences, picture, program_and_page, run_forked
from kills import CALLS, POINTS, fresh, under_injection, wait_for_orphans
from staging import adopt
from swept_shelf.core.carry.journal import check, read_journal
from swept_shelf.core.carry.run import Run, open_run

KILL = "signal=SIGKILL"


@dataclass
class Tried:
    kills: int = 0
    wrong: list[str] = field(default_factory=list)


class Bench:
    """`ready`: order prepared; `carried`: carried out. Their pictures are the beginning and the end."""

    def __init__(self, folder: Path) -> None:
        self.folder = folder
        self.machine = built(1).copy(folder / "m")
        add_rows(self.machine.root, *program_and_page(self.machine), "/usr/bin/other-viewer")
        job = Job(self.machine)
        order = job.order(self.machine.id("map", "7"))
        run = job.prepare(order)
        self.run_id = run.id
        self.beginning = picture(self.machine.root)
        self.ready = fresh(folder / "m", folder / "ready")
        job.carry(run)
        self.end = picture(self.machine.root)
        self.carried = fresh(folder / "m", folder / "carried")
        job.empty()
        self.emptied = picture(self.machine.root, shelf=True)

    def at(self, stage: Path) -> tuple[Job, Run]:
        fresh(stage, self.folder / "m")
        job = Job(MadeUp(self.folder / "m"), survey=False)
        adopt(self.folder / "m", self.folder / "m")
        return job, open_run(job.shop.runs / self.run_id)

    # -- one cut each, resumed and compared -----------------------------------------------------------------

    def carry_out(self, call: str, nth: int, finish: bool, what: str = KILL) -> tuple[bool, list[str]]:
        job, run = self.at(self.ready)
        cut = under_injection(job.shop.orders.carry_request(run), call, nth, what)
        wait_for_orphans(self.machine.root)
        if cut.whole:
            return False, differences(self.end, picture(self.machine.root), times=False)
        wrong = check(read_journal(run.journal_path))
        if finish:
            result = run_forked(job.shop.orders.carry_request(run))
            wrong += [f"finish left {result['left']}"] if result["left"] else []
            wrong += differences(self.end, picture(self.machine.root), times=False)
        else:
            result = run_forked(job.shop.shelves.request("put_back", self._row(job, run), []))
            wrong += [f"put back left {result['why']}"] if result["left"] else []
            wrong += differences(self.beginning, picture(self.machine.root, shelf=True))
        return True, wrong

    def put_back(self, call: str, nth: int, finish: bool, what: str = KILL) -> tuple[bool, list[str]]:
        job, run = self.at(self.carried)
        request = job.shop.shelves.request("put_back", self._row(job, run), [])
        cut = under_injection(request, call, nth, what)
        wait_for_orphans(self.machine.root)
        if cut.whole:
            return False, differences(self.beginning, picture(self.machine.root, shelf=True))
        result = run_forked(request)
        wrong = [f"put back left {result['why']}"] if result["left"] else []
        return True, wrong + differences(self.beginning, picture(self.machine.root, shelf=True))

    def empty(self, call: str, nth: int, finish: bool, what: str = KILL) -> tuple[bool, list[str]]:
        job, run = self.at(self.carried)
        request = job.shop.shelves.request("empty", self._row(job, run), [])
        cut = under_injection(request, call, nth, what)
        if cut.whole:
            return False, differences(self.emptied, picture(self.machine.root, shelf=True), times=False)
        result = run_forked(request)
        wrong = [f"empty left {result['why']}"] if result["left"] else []
        return True, wrong + differences(self.emptied, picture(self.machine.root, shelf=True), times=False)

    def _row(self, job: Job, run: Run):
        return job.shop.shelves.orphan_row(run.id)


def points(bench: Bench, kind: str, every: int = 1, calls: tuple[str, ...] = CALLS, offset: int = 0) -> Tried:
    """Cut at N = 1, 1 + every, ... of each call until a run survives; finish and put back in turn."""
    tried = Tried()
    act = getattr(bench, kind)
    for place, call in enumerate(calls):
        nth = 1 + (place + offset) % every
        while True:
            cut, wrong = act(call, nth, finish=tried.kills % 2 == 0)
            if not cut:
                break
            assert nth < 3000, f"{call}: no run survives"
            tried.kills += 1
            tried.wrong += [f"{kind} cut at {call} {nth}: {w}" for w in wrong]
            nth += every
    return tried


def errors(bench: Bench, kind: str, call: str, code: str, every: int) -> Tried:
    """The call fails at points of the run, so often as it is made: whatever came of it, the next try ends whole."""
    tried = Tried()
    act = getattr(bench, kind)
    for nth in range(1, POINTS[kind][call] + 1, every):
        hit, wrong = act(call, nth, tried.kills % 2 == 0, f"error={code}")
        tried.kills += hit
        tried.wrong += [f"{kind}, {code} at {call} {nth}: {w}" for w in wrong]
    return tried
