"""The plan: every operation of an order, in the order it will be done, and what is left alone."""

from __future__ import annotations

from collections.abc import Callable, Collection, Iterator, Sequence
from dataclasses import replace

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.operations import (
    STARTS_IT,
    EditLines,
    EndPrograms,
    KeepOriginal,
    LeftAlone,
    MakeAnew,
    MoveData,
    Operation,
    Plan,
    PurgePackages,
    RemovePackages,
    Shelve,
    TakeRow,
    Uninstall,
)
from swept_shelf.core.documents.order import FREED, Order, OrderLine
from swept_shelf.core.documents.paths import base, join, outermost, parent, within
from swept_shelf.core.documents.survey import Application, Belonging
from swept_shelf.core.documents.terms import By, Kind, Verdict
from swept_shelf.core.machine.facts import ADMINISTRATOR
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.made_files import MADE, command_of, made_of
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.machine.volumes import volume_of
from swept_shelf.core.orders.draw import freed_settings, settings_of_others
from swept_shelf.core.orders.edits import Edits
from swept_shelf.core.orders.husks import Husks
from swept_shelf.core.orders.moving import is_searched, settings_of_its_own, target
from swept_shelf.core.orders.removal_scripts import RemovalScripts
from swept_shelf.core.orders.scope import (
    Entry,
    Scope,
    goes_by_tool,
    goes_whole,
    is_program,
    is_settings_file,
    runs_from,
    tickable,
)
from swept_shelf.core.references.file_names import known_by
from swept_shelf.core.references.pointees import Pointee, Pointees, pointee_from
from swept_shelf.core.references.take_out import table_of
from swept_shelf.core.references.turn_off import BY_HIDDEN
from swept_shelf.core.registries.debian.rows import goes_back, read_row
from swept_shelf.core.registries.uninstalling import uninstall_of
from swept_shelf.core.registries.ways import keeps_books, names_in_its_store
from swept_shelf.core.tree.returning import returning_bytes

# What is noted before the registry's calls and made again, or lies in memory alone.
_MADE_AGAIN = ("/var/lib/systemd/deb-systemd-", "/run/", "/var/run/")
_MADE_BY_SCRIPTS = (Kind.CACHE, Kind.PROGRAM, Kind.SUPPORT)


def make_plan(order: Order, scope: Scope, machine: Machine) -> Plan:
    """All operations. Files to be edited are read now; one that is not what was surveyed is left alone, with why."""
    planner = _Planner(order, scope, machine)
    for line in order.lines:
        if line.id == FREED:
            planner.freed(line)
        elif line.verdict == Verdict.STOP_STARTING:
            planner.stop(line)
        elif line.verdict == Verdict.MOVE_DATA:
            planner.move(line)
        elif line.verdict not in (Verdict.KEEP, Verdict.ASK_OWNER):
            planner.line(line)
    stores = {s.id for s in scope.survey.shared_stores}  # their folders stay, empty or not
    planner.husks({i.id for i in order.lines if i.verdict == Verdict.REMOVE or i.id == FREED} - stores)
    return Plan(planner.operations, planner.left_alone)


