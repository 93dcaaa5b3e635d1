"""What the desk and the command line both do: machine and ledger opened, requests for the worker, results kept."""

from __future__ import annotations

import contextlib
import os
import shutil
import uuid
from collections.abc import Iterator
from dataclasses import asdict, dataclass, field, replace
from functools import cached_property
from pathlib import Path
from typing import Any

from swept_shelf.core.belongings.corrections import Rule, add_rule, place_of, read_rules
from swept_shelf.core.carry.journal import damaged, read_journal, replay
from swept_shelf.core.carry.prepare import prepare
from swept_shelf.core.carry.rehearse import Rehearsal, rehearse
from swept_shelf.core.carry.run import Run, carrier_works, open_run
from swept_shelf.core.carry.shelf import Slot, others_shelves, slots_on_shelves
from swept_shelf.core.documents.comparison import Comparison, Promise
from swept_shelf.core.documents.errors import CouldNotRead, Interrupted, Refused, SweptShelfError
from swept_shelf.core.documents.order import Order
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Survey, Volume
from swept_shelf.core.documents.terms import Ended, Task
from swept_shelf.core.documents.times import rfc3339
from swept_shelf.core.documents.wire import read_document, to_plain
from swept_shelf.core.ledger import Ledger, VisitRow
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.core.machine import Machine, open_machine
from swept_shelf.core.machine.facts import ADMINISTRATOR, rights
from swept_shelf.core.machine.own_folders import own_folder
from swept_shelf.core.machine.people import EVERYONE, read_people
from swept_shelf.core.machine.volumes import read_volumes, volume_of
from swept_shelf.core.orders import Choice, Scope, check_order, draw_order, make_plan
from swept_shelf.core.orders.again import Again, draw_again
from swept_shelf.core.reports import compare
from swept_shelf.core.survey.places import look_into
from swept_shelf.core.tree.index import Index
from swept_shelf.proof import Proof
from swept_shelf.rights.asking import BY_RIGHTS, why_not_asked
from swept_shelf.rights.mirror import ARCHIVE, is_mirror, make_mirror, waiting_in

_COMING = ".coming"  # the folder that an archive arrives in, where the helper writes it
_SURVEY_ENTRY, _SURVEY_SPARE = 120, 8 << 20  # bytes that a survey takes for a file, and besides


def _size_of(folder: Path) -> int:
    return sum(p.stat().st_size for p in folder.iterdir() if p.is_file())


@dataclass(frozen=True)
class Surveyed:
    """A survey with where it stands: what orders are drawn from. `refused`: lines whose registry could not remove them in a run of
    its visit, with its words."""

    survey: Survey
    digest: str
    folder: Path
    refused: dict[str, str] = field(default_factory=dict)

    @cached_property
    def index(self) -> Index:
        return Index(self.folder / "survey.index")

    @cached_property
    def scope(self) -> Scope:
        """What orders of this survey are judged by, read once."""
        return Scope(self.survey, self.digest, self.index, self.refused)


def people_folders(surveyed: Surveyed) -> dict[tuple[str, str], int] | None:
    """Per person and folder in the home the bytes that are that person's own; None where the survey's index is gone."""
    if not (surveyed.folder / "survey.index").exists():
        return None
    found = {}
    for person in surveyed.survey.people:
        with contextlib.suppress(Refused):
            for part in look_into(surveyed.index, person.home).parts:
                own = sum(s.bytes for s in part.shares if s.owner == f"person:{person.name}")
                if own:
                    found[person.name, part.path] = own
    return found


