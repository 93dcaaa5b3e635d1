"""What the desk and the command line both do: machine and ledger opened, requests for the worker, results kept."""

from __future__ import annotations

import contextlib
import os
import shutil
from collections.abc import Iterator
from dataclasses import asdict, dataclass, field
from functools import cached_property
from pathlib import Path
from typing import TYPE_CHECKING, Any

from swept_shelf.core.belongings.corrections import Rule, add_rule, place_of, read_rules
from swept_shelf.core.documents.comparison import Comparison, Promise
from swept_shelf.core.documents.errors import CouldNotRead, Refused, SweptShelfError
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Survey
from swept_shelf.core.documents.terms import Ended
from swept_shelf.core.documents.times import rfc3339
from swept_shelf.core.documents.wire import read_document
from swept_shelf.core.ledger import Ledger, VisitRow
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.core.machine import Machine, open_machine
from swept_shelf.core.machine.facts import ADMINISTRATOR, rights
from swept_shelf.core.machine.own_folders import own_folder
from swept_shelf.core.machine.people import read_people
from swept_shelf.core.reports import compare
from swept_shelf.core.survey.places import look_into
from swept_shelf.core.tree.index import Index
from swept_shelf.rights.asking import BY_RIGHTS, why_not_asked

if TYPE_CHECKING:
    from swept_shelf.core.orders import Scope
    from swept_shelf.workshop.orders import Orders
    from swept_shelf.workshop.proof import Proof
    from swept_shelf.workshop.shelves import Shelves

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
        from swept_shelf.core.orders import Scope

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

    # What a survey does not need is read when it is asked for: a technician waits for the survey.

    @cached_property
    def orders(self) -> Orders:
        """Drawing and rehearsing orders, the runs that carry them out."""
        from swept_shelf.workshop.orders import Orders

        return Orders(self)

    @cached_property
    def shelves(self) -> Shelves:
        """What waits on the holding shelves."""
        from swept_shelf.workshop.shelves import Shelves

        return Shelves(self)

    @cached_property
    def proof(self) -> Proof:
        """Looking again, and what follows from it."""
        from swept_shelf.workshop.proof import Proof

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

    def run_rows(self, visit: str = "") -> Iterator[RunRow]:
        """Runs of this machine whose folders are there, the newest first."""
        for v in self.ledger.visits(self.machine.key):
            if not visit or v.id == visit:
                yield from (r for r in reversed(self.ledger.runs(v.id)) if (r.folder / "run.json").exists())
