"""What waits on the machine's holding shelves: put back, emptied, archived, restored."""

from __future__ import annotations

import contextlib
import os
import shutil
import uuid
from pathlib import Path
from typing import TYPE_CHECKING, Any

from swept_shelf.core.carry.journal import read_journal, replay
from swept_shelf.core.carry.shelf import Slot, others_shelves, slots_on_shelves
from swept_shelf.core.documents.errors import CouldNotRead, Refused
from swept_shelf.core.documents.survey import Volume
from swept_shelf.core.documents.terms import Task
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.core.machine.volumes import read_volumes, volume_of
from swept_shelf.rights.asking import BY_RIGHTS
from swept_shelf.rights.mirror import ARCHIVE, is_mirror, waiting_in

if TYPE_CHECKING:
    from swept_shelf.workshop.workshop import Workshop

_COMING = ".coming"  # the folder that an archive arrives in, where the helper writes it


class Shelves:
    """Of one machine, with one ledger."""

    def __init__(self, shop: Workshop) -> None:
        self._shop = shop

    def volumes(self) -> list[Volume]:
        """The machine's volumes, as they are now."""
        return read_volumes(self._shop.machine)

    def waiting(self) -> list[Slot]:
        """Everything on the machine's holding shelves."""
        found = slots_on_shelves(self._shop.machine, read_volumes(self._shop.machine), tops=self._tops())
        for row in self._shop.run_rows():
            if is_mirror(row.folder) and not row.emptied_at and not row.put_back_at:
                with contextlib.suppress(CouldNotRead):  # damaged_runs names it
                    found += waiting_in(row.folder)
        return found

    def request(self, kind: str, row: RunRow, lines: list[str]) -> dict[str, Any]:
        if is_mirror(row.folder):
            return {BY_RIGHTS: True, "do": kind, "run": row.id, "folder": str(row.folder), "lines": lines}
        return {
            "do": kind,
            "root": self._shop.machine.root,
            "runs": str(self._shop.runs),
            "run": row.id,
            "run_folder": str(row.folder),
            "lines": lines,
        }

    def keep_result(self, kind: str, row: RunRow, lines: list[str], result: dict[str, Any]) -> None:
        if not lines and not result["left"]:
            self._shop.ledger.note_run(row.id, put_back=kind == Task.PUT_BACK, emptied=kind == Task.EMPTY)

    def archive_requests(self, file: str, which: str) -> list[dict[str, Any]]:
        """One for each run of a visit that something waits of, the oldest first; several get numbered names. Raises Refused."""
        waiting, requests = self.waiting(), []
        place = Path(file).absolute()
        known = self._shop.ledger.visits(self._shop.machine.key)
        rows = (
            self._shop.ledger.runs(self._shop.ledger.visit(self._shop.machine.key, which).id) if known else []
        )
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
        return {
            "do": "archive",
            "root": self._shop.machine.root,
            "run": row.id,
            "file": file,
            "tops": self._tops(),
        }

    def archive_request_of(self, run: str, file: str) -> dict[str, Any]:
        """The same by the name of a run. Raises Refused."""
        row = self._shop.ledger.run(run)
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
        self._shop.orders.must_be_free()
        request = {
            "do": "restore",
            "file": str(Path(file).absolute()),
            "lines": lines,
            "elsewhere": elsewhere,
        }
        if self._shop.machine.live and any(is_mirror(r.folder) for r in self._shop.run_rows()):
            return request | {BY_RIGHTS: True, "run": str(uuid.uuid4())}
        return request | {"root": self._shop.machine.root}

    def unknown(self) -> dict[str, list[Slot]]:
        """What waits of runs that this ledger does not know, by run."""
        known = {
            r.id
            for v in self._shop.ledger.visits(self._shop.machine.key)
            for r in self._shop.ledger.runs(v.id)
        }
        found: dict[str, list[Slot]] = {}
        for slot in self.waiting():
            if slot.run not in known:
                found.setdefault(slot.run, []).append(slot)
        return found

    def others(self) -> list[str]:
        """What is called like a holding shelf here and is another's: nothing on it is heeded."""
        if any(is_mirror(row.folder) for row in self._shop.run_rows()):
            return []  # the administrator's is the one that this person's own orders filled
        return others_shelves(self._shop.machine, read_volumes(self._shop.machine))

    def why_not_taken_over(self, slots: list[Slot]) -> str:
        """Why things without our seal may not be taken over: whoever could have put them there for somebody else; "" where nobody could.

        On this computer's own root volume only its owner can make a folder its own; on a disk whoever had it in hand can."""
        volumes = read_volumes(self._shop.machine)
        if not self._shop.machine.live:
            return (
                "lies on a disk without this carrier’s seal: whoever had the disk in hand could have made it"
            )
        if any(volume_of(volumes, s.shelf).id != volumes[0].id for s in slots):
            return "lies on another volume than the root’s without this carrier’s seal: whoever had it in hand could have made it"
        return ""

    def orphan_row(self, run: str) -> RunRow:
        """A run known by the shelf alone: ledger and run folder may both be lost."""
        return RunRow(run, "", self._shop.runs / run, self._shop.machine.now(), None, None, None)

    def _tops(self) -> dict[str, int]:
        """Folders above which a run of this machine made a shelf, as the journals noted them."""
        found: dict[str, int] = {}
        for row in self._shop.run_rows():
            found |= replay(read_journal(row.folder / "journal.jsonl")).tops
        return found
