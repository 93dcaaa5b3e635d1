"""The ledger: one file (SQLite in WAL mode) for all machines; surveys in folders beside it.

Only the technician's desk or command line opens it; carriers write run folders that it takes in once."""

from __future__ import annotations

import contextlib
import json
import re
import uuid
from collections.abc import Iterator
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import TypeVar

from sqlalchemy import func, select
from sqlalchemy.exc import DatabaseError
from sqlalchemy.orm import Session

from swept_shelf.core.documents.clearance import Clearance
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.run import RunResult
from swept_shelf.core.documents.sign_off import Left, SignOff
from swept_shelf.core.documents.survey import Survey, SurveyHead
from swept_shelf.core.documents.terms import Went
from swept_shelf.core.documents.wire import read_document, read_order, to_json
from swept_shelf.core.ledger.opening import open_ledger
from swept_shelf.core.ledger.tables import (
    ClearanceTable,
    LeftTable,
    MachineRow,
    OrderTable,
    RunTable,
    SignOffTable,
    SurveyTable,
    VisitTable,
)

T = TypeVar("T")
_FINISHED = "finished.json"  # beside a whole survey that is not in the ledger yet
_REFUSED = re.compile(r"\bdpkg left |cannot be rebuilt")
_CLOSES_AFTER = timedelta(hours=24)
_LOOKING = timedelta(minutes=10)  # longer than a look takes, where nobody wrote down how long it took


@dataclass(frozen=True, slots=True)
class VisitRow:
    """One visit as a list shows it; `order` the last order's name, `came_back` bytes measured by its clearance."""

    id: str
    number: int
    machine: str
    machine_name: str
    opened_at: datetime
    closed_at: datetime | None
    surveys: int
    order: str
    lines: int
    run: str
    clearance: str
    free: dict[str, int]


@dataclass(frozen=True, slots=True)
class RunRow:
    id: str
    order: str
    folder: Path
    started_at: datetime
    result: RunResult | None
    put_back_at: datetime | None
    emptied_at: datetime | None
    left_of: str = ""


def _began(document: Path, ended: datetime) -> datetime:
    """When a survey began, by the first lines of its document; where that is gone, some minutes before it ended."""
    try:
        with open(document, "rb") as handle:
            told = re.search(rb'"surveyed_at": ?"([^"]+)"', handle.read(2000))
        return (
            datetime.fromisoformat(told[1].decode()).astimezone(UTC).replace(tzinfo=None)
            if told
            else ended - _LOOKING
        )
    except (OSError, ValueError):
        return ended - _LOOKING


def _last_written(folder: Path, began: datetime) -> datetime:
    """When a run last wrote into its folder: its end, or where it was cut off."""
    try:
        newest = max((f.stat().st_mtime for f in folder.iterdir()), default=0.0)
    except OSError:
        return began + _LOOKING
    return max(began, datetime.fromtimestamp(newest, UTC).replace(tzinfo=None))


def _now() -> datetime:
    return datetime.now(UTC).replace(tzinfo=None)


def _plain(moment: datetime) -> datetime:
    """As the tables keep it: in UTC without saying so, and never later than now."""
    return min(moment.astimezone(UTC).replace(tzinfo=None), _now())


def _aware(moment: datetime | None) -> datetime:
    assert moment is not None
    return moment.replace(tzinfo=UTC)


def _next_place(
    session: Session, table: type[SurveyTable | OrderTable | RunTable | ClearanceTable | SignOffTable]
) -> int:
    """Behind everything that came in before, whatever the clock said then."""
    return (session.scalar(select(func.max(table.place))) or 0) + 1


