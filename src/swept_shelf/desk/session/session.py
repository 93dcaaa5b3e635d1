"""The session: one machine, one ledger, one selection. Widgets emit what the person asked, its parts act."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from swept_shelf.core.documents.survey import Application, LeftBehind, Survey
from swept_shelf.core.documents.terms import LOOKING
from swept_shelf.core.ledger import VisitRow
from swept_shelf.core.tree.index import Index
from swept_shelf.desk.behind import Behind
from swept_shelf.desk.carrier_process import CarrierProcess
from swept_shelf.desk.session.archiving import Archiving
from swept_shelf.desk.session.carrying import Carrying, RunState
from swept_shelf.desk.session.looking import Looking
from swept_shelf.desk.session.opening import Found, find
from swept_shelf.desk.session.ordering import Ordering
from swept_shelf.desk.session.proving import Proving
from swept_shelf.desk.session.shelf import ShelfWork
from swept_shelf.desk.session.standing import Standing
from swept_shelf.desk.worker_process import WorkerProcess
from swept_shelf.workshop import Surveyed, Workshop

BEFORE_A_WORKER = (
    "asking",
    "looking",
    "trace",
    "archive",
    "run",
    "shelf",
)  # behind the desk, and what a worker's end is kept by


class Session(QObject):
    """One worker at a time; what its parts change is told by the signals here.

    `past`: that this is an earlier visit, in words; it is shown, and nothing is decided, looked at or changed."""

    opened = Signal()
    surveyed_changed = Signal()
    selection_changed = Signal()
    order_changed = Signal()
    rehearsed = Signal()
    run_changed = Signal()
    clearance_changed = Signal()
    ledger_changed = Signal()
    looking_changed = Signal()
    progressed = Signal()
    watched = Signal(str, bool)
    station_wanted = Signal(str)
    said = Signal(str)

    def __init__(self, shop: Workshop, which: str = "latest") -> None:
        """`which`: the visit to be shown; an earlier one by its number."""
        super().__init__()
        self.shop, self.which = shop, which
        self.past = ""
        self.surveyed: Surveyed | None = None
        self._index: tuple[Surveyed, Index] | None = None
        self.visit: VisitRow | None = None
        self.selected = ""
        self.behind = Behind(self)
        self.worker: WorkerProcess | CarrierProcess | None = None
        self.looking, self.ordering, self.carrying = Looking(self), Ordering(self), Carrying(self)
        self.proving, self.shelf, self.standing = Proving(self), ShelfWork(self), Standing(self)
        self.archiving = Archiving(self)

    # -- opening --------------------------------------------------------------------------------------------

    def open(self) -> None:
        """Show where the work stands, read behind the desk; `opened` when it is known."""
        failed = lambda why: self._found(Found(problem=why))  # noqa: E731
        self.behind.do("opening", lambda: find(self.shop, self.which), self._found, failed)
        self.looking_changed.emit()

    @property
    def opening(self) -> bool:
        return self.behind.doing("opening")

    def _found(self, found: Found) -> None:
        self.visit, self.surveyed, self.looking.problem = found.visit, found.surveyed, found.problem
        self.past = found.past
        self.ordering.name = found.next_order
        self.proving.take(found.clearance, found.gone)
        if found.run is not None and found.now is not None:
            self.carrying.take(found.run, found.state, found.now)
        self.looking.ahead = found.ahead
        self.looking.compare()
        self.surveyed_changed.emit()
        self.run_changed.emit()
        self.clearance_changed.emit()
        self.standing.look()
        if not self.past:
            self._go_where_the_work_stands(found)
        self.opened.emit()

    def _go_where_the_work_stands(self, found: Found) -> None:
        if found.state in (RunState.WORKING, RunState.INTERRUPTED):
            self.station_wanted.emit("Carry out")
        elif self.proving.due:
            self.station_wanted.emit("Clearance")

    # -- what is in hand ------------------------------------------------------------------------------------

    @property
    def survey(self) -> Survey | None:
        return self.surveyed.survey if self.surveyed else None

    @property
    def index(self) -> Index | None:
        """The survey's index, opened once; an earlier visit has none any more."""
        if self.past:
            return None
        if self.surveyed is not None and (self._index is None or self._index[0] is not self.surveyed):
            self._index = self.surveyed, self.surveyed.index
        return self._index[1] if self.surveyed is not None and self._index else None

    @property
    def entry(self) -> Application | LeftBehind | None:
        survey = self.looking.in_view
        return survey.find(self.selected) if survey else None

    def inside(self, path: str) -> str:
        """A path of this computer below the machine's root, as the machine has it; any other as it is."""
        root = self.shop.machine.root
        return path[len(root) :] if root != "/" and path.startswith(root + "/") else path

    def select(self, line: str) -> None:
        if line != self.selected:
            self.selected = line
            self.selection_changed.emit()

    # -- the worker -----------------------------------------------------------------------------------------

    @property
    def busy(self) -> bool:
        return self.worker is not None or self.behind.busy

    @property
    def taken(self) -> bool:
        """Whether a worker is at work, or one is about to be: one at a time. What else is read behind the desk holds nobody up."""
        return self.worker is not None or any(map(self.behind.doing, BEFORE_A_WORKER))

    def start_worker(
        self, request: dict[str, Any], done: Callable[[dict[str, Any]], None], failed: Callable[[str], None]
    ) -> None:
        """Looking ends with the desk, carrying goes on without it. Either of both is called when it ended."""
        if self.past:
            QTimer.singleShot(0, lambda: failed(self.past))
            return
        worker = WorkerProcess(request, self) if request["do"] in LOOKING else CarrierProcess(request, self)

        def ended(act: Callable[..., None], said: object) -> None:
            self.worker = None
            act(said)

        self.worker = worker
        worker.progressed.connect(self.looking.heard)
        worker.succeeded.connect(lambda result: ended(done, result))
        worker.failed.connect(lambda why: ended(failed, why))
        if isinstance(worker, WorkerProcess):
            worker.start()
        else:
            runs = self.shop.runs
            self.behind.do(
                "carrier", lambda: worker.begin(runs), lambda _: worker.follow(), worker.failed.emit
            )

    def cancel_worker(self) -> None:
        if isinstance(self.worker, WorkerProcess):
            self.worker.cancel()

    def close(self) -> None:
        """The window closes: a looking worker ends, a carrier works on."""
        self.behind.end()
        self.standing.close()
        self.looking.close()
        self.cancel_worker()
        self.carrying.close()
