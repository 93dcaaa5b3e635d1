"""Reads Flatpak installations: applications, the runtimes they keep, remotes, and each person's data folder.

INSTALLATION/{app,runtime}/ID/ARCH/BRANCH/active is a link to the deployed commit, with metadata (flatpak-metadata(5)),
files/ and export/; `deploy` begins with the remote's name."""

from __future__ import annotations

import configparser
import re
from collections.abc import Iterator
from dataclasses import dataclass
from functools import partial

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.documents.terms import Kind
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.registries.entry import Data, Reading, Registered
from swept_shelf.core.registries.flatpak.runtimes import Runtimes, deployed_below, runtimes_of
from swept_shelf.core.registries.launchers import main_launcher, read_launcher

SYSTEM = "/var/lib/flatpak"
PERSONAL = ".local/share/flatpak"
_DATA = (("cache", Kind.CACHE), ("config", Kind.PREFERENCES), ("data", Kind.SUPPORT))


@dataclass(frozen=True, slots=True)
class _Installation:
    """`apps`: (folder of the deployed commit, ID/ARCH/BRANCH); `whose`: how the ids of what it has begin."""

    place: str
    person: Person | None
    apps: list[tuple[str, str]]
    runtimes: Runtimes
    config: configparser.ConfigParser
    remotes: dict[str, str]

    @property
    def whose(self) -> str:
        return f"flatpak:{self.person.name if self.person else 'system'}"

    def can_come_back(self, origin: str) -> bool | None:
        return origin in self.remotes if self.remotes or origin else None


def read(reading: Reading) -> None:
    places: list[tuple[str, Person | None]] = [
        (SYSTEM, None),
        *((f"{home}/{PERSONAL}", p) for p, home in reading.homes()),
    ]
    found = [_installation(reading, place, person) for place, person in places if place in reading.tree]
    for common in (i for i in found if i.person is None):
        for own in (i for i in found if i.person is not None):
            common.runtimes.lent(own.whose, own.runtimes)
    for installation in found:
        _all_of(reading, installation)


def _installation(reading: Reading, place: str, person: Person | None) -> _Installation:
    apps = list(deployed_below(reading.machine, f"{place}/app"))
    runtimes = runtimes_of(reading.machine, place, apps, partial(_metadata, reading))
    config = _config(reading, place)
    return _Installation(place, person, apps, runtimes, config, _remotes(config))


def _all_of(reading: Reading, here: _Installation) -> None:
    refs = dict(here.apps)

    def one(active: str) -> None:
        reading.found.append(_application(reading, here, active, refs[active]))

    reading.each(list(refs), one)
    shared = (here.runtimes.with_parts(r) for r in here.runtimes.shared())
    reading.found.extend(_runtime(reading, here, p) for p in (*here.runtimes.unused().values(), *shared))


def _metadata(reading: Reading, active: str) -> configparser.ConfigParser:
    parser = configparser.ConfigParser(strict=False, interpolation=None)
    parser.optionxform = str  # type: ignore[assignment, method-assign]
    try:
        parser.read_string(reading.machine.read_text(f"{active}/metadata"))
    except configparser.Error as error:
        raise CouldNotRead(
            f"is not a key file: {str(error).splitlines()[0][:80]}", f"{active}/metadata"
        ) from None
    return parser


def _application(reading: Reading, here: _Installation, active: str, ref: str) -> Registered:
    machine, id = reading.machine, ref.split("/")[0]
    place, person, runtimes = here.place, here.person, here.runtimes
    known = _metadata(reading, active)
    if not known.has_section("Application"):
        raise CouldNotRead("has no [Application]", f"{active}/metadata")
    runtime = known.get("Application", "runtime", fallback="")
    exported = f"{active}/export/share/applications"
    launchers = [f"{exported}/{n}" for n in machine.names(exported) if n.endswith(".desktop")]
    read = []
    for path in launchers:
        try:
            read.append(read_launcher(machine, path))
        except CouldNotRead as error:
            reading.trouble(error.path, error.reason)
            continue
    shown = main_launcher(read, id)
    version, publisher, homepage = _release(reading, active, id)
    origin = _origin(reading, active)
    own = [ref, *runtimes.of_one(ref, runtime)]
    own += [r for r in runtimes.folders if r.startswith(f"{id}.") and r not in own]
    tops = [f"{place}/app/{id}"] if len(machine.names(f"{place}/app/{id}")) <= 3 else [active]
    tops += [f"{place}/runtime/{r}" for r in own[1:]]
    tops += _exports(reading, place, active)
    status = machine.lstat(f"{active}/deploy") or machine.lstat(active)
    at = from_ns(status.st_mtime_ns) if status else None
    people = [person] if person else reading.people
    return Registered(
        id=f"{here.whose}:{ref}",
        name=shown.name if shown else known.get("Application", "name", fallback=id),
        version=version,
        registry="flatpak",
        source=f"Flatpak from {origin}" if origin else "Flatpak",
        tops=tuple(tops),
        receipt=f"{active}/metadata",
        type="desktop" if shown else "terminal",
        summary=shown.comment if shown else "",
        publisher=publisher,
        homepage=homepage,
        person=person.name if person else "",
        executables=_executables(reading, active, known),
        asked_for=True,
        launchers=tuple(f"{place}/exports/share/applications/{base(p)}" for p in launchers),
        packages=tuple(own),
        own_packages=tuple(own),
        installed_first=at,
        installed_last=at,
        reinstallable=here.can_come_back(origin),
        data=tuple(d for p in people for d in _data(reading, p, id)),
    )