class Ledger:
    """Opens the ledger, making or bringing it up to date first. Raises CouldNotRead when it is not one, Refused for another's."""

    def __init__(self, file: Path | str) -> None:
        self.file = Path(file).absolute()
        self.folder = self.file.parent
        self._engine = open_ledger(self.file)

    @contextlib.contextmanager
    def _session(self) -> Iterator[Session]:
        """Raises Refused, in words, where the ledger cannot be read or written: full, locked all the time, broken."""
        try:
            with Session(self._engine) as session:
                yield session
        except DatabaseError as error:
            raise Refused(
                f"the ledger could not be used, nothing of this was kept in it: {error.orig}", str(self.file)
            ) from None

    @property
    def runs_folder(self) -> Path:
        return self.folder / "runs"

    def new_survey_folder(self) -> Path:
        """An empty folder for a survey that is about to be taken."""
        folder = self.folder / "surveys" / str(uuid.uuid4())
        try:
            folder.parent.mkdir(mode=0o700, exist_ok=True)
            folder.mkdir(mode=0o700)
        except OSError as error:
            raise Refused(f"no survey can be kept there: {error.strerror}", str(folder)) from None
        return folder

    # -- visits ---------------------------------------------------------------------------------------------

    def add_survey(self, survey: Survey, digest: str, folder: Path, visit: str = "") -> int:
        """Join the machine's open visit, or open one; `visit`: this one, whether it is open or not. Returns its number.

        Raises Refused when another process holds the ledger all the time: the survey stays, and is taken in by whoever opens
        the ledger next (`take_in`)."""
        marker = folder / _FINISHED
        try:
            marker.write_text(json.dumps({"sha256": digest}))
            number = self._add_survey(survey, digest, folder, visit)
        except (Refused, OSError) as error:
            why = error.reason if isinstance(error, Refused) else error.strerror
            raise Refused(f"{why}; the survey is kept and taken in next time", str(self.file)) from None
        marker.unlink(missing_ok=True)
        return number

    def _add_survey(self, survey: Survey, digest: str, folder: Path, which: str = "") -> int:
        with self._session() as session, session.begin():
            if session.get(MachineRow, survey.machine.key) is None:
                session.add(MachineRow(key=survey.machine.key, name=survey.machine.name))
                session.flush()
            known = session.get(VisitTable, which) if which else None
            visit = known or self._open_visit(session, survey.machine.key, survey.surveyed_at)
            session.flush()
            free = json.dumps({v.id: v.free for v in survey.volumes})
            session.add(
                SurveyTable(
                    id=survey.id,
                    visit=visit.id,
                    taken_at=_plain(survey.finished_at),
                    sha256=digest,
                    folder=str(folder),
                    free=free,
                    place=_next_place(session, SurveyTable),
                    left_of=survey.left_of,
                )
            )
            return visit.number

    def _open_visit(self, session: Session, machine: str, at: datetime) -> VisitTable:
        """The machine's open visit, or a new one that began when its first survey did."""
        last = session.scalars(
            select(VisitTable).where(VisitTable.machine == machine).order_by(VisitTable.number.desc())
        ).first()
        if last is not None and last.closed_at is None:
            if _now() - last.last_act_at <= _CLOSES_AFTER or self._unfinished(session, last.id):
                last.last_act_at = _now()
                return last
            last.closed_at = last.last_act_at
        began = _plain(at)
        visit = VisitTable(
            id=str(uuid.uuid4()),
            machine=machine,
            number=(last.number if last else 0) + 1,
            opened_at=began,
            last_act_at=began,
            closed_at=None,
        )
        session.add(visit)
        return visit

    def _unfinished(self, session: Session, visit: str) -> bool:
        rows = session.scalars(select(RunTable).where(RunTable.visit == visit))
        return any(r.result is None and r.put_back_at is None and r.emptied_at is None for r in rows)

    def visits(self, machine: str | None = None) -> list[VisitRow]:
        """Newest first; of one machine, or of all."""
        with self._session() as session:
            query = select(VisitTable, MachineRow).join(MachineRow, VisitTable.machine == MachineRow.key)
            if machine:
                query = query.where(VisitTable.machine == machine)
            newest = (
                (VisitTable.number.desc(),)
                if machine
                else (VisitTable.opened_at.desc(), VisitTable.number.desc())
            )
            rows = session.execute(query.order_by(*newest)).all()
            return [self._visit_row(session, v, m) for v, m in rows]

    def _visit_row(self, session: Session, v: VisitTable, m: MachineRow) -> VisitRow:
        surveys = session.scalars(
            select(SurveyTable)
            .where(SurveyTable.visit == v.id, SurveyTable.left_of == "")
            .order_by(SurveyTable.place)
        ).all()
        whole = select(SurveyTable.id).where(SurveyTable.left_of == "")
        order = session.scalars(
            select(OrderTable)
            .where(OrderTable.visit == v.id, OrderTable.survey.in_(whole))
            .order_by(OrderTable.place.desc())
        ).first()
        run = session.scalars(
            select(RunTable)
            .where(RunTable.visit == v.id, RunTable.left_of == "")
            .order_by(RunTable.place.desc())
        ).first()
        clear = session.scalars(
            select(ClearanceTable).where(ClearanceTable.visit == v.id).order_by(ClearanceTable.place.desc())
        ).first()
        lines = len(json.loads(order.document)["lines"]) if order else 0
        return VisitRow(
            v.id,
            v.number,
            v.machine,
            m.name,
            _aware(v.opened_at),
            _aware(v.closed_at) if v.closed_at else None,
            len(surveys),
            order.name if order else "",
            lines,
            run.id if run else "",
            clear.id if clear else "",
            json.loads(surveys[0].free) if surveys else {},
        )

    def visit(self, machine: str, which: str = "latest") -> VisitRow:
        """By number within the machine, `latest`, or UUID. Raises Refused when there is none."""
        rows = self.visits(machine)
        for row in rows:
            if which in ("latest", str(row.number), row.id):
                return row
        raise Refused(
            f"no visit {which} of this machine" if rows else "this machine has no visit yet: survey it first"
        )

    def close_visit(self, machine: str, which: str = "latest") -> VisitRow:
        row = self.visit(machine, which)
        with self._session() as session, session.begin():
            if self._unfinished(session, row.id):
                raise Refused(f"visit {row.number} has an unfinished run: resume it first")
            visit = session.get(VisitTable, row.id)
            assert visit is not None
            visit.closed_at = visit.closed_at or _now()
        return row

    # -- surveys and orders ---------------------------------------------------------------------------------

    def newest_survey(self, visit: str) -> str:
        """The id of the visit's newest survey. Raises Refused."""
        with self._session() as session:
            row = session.scalars(
                select(SurveyTable)
                .where(SurveyTable.visit == visit, SurveyTable.left_of == "")
                .order_by(SurveyTable.place.desc())
            ).first()
        if row is None:
            raise Refused("this visit has no survey yet: survey the machine first")
        return row.id

    def survey(self, visit: str) -> tuple[Survey, str, Path]:
        """The visit's newest survey, its digest and its folder. Raises Refused, CouldNotRead."""
        return self.survey_by_id(self.newest_survey(visit))

    def keep_one_index(self, survey: str) -> None:
        """One index a visit: earlier surveys of it keep their document; runs have their own name for theirs."""
        with self._session() as session:
            newest = session.get(SurveyTable, survey)
            if newest is None:
                return
            rows = session.scalars(select(SurveyTable).where(SurveyTable.visit == newest.visit)).all()
            for row in rows:
                if row.id != survey and row.place < newest.place:
                    for name in ("survey.index", "walk.npz", "literals.json", "named.json"):
                        with contextlib.suppress(OSError):
                            (Path(row.folder) / name).unlink()

    def survey_by_id(self, id: str) -> tuple[Survey, str, Path]:
        return self._load(self._survey_row(id))

    def survey_head(self, id: str) -> tuple[SurveyHead, Path]:
        """What says how it was made, and its folder: read in a tenth of the time."""
        row = self._survey_row(id)
        return self._read(SurveyHead, row), self._file_of(row).parent

    def _survey_row(self, id: str) -> SurveyTable:
        with self._session() as session:
            row = session.get(SurveyTable, id)
        if row is None:
            raise Refused(f"the ledger holds no survey {id}")
        return row

    def _load(self, row: SurveyTable) -> tuple[Survey, str, Path]:
        return self._read(Survey, row), row.sha256, self._file_of(row).parent

    def _file_of(self, row: SurveyTable) -> Path:
        path = Path(row.folder) / "survey.json"
        return path if path.exists() else self.folder / "surveys" / Path(row.folder).name / "survey.json"

    def _read(self, kind: type[T], row: SurveyTable) -> T:
        path = self._file_of(row)
        try:
            return read_document(kind, path.read_bytes(), str(path))
        except OSError as error:
            raise CouldNotRead(f"the survey is gone: {error.strerror}", str(path)) from None

    def next_order_name(self, visit: VisitRow) -> str:
        with self._session() as session:
            count = len(session.scalars(select(OrderTable.id).where(OrderTable.visit == visit.id)).all())
        return f"{visit.number}.{count + 1}"

    def add_order(self, visit: str, order: Order) -> None:
        with self._session() as session, session.begin():
            session.add(
                OrderTable(
                    id=str(uuid.uuid4()),
                    visit=visit,
                    name=order.id,
                    drawn_at=_now(),
                    survey=order.survey.id,
                    document=to_json(order),
                    place=_next_place(session, OrderTable),
                )
            )
            self._touch(session, visit)

    def orders(self, visit: str) -> list[Order]:
        with self._session() as session:
            rows = session.scalars(
                select(OrderTable).where(OrderTable.visit == visit).order_by(OrderTable.place)
            ).all()
        return [read_order(r.document, str(self.file)) for r in rows]

    def visit_of_survey(self, survey: str) -> str:
        with self._session() as session:
            row = session.get(SurveyTable, survey)
        if row is None:
            raise Refused("the ledger does not hold the survey that the order was drawn from")
        return row.visit

    # -- runs -----------------------------------------------------------------------------------------------

    def add_run(self, visit: str, id: str, order: str, folder: Path, left_of: str = "") -> None:
        with self._session() as session, session.begin():
            session.add(
                RunTable(
                    id=id,
                    visit=visit,
                    order_name=order,
                    folder=str(folder),
                    started_at=_now(),
                    result=None,
                    put_back_at=None,
                    emptied_at=None,
                    place=_next_place(session, RunTable),
                    left_of=left_of,
                )
            )
            self._touch(session, visit)

    def take_in(self) -> list[str]:
        """Take in surveys that could not be, and results of runs that ended since, once each. Returns the runs' ids."""
        for marker in sorted((self.folder / "surveys").glob(f"*/{_FINISHED}")):
            with contextlib.suppress(OSError, ValueError, KeyError, CouldNotRead, Refused):
                survey = read_document(
                    Survey, (marker.parent / "survey.json").read_bytes(), str(marker.parent)
                )
                with self._session() as session:
                    known = session.get(SurveyTable, survey.id) is not None
                if not known:
                    self._add_survey(survey, str(json.loads(marker.read_text())["sha256"]), marker.parent)
                marker.unlink()
        taken = []
        with self._session() as session, session.begin():
            for row in session.scalars(select(RunTable)):
                with contextlib.suppress(
                    OSError
                ):  # a ledger may have been copied here without its runs, or with another's
                    if (data := (Path(row.folder) / "result.json").read_bytes()) != row.result:
                        row.result = data
                        taken.append(row.id)
        return taken

    def note_run(self, id: str, put_back: bool = False, emptied: bool = False) -> None:
        with self._session() as session, session.begin():
            row = session.get(RunTable, id)
            if row is not None:
                row.put_back_at = _now() if put_back else row.put_back_at
                row.emptied_at = _now() if emptied else row.emptied_at

    def run(self, id: str) -> RunRow | None:
        with self._session() as session:
            row = session.get(RunTable, id)
            return self._run_row(row) if row is not None else None

    def runs(self, visit: str) -> list[RunRow]:
        """Oldest first."""
        with self._session() as session:
            rows = session.scalars(
                select(RunTable).where(RunTable.visit == visit).order_by(RunTable.place)
            ).all()
            return [self._run_row(r) for r in rows]

    def refused(self, machine: str) -> dict[str, str]:
        """Lines of the newest visit with a run that their registry would not let go, by its words in the last run that tried."""
        found: dict[str, str] = {}
        for visit in self.visits(machine):
            if runs := self.runs(visit.id):
                for record in (r for run in runs if run.result for r in run.result.records):
                    if record.state in (Went.SKIPPED, Went.LEFT) and _REFUSED.search(record.note):
                        found[record.line] = record.note
                break
        return found

    def _run_row(self, r: RunTable) -> RunRow:
        folder = Path(r.folder)
        if not folder.exists() and (self.runs_folder / folder.name).exists():
            folder = self.runs_folder / folder.name
        result = read_document(RunResult, r.result, str(folder / "result.json")) if r.result else None
        return RunRow(
            r.id,
            r.order_name,
            folder,
            _aware(r.started_at),
            result,
            _aware(r.put_back_at) if r.put_back_at else None,
            _aware(r.emptied_at) if r.emptied_at else None,
            r.left_of,
        )

    def worked(self, machine: str) -> list[tuple[datetime, datetime]]:
        """When this program looked at the machine or changed it: from, to; oldest first."""
        found: list[tuple[datetime, datetime]] = []
        with self._session() as session:
            visits = select(VisitTable.id).where(VisitTable.machine == machine)
            for survey in session.scalars(select(SurveyTable).where(SurveyTable.visit.in_(visits))):
                began = _began(Path(survey.folder) / "survey.json", survey.taken_at)
                if survey.taken_at - began < _CLOSES_AFTER:
                    found.append((began, survey.taken_at))
                else:  # the clock was set meanwhile: what lies between is nobody's work
                    found += [(began, began + _LOOKING), (survey.taken_at - _LOOKING, survey.taken_at)]
            for clearance in session.scalars(select(ClearanceTable).where(ClearanceTable.visit.in_(visits))):
                found.append((clearance.looked_at - _LOOKING, clearance.looked_at + _LOOKING))
            for row in session.scalars(select(RunTable).where(RunTable.visit.in_(visits))):
                found.append((row.started_at, _last_written(self._run_row(row).folder, row.started_at)))
        return sorted((_aware(a), _aware(b)) for a, b in found)

    # -- clearances -----------------------------------------------------------------------------------------

    def add_clearance(self, visit: str, clearance: Clearance) -> None:
        with self._session() as session, session.begin():
            session.add(
                ClearanceTable(
                    id=clearance.id,
                    visit=visit,
                    run=clearance.run,
                    looked_at=_now(),
                    document=to_json(clearance),
                    place=_next_place(session, ClearanceTable),
                )
            )
            self._touch(session, visit)

    def clearance(self, visit: str) -> Clearance | None:
        with self._session() as session:
            row = session.scalars(
                select(ClearanceTable)
                .where(ClearanceTable.visit == visit)
                .order_by(ClearanceTable.place.desc())
            ).first()
        return read_document(Clearance, row.document, str(self.file)) if row else None

    # -- what is left on purpose, and signed off ---------------------------------------------------------------

    def leave(self, machine: str, left: Left) -> None:
        """Note why a finding is left; without a reason any more, forget it."""
        with self._session() as session, session.begin():
            row = session.get(LeftTable, (machine, left.finding))
            if row is not None:
                session.delete(row)
                session.flush()
            if left.why:
                session.add(
                    LeftTable(
                        machine=machine, finding=left.finding, why=left.why, who=left.who, at=_plain(left.at)
                    )
                )

    def left(self, machine: str) -> dict[str, Left]:
        """What was left on this machine, by the finding."""
        with self._session() as session:
            rows = session.scalars(select(LeftTable).where(LeftTable.machine == machine)).all()
            return {r.finding: Left(r.finding, r.why, r.who, _aware(r.at)) for r in rows}

    def add_sign_off(self, visit: str, signed: SignOff) -> None:
        with self._session() as session, session.begin():
            session.add(
                SignOffTable(
                    id=signed.id,
                    visit=visit,
                    document=to_json(signed),
                    place=_next_place(session, SignOffTable),
                )
            )

    def sign_off(self, visit: str) -> SignOff | None:
        """The visit's newest."""
        with self._session() as session:
            row = session.scalars(
                select(SignOffTable).where(SignOffTable.visit == visit).order_by(SignOffTable.place.desc())
            ).first()
        return read_document(SignOff, row.document, str(self.file)) if row else None

    def _touch(self, session: Session, visit: str) -> None:
        row = session.get(VisitTable, visit)
        if row is not None:
            row.last_act_at = _now()