class Workshop:
    """One machine and one ledger."""

    def __init__(self, root: str = "/", ledger: str | None = None) -> None:
        self.machine: Machine = open_machine(root)
        self.ledger = Ledger(ledger or self._default_ledger())
        self._surveys: dict[str, Surveyed] = {}
        self.ledger.take_in()

    def _default_ledger(self) -> Path:
        if self.machine.description:
            return self.machine.description.ledger
        return own_folder("data") / "ledger.sqlite"

    @property
    def runs(self) -> Path:
        """Where run folders of this machine stand."""
        if not self.machine.live:
            return self.ledger.runs_folder
        if os.geteuid() == 0:
            return Path("/var/lib/swept-shelf/runs")
        return own_folder("state") / "runs"

    @cached_property
    def proof(self) -> Proof:
        """Looking again, and what follows from it."""
        return Proof(self)

    # -- survey ---------------------------------------------------------------------------------------------

    def survey_request(self, whole: bool = False, with_rights: bool = False) -> dict[str, Any]:
        """`whole`: read every folder again, also where an earlier survey could be trusted; `with_rights`: by a helper that asks
        for the administrator's rights. Raises Refused."""
        self._must_have_room()
        by_helper = with_rights and self.ask_for_rights()
        worked = [[rfc3339(a), rfc3339(b)] for a, b in self.ledger.worked(self.machine.key)]
        request = {
            "do": "survey",
            "root": self.machine.root,
            "folder": str(self.ledger.new_survey_folder()),
            "ours": worked,
            "rules": [asdict(r) for r in self.rules()],
        }
        if by_helper:
            del request["root"]
            return request | {BY_RIGHTS: True, "whole": whole}
        if not whole and self.ledger.visits(self.machine.key):
            with contextlib.suppress(SweptShelfError):
                visit = self.ledger.visit(self.machine.key, "latest")
                earlier, folder = self.ledger.survey_head(self.ledger.newest_survey(visit.id))
                since = earlier.evidence.trusted_since or earlier.surveyed_at
                if earlier.rights == rights():  # with others, other things can be read
                    request |= {"before": str(folder), "before_at": rfc3339(since)}
        return request

    def _must_have_room(self) -> None:
        """Raises Refused where a survey would not fit beside the ledger: as large as the last one, else by the files there are."""
        try:
            place, machine = os.statvfs(self.ledger.folder), os.statvfs(self.machine.root)
        except OSError:
            return  # whoever looks says what is not there
        earlier = list((self.ledger.folder / "surveys").glob("*/survey.index"))
        files = 0 if self.machine.description else machine.f_files - machine.f_ffree
        needed = max((_size_of(p.parent) for p in earlier), default=files * _SURVEY_ENTRY) + _SURVEY_SPARE
        free = place.f_bavail * place.f_frsize
        if free < needed:
            raise Refused(
                f"has {human_bytes(free)} free and a survey takes about {human_bytes(needed)}; "
                "--ledger FILE keeps ledger and surveys elsewhere",
                str(self.ledger.folder),
            )

    @property
    def rules_file(self) -> Path:
        """Where this technician's corrections stand: beside the ledger of a made-up machine, else in the settings folder."""
        if self.machine.description:
            return self.ledger.folder / "belongings.toml"
        return own_folder("config") / "belongings.toml"

    def rules(self) -> list[Rule]:
        """Corrections of belongings. Raises CouldNotRead where the file is wrong."""
        path = self.rules_file
        return read_rules(path.read_text(), str(path)) if path.exists() else []

    def tell(self, kind: str, application: str, path: str, note: str = "") -> Rule:
        """Remember that a path is, or is not, an application's; counts from the next survey on. Raises Refused, CouldNotRead."""
        rule = Rule(kind, application, place_of(path, read_people(self.machine)), note, str(self.rules_file))
        add_rule(self.rules_file, rule)
        return rule

    def keep_survey(self, request: dict[str, Any], result: dict[str, Any]) -> Surveyed:
        folder = Path(request["folder"])
        survey = read_document(Survey, (folder / "survey.json").read_bytes(), str(folder / "survey.json"))
        self.ledger.add_survey(survey, result["sha256"], folder)
        kept = Surveyed(survey, result["sha256"], folder, self.ledger.refused(self.machine.key))
        self._surveys = {k: v for k, v in list(self._surveys.items())[-1:]} | {survey.id: kept}
        self.ledger.keep_one_index(survey.id)
        return kept

    def drop_survey(self, request: dict[str, Any]) -> None:
        """After a survey that failed or was cancelled: nothing of it is kept."""
        shutil.rmtree(request["folder"], ignore_errors=True)

    def latest(self, which: str = "latest") -> tuple[VisitRow, Surveyed]:
        visit = self.ledger.visit(self.machine.key, which)
        return visit, self.surveyed(self.ledger.newest_survey(visit.id))

    def surveyed(self, id: str) -> Surveyed:
        """A survey never changes: the last ones are read once. Raises Refused, CouldNotRead."""
        if id not in self._surveys:
            found = Surveyed(*self.ledger.survey_by_id(id))
            self._surveys = {k: v for k, v in list(self._surveys.items())[-1:]} | {id: found}
        self._surveys[id].refused.update(self.ledger.refused(self.machine.key))
        return self._surveys[id]

    # -- two surveys ----------------------------------------------------------------------------------------

    def survey_called(self, which: str) -> tuple[int, Surveyed]:
        """(number of its visit, survey) by a visit's number or UUID, of whichever machine, `latest`, or a survey's own file.

        Raises Refused, CouldNotRead."""
        file = Path(which)
        if os.sep in which or which.endswith(".json"):
            try:
                data = file.read_bytes()
            except OSError as error:
                raise CouldNotRead((error.strerror or str(error)).lower(), which) from None
            return 0, Surveyed(read_document(Survey, data, which), "", file.parent)
        row = next((v for v in self.ledger.visits() if v.id == which), None)
        row = row or self.ledger.visit(self.machine.key, which)
        return row.number, self.surveyed(self.ledger.newest_survey(row.id))

    def before_latest(self) -> str:
        """The visit before the latest one that has a survey. Raises Refused."""
        rows = [v for v in self.ledger.visits(self.machine.key) if v.surveys]
        if len(rows) < 2:
            raise Refused("this machine has been visited once only: there is nothing to compare with")
        return rows[1].id

    def compare(self, before: str = "", after: str = "latest") -> Comparison:
        """Two surveys beside each other; without `before` the latest visit and the one before it. Raises Refused, CouldNotRead."""
        a_number, a = self.survey_called(before or self.before_latest())
        b_number, b = self.survey_called(after)
        folders = (people_folders(a), people_folders(b))
        both = (folders[0], folders[1]) if folders[0] is not None and folders[1] is not None else None
        promises = []
        if a.survey.machine.key == b.survey.machine.key:
            begin, end = sorted((a.survey.surveyed_at, b.survey.surveyed_at))
            promises = [p for p in self._promises(a.survey.machine.key) if begin <= p.at <= end]
        return compare(a.survey, b.survey, (a_number, b_number), both, promises)

    def since_before(self) -> Comparison | None:
        """The latest visit beside the one before it; None where there is none, or it cannot be read any more."""
        try:
            return self.compare()
        except SweptShelfError:
            return None

    def _promises(self, machine: str) -> Iterator[Promise]:
        for visit in self.ledger.visits(machine):
            for row in self.ledger.runs(visit.id):
                if row.result is not None and row.result.state == Ended.CARRIED_OUT and not row.put_back_at:
                    before, now = row.result.volumes_before, row.result.volumes_after
                    back = sum(now[v] - before[v] for v in before.keys() & now.keys())
                    lines = len({r.line for r in row.result.records if r.line})
                    yield Promise(row.order, lines, back, row.result.finished_at)

    # -- order ----------------------------------------------------------------------------------------------

    def draw(self, visit: VisitRow, surveyed: Surveyed, choice: Choice, name: str = "") -> Order:
        """`name`: the order's, where the ledger was asked for the next one before."""
        return draw_order(
            surveyed.scope, choice, name or self.ledger.next_order_name(visit), self.machine.now()
        )

    def draw_again(
        self, earlier: Order, visit: VisitRow, surveyed: Surveyed, path: str, name: str = ""
    ) -> Again:
        """An order of another day, or another ledger's, on this survey. Raises Refused."""
        called = name or self.ledger.next_order_name(visit)
        return draw_again(
            earlier, surveyed.scope, lambda choice: self.draw(visit, surveyed, choice, called), path
        )

    def surveyed_of(self, order: Order, path: str) -> Surveyed:
        """The survey an order was drawn from, after the strict check. Raises Refused."""
        if order.machine.key != self.machine.key:
            raise Refused(f"is for another machine ({order.machine.name})", path)
        try:
            found = self.surveyed(order.survey.id)
        except Refused:
            why = "was drawn from a survey that this ledger does not have: `swept-shelf order --from FILE` draws it by the latest"
            raise Refused(why, path) from None
        check_order(order, found.scope, path)
        return found

    def services_of(self, order: Order) -> list[str]:
        """What runs of an order's applications by itself, as the system's manager calls it."""
        try:
            applications = self.surveyed(order.survey.id).survey.applications
        except SweptShelfError:
            return []
        lines = {line.id for line in order.lines}
        starts = [s for a in applications if a.id in lines for s in a.starts if s.person == EVERYONE]
        return [base(s.path) for s in starts if s.path.endswith(".service")]

    def rehearse(self, order: Order, path: str, originals: str = "") -> Rehearsal:
        found = self.surveyed_of(order, path)
        plan = make_plan(order, found.scope, self.machine)
        rehearsal = rehearse(plan, self.machine, found.scope, originals)
        if rehearsal.lacking and self.by_rights(found.survey):
            asked = "the administrator’s rights are asked for once, when it is carried out"
            return replace(rehearsal, lacking=[], notes=[*rehearsal.notes, asked])
        return rehearsal

    # -- carrying out ---------------------------------------------------------------------------------------

    def prepare_run(self, order: Order, path: str, originals: str = "") -> Run:
        """Everything that can refuse a run does so here, before anything changes. Raises Refused, Interrupted."""
        found = self.surveyed_of(order, path)
        self._free_for_work()
        by_rights = self.by_rights(found.survey)
        if by_rights and originals:
            raise Refused("originals of packages stay on the holding shelf where rights are asked for", path)
        run, lacking = prepare(
            order, path, found.scope, found.folder, self.machine, self.runs, originals, by_rights=by_rights
        )
        if lacking:
            make_mirror(run.folder)
        visit = self.ledger.visit_of_survey(order.survey.id)
        self.ledger.add_run(visit, run.id, order.id, run.folder, found.survey.left_of)
        return run

    def ask_for_rights(self) -> bool:
        """Whether rights have to be asked for to look at everything. Raises Refused where a disk is looked at."""
        if not self.machine.live:
            raise Refused("rights are asked for on this computer’s own root alone: work on a disk as root")
        return os.geteuid() != 0

    def by_rights(self, survey: Survey) -> bool:
        """Whether work by this survey is a helper's, that asks for the administrator's rights: it was taken with them, by a person."""
        return self.machine.live and os.geteuid() != 0 and survey.rights == ADMINISTRATOR

    def shut(self, survey: Survey) -> bool:
        """Whether more would be seen, and could be carried out, with the administrator's rights, and somebody can be asked."""
        own = os.geteuid() == 0 or survey.rights == ADMINISTRATOR
        return self.machine.live and not own and not why_not_asked()

    def again(self, order: Order) -> Run | None:
        """The run of this very order that left something skipped and was not put back or emptied."""
        for row in reversed(self.ledger.runs(self.ledger.visit_of_survey(order.survey.id))):
            if row.order == order.id and row.result is not None:
                if row.put_back_at:
                    raise Refused(f"order {order.id} was put back: survey again and draw a new one")
                run = open_run(row.folder)
                if run.order.lines != order.lines or run.order.survey != order.survey:
                    continue
                if row.emptied_at or not (row.result.unfinished or row.result.state == Ended.STOPPED):
                    raise Refused(f"order {order.id} is carried out already")
                return run
        return None

    def unfinished(self, visit: str) -> tuple[VisitRow, Run]:
        """The newest run of a visit that skipped something, or was cut off carrying out, and is on the shelf still. Raises Refused."""
        known = self.ledger.visit(self.machine.key, visit)
        for row in reversed(self.ledger.runs(known.id)):
            if row.put_back_at or row.emptied_at:
                continue
            run = open_run(row.folder)
            if row.result is None and run.state.mode != Task.CARRY_OUT:
                raise Refused(
                    f"order {run.order.id} was cut off being put back or emptied: `swept-shelf resume`"
                )
            if row.result is None or row.result.unfinished:
                return known, run
        raise Refused(f"nothing of visit {known.number} was skipped or cut off")

    def carry_request(self, run: Run) -> dict[str, Any]:
        if is_mirror(run.folder):
            order = to_plain(run.order)
            return {
                BY_RIGHTS: True,
                "do": Task.CARRY_OUT,
                "run": run.id,
                "folder": str(run.folder),
                "order": order,
            }
        return {
            "do": Task.CARRY_OUT,
            "root": self.machine.root,
            "runs": str(self.runs),
            "run_folder": str(run.folder),
        }

    def shelf_request(self, kind: str, row: RunRow, lines: list[str]) -> dict[str, Any]:
        if is_mirror(row.folder):
            return {BY_RIGHTS: True, "do": kind, "run": row.id, "folder": str(row.folder), "lines": lines}
        return {
            "do": kind,
            "root": self.machine.root,
            "runs": str(self.runs),
            "run": row.id,
            "run_folder": str(row.folder),
            "lines": lines,
        }

    def keep_shelf_result(self, kind: str, row: RunRow, lines: list[str], result: dict[str, Any]) -> None:
        if not lines and not result["left"]:
            self.ledger.note_run(row.id, put_back=kind == Task.PUT_BACK, emptied=kind == Task.EMPTY)

    def interrupted(self, visit: str = "") -> Run | None:
        """A run of this machine, or of one visit of it, that was cut off, its carrier gone."""
        return None if carrier_works(self.machine) else self._cut_off(visit)

    def working(self) -> Run | None:
        """The run that a carrier works on now, so that the desk finds it again."""
        return self._cut_off() if carrier_works(self.machine) else None

    def _cut_off(self, visit: str = "") -> Run | None:
        """The newest run whose journal does not end, and that can be read: one that is damaged is left alone."""
        for row in self._run_rows(visit):
            if not replay(read_journal(row.folder / "journal.jsonl")).ended:
                with contextlib.suppress(CouldNotRead):
                    return open_run(row.folder)
        return None

    def _run_rows(self, visit: str = "") -> Iterator[RunRow]:
        """Runs of this machine whose folders are there, the newest first."""
        for v in self.ledger.visits(self.machine.key):
            if not visit or v.id == visit:
                yield from (r for r in reversed(self.ledger.runs(v.id)) if (r.folder / "run.json").exists())

    def damaged_runs(self) -> list[tuple[Path, str]]:
        """Run folders of this machine that cannot be read, and journals with lines that are no records, with why."""
        found = []
        for row in self._run_rows():
            try:
                open_run(row.folder)
                waiting_in(row.folder)
            except CouldNotRead as error:
                found.append((row.folder, error.reason))
            if lines := damaged(row.folder / "journal.jsonl"):
                found.append(
                    (row.folder / "journal.jsonl", f"line {lines[0]} is no record: it was passed over")
                )
        return found

    def _tops(self) -> dict[str, int]:
        """Folders above which a run of this machine made a shelf, as the journals noted them."""
        found: dict[str, int] = {}
        for row in self._run_rows():
            found |= replay(read_journal(row.folder / "journal.jsonl")).tops
        return found

    def _free_for_work(self) -> None:
        if carrier_works(self.machine):
            raise Refused("another carrier works on this machine")
        if (run := self.interrupted()) is not None:
            raise Interrupted(
                f"order {run.order.id} was cut off: `swept-shelf resume --finish` or `resume --put-back` first"
            )

    # -- what waits on the shelf ---------------------------------------------------------------------------

    def volumes(self) -> list[Volume]:
        """The machine's volumes, as they are now."""
        return read_volumes(self.machine)

    def waiting(self) -> list[Slot]:
        """Everything on the machine's holding shelves."""
        found = slots_on_shelves(self.machine, read_volumes(self.machine), tops=self._tops())
        for row in self._run_rows():
            if is_mirror(row.folder) and not row.emptied_at and not row.put_back_at:
                with contextlib.suppress(CouldNotRead):  # damaged_runs names it
                    found += waiting_in(row.folder)
        return found

    def archive_requests(self, file: str, which: str) -> list[dict[str, Any]]:
        """One for each run of a visit that something waits of, the oldest first; several get numbered names. Raises Refused."""
        waiting, requests = self.waiting(), []
        place = Path(file).absolute()
        known = self.ledger.visits(self.machine.key)
        rows = self.ledger.runs(self.ledger.visit(self.machine.key, which).id) if known else []
        rows = [r for r in rows if any(s.run == r.id for s in waiting)]
        if not rows:
            raise Refused("nothing of this visit waits on the holding shelf")
        for number, row in enumerate(rows, 1):
            name = place if number == 1 else place.with_name(f"{number}-{place.name}")
            requests.append(self.archive_request(row, str(name)))
        return requests

    def archive_request(self, row: RunRow, file: str) -> dict[str, Any]:
        if is_mirror(row.folder):
            return {BY_RIGHTS: True, "do": "archive", "run": row.id, "folder": file + _COMING}
        return {"do": "archive", "root": self.machine.root, "run": row.id, "file": file, "tops": self._tops()}

    def archive_request_of(self, run: str, file: str) -> dict[str, Any]:
        """The same by the name of a run. Raises Refused."""
        row = self.ledger.run(run)
        if row is None:
            raise Refused(f"the ledger knows no run {run}", file)
        return self.archive_request(row, file)

    def archived(self, request: dict[str, Any]) -> str:
        """The file that an archive was written into. Raises Refused where its name is taken by now."""
        if BY_RIGHTS not in request:
            return str(request["file"])
        folder, file = Path(request["folder"]), str(request["folder"]).removesuffix(_COMING)
        try:
            if os.path.lexists(file):
                raise Refused("is there already: it was not overwritten", file)
            (folder / ARCHIVE).rename(file)
        finally:
            shutil.rmtree(folder, ignore_errors=True)
        return file

    def restore_request(self, file: str, lines: list[str], elsewhere: bool) -> dict[str, Any]:
        """By the helper where that carried out anything here: it put on its own shelf what the archive holds."""
        self._free_for_work()
        request = {
            "do": "restore",
            "file": str(Path(file).absolute()),
            "lines": lines,
            "elsewhere": elsewhere,
        }
        if self.machine.live and any(is_mirror(r.folder) for r in self._run_rows()):
            return request | {BY_RIGHTS: True, "run": str(uuid.uuid4())}
        return request | {"root": self.machine.root}

    def unknown_on_shelves(self) -> dict[str, list[Slot]]:
        """What waits of runs that this ledger does not know, by run."""
        known = {r.id for v in self.ledger.visits(self.machine.key) for r in self.ledger.runs(v.id)}
        found: dict[str, list[Slot]] = {}
        for slot in self.waiting():
            if slot.run not in known:
                found.setdefault(slot.run, []).append(slot)
        return found

    def others_shelves(self) -> list[str]:
        """What is called like a holding shelf here and is another's: nothing on it is heeded."""
        if any(is_mirror(row.folder) for row in self._run_rows()):
            return []  # the administrator's is the one that this person's own orders filled
        return others_shelves(self.machine, read_volumes(self.machine))

    def why_not_taken_over(self, slots: list[Slot]) -> str:
        """Why things without our seal may not be taken over: whoever could have put them there for somebody else; "" where nobody could.

        On this computer's own root volume only its owner can make a folder its own; on a disk whoever had it in hand can."""
        volumes = read_volumes(self.machine)
        if not self.machine.live:
            return (
                "lies on a disk without this carrier’s seal: whoever had the disk in hand could have made it"
            )
        if any(volume_of(volumes, s.shelf).id != volumes[0].id for s in slots):
            return "lies on another volume than the root’s without this carrier’s seal: whoever had it in hand could have made it"
        return ""

    def orphan_row(self, run: str) -> RunRow:
        """A run known by the shelf alone: ledger and run folder may both be lost."""
        return RunRow(run, "", self.runs / run, self.machine.now(), None, None, None)
