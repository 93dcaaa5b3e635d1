"""What every order of one survey is judged by: entries, packages with the graph over them, and what paths weigh. Read once."""

from __future__ import annotations

from collections.abc import Collection, Iterable, Mapping
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any, TypeGuard

from swept_shelf.core.applications.graph import Graph, graph_from_rows
from swept_shelf.core.documents.paths import within
from swept_shelf.core.documents.survey import Application, Belonging, LeftBehind, Survey
from swept_shelf.core.documents.terms import By, Kind, Share
from swept_shelf.core.orders.places import why_protected
from swept_shelf.core.registries.ways import Way, way_of
from swept_shelf.core.tree.index import Index, IndexedPackage, Row
from swept_shelf.core.tree.returning import Sized, returning_bytes

Entry = Application | LeftBehind
BROKEN = ("half-installed", "unpacked", "half-configured")  # dpkg(1)


@dataclass(slots=True)
class Weight:
    """Bytes of paths with one name, and what has several names, of which only the last one counts."""

    plain: int = 0
    several: list[Sized] = field(default_factory=list)

    def add(self, sized: Sized) -> None:
        if sized.is_folder or sized.links <= 1:
            self.plain += sized.bytes - sized.shared
        else:
            self.several.append(sized)

    def include(self, other: Weight) -> None:
        self.plain += other.plain
        self.several += other.several

    @property
    def bytes(self) -> int:
        return self.plain + returning_bytes(self.several)


class Scope:
    """One survey with its index."""

    def __init__(
        self, survey: Survey, digest: str, index: Index, refused: Mapping[str, str] | None = None
    ) -> None:
        """`refused`: lines whose registry could not remove them before, each with its words."""
        self.survey, self.digest, self.index = survey, digest, index
        self._refused = refused if refused is not None else {}
        self.entries: dict[str, Entry] = {e.id: e for e in survey.entries}
        self.entries |= {s.id: s.entry for s in survey.shared_stores if s.belongings}
        self._files: dict[str, list[tuple[Row, frozenset[str]]]] = {}
        self._own: dict[str, tuple[Weight, list[tuple[Row, frozenset[str]]]]] = {}
        self.memory: dict[
            tuple[object, ...], Any
        ] = {}  # what was drawn for one line, by all that it depends on
        self._alone: dict[str, frozenset[str]] = {}
        self._goes: dict[frozenset[str], list[str]] = {}
        self._places: dict[str, frozenset[str]] = {}
        self._trees: dict[tuple[str, tuple[str, ...], int], Weight] = {}

    # -- packages -----------------------------------------------------------------------------------------------

    @cached_property
    def graph(self) -> Graph:
        return graph_from_rows(
            [(p.name, p.root) for p in self.packages.values() if p.installed], self.index.edges()
        )

    @property
    def packages(self) -> dict[str, IndexedPackage]:
        return self.index.packages

    @cached_property
    def head_of(self) -> dict[str, str]:
        """Application id by the package that its registry is asked to remove for it."""
        return {a.own_packages[0]: a.id for a in self.survey.applications if goes_by_tool(a)}

    @cached_property
    def runtimes(self) -> dict[str, list[str]]:
        """What goes when the last of those goes that use it, with these: runtimes, and older revisions of an application, which
        its registry takes with it."""
        parts = [a for a in self.survey.applications if a.type == "runtime" and not a.protected]
        return {a.id: a.needed_by for a in parts if a.needed_by} | {
            a.id: [newer] for a in parts if (newer := self.newer_of(a))
        }

    def newer_of(self, app: Application) -> str:
        """The application whose older revision this is, by id; "" for anything else."""
        newer = app.id.rpartition("/")[0]
        return newer if app.type == "runtime" and not app.needed_by and newer in self.entries else ""

    def goes_with(self, heads: Collection[str]) -> list[str]:
        """Everything that the registry takes for these packages together."""
        key = frozenset(heads)
        if key not in self._goes:
            self._goes = {key: self.graph.goes_with(set(key))} | dict(list(self._goes.items())[:8])
        return self._goes[key]

    def goes_alone(self, head: str) -> frozenset[str]:
        if head not in self._alone:
            self._alone[head] = frozenset(self.graph.goes_with({head}))
        return self._alone[head]

    def why_last_resort(self, entry: Entry) -> str:
        """Why the package's own scripts may be in the way of its removal; "" where nothing says so."""
        if not goes_by_tool(entry):
            return ""
        if words := self._refused.get(entry.id, ""):
            return f"Its registry could not remove it: {words}"
        broken = [p for p in entry.own_packages if self.packages[p].status in BROKEN]
        return f"{broken[0]} is {self.packages[broken[0]].status}: its removal may fail." if broken else ""

    def is_rest(self, package: str) -> bool:
        """Removed before this survey, its settings left to its registry."""
        known = self.packages.get(package)
        return known is not None and known.status == "config-files"

    def files(self, packages: Iterable[str]) -> dict[str, list[tuple[Row, frozenset[str]]]]:
        """What each of these packages lists, with all packages that list it."""
        wanted = list(packages)
        if missing := {p for p in wanted if p not in self._files}:
            self._files |= {p: [] for p in missing}
            for row, owners in self.index.rows_of(missing):
                for owner in owners & missing:
                    self._files[owner].append((row, frozenset(owners)))
        return {p: self._files[p] for p in wanted}

    def listed(self, packages: Collection[str]) -> dict[str, tuple[Row, frozenset[str]]]:
        """Every path that these packages list, once."""
        return {row.path: (row, owners) for rows in self.files(packages).values() for row, owners in rows}

    def settings_files(self, packages: Collection[str]) -> list[str]:
        """Settings files that these packages list and no other."""
        gone = set(packages)
        found = {
            row.path
            for rows in self.files(packages).values()
            for row, owners in rows
            if is_settings_file(row) and owners <= gone
        }
        return sorted(found)

    def weigh_packages(self, packages: Collection[str]) -> Weight:
        """What comes back when these packages go: what no staying one lists too, without settings files."""
        gone, total = set(packages), Weight()
        seen: set[str] = set()
        self._weigh_each([p for p in packages if p not in self._own])
        for package in packages:
            own, common = self._own[package]
            total.include(own)
            for row, owners in common:
                if owners <= gone and row.path not in seen:
                    seen.add(row.path)
                    total.add(row.sized)
        return total

    def _weigh_each(self, packages: list[str]) -> None:
        for package, rows in self.files(packages).items():
            own, common = Weight(), []
            for row, owners in rows:
                if is_settings_file(row):
                    continue
                if len(owners) == 1:
                    own.add(row.sized)
                else:
                    common.append((row, owners))
            self._own[package] = own, common

    # -- paths --------------------------------------------------------------------------------------------------

    def weigh_below(self, path: str, left: Iterable[str], besides: int = 0) -> Weight:
        """What comes back with a belonging when what is `left` inside it stays. `besides`: names of each file in its registry's
        store."""
        key = path, tuple(sorted(left)), besides
        if key not in self._trees:
            weight = Weight()
            for inside, row in self.index.below(path).items():
                if not any(within(inside, x) or within(x, inside) for x in key[1]):
                    weight.add(replace(row.sized, links=row.links - besides) if besides else row.sized)
            self._trees[key] = weight
        return self._trees[key]

    def places(self, line: str) -> frozenset[str]:
        """The paths of an entry that can be ticked."""
        if line not in self._places:
            self._places[line] = frozenset(b.path for b in self.entries[line].belongings if b.is_path)
        return self._places[line]

    @cached_property
    def shares_of(self) -> dict[str, str]:
        """How each path that is anybody's belonging is shared."""
        return {b.path: b.share for e in self.entries.values() for b in e.belongings if b.is_path}

    def why_protected(self, path: str, edited: bool = False) -> str:
        """The reason why `path` may never be an operation; "" when it may."""
        return why_protected(path, self.survey, edited)


