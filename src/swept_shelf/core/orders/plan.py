"""The plan: every operation of an order, in the order it will be done (design, 5.3), and what is left alone."""

from __future__ import annotations

import hashlib
import os
import re

from swept_shelf.core.documents.errors import Changed, CouldNotRead
from swept_shelf.core.documents.operations import (
    EditLines,
    KeepOriginal,
    LeftAlone,
    Operation,
    Plan,
    PurgePackages,
    RemovePackages,
    Shelve,
)
from swept_shelf.core.documents.order import Order, OrderLine
from swept_shelf.core.documents.paths import outermost, within
from swept_shelf.core.documents.survey import Application, Belonging, LeftBehind, Reference, Survey
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.orders.draw import index_knows, is_settings_file, settings_of_others, tickable
from swept_shelf.core.references.lines import apply_edits
from swept_shelf.core.references.pointees import Pointee, Pointees
from swept_shelf.core.references.take_out import WHOLE, edits_for
from swept_shelf.core.tree.index import Index
from swept_shelf.core.tree.returning import returning_bytes

ADMINISTRATOR = "administrator"


def make_plan(order: Order, survey: Survey, index: Index, machine: Machine) -> Plan:
    """All operations. Files to be edited are read now and must be what was surveyed.

    Raises Changed or CouldNotRead for a file to be edited that is not."""
    planner = _Planner(order, survey, index, machine)
    for line in order.lines:
        if line.verdict != "keep":
            planner.line(line)
    return Plan(planner.operations, planner.left_alone)


