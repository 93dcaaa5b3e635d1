"""Proving: looking again after the work, or for a name; taking out what was found, leaving it; signing off, the report."""

from __future__ import annotations

import tempfile
from collections.abc import Callable
from dataclasses import dataclass
from pathlib import Path
from typing import TYPE_CHECKING, Any, TypeVar

from swept_shelf.core.carry.run import Run
from swept_shelf.core.documents.clearance import Clearance, ClearanceLine, Finding, LookedIn, VolumeResult
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.sign_off import Left, SignOff, Technician, known_by
from swept_shelf.core.documents.sizes import plural
from swept_shelf.core.documents.terms import Verdict
from swept_shelf.core.documents.times import clock, day
from swept_shelf.core.documents.trace import Trace
from swept_shelf.desk.session.carrying import RunState
from swept_shelf.upkeep.timer import timer
from swept_shelf.written import write_one

if TYPE_CHECKING:
    from swept_shelf.desk.session.session import Session


_Looked = TypeVar("_Looked", Clearance, Trace)


@dataclass(frozen=True, slots=True)
class Shown:
    """What the station shows: the clearance of an order, or the trace of a name."""

    head: str
    said: str
    lines: list[ClearanceLine]
    looked_in: dict[str, LookedIn]
    rights: str
    searched: int
    remnants: str
    volumes: list[VolumeResult]
    is_trace: bool

    def found(self) -> list[Finding]:
        return [f for line in self.lines for _, f in line.found]


