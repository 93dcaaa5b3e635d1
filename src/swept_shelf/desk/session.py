"""The session: what the desk knows and decides. Widgets emit what the person asked, the session acts."""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QProcess, QTimer, Signal

from swept_shelf.core.belongings.told import ITS
from swept_shelf.core.carry.rehearse import Rehearsal
from swept_shelf.core.carry.run import Run, open_run
from swept_shelf.core.carry.sheet import records_of
from swept_shelf.core.carry.shelf import Slot
from swept_shelf.core.documents.clearance import Clearance
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.run import Record
from swept_shelf.core.documents.survey import Application, LeftBehind, Survey, Volume
from swept_shelf.core.documents.terms import Task
from swept_shelf.core.ledger import VisitRow
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.orders import Choice
from swept_shelf.core.reports import inventory_csv, inventory_cyclonedx, report_html, report_json
from swept_shelf.core.tree.index import Index
from swept_shelf.desk.behind import Behind
from swept_shelf.desk.carrier_process import CarrierProcess
from swept_shelf.desk.worker_process import WorkerProcess
from swept_shelf.own_python import FOLDER, own_python
from swept_shelf.workshop import Surveyed, Workshop


class Session(QObject):
    """One machine, one ledger, one selection, one order in the making."""

    surveyed_changed = Signal()
    selection_changed = Signal()
    order_changed = Signal()
    rehearsed = Signal()
    run_changed = Signal()
    clearance_changed = Signal()
    ledger_changed = Signal()
    looking_changed = Signal()
    watched = Signal(str, bool)
    station_wanted = Signal(str)
    said = Signal(str)

    def __init__(self, shop: Workshop) -> None:
        super().__init__()
        self.shop = shop
        self.surveyed: Surveyed | None = None
        self._index: tuple[Surveyed, Index] | None = None
        self.visit: VisitRow | None = None
        self.selected = ""
        self.choice = Choice()
        self.order: Order | None = None
        self.order_kept: Order | None = None
        self.rehearsal: Rehearsal | None = None
        self.rehearse_problem = ""
        self.run: Run | None = None
        self.records: list[Record] = []
        self.run_state = ""
        self.run_problem = ""
        self._gone = False
        self.clearance: Clearance | None = None
        self.looking: tuple[str, int, int] | None = None
        self.look_problem = ""
        self.told = ""
        self.behind = Behind(self)
        self._watcher: QProcess | None = None
        self._worker: WorkerProcess | CarrierProcess | None = None
        self._follow = QTimer(self)
        self._follow.setInterval(120)
        self._follow.timeout.connect(self._read_run)
        self._journal_size = -1

    # -- opening --------------------------------------------------------------------------------------------

    def open(self) -> None:
        """Show what the ledger knows of this machine; find a carrier that works on, or a run that was cut off."""
        if self.shop.ledger.visits(self.shop.machine.key):
            try:
                self.visit, self.surveyed = self.shop.latest()
            except SweptShelfError as error:
                self.look_problem = str(error)
        working = self.shop.working()
        cut_off = None if working else self.shop.interrupted()
        if working is not None:
            self.run, self.run_state = working, "working"
            self._start_following()
        elif cut_off is not None:
            self.run, self.run_state = cut_off, "interrupted"
            self.records = records_of(cut_off)
        elif self.visit is not None:
            self._last_run()
        self.surveyed_changed.emit()
        self.run_changed.emit()
        self.clearance_changed.emit()
        self.ledger_changed.emit()
        if self.run_state in ("working", "interrupted"):
            self.station_wanted.emit("Carry out")
        elif self.to_prove:
            self.station_wanted.emit("Clearance")

    def _last_run(self) -> None:
        assert self.visit is not None
        rows = self.shop.ledger.runs(self.visit.id)
        if rows and (rows[-1].folder / "run.json").exists():
            try:
                self.run = open_run(rows[-1].folder)
            except SweptShelfError as error:
                self.look_problem = str(error)
                return
            self._gone = rows[-1].put_back_at is not None or rows[-1].emptied_at is not None
            self.records, self.run_state = records_of(self.run), "ended"
            found = self.shop.ledger.clearance(self.visit.id)
            self.clearance = found if found and found.run == rows[-1].id else None

    @property
    def to_prove(self) -> bool:
        """Something was carried out, and nobody has looked again since."""
        return (
            self.run is not None and self.run_state == "ended" and self.clearance is None and not self._gone
        )

    @property
    def survey(self) -> Survey | None:
        return self.surveyed.survey if self.surveyed else None

    @property
    def index(self) -> Index | None:
        """The survey's index, opened once."""
        if self.surveyed is not None and (self._index is None or self._index[0] is not self.surveyed):
            self._index = self.surveyed, self.surveyed.index
        return self._index[1] if self.surveyed is not None and self._index else None

    @property
    def entry(self) -> Application | LeftBehind | None:
        return self.survey.find(self.selected) if self.survey else None

    def volumes_now(self) -> list[Volume]:
        return read_volumes(self.shop.machine)

    # -- survey ---------------------------------------------------------------------------------------------

    def take_survey(self) -> None:
        if self._worker is not None:
            return
        try:
            request = self.shop.survey_request()
        except SweptShelfError as error:
            self.look_problem = str(error)
            self.looking_changed.emit()
            return
        self.look_problem, self.told, self.looking = "", "", ("", 0, 7)
        worker = self._start(request)
        worker.succeeded.connect(lambda result: self._survey_done(request, result))
        worker.failed.connect(lambda why: self._survey_failed(request, why))
        self.looking_changed.emit()

    def tell(self, kind: str, line: str, path: str) -> None:
        """Keep a correction: a path is, or is not, an application's. It counts from the next survey on."""
        try:
            rule = self.shop.tell(kind, line, path)
            name = self.entry.name if self.entry else line
            self.told = f"Kept: {rule.place} {'belongs' if kind == ITS else 'does not belong'} to {name}. Survey again and it counts."
        except SweptShelfError as error:
            self.told = f"The correction was not kept: {error}"
        self.looking_changed.emit()

    def watch(self, seconds: int) -> None:
        """Run the application in hand for that long, in a process of its own, and keep what it alone wrote."""
        if self._watcher is not None or self.entry is None:
            return
        watcher = self._watcher = QProcess(self)
        watcher.setProcessChannelMode(QProcess.ProcessChannelMode.MergedChannels)
        said: list[str] = []

        def hear() -> None:
            said.append(bytes(watcher.readAll().data()).decode("utf-8", "replace"))
            self.watched.emit("".join(said), True)

        def end() -> None:
            hear()
            self._watcher = None
            self.watched.emit("".join(said) or "nothing was seen", False)

        watcher.readyRead.connect(hear)
        watcher.finished.connect(end)
        watcher.errorOccurred.connect(
            lambda error: end() if error == QProcess.ProcessError.FailedToStart else None
        )
        program, *arguments = own_python(
            "swept_shelf",
            "--root",
            self.shop.machine.root,
            "--ledger",
            str(self.shop.ledger.file),
            "watch",
            self.entry.id,
            "--run",
            "--keep",
            "--seconds",
            str(seconds),
        )
        watcher.setWorkingDirectory(FOLDER)
        watcher.start(program, arguments)

    def cancel_looking(self) -> None:
        if isinstance(self._worker, WorkerProcess):
            self._worker.cancel()

    def _start(self, request: dict[str, Any]) -> WorkerProcess | CarrierProcess:
        looks = request["do"] in ("survey", "clearance")
        worker = WorkerProcess(request, self) if looks else CarrierProcess(request, self.shop.runs, self)
        self._worker = worker
        worker.progressed.connect(self._progress)
        worker.start()
        return worker

    def _progress(self, event: dict[str, Any]) -> None:
        if event.get("event") == "progress" and self.looking is not None:
            self.looking = (event["what"], event["done"], event["total"])
            self.looking_changed.emit()

    def _survey_done(self, request: dict[str, Any], result: dict[str, Any]) -> None:
        self._worker = None

        def keep() -> tuple[Surveyed, VisitRow]:
            kept = self.shop.keep_survey(request, result)
            kept.index.packages  # noqa: B018 - read while nobody waits
            return kept, self.shop.ledger.visit(self.shop.machine.key)

        self.behind.do("survey", keep, self._survey_kept, lambda why: self._survey_kept(None, why))

    def _survey_kept(self, kept: tuple[Surveyed, VisitRow] | None, why: str = "") -> None:
        self.looking = None
        if kept is not None:
            self.surveyed, self.visit = kept
        self.look_problem = why
        known = {line for line in self.choice.verdicts if self.survey and self.survey.find(line)}
        self.choice = replace(
            self.choice,
            verdicts={k: v for k, v in self.choice.verdicts.items() if k in known},
            ticked=frozenset(),
            unticked=frozenset(),
            answers={},
        )
        if self.survey and not self.survey.find(self.selected):
            self.selected = ""
        self.looking_changed.emit()
        self.surveyed_changed.emit()
        self.ledger_changed.emit()
        self._draw()

    def _survey_failed(self, request: dict[str, Any], why: str) -> None:
        self._worker, self.looking = None, None
        self.shop.drop_survey(request)
        self.look_problem = "" if why == "cancelled" else why
        self.looking_changed.emit()
        self.surveyed_changed.emit()

    def select(self, line: str) -> None:
        if line != self.selected:
            self.selected = line
            self.selection_changed.emit()

    # -- order ----------------------------------------------------------------------------------------------

    def set_verdict(self, line: str, verdict: str) -> None:
        """Put a line on the order, change its verdict, or take it off ("")."""
        verdicts = dict(self.choice.verdicts)
        if verdict and verdicts.get(line) != verdict:
            verdicts[line] = verdict
        else:
            verdicts.pop(line, None)
        self.choice = replace(self.choice, verdicts=verdicts)
        self._draw()

    def set_verdicts(self, lines: list[str], verdict: str) -> None:
        """The same verdict for several lines; when all have it already, take them all off."""
        verdicts = dict(self.choice.verdicts)
        on = any(verdicts.get(line) != verdict for line in lines)
        for line in lines:
            if on:
                verdicts[line] = verdict
            else:
                verdicts.pop(line, None)
        self.choice = replace(self.choice, verdicts=verdicts)
        self._draw()

    def verdict(self, line: str) -> str:
        return self.choice.verdicts.get(line, "")

    def set_tick(self, path: str, on: bool) -> None:
        ticked, unticked = set(self.choice.ticked) - {path}, set(self.choice.unticked) - {path}
        (ticked if on else unticked).add(path)
        self.choice = replace(self.choice, ticked=frozenset(ticked), unticked=frozenset(unticked))
        self._draw()

    def answer(self, question: str, answer: str) -> None:
        answers, when = dict(self.choice.answers), dict(self.choice.answered_at)
        answers[question], when[question] = answer, self.shop.machine.now()
        if not answer:
            answers.pop(question)
            when.pop(question)
        self.choice = replace(self.choice, answers=answers, answered_at=when)
        self._draw()
        self.rehearse()

    def _draw(self) -> None:
        self.order, self.rehearsal, self.rehearse_problem = None, None, ""
        if self.surveyed is not None and self.visit is not None and self.choice.verdicts:
            try:
                self.order = self.shop.draw(self.visit, self.surveyed, self.choice)
            except SweptShelfError as error:
                self.said.emit(str(error))
        self.order_changed.emit()

    def rehearse(self) -> None:
        """Every operation, the rights and the registry's own word; asked behind the desk. The newest order counts."""
        self.rehearsal, self.rehearse_problem = None, ""
        order = self.order

        def failed(why: str) -> None:
            if self.order is order:
                self.rehearse_problem = why
                self.rehearsed.emit()

        def done(rehearsal: Rehearsal) -> None:
            if self.order is order:
                self.rehearsal = rehearsal
                self.rehearsed.emit()

        if order is not None:
            self.behind.do("rehearsal", lambda: self.shop.rehearse(order, f"order {order.id}"), done, failed)
        self.rehearsed.emit()

    @property
    def rehearsing(self) -> bool:
        return self.behind.doing("rehearsal")

    # -- carrying out ---------------------------------------------------------------------------------------

    def carry_out(self) -> None:
        order, visit = self.order, self.visit
        if order is None or visit is None or self.behind.doing("run") or self._worker is not None:
            return

        def prepare() -> Run:
            run = self.shop.prepare_run(order, f"order {order.id}")
            self.shop.ledger.add_order(visit.id, order)
            return run

        def failed(why: str) -> None:
            self.rehearse_problem = why
            self.rehearsed.emit()

        self.behind.do("run", prepare, self._carry_prepared, failed)
        self.rehearsed.emit()

    def _carry_prepared(self, run: Run) -> None:
        self.choice, self.order, self.clearance = Choice(), None, None
        self.order_changed.emit()
        self._carry(run)

    def carry_again(self) -> None:
        """Try again what was skipped, or finish what was cut off."""
        if self.run is not None and self.run_state != "working":
            self._carry(open_run(self.run.folder))

    def _carry(self, run: Run) -> None:
        self.run, self.run_state, self.run_problem = run, "working", ""
        (run.folder / "stop").unlink(missing_ok=True)
        worker = self._start(self.shop.carry_request(run))
        worker.succeeded.connect(lambda _: self._run_ended(""))
        worker.failed.connect(self._run_ended)
        self._start_following()
        self.run_changed.emit()
        self.station_wanted.emit("Carry out")

    def stop_after_this(self) -> None:
        if self.run is not None:
            (self.run.folder / "stop").touch()
            self.run_changed.emit()

    @property
    def stopping(self) -> bool:
        return self.run is not None and self.run_state == "working" and (self.run.folder / "stop").exists()

    def _start_following(self) -> None:
        self._journal_size = -1
        self._follow.start()
        self._read_run()

    def _read_run(self) -> None:
        if self.run is None:
            return
        path = self.run.journal_path
        size = path.stat().st_size if path.exists() else 0
        if size != self._journal_size:
            self._journal_size = size
            self.records = records_of(self.run)
            self.run_changed.emit()
        elif self._worker is None and not self.shop.working():
            self._run_ended("" if not self.run.interrupted else "the carrier ended early")

    def _run_ended(self, why: str) -> None:
        self._worker = None
        self._follow.stop()
        assert self.run is not None
        self.records = records_of(self.run)
        self.run_state = "interrupted" if self.run.interrupted else "ended"
        self.run_problem = why
        self.shop.ledger.take_in()
        self.run_changed.emit()
        self.ledger_changed.emit()
        if self.run_state == "ended":
            self.look_again()

    def resume_put_back(self) -> None:
        if self.run is not None:
            self.shelf_work(Task.PUT_BACK, self.run.id, [])

    # -- looking again --------------------------------------------------------------------------------------

    def look_again(self) -> None:
        if self._worker is not None or self.visit is None:
            return
        try:
            row = self.shop.last_run(self.visit)
        except SweptShelfError as error:
            self.said.emit(str(error))
            return
        request = self.shop.clearance_request(row)
        self.looking = ("", 0, 3)
        worker = self._start(request)
        worker.succeeded.connect(lambda _: self._looked(request, ""))
        worker.failed.connect(lambda why: self._looked(request, why))
        self.clearance_changed.emit()

    def _looked(self, request: dict[str, Any], why: str) -> None:
        self._worker, self.looking, self.look_problem = None, None, why
        if not why and self.visit is not None:
            self.clearance = self.shop.keep_clearance(self.visit, request)
        self.clearance_changed.emit()
        self.ledger_changed.emit()

    def write_report(self, path: str) -> None:
        if self.visit is None:
            return
        made = self.shop.report(self.visit)
        data = (
            report_json(made)
            if path.endswith(".json")
            else report_html(made).encode("utf-8", "backslashreplace")
        )
        try:
            Path(path).write_bytes(data)
            self.said.emit(f"Wrote {path}")
        except OSError as error:
            self.said.emit(f"{path}: {error.strerror}")

    def write_inventory(self, path: str, form: str, entries: list[Application | LeftBehind]) -> None:
        """`form`: csv of `entries`, json of the whole survey, or cyclonedx of everything installed."""
        assert self.survey is not None and self.surveyed is not None
        try:
            if form == "csv":
                data = inventory_csv(self.survey, entries)
            elif form == "json":
                data = (self.surveyed.folder / "survey.json").read_bytes()
            else:
                data = inventory_cyclonedx(self.survey)
            Path(path).write_bytes(data)
            self.said.emit(f"Wrote {path}")
        except OSError as error:
            self.said.emit(f"{path}: {error.strerror}")

    def sign_off(self, path: str) -> None:
        """Write the report and close the visit."""
        self.write_report(path)
        try:
            self.shop.ledger.close_visit(self.shop.machine.key)
        except SweptShelfError as error:
            self.said.emit(str(error))
        self.ledger_changed.emit()

    # -- holding shelf --------------------------------------------------------------------------------------

    def waiting(self) -> list[Slot]:
        return self.shop.waiting()

    def shelf_work(self, kind: str, run: str, lines: list[str]) -> None:
        """Put back, or empty, lines of a run (all of it when none is named)."""
        if self._worker is not None:
            return
        rows = [
            r
            for v in self.shop.ledger.visits(self.shop.machine.key)
            for r in self.shop.ledger.runs(v.id)
            if r.id == run
        ]
        if not rows:
            self.said.emit(
                f"No ledger here knows this run: `swept-shelf take-over {run}` on the command line says what it holds."
            )
            return
        row: RunRow = rows[0]
        worker = self._start(self.shop.shelf_request(kind, row, lines))
        worker.succeeded.connect(lambda result: self._shelf_done(kind, row, lines, result))
        worker.failed.connect(self._shelf_failed)
        self.ledger_changed.emit()

    @property
    def busy(self) -> bool:
        return self._worker is not None or self.behind.busy

    def _shelf_done(self, kind: str, row: RunRow, lines: list[str], result: dict[str, Any]) -> None:
        self._worker = None
        self.shop.keep_shelf_result(kind, row, lines, result)
        if self.run is not None and self.run.id == row.id:
            self.records = records_of(self.run)
            self.run_state = "interrupted" if self.run.interrupted else "ended"
        word = "Put back" if kind == Task.PUT_BACK else "Emptied"
        left = [f"{w['path'] or w['line']}: {w['why']}" for w in result["why"]]
        self.said.emit(f"{word}." if not left else f"{word}, but {len(left)} stay: {left[0]}")
        self.run_changed.emit()
        self.ledger_changed.emit()

    def _shelf_failed(self, why: str) -> None:
        self._worker = None
        self.said.emit(why)
        self.ledger_changed.emit()

    def close(self) -> None:
        """The window closes: a looking worker ends, a carrier works on."""
        self.behind.end()
        if self._watcher is not None:
            self._watcher.kill()
            self._watcher.waitForFinished(2000)
        if isinstance(self._worker, WorkerProcess):
            self._worker.cancel()
        self._follow.stop()
