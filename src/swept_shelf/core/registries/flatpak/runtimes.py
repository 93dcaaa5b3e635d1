"""Which runtimes of a Flatpak installation are used, by which applications, and what is a part of each.

An extension point is a group [Extension NAME] in the metadata of whatever it extends (flatpak-metadata(5)): what is called
NAME or NAME.x fits, in one of the versions that the group names, else in the branch of whoever has the group."""

from __future__ import annotations

import configparser
from collections import defaultdict
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine

Metadata = Callable[[str], configparser.ConfigParser]


@dataclass(frozen=True, slots=True)
class _Point:
    """What may extend `of`: `name` and the branches that fit."""

    of: str
    name: str
    branches: frozenset[str]

    def fits(self, ref: str) -> bool:
        id, architecture, branch = ref.split("/")
        named = id == self.name or id.startswith(self.name + ".")
        return named and branch in self.branches and architecture == self.of.split("/")[1]


@dataclass(slots=True)
class Runtimes:
    """Of one installation; references as ID/ARCH/BRANCH. `folders`: the deployed commit of each; `users`: applications by what they
    run on, whether that is here or not; `elsewhere`: ids of applications of another installation that run on one of these."""

    folders: dict[str, str] = field(default_factory=dict)
    users: dict[str, list[str]] = field(default_factory=lambda: defaultdict(list))
    elsewhere: dict[str, list[str]] = field(default_factory=lambda: defaultdict(list))
    _points: list[_Point] = field(default_factory=list)

    def of_one(self, app: str, runtime: str) -> list[str]:
        """The runtime with its parts, where nothing but this application uses it."""
        only = self.users.get(runtime) == [app] and not self.elsewhere.get(runtime)
        return self.with_parts(runtime) if only and runtime in self.folders else []

    def shared(self) -> list[str]:
        """Runtimes that are used and go with no application alone."""
        return [r for r in self.folders if self.elsewhere.get(r) or len(self.users.get(r, ())) > 1]

    def lent(self, whose: str, own: Runtimes) -> None:
        """What another installation's applications run on and have here alone. `whose`: how ids of its applications begin."""
        for runtime, apps in own.users.items():
            if runtime in self.folders and runtime not in own.folders:
                self.elsewhere[runtime] += [f"{whose}:{a}" for a in apps]

    def with_parts(self, ref: str) -> list[str]:
        """A runtime, and what extends it and neither another runtime nor an application that runs on another one."""
        going = {ref, *self.users.get(ref, ())}
        own = [ref]
        for other in self.folders:
            extended = {p.of for p in self._points if p.fits(other)}
            if other != ref and ref in extended and extended <= going and other not in self._used():
                own.append(other)
        return own

    def unused(self) -> dict[str, list[str]]:
        """Runtimes that no application here needs, each with what extends it."""
        found: dict[str, list[str]] = {}
        used = self._used()
        for ref in sorted(r for r in self.folders if r not in used and not self._extends(r)):
            id, architecture, _ = ref.split("/")
            whole = next(
                (
                    other
                    for other in found
                    if id.startswith(other.split("/")[0] + ".") and other.split("/")[1] == architecture
                ),
                ref,
            )
            found.setdefault(whole, []).append(ref)
        return found

    def _used(self) -> set[str]:
        return {r for known in (self.users, self.elsewhere) for r, apps in known.items() if apps}

    def _extends(self, ref: str) -> bool:
        """An extension (ID.Locale, ID.GL.x ...) of a runtime or application that is used."""
        id = ref.split("/")[0]
        used = {r.split("/")[0] for r in self._used() if r}
        used |= {r.split("/")[0] for refs in self.users.values() for r in refs}
        family = {u.rsplit(".", 1)[0] for u in used if u.endswith((".Platform", ".Sdk"))}
        return any(id.startswith(u + ".") for u in used | family)


def runtimes_of(
    machine: Machine, place: str, apps: Iterable[tuple[str, str]], metadata: Metadata
) -> Runtimes:
    """`apps`: (folder of the deployed commit, reference) of the applications; `metadata`: that of such a folder. What cannot be
    read uses and is extended by nothing: its own reading says so."""
    known = Runtimes({r: a for a, r in deployed_below(machine, f"{place}/runtime")})
    for active, ref in (*apps, *((a, r) for r, a in known.folders.items())):
        try:
            said = metadata(active)
        except CouldNotRead:
            continue
        if said.has_section("Application"):
            known.users[said.get("Application", "runtime", fallback="")].append(ref)
        known._points += _points(said, ref)
    return known


def _points(said: configparser.ConfigParser, ref: str) -> Iterator[_Point]:
    for section in said.sections():
        kind, _, name = section.partition(" ")
        if kind == "Extension" and name:
            listed = said.get(section, "versions", fallback="") or said.get(section, "version", fallback="")
            branches = frozenset(v for v in listed.split(";") if v) or frozenset({ref.split("/")[2]})
            yield _Point(ref, name, branches)


def deployed_below(machine: Machine, top: str) -> Iterator[tuple[str, str]]:
    """(folder of the deployed commit, ID/ARCH/BRANCH) of everything below `top`."""
    for id in machine.names(top):
        for arch in machine.names(f"{top}/{id}"):
            if arch in ("current", "data"):
                continue
            for branch in machine.names(f"{top}/{id}/{arch}"):
                active = machine.resolve(f"{top}/{id}/{arch}/{branch}/active")
                if active is not None:
                    yield active, f"{id}/{arch}/{branch}"