class Proving:
    """`gone`: what the run in hand moved was put back or emptied meanwhile; `working`: what is being done, in words; `written`: the
    files of the last sign-off."""

    def __init__(self, session: Session) -> None:
        self._session = session
        self.clearance: Clearance | None = None
        self.trace: Trace | None = None
        self.gone = False
        self.working = ""
        self.written: list[Path] = []
        self._traced: tempfile.TemporaryDirectory[str] | None = None

    def take(self, clearance: Clearance | None, gone: bool = False) -> None:
        """A clearance that the ledger knows, or none yet."""
        self.clearance, self.gone, self.trace, self.written = clearance, gone, None, []

    @property
    def due(self) -> bool:
        """Something was carried out, and nobody has looked again since."""
        carrying = self._session.carrying
        ended = carrying.run is not None and carrying.state == RunState.ENDED and carrying.begun
        return ended and self.clearance is None and not self.gone

    @property
    def shown(self) -> Shown | None:
        """The trace in hand, else the clearance."""
        if self.trace is not None:
            return _of_trace(self.trace)
        return _of_clearance(self.clearance) if self.clearance is not None else None

    def why_left(self, line: str, finding: Finding) -> Left | None:
        return self._session.standing.now.left.get(known_by(line, finding))

    @property
    def signed(self) -> SignOff | None:
        """The sign-off of the visit in hand."""
        return self._session.standing.now.signed

    @property
    def came(self) -> list[tuple[str, str, Finding]]:
        """What came back since it was signed off: (line, family, finding)."""
        return self._session.standing.now.came

    def _is_busy(self) -> bool:
        """Whether a worker is at work, or about to be: one at a time. It is said."""
        s = self._session
        if s.past:
            s.said.emit(f"{s.past}.")
            return True
        busy = s.taken or bool(self.working)
        if busy:
            s.said.emit("Something is being looked at, or carried out: wait until it has ended")
        return busy

    # -- looking ----------------------------------------------------------------------------------------------

    def look_again(self) -> None:
        """At what the order took; after something of a trace was taken out, at that name."""
        s = self._session
        if self._is_busy() or s.visit is None:
            return
        if self.trace is not None:
            self.look_for(self.trace.name)
            return
        proof, visit = s.shop.proof, s.visit

        def ready(request: dict[str, Any]) -> None:
            self._start(request, lambda: proof.keep_clearance(visit, request), self._looked)

        s.behind.do("looking", lambda: proof.clearance_request(proof.last_run(visit)), ready, s.said.emit)

    def look_for(self, name: str) -> None:
        """Whether anything of a name is left anywhere."""
        s = self._session
        if not name.strip() or self._is_busy():
            return

        def ask() -> dict[str, Any]:
            self._traced = tempfile.TemporaryDirectory(prefix="swept-shelf-trace-")
            with_rights = s.survey is not None and s.shop.by_rights(s.survey)
            return s.shop.proof.trace_of(name.strip(), self._traced.name, with_rights=with_rights)

        def ready(request: dict[str, Any]) -> None:
            self._start(request, lambda: s.shop.proof.read_trace(request), self._traced_name)

        def refused(why: str) -> None:
            self._drop_traced()
            s.said.emit(why)

        s.behind.do("trace", ask, ready, refused)

    def _drop_traced(self) -> None:
        s, traced, self._traced = self._session, self._traced, None
        if traced is not None:
            s.behind.do("dropping", traced.cleanup, lambda _: None, s.said.emit)

    def close_trace(self) -> None:
        self.trace = None
        self._session.clearance_changed.emit()

    def _start(
        self, request: dict[str, Any], keep: Callable[[], _Looked], take: Callable[[_Looked], None]
    ) -> None:
        s = self._session

        def ended(why: str) -> None:
            s.looking.progress, s.looking.problem = None, why
            self._drop_traced()
            s.looking_changed.emit()
            s.clearance_changed.emit()
            s.standing.look()

        def kept(looked: _Looked) -> None:
            take(looked)
            ended("")

        s.looking.progress = ("", 0, 3)
        s.start_worker(request, lambda _: s.behind.do("looking", keep, kept, ended), ended)
        s.clearance_changed.emit()

    def _looked(self, clearance: Clearance) -> None:
        self.clearance = clearance

    def _traced_name(self, trace: Trace) -> None:
        self.trace = trace

    # -- what was found ---------------------------------------------------------------------------------------

    def take_out(self, ids: list[str]) -> None:
        """An order of its own for these findings, carried out at once; then everything is looked at again."""
        s, shown = self._session, self.shown
        if shown is None or self._is_busy():
            return
        self.working = f"Taking out {len(ids)} of {len(shown.found())}"

        def ready(run: Run) -> None:
            s.carrying.carry(run)

        def failed(why: str) -> None:
            self.working = ""
            s.said.emit(why)
            s.clearance_changed.emit()

        s.behind.do("run", lambda: s.shop.proof.take_out(shown.remnants, ids), ready, failed)
        s.clearance_changed.emit()

    def taken_out(self) -> None:
        """The run in hand ended."""
        self.working = ""

    def leave(self, line: str, finding: Finding, why: str) -> None:
        s = self._session
        if s.past:
            s.said.emit(f"{s.past}.")
            return
        act = lambda: s.shop.proof.leave(line, finding, why)  # noqa: E731
        s.behind.do("leaving", act, lambda _: s.standing.look(), s.said.emit)

    # -- signing off ------------------------------------------------------------------------------------------

    def technician(self) -> Technician:
        return self._session.standing.now.technician

    def sign_off(self, technician: Technician, folder: Path) -> None:
        """Freeze the clearance, close the visit, and write the reports into a folder, behind the desk."""
        s, visit = self._session, self._session.visit
        if visit is None or s.past:
            return

        def act() -> tuple[list[Path], bool]:
            s.shop.proof.name_technician(technician)
            s.shop.proof.sign_off(visit, technician)
            return s.shop.proof.write_reports(visit, folder), s.shop.machine.live and not timer().on

        def done(went: tuple[list[Path], bool]) -> None:
            written, proposed = went
            self.written = [*written, *self._printed(folder)]
            more = ". Upkeep, in the Ledger, keeps it so" if proposed else ""
            s.said.emit(f"Signed off. Wrote {plural(len(self.written), 'file')} into {folder}{more}")
            s.clearance_changed.emit()
            s.standing.look()

        s.behind.do("signing", act, done, lambda why: s.said.emit(why))

    def _printed(self, folder: Path) -> list[Path]:
        """The owner's page as PDF; none where it cannot be written, which is said."""
        s = self._session
        assert s.visit is not None
        path = folder / f"visit-{s.visit.number}-page.pdf"
        try:
            write_one(s.shop.proof.report(s.visit), path)
        except SweptShelfError as error:
            s.said.emit(str(error))
            return []
        return [path]

    def write_report(self, path: str) -> None:
        """One report, of the kind that the file's ending says."""
        s = self._session
        if s.visit is None:
            return
        try:
            write_one(s.shop.proof.report(s.visit), Path(path))
            s.said.emit(f"Wrote {path}")
        except SweptShelfError as error:
            s.said.emit(str(error))


def _of_clearance(c: Clearance) -> Shown:
    took = (c.finished_at - c.looked_at).total_seconds()
    return Shown(
        f"Clearance of order {c.order}",
        f"every place that could still point at what went · looked at {clock(c.looked_at)}, {took:.1f} s",
        c.lines,
        {x.family: x for x in c.looked_in},
        c.rights,
        c.searched,
        c.remnants,
        c.volumes,
        False,
    )


def _of_trace(t: Trace) -> Shown:
    known = (
        f"as it was surveyed on {day(t.known_since)}" if t.known_as else "no visit knows it: the name alone"
    )
    took = (t.finished_at - t.looked_at).total_seconds()
    return Shown(
        f"Is anything left of {t.name}?",
        f"{known} · looked at {clock(t.looked_at)}, {took:.1f} s",
        [ClearanceLine(t.known_as or t.name, t.name, Verdict.REMOVE, t.cells, t.mentions)],
        {x.family: x for x in t.looked_in},
        t.rights,
        t.searched,
        t.remnants,
        [],
        True,
    )