class _Planner:
    def __init__(self, order: Order, survey: Survey, index: Index, machine: Machine) -> None:
        self._order, self._survey, self._index, self._machine = order, survey, index, machine
        self._texts: dict[str, str] = {}
        self.operations: list[Operation] = []
        self.left_alone: list[LeftAlone] = []

    def line(self, line: OrderLine) -> None:
        entry = self._survey.find(line.id)
        assert entry is not None
        ticks = set(line.ticks)
        known = [p for p in line.packages if not index_knows(self._index, p)]
        programs = [
            b.path for b in entry.belongings if b.is_path and b.kind == "program" and b.proof == "registered"
        ]
        moves = self._moves(entry, ticks)
        listed = {b.path for b in entry.belongings if b.is_path and b.proof == "registered"}
        before = [
            m
            for m in moves
            if line.packages and m.path not in listed and any(within(m.path, p) for p in programs)
        ]
        rows = {n: v for n, v, _, _, _ in self._index.packages()}
        for name in known:
            size = self._package_bytes([name])
            self.operations.append(KeepOriginal(line.id, name, rows.get(name, ""), size, ADMINISTRATOR))
        self.operations += before
        if known:
            self.operations.append(
                RemovePackages(line.id, "debian", known, self._package_bytes(known), ADMINISTRATOR)
            )
        self.operations += [m for m in moves if m not in before]
        self.operations += self._settings(entry, line, ticks)
        if isinstance(entry, Application):
            self._references(entry, set(line.references))
        purged = self._purgeable(entry, line, ticks)
        if purged:
            self.operations.append(PurgePackages(line.id, "debian", purged, ADMINISTRATOR))
        for b in entry.belongings:
            if b.path not in ticks and (tickable(entry, b)) and line.verdict == "remove":
                why = (
                    b.reason
                    if b.personal
                    else f"also used by {', '.join(self._names(b.shared_with))}"
                    if b.shared_with
                    else "not ticked"
                )
                self.left_alone.append(LeftAlone(b.path, why))

    def _names(self, ids: list[str]) -> list[str]:
        return [e.name for i in ids if (e := self._survey.find(i))]

    def _package_bytes(self, names: list[str]) -> int:
        listed = self._index.listed_by(names)
        rows = (self._index.row(p) for p, owners in listed.items() if owners <= set(names))
        return returning_bytes(r.sized for r in rows if r)

    def _moves(self, entry: Application | LeftBehind, ticks: set[str]) -> list[Shelve]:
        """Ticked belongings as whole paths; around what stays, its neighbours one by one."""
        chosen = [b for b in entry.belongings if b.is_path and b.path in ticks]
        paths: dict[str, Belonging] = {}
        staying = {b.path: [x for x in b.except_ if x not in ticks] for b in chosen}
        for b in chosen:
            for path in self._pieces(b.path, staying[b.path]):
                paths.setdefault(path, b)
        found = []
        for path in outermost(paths):
            b = paths[path]
            inside = self._index.below(path)
            if path not in inside:
                continue
            files = sum(r.identity.type != "folder" for r in inside.values())
            near_personal = bool(staying[b.path]) or entry.id.startswith("files:")
            found.append(
                Shelve(
                    entry.id,
                    path,
                    inside[path].identity,
                    returning_bytes(r.sized for r in inside.values()),
                    files,
                    b.volume,
                    near_personal,
                    self._rights(path),
                    b.reason,
                )
            )
        return found

    def _pieces(self, path: str, staying: list[str]) -> list[str]:
        if path in staying:
            return []
        inner = [s for s in staying if within(s, path)]
        if not inner:
            return [path]
        pieces: list[str] = []
        depth = path.count("/") + 1
        for child in (p for p in self._index.below(path) if p.count("/") == depth):
            pieces += self._pieces(child, inner)
        return pieces

    def _rights(self, path: str) -> str:
        person = person_of(self._survey.people, path)
        return ADMINISTRATOR if person in (EVERYONE, "root") else person

    def _references(self, app: Application, chosen: set[str]) -> None:
        taken = [op.path for op in self.operations if isinstance(op, Shelve)]
        references = [
            r for r in app.references if r.id in chosen and not any(within(r.path, t) for t in taken)
        ]
        for r in references:
            row = self._index.row(r.path)
            if r.kind in WHOLE and row:
                self.operations.append(
                    Shelve(
                        app.id,
                        r.path,
                        row.identity,
                        row.bytes,
                        1,
                        volume_of(self._survey.volumes, r.path).id,
                        True,
                        self._rights(r.path),
                        f"{r.kind}: {r.detail}",
                    )
                )
        gone = Pointees([pointee_of(app)])
        for path in dict.fromkeys(r.path for r in references if r.kind not in WHOLE):
            self._edit(app, path, [r for r in references if r.path == path], gone)

    def _edit(self, app: Application, path: str, references: list[Reference], gone: Pointees) -> None:
        row = self._index.row(path)
        if row is None:
            raise CouldNotRead("is not in the survey’s index", path)
        status = self._machine.lstat(path)
        if status is None or self._machine.identity(status) != row.identity:
            raise Changed("has changed since it was surveyed: survey again", path)
        text = self._texts.get(path)
        if text is None:
            text = self._machine.read_text(path)
        edits = edits_for(references[0].kind, text, gone)
        after = apply_edits(text, edits)
        if not edits or after is None:
            self.left_alone.append(LeftAlone(path, "is written so that no single line can be taken out"))
            return
        digest = hashlib.sha256(os.fsencode(text)).hexdigest()
        kinds = ", ".join(dict.fromkeys(r.kind for r in references))
        self.operations.append(
            EditLines(
                app.id,
                path,
                row.identity,
                digest,
                edits,
                self._rights(path),
                kinds,
                volume_of(self._survey.volumes, path).id,
            )
        )
        self._texts[path] = after

    def _purgeable(self, entry: Application | LeftBehind, line: OrderLine, ticks: set[str]) -> list[str]:
        """Packages whose purge deletes nothing that stays: all that the system keeps of it is on the shelf by then."""
        if any(b.person == EVERYONE and tickable(entry, b) and b.path not in ticks for b in entry.belongings):
            return []
        own = set(entry.own_packages) if isinstance(entry, Application) else set(line.packages)
        return [p for p in line.packages if p in own or not self._keeps_anything(p, line.packages, ticks)]

    def _settings(self, entry: Application | LeftBehind, line: OrderLine, ticks: set[str]) -> list[Shelve]:
        """Settings files of packages that go along."""
        made = []
        for path in settings_of_others(entry, line.packages, self._index):
            row = self._index.row(path)
            if path in ticks and row:
                volume = volume_of(self._survey.volumes, path).id
                made.append(
                    Shelve(
                        line.id,
                        path,
                        row.identity,
                        row.bytes,
                        1,
                        volume,
                        False,
                        ADMINISTRATOR,
                        "settings file of a package that goes along",
                    )
                )
        return made

    def _keeps_anything(self, package: str, going: list[str], ticks: set[str]) -> bool:
        """Whether a purge could delete what is not on the shelf: settings that stay, or places its script names."""
        if any(
            is_settings_file(self._index, p) and p not in ticks for p in self._index.package_paths(package)
        ):
            return True
        script = self._machine.read_text(f"/var/lib/dpkg/info/{package}.postrm", default="")
        named = {m[0].rstrip("/.") for m in _SYSTEM_PLACE.finditer(script)}
        return any(self._index.row(p) and not self._index.listing(p) and p not in ticks for p in named)


_SYSTEM_PLACE = re.compile(r"/(?:var|etc|srv|opt|home)/[\w.+@/-]+")


def pointee_of(app: Application) -> Pointee:
    """The names under which a surveyed application is pointed at."""
    at = app.pointed_at
    return Pointee(
        app.id,
        *(tuple(at.get(k, ())) for k in ("commands", "programs", "folders", "launchers", "buses", "units")),
    )