def is_settings_file(row: Row) -> bool:
    """A file below /etc that a package lists (Debian Policy 10.7.1: such files are conffiles)."""
    return row.path.startswith("/etc/") and row.identity.type == "file"


def goes_by_tool(entry: Entry) -> TypeGuard[Application]:
    """Whether its registry's own tool removes its packages."""
    return isinstance(entry, Application) and way_of(entry.registry) == Way.TOOL


def goes_whole(entry: Entry) -> TypeGuard[Application]:
    """Whether its registry's own tool uninstalls it as one, and keeps it until the shelf is emptied."""
    return isinstance(entry, Application) and way_of(entry.registry) == Way.WHOLE


def goes_by_paths(entry: Entry) -> TypeGuard[Application]:
    """Whether its program is moved path by path: no tool of its registry removes it."""
    return isinstance(entry, Application) and way_of(entry.registry) == Way.PATHS


def is_program(b: Belonging) -> bool:
    """Whether its registry lists it as the program."""
    return b.is_path and b.proof == By.REGISTERED and b.kind == Kind.PROGRAM


def runs_from(app: Application) -> list[str]:
    """Its programs, and the places that are it: whatever runs from there is it."""
    tops = [] if goes_by_tool(app) else [b.path for b in app.belongings if is_program(b)]
    return [*app.pointed_at.get("programs", ()), *tops]


def tickable(entry: Entry, b: Belonging) -> bool:
    """True for what an order moves by path: not what the registry takes away with its package."""
    if isinstance(entry, Application) and any(r.path == b.path for r in entry.references):
        return False  # a pointer: taken out as a reference
    return (
        b.is_path
        and b.share != Share.COMMON
        and (not is_program(b) or goes_by_paths(entry) or goes_whole(entry))
    )