def _exports(reading: Reading, place: str, active: str) -> list[str]:
    """The links by which the installation offers what the application exports."""
    tree, top = reading.tree, f"{active}/export"
    files = (tree.paths[i] for i in tree.slice(top) if not tree.is_folder[i])
    found = (f"{place}/exports{path[len(top) :]}" for path in files)
    return [p for p in found if p in tree and tree.kind(p) == "link"]


def _runtime(reading: Reading, here: _Installation, parts: list[str]) -> Registered:
    """A runtime that no application here needs, or several do. Asked for where somebody pinned it."""
    ref, runtimes, person = parts[0], here.runtimes, here.person
    active = runtimes.folders[ref]
    users = [*(f"{here.whose}:{u}" for u in runtimes.users.get(ref, ())), *runtimes.elsewhere.get(ref, ())]
    id, _, branch = ref.split("/")
    origin, status = _origin(reading, active), reading.machine.lstat(active)
    at = from_ns(status.st_mtime_ns) if status else None
    several = f"{len(users)} Flatpak applications use" if len(users) > 1 else "one Flatpak application uses"
    return Registered(
        id=f"{here.whose}:{ref}",
        name=f"{' '.join(id.split('.')[1:]) or id} {branch}",
        version=branch,
        registry="flatpak",
        source=f"Flatpak from {origin}" if origin else "Flatpak",
        tops=tuple(f"{here.place}/runtime/{r}" for r in parts),
        receipt=f"{active}/metadata",
        type="runtime",
        summary=f"a runtime that {several if users else 'no Flatpak application here uses'}",
        person=person.name if person else "",
        asked_for=f"runtime/{ref}" in here.config.get("core", "xa.pinned", fallback="").split(";"),
        packages=tuple(parts),
        own_packages=tuple(parts),
        needed_by=tuple(users),
        installed_first=at,
        installed_last=at,
        reinstallable=here.can_come_back(origin),
    )


def _executables(reading: Reading, active: str, known: configparser.ConfigParser) -> tuple[str, ...]:
    command = known.get("Application", "command", fallback="")
    path = f"{active}/files/bin/{base('/' + command)}" if command else ""
    return (path,) if path in reading.tree else ()


def _release(reading: Reading, active: str, id: str) -> tuple[str, str, str]:
    """(version, publisher, homepage) by the application's own metainfo."""
    for folder, suffix in (
        ("metainfo", "metainfo.xml"),
        ("metainfo", "appdata.xml"),
        ("appdata", "appdata.xml"),
    ):
        text = reading.machine.text(f"{active}/files/share/{folder}/{id}.{suffix}")
        if text:
            found = [
                re.search(p, text, re.S)
                for p in (
                    r"<release[^>]*\bversion=[\"']([^\"']+)",
                    r"<developer_name[^>]*>([^<]+)<",
                    r"<url[^>]*type=[\"']homepage[\"'][^>]*>([^<]+)<",
                )
            ]
            version, publisher, homepage = (m[1].strip() if m else "" for m in found)
            return version, publisher, homepage
    return "", "", ""


def _origin(reading: Reading, active: str) -> str:
    """The remote it came from: the first string of the `deploy` file."""
    try:
        return (
            reading.machine.read_bytes(f"{active}/deploy", 4096).split(b"\0", 1)[0].decode("utf-8", "replace")
        )
    except CouldNotRead:
        return ""


def _config(reading: Reading, place: str) -> configparser.ConfigParser:
    parser = configparser.ConfigParser(strict=False, interpolation=None)
    try:
        parser.read_string(reading.machine.text(f"{place}/repo/config"))
    except (configparser.Error, CouldNotRead) as error:
        reading.trouble(f"{place}/repo/config", f"is not a key file: {str(error).splitlines()[0][:80]}")
        parser.clear()
    return parser


def _remotes(parser: configparser.ConfigParser) -> dict[str, str]:
    return {
        m[1]: parser.get(s, "url", fallback="")
        for s in parser.sections()
        if (m := re.fullmatch(r'remote "(.*)"', s))
    }


def _data(reading: Reading, person: Person, id: str) -> Iterator[Data]:
    top = f"{person.home}/.var/app/{id}"
    if top not in reading.tree:
        return
    known = dict(_DATA)
    yield Data(top, person.name, Kind.STATE, "its Flatpak data folder")
    for child in reading.tree.children(top):
        yield Data(child, person.name, known.get(base(child), Kind.STATE), "its Flatpak data folder")
