"""One round of upkeep: look, compare, say; empty what waited long enough; trim the stores that were chosen.

No program is ever removed by it. What it takes goes to the holding shelf by an order in the ledger, like anybody's."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from functools import partial
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.comparison import What
from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.core.documents.sizes import human_bytes
from swept_shelf.core.documents.survey import Application, SharedStore
from swept_shelf.core.documents.terms import Ended, Task, Verdict
from swept_shelf.core.documents.upkeep import (
    UPKEEP_FORMAT,
    UPKEEP_VERSION,
    Done,
    Low,
    Noticed,
    Settings,
    Upkeep,
)
from swept_shelf.core.documents.wire import to_json
from swept_shelf.core.ledger.store import RunRow
from swept_shelf.core.machine.own_folders import own_folder
from swept_shelf.core.machine.volumes import read_volumes
from swept_shelf.core.orders import Choice
from swept_shelf.core.survey.conditions import read_conditions
from swept_shelf.upkeep.settings import NAME, read_settings
from swept_shelf.workshop import Surveyed, Workshop

Work = Callable[[dict[str, Any], str], dict[str, Any]]


@dataclass
class _Found:
    low: list[Low] = field(default_factory=list)
    grew: list[Noticed] = field(default_factory=list)
    unused: list[Noticed] = field(default_factory=list)
    emptied: list[Done] = field(default_factory=list)
    trimmed: list[Done] = field(default_factory=list)
    troubles: list[str] = field(default_factory=list)


def settings_file(shop: Workshop) -> Path:
    return shop.ledger.folder / NAME if shop.machine.description else own_folder("config") / NAME


def reports_folder(shop: Workshop) -> Path:
    """Where what rounds found is kept, a document each."""
    return (shop.ledger.folder if shop.machine.description else own_folder("state")) / "upkeep"


class Round:
    """`work`: asks the worker, as the command line does."""

    def __init__(self, shop: Workshop, work: Work) -> None:
        self._shop, self._work = shop, work
        self._settings: Settings = read_settings(settings_file(shop))
        self._now: datetime = shop.machine.now()
        self._found = _Found()

    def go(self) -> Upkeep:
        """Everything, each part for itself: what fails is a trouble, and the rest goes on. Raises SweptShelfError where nothing
        can be looked at."""
        surveyed = self._look()
        self._empty()
        self._trim(surveyed)
        self._low()
        self._grew()
        self._unused(surveyed)
        f, machine = self._found, self._shop.machine
        done = Upkeep(
            UPKEEP_FORMAT,
            UPKEEP_VERSION,
            self._now,
            machine.key,
            machine.name,
            surveyed.survey.id,
            f.low,
            f.grew,
            f.unused,
            f.emptied,
            f.trimmed,
            f.troubles,
        )
        folder = reports_folder(self._shop)
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        (folder / f"{self._now:%Y-%m-%dT%H%M%S}.json").write_bytes(to_json(done))
        return done

    def _look(self) -> Surveyed:
        request = self._shop.survey_request()
        try:
            return self._shop.keep_survey(request, self._work(request, "Looking"))
        except BaseException:
            self._shop.drop_survey(request)
            raise

    # -- what is found ----------------------------------------------------------------------------------------

    def _low(self) -> None:
        for v in read_volumes(self._shop.machine):
            wanted = self._settings.volumes.get(v.mount, self._settings.free)
            if v.free < wanted:
                self._found.low.append(Low(v.mount, v.free, wanted))

    def _grew(self) -> None:
        since = self._shop.since_before()
        for change in [*since.changes, *since.folders] if since else []:
            if change.what in (What.GREW, What.CAME) and change.more >= max(1, self._settings.grew):
                self._found.grew.append(Noticed(change.id, change.name, change.more))

    def _unused(self, surveyed: Surveyed) -> None:
        conditions = read_conditions(f"unused={self._settings.unused} needed=no protected=no", self._now)
        for entry in conditions.matching(surveyed.survey):
            if isinstance(entry, Application):
                noticed = Noticed(entry.id, entry.name, entry.bytes.total, entry.last_use.at)
                self._found.unused.append(noticed)
        self._found.unused.sort(key=lambda n: -n.bytes)

    # -- what was chosen --------------------------------------------------------------------------------------

    def _tried(self, what: str, act: Callable[[], None]) -> None:
        try:
            act()
        except (SweptShelfError, OSError) as error:
            self._found.troubles.append(f"{what}: {error}")

    def _empty(self) -> None:
        """The holding shelf of what was carried out long enough ago."""
        if not self._settings.empty_after:
            return
        before = self._now - timedelta(days=self._settings.empty_after)
        waiting: dict[str, int] = {}
        for slot in self._shop.shelves.waiting():
            if slot.sealed:
                waiting[slot.run] = waiting.get(slot.run, 0) + int(slot.manifest.get("bytes", 0))
        for visit in self._shop.ledger.visits(self._shop.machine.key):
            for row in self._shop.ledger.runs(visit.id):
                if row.id in waiting and row.result and row.result.finished_at < before:
                    self._tried(f"emptying order {row.order}", partial(self._empty_one, row, waiting[row.id]))

    def _empty_one(self, row: RunRow, size: int) -> None:
        result = self._work(self._shop.shelves.request(Task.EMPTY, row, []), f"Emptying order {row.order}")
        self._shop.shelves.keep_result(Task.EMPTY, row, [], result)
        self._found.emptied.append(Done(row.order, "the holding shelf", size))
        for entry in result["why"]:
            self._found.troubles.append(f"{entry['path'] or entry['line']}: {entry['why']}")

    def _trim(self, surveyed: Surveyed) -> None:
        """Parts of chosen stores that nobody wrote to for long enough."""
        for store in surveyed.survey.shared_stores:
            if store.kind in self._settings.trim and store.belongings:
                days = self._settings.trim[store.kind]
                self._tried(f"trimming {store.name}", partial(self._trim_one, surveyed, store, days))

    def _trim_one(self, surveyed: Surveyed, store: SharedStore, days: int) -> None:
        before = (self._now - timedelta(days=days)).timestamp() * 1e9
        young = {b.path for b in store.belongings if self._newest(surveyed, b.path) >= before}
        if len(young) == len(store.belongings):
            return
        asked = {f"personal:{store.id}": "go_too"} if any(b.personal for b in store.belongings) else {}
        choice = Choice(
            {store.id: Verdict.REMOVE},
            unticked=frozenset(young),
            answers=asked,
            answered_at=dict.fromkeys(asked, self._now),
            notes={store.id: f"upkeep: older than {days} days"},
        )
        visit = self._shop.ledger.visit(self._shop.machine.key)
        order = self._shop.orders.draw(visit, surveyed, choice)
        run = self._shop.orders.prepare_run(order, f"order {order.id}")
        self._shop.ledger.add_order(visit.id, order)
        self._work(self._shop.orders.carry_request(run), f"Trimming {store.name}")
        self._shop.ledger.take_in()
        row = next(r for r in self._shop.ledger.runs(visit.id) if r.id == run.id)
        self._found.trimmed.append(Done(order.id, store.name, order.total))
        if row.result is None or row.result.unfinished or row.result.state == Ended.STOPPED:
            self._found.troubles.append(f"order {order.id} ({store.name}): not all of it could be done")

    def _newest(self, surveyed: Surveyed, path: str) -> int:
        """When anything of it was last written to, in nanoseconds."""
        rows = surveyed.index.below(path).values()
        return max((r.identity.mtime_ns for r in rows), default=0)


def in_words(done: Upkeep) -> list[str]:
    """What a person should know of it, a line each; the most urgent first."""
    words = [
        f"{v.mount} has {human_bytes(v.free)} free, {human_bytes(v.wanted)} were wanted" for v in done.low
    ]
    words += [f"trouble: {t}" for t in done.troubles]
    words += [f"{n.name} ({n.id}) grew by {human_bytes(n.bytes)}" for n in done.grew]
    words += [f"nobody uses {n.name} ({n.id}): {human_bytes(n.bytes)}" for n in done.unused]
    words += [f"order {d.order}: {d.what} emptied, {human_bytes(d.bytes)}" for d in done.emptied]
    words += [
        f"order {d.order}: {d.what} trimmed, {human_bytes(d.bytes)} on the holding shelf"
        for d in done.trimmed
    ]
    return words