class _Planner:
    def __init__(self, order: Order, scope: Scope, machine: Machine) -> None:
        self._order, self._scope, self._machine = order, scope, machine
        self._survey, self._index = scope.survey, scope.index
        self._gone = set(order.packages)
        self.operations: list[Operation] = []
        self.left_alone: list[LeftAlone] = []
        self._edits = Edits(scope, machine, self._rights, self.left_alone)
        self._removal = RemovalScripts(scope, machine)

    def line(self, line: OrderLine) -> None:
        entry = self._scope.entries[line.id]
        ticks = set(line.ticks)
        known = [p for p in line.packages if not self._scope.is_rest(p)]
        rows = list(self._rows(entry, line)) if isinstance(entry, Application) else []
        rows_first = [r for r in rows if self._goes_before(r)]
        rows_first.sort(key=lambda r: r.table != "diversions")
        moves = self._moves(entry, ticks, {r.row[1] for r in rows_first if r.table == "diversions"})
        named = self._removal.named_of_whole(entry) if line.verdict == Verdict.REMOVE else set()
        before = [m for m in moves if (known or named) and self._goes_first(entry, m, known, named)]
        others = settings_of_others(self._scope, entry, line.packages)
        first = self._taken_at_removal(others, line.packages)
        if isinstance(entry, Application):
            self._end_first(entry)
        alone = self._without_scripts(entry, known)
        self._originals(line.id, known, alone)
        if line.verdict == Verdict.REMOVE and goes_whole(entry):
            moves = [m for m in moves if not self._is_its_program(entry, m.path)]
            at = len(self.operations)
            if why := self._uninstall(entry, ticks):
                self.left_alone.append(LeftAlone(entry.receipt, why))
                return  # what belongs to an application that stays, stays with it
            before = [m for m in before if m in moves]
            self.operations[at:at] = before
            moves, before = [m for m in moves if m not in before], []
        self.operations += rows_first
        self.operations += before
        self._settings(line.id, first, ticks)
        self._remove(line.id, known, alone)
        self.operations += [m for m in moves if m not in before]
        self._settings(line.id, [p for p in others if p not in first], ticks)
        self.operations += [r for r in rows if r not in rows_first]
        if isinstance(entry, Application):
            self._references(entry, set(line.references))
        self._purge(line.id, self._purgeable(line.packages, ticks))
        self._made_anew(line.id)
        if line.verdict == Verdict.REMOVE:
            self._stays(entry, ticks)

    def husks(self, lines: set[str]) -> None:
        """Folders that are empty then, each behind all of its line that comes with what empties it."""
        behind = Husks(self._scope, self._machine, self._rights).after(self.operations, lines)
        made: list[Operation] = []
        waiting: list[Shelve] = []
        for number, op in enumerate(self.operations):
            made.append(op)
            waiting += behind.get(number, ())
            if number + 1 == len(self.operations) or self.operations[number + 1].line != op.line:
                made += waiting
                waiting = []
        self.operations = made

    def move(self, line: OrderLine) -> None:
        """Its data to another volume, folder by folder; what runs of it is ended first where that was the answer."""
        app = self._scope.entries[line.id]
        if not isinstance(app, Application):
            return
        self._end_first(app)
        for path in line.ticks:
            inside = self._index.below(path)
            if (row := inside.get(path)) is None:
                continue
            size = returning_bytes(r.sized for r in inside.values())
            files = sum(r.identity.type != "folder" for r in inside.values())
            volume = volume_of(self._survey.volumes, path).id
            to = target(line.to, path)
            self.operations.append(
                MoveData(line.id, path, row.identity, line.to, to, size, files, volume, self._rights(path))
            )
        places = {path: target(line.to, path) for path in line.ticks}
        for file in self._files_of_settings(app, places):
            if edit := self._edits.name_anew(app, file, places):
                self.operations.append(edit)

    def _files_of_settings(self, app: Application, places: Collection[str]) -> Iterator[str]:
        """Its own, apart from what lies in a place that moves."""
        for top in settings_of_its_own(app):
            for path, row in self._index.below(top).items():
                moves = any(within(path, place) for place in places)
                if row.identity.type == "file" and is_searched(row.identity.size) and not moves:
                    yield path

    def stop(self, line: OrderLine) -> None:
        """What starts it is turned off: entries say that they are hidden, links that enable a unit go, lines of tables too."""
        app = self._scope.entries[line.id]
        if not isinstance(app, Application):
            return
        ids = set(line.references)
        hidden = {r.path for r in app.references if r.id in ids and r.kind == BY_HIDDEN}
        hidden |= {t for t in line.ticks if t.endswith(".desktop")}
        for path in sorted(hidden):
            if edit := self._edits.turn_off(app, path):
                self.operations.append(edit)
        for path in sorted(set(line.ticks) - hidden):
            if row := self._index.row(path):
                volume = volume_of(self._survey.volumes, path).id
                why = STARTS_IT
                self.operations.append(
                    Shelve(app.id, path, row.identity, row.bytes, 1, volume, True, self._rights(path), why)
                )
        self._references(app, {r.id for r in app.references if r.id in ids and r.path not in hidden})

    def freed(self, line: OrderLine) -> None:
        """What nothing else needs any more, after everything else."""
        others = freed_settings(self._scope, line.packages)
        first = self._taken_at_removal(others, line.packages)
        self._originals(line.id, line.packages)
        self._settings(line.id, first, set(line.ticks))
        self._remove(line.id, line.packages)
        self._settings(line.id, [p for p in others if p not in first], set(line.ticks))
        self._purge(line.id, self._purgeable(line.packages, set(line.ticks)))

    # -- packages -----------------------------------------------------------------------------------------------

    def _without_scripts(self, entry: Entry, packages: list[str]) -> list[str]:
        """Its own packages, where the answer was to do without their scripts."""
        said = {s.answer for s in self._order.settle if s.id == f"scripts:{entry.id}"}
        own = entry.own_packages if goes_by_tool(entry) and "without_scripts" in said else []
        return [p for p in packages if p in own]

    def _originals(self, line: str, packages: list[str], alone: Collection[str] = ()) -> None:
        for name in packages:
            size = self._scope.weigh_packages([name]).bytes
            version = self._scope.packages[name].version
            self.operations.append(KeepOriginal(line, name, version, size, ADMINISTRATOR, name in alone))

    def _remove(self, line: str, packages: list[str], alone: Sequence[str] = ()) -> None:
        if packages:
            size = self._scope.weigh_packages(packages).bytes
            self.operations.append(RemovePackages(line, "debian", packages, size, ADMINISTRATOR, list(alone)))

    def _end_first(self, app: Application) -> None:
        """What runs of it, where the answer was to end it."""
        answer = next((s.answer for s in self._order.settle if s.id == f"running:{app.id}"), "")
        if answer in ("end_it", "end_hard"):
            people = {r.person for r in app.running}
            rights = people.pop() if len(people) == 1 else ADMINISTRATOR
            self.operations.append(
                EndPrograms(app.id, app.name, runs_from(app), answer == "end_hard", rights or ADMINISTRATOR)
            )

    def _is_its_program(self, entry: Entry, path: str) -> bool:
        return any(is_program(b) and within(path, b.path) for b in entry.belongings)

    def _uninstall(self, app: Application, ticks: set[str]) -> str:
        """All of it that is ticked, as its registry calls it. Returns "" or why its registry cannot be asked for that."""
        paths = [b.path for b in app.belongings if is_program(b) and b.path in ticks]
        try:
            op = uninstall_of(self._machine, app, paths)
        except CouldNotRead as error:
            return f"{error.path} {error.reason}: nothing of {app.name} was planned"
        if op is None:  # gone already; or not of any installation that its registry would look into
            stands = [p for p in paths if self._machine.exists(p)]
            return f"{stands[0]} stands there, and its registry does not have it" if stands else ""
        volume = volume_of(self._survey.volumes, op.place)
        besides = names_in_its_store(app.registry)
        size = sum(self._scope.weigh_below(p, [], besides).bytes for p in outermost(paths))
        rights = op.person or ADMINISTRATOR
        self.operations.append(replace(op, bytes=size, volume=volume.id, rights=rights))
        return ""

    def _purge(self, line: str, packages: list[str]) -> None:
        if packages:
            self.operations.append(PurgePackages(line, "debian", packages, ADMINISTRATOR))

    def _goes_first(self, entry: Entry, move: Shelve, packages: list[str], named: Collection[str]) -> bool:
        """What the registry's removal, or a script of it, may take away and no list names: to the shelf before it.

        Settings and what the program keeps stay in reach of its scripts until they ran, unless those name the place."""
        b = next((b for b in entry.belongings if within(move.path, b.path)), None)
        if b is None or b.proof == By.REGISTERED:
            return False
        programs = [
            x.path
            for x in entry.belongings
            if x.is_path and x.kind == Kind.PROGRAM and x.proof == By.REGISTERED
        ]
        if any(within(move.path, p) for p in programs):
            return True
        if person_of(self._survey.people, move.path) != EVERYONE:
            return False
        return b.kind in _MADE_BY_SCRIPTS or any(
            within(place, move.path) or within(move.path, place)
            for place in (*named, *(x for p in packages for x in self._removal.named(p)))
        )

    def _taken_at_removal(self, paths: list[str], packages: list[str]) -> list[str]:
        """What nobody lists and a script names that runs before anything of its package is gone: to the shelf before that."""
        made = [p for p in paths if not self._index.listing(p)]
        named = {p for k in packages for p in self._removal.named(k, (".prerm",))} if made else set()
        return [p for p in made if p in named]

    def _made_anew(self, line: str) -> None:
        """What the system's tools made of what the line takes, once for each folder, after all of it is gone."""
        taken = [op for op in self.operations if op.line == line and isinstance(op, Shelve | EditLines)]
        inside = (
            p
            for op in taken
            for p in ([op.path] if isinstance(op, EditLines) else self._index.below(op.path))
        )
        for key, folder in dict.fromkeys(m for p in inside for m in made_of(p)):
            main = join(folder, MADE[key].main)
            if self._index.row(main) is None or any(within(main, op.path) for op in taken):
                continue
            if not command_of(key):
                why = f"is not made anew: the command {MADE[key].commands[0]} is not on this computer"
                self.left_alone.append(LeftAlone(main, why))
                continue
            size = sum(r.bytes for r in self._index.children(folder))
            volume = volume_of(self._survey.volumes, folder).id
            self.operations.append(MakeAnew(line, folder, key, size, volume, self._rights(folder)))

    def _purgeable(self, packages: list[str], ticks: set[str]) -> list[str]:
        """Packages whose purge deletes nothing that stays: all that the system keeps of it is on the shelf by then."""
        purged = []
        for package in packages:
            if stays := self._kept_from_purge(package, ticks):
                why = (
                    f"stays, so the registry is not told to forget {package}: its purge would take this along"
                )
                self.left_alone.append(LeftAlone(stays, why))
            else:
                purged.append(package)
        return purged

    def _kept_from_purge(self, package: str, ticks: set[str]) -> str:
        """What a purge could delete and is not on the shelf: settings that stay, or a place its script names; "" for nothing."""
        for row, _ in self._scope.files([package])[package]:
            if is_settings_file(row) and row.path not in ticks:
                return row.path
        for place in sorted(self._removal.named(package, (".postrm",))):
            row_ = self._index.row(place)
            made_again = place.startswith(_MADE_AGAIN) or (
                row_ and row_.identity.type == "link" and within(place, "/etc")
            )
            ours = any(within(place, t) for t in ticks)
            if row_ and not (
                made_again or ours or self._index.listing(place) or self._removal.is_spared(package, place)
            ):
                return place
        return ""

    def _settings(self, line: str, paths: list[str], ticks: set[str]) -> None:
        """Settings files of packages that go along."""
        for path in paths:
            row = self._index.row(path)
            if path in ticks and row:
                volume = volume_of(self._survey.volumes, path).id
                inside = self._index.below(path)
                size = returning_bytes(r.sized for r in inside.values())
                files = sum(r.identity.type != "folder" for r in inside.values())
                listed = bool(self._index.listing(path))
                why = f"{'settings file' if listed else 'made'} of a package that goes along"
                self.operations.append(
                    Shelve(line, path, row.identity, size, files, volume, False, ADMINISTRATOR, why)
                )

    # -- paths --------------------------------------------------------------------------------------------------

    def _moves(self, entry: Entry, ticks: set[str], home: set[str]) -> list[Shelve]:
        """Ticked belongings as whole paths; around what stays, its neighbours one by one. What a package that stays lists below
        them is nobody else's to take, unless it has gone `home` to its own place by then."""
        chosen = [b for b in entry.belongings if b.is_path and b.path in ticks]
        paths: dict[str, Belonging] = {}
        staying = {
            b.path: [
                *(x for x in b.except_ if x not in ticks),
                *(
                    p
                    for p, by in self._index.listed_below(b.path).items()
                    if by - self._gone and p not in home
                ),
            ]
            for b in chosen
        }
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
            near_personal = bool(staying[b.path]) or (
                isinstance(entry, Application) and not keeps_books(entry.registry)
            )
            size = returning_bytes(r.sized for r in inside.values())
            found.append(
                Shelve(
                    entry.id,
                    path,
                    inside[path].identity,
                    size,
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
        return [p for child in self._index.children(path) for p in self._pieces(child.path, inner)]

    def _rights(self, path: str) -> str:
        person = person_of(self._survey.people, path)
        return ADMINISTRATOR if person in (EVERYONE, "root") else person

    # -- what points at it --------------------------------------------------------------------------------------

    def _references(self, app: Application, chosen: set[str]) -> None:
        taken = [op.path for op in self.operations if isinstance(op, Shelve)]
        taken += [p for op in self.operations if isinstance(op, Uninstall) for p in op.paths]
        taken += [  # with what holds it: edited before, it would not be what was surveyed any more
            t
            for line in self._order.lines
            if line.id != app.id and line.verdict == Verdict.REMOVE
            for t in line.ticks
        ]
        references = [
            r
            for r in app.references
            if r.id in chosen and not table_of(r.kind) and not any(within(r.path, t) for t in taken)
        ]
        known = [pointee_of(app), files_of(app, lambda path: self._index.row(path) is not None)]
        whole = {r.path: f"{r.kind}: {r.detail}" for r in references if r.whole}
        for path, why in self._with_their_folders(whole, known).items():
            if row := self._index.row(path):
                volume, rights = volume_of(self._survey.volumes, path).id, self._rights(path)
                inside = self._index.below(path).values() if row.identity.type == "folder" else [row]
                size, files = (
                    returning_bytes(r.sized for r in inside),
                    sum(r.identity.type != "folder" for r in inside),
                )
                exactly = row.identity.type != "folder"
                self.operations.append(
                    Shelve(app.id, path, row.identity, size, files, volume, exactly, rights, why)
                )
        listed = {
            row.path: app.id
            for row, owners in self._index.rows_of(set(app.own_packages) if goes_by_tool(app) else set())
            if row.identity.type != "folder"
        }
        gone = Pointees(known, listed)
        edited = dict.fromkeys((r.path, r.kind) for r in references if not r.whole)
        for path, kind in edited:
            mine = [r for r in references if (r.path, r.kind) == (path, kind)]
            if edit := self._edits.take_out(app, path, mine, gone):
                self.operations.append(edit)

    def _with_their_folders(self, whole: dict[str, str], known: list[Pointee]) -> dict[str, str]:
        """Paths that go whole, with why: where nothing else is in a folder called like it, or like a unit of its, the folder."""
        own = {f"{unit}.{end}" for p in known for unit in p.units for end in ("d", "wants", "requires")}
        own |= {name for p in known for name in p.names}
        found: dict[str, str] = {}
        for path, why in whole.items():
            above = parent(path)
            alone = base(above) in own and all(c.path in whole for c in self._index.children(above))
            if alone and not (self._index.listing(above) or self._scope.why_protected(above)):
                path = above
            found.setdefault(path, why)
        return found

    def _rows(self, app: Application, line: OrderLine) -> Iterator[TakeRow]:
        """Rows of the registry's tables that name it, and that no script of a package that goes takes itself."""
        chosen, volume = set(line.references), self._survey.volumes[0].id
        for r in app.references:
            table = table_of(r.kind)
            if r.id not in chosen or not table:
                continue
            try:
                row = read_row(self._machine, table, r.key)
            except CouldNotRead as error:
                self.left_alone.append(LeftAlone(r.path, error.reason))
                continue
            if row is None:
                self.left_alone.append(
                    LeftAlone(r.path, "has changed since it was surveyed: the row is gone")
                )
            elif not any(self._takes_itself(p, table, row) for p in line.packages):
                yield TakeRow(app.id, r.path, table, row, ADMINISTRATOR, f"{r.kind}: {r.detail}", volume)

    def _goes_before(self, op: TakeRow) -> bool:
        """Whether a row goes before the files do, and comes back after them. What was put aside of a package that stays goes to
        its own place first; a choice can be given only while its program stands. Packages need the other rows as they were
        when they return."""
        others = op.table == "diversions" and bool(self._index.listing(op.row[1]) - self._gone)
        return op.table == "alternatives" or (others and goes_back(self._machine, op.row))

    def _takes_itself(self, package: str, table: str, row: list[str]) -> bool:
        """Whether a package's scripts of removal call the table's tool with what the row is for."""
        tool, named = {
            "alternatives": ("update-alternatives", row[0]),
            "diversions": ("dpkg-divert", row[0]),
        }.get(table, ("dpkg-statoverride", row[-1]))
        return any(tool in text and named in text for text in self._removal.texts(package))

    # -- what stays ---------------------------------------------------------------------------------------------

    def _stays(self, entry: Entry, ticks: set[str]) -> None:
        for b in entry.belongings:
            if b.path not in ticks and tickable(entry, b):
                users = ", ".join(self._names(b.shared_with))
                why = b.reason if b.personal else f"also used by {users}" if b.shared_with else "not ticked"
                self.left_alone.append(LeftAlone(b.path, why))
        if goes_by_tool(entry):
            for path in dict.fromkeys([*entry.executables, *(x.path for x in entry.launchers)]):
                if why := self._why_it_stays(path):
                    self.left_alone.append(LeftAlone(path, why))

    def _why_it_stays(self, path: str) -> str:
        """Who needs the package that a program of the application lies in, where that package stays."""
        staying = sorted(self._index.listing(path) - self._gone)
        if not staying:
            return ""
        graph = self._scope.graph
        number = graph.number.get(staying[0])
        users = sorted(
            {
                self._called(graph.names[i])
                for i, needs in enumerate(graph.needs)
                if number in needs and graph.names[i] not in self._gone
            }
        )
        if not users:
            return f"its package {staying[0]} stays"
        more = f" and {len(users) - 3} more" if len(users) > 3 else ""
        return f"{', '.join(users[:3])}{more} need{'s' if len(users) == 1 else ''} its package {staying[0]}"

    def _called(self, package: str) -> str:
        line = self._scope.head_of.get(package)
        return self._scope.entries[line].name if line else package

    def _names(self, ids: Collection[str]) -> list[str]:
        return [e.name for i in ids if (e := self._scope.entries.get(i))]


def pointee_of(app: Application) -> Pointee:
    """The names under which a surveyed application is pointed at."""
    return pointee_from(app.id, app.pointed_at)


def files_of(app: Application, exists: Callable[[str], bool]) -> Pointee:
    """As others name the files that point at it and go whole. `exists`: whether another one stands there."""
    return known_by(app.id, (r.path for r in app.references if r.whole and r.action == "take_out"), exists)
