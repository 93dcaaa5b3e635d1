"""Reads Flatpak installations: applications, the runtimes they keep, remotes, and each person's data folder.

INSTALLATION/{app,runtime}/ID/ARCH/BRANCH/active is a link to the deployed commit, with metadata (flatpak-metadata(5)),
files/ and export/; `deploy` begins with the remote's name."""

from __future__ import annotations

import configparser
import re
from collections import defaultdict
from collections.abc import Iterator

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.documents.terms import Kind
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.registries.entry import Data, Reading, Registered
from swept_shelf.core.registries.launchers import read_launcher

SYSTEM = "/var/lib/flatpak"
PERSONAL = ".local/share/flatpak"
_DATA = (("cache", Kind.CACHE), ("config", Kind.PREFERENCES), ("data", Kind.SUPPORT))


def read(reading: Reading) -> None:
    places: list[tuple[str, Person | None]] = [
        (SYSTEM, None),
        *((f"{home}/{PERSONAL}", p) for p, home in reading.homes()),
    ]
    for place, person in places:
        if place in reading.tree:
            _installation(reading, place, person)


def _installation(reading: Reading, place: str, person: Person | None) -> None:
    users: dict[str, list[str]] = defaultdict(list)
    apps = [(active, ref) for active, ref in _deployed(reading, f"{place}/app")]
    for active, ref in apps:
        try:
            users[_metadata(reading, active).get("Application", "runtime", fallback="")].append(ref)
        except (CouldNotRead, configparser.Error):
            continue
    config = _config(reading, place)
    remotes = _remotes(config)

    def one(active: str) -> None:
        ref = next(r for a, r in apps if a == active)
        reading.found.append(_application(reading, place, person, active, ref, users, remotes))

    reading.each([a for a, _ in apps], one)
    for parts in _unused(reading, place, users).values():
        reading.found.append(_runtime(reading, place, person, parts, config, remotes))


def _deployed(reading: Reading, top: str) -> Iterator[tuple[str, str]]:
    """(folder of the deployed commit, ID/ARCH/BRANCH) of everything below `top`."""
    machine = reading.machine
    for id in machine.names(top):
        for arch in machine.names(f"{top}/{id}"):
            if arch in ("current", "data"):
                continue
            for branch in machine.names(f"{top}/{id}/{arch}"):
                active = machine.resolve(f"{top}/{id}/{arch}/{branch}/active")
                if active is not None:
                    yield active, f"{id}/{arch}/{branch}"


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


def _application(
    reading: Reading,
    place: str,
    person: Person | None,
    active: str,
    ref: str,
    users: dict[str, list[str]],
    remotes: dict[str, str],
) -> Registered:
    machine, id = reading.machine, ref.split("/")[0]
    known = _metadata(reading, active)
    if not known.has_section("Application"):
        raise CouldNotRead("has no [Application]", f"{active}/metadata")
    runtime = known.get("Application", "runtime", fallback="")
    exported = f"{active}/export/share/applications"
    launchers = [f"{exported}/{n}" for n in machine.names(exported) if n.endswith(".desktop")]
    shown = None
    for path in launchers:
        try:
            launcher = read_launcher(machine, path)
        except CouldNotRead as error:
            reading.trouble(error.path, error.reason)
            continue
        shown = shown or (launcher if launcher.visible else None)
    version, publisher, homepage = _release(reading, active, id)
    origin = _origin(reading, active)
    own = [ref, *([runtime] if users.get(runtime) == [ref] and _has_runtime(reading, place, runtime) else [])]
    own += [r for _, r in _deployed(reading, f"{place}/runtime") if r.startswith(f"{id}.") and r not in own]
    tops = [f"{place}/app/{id}"] if len(machine.names(f"{place}/app/{id}")) <= 3 else [active]
    tops += [f"{place}/runtime/{r}" for r in own[1:]]
    tops += _exports(reading, place, active)
    status = machine.lstat(f"{active}/deploy") or machine.lstat(active)
    whose = person.name if person else "system"
    at = from_ns(status.st_mtime_ns) if status else None
    people = [person] if person else reading.people
    return Registered(
        id=f"flatpak:{whose}:{ref}",
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
        reinstallable=origin in remotes if remotes or origin else None,
        data=tuple(d for p in people for d in _data(reading, p, id)),
    )


def _exports(reading: Reading, place: str, active: str) -> list[str]:
    """The links by which the installation offers what the application exports."""
    tree, top = reading.tree, f"{active}/export"
    files = (tree.paths[i] for i in tree.slice(top) if not tree.is_folder[i])
    found = (f"{place}/exports{path[len(top) :]}" for path in files)
    return [p for p in found if p in tree and tree.kind(p) == "link"]


def _unused(reading: Reading, place: str, users: dict[str, list[str]]) -> dict[str, list[tuple[str, str]]]:
    """(folder, ref) of runtimes that no application here needs, by the ref of each; what extends one is part of it."""
    idle = {
        r: a for a, r in _deployed(reading, f"{place}/runtime") if not users.get(r) and not _extends(r, users)
    }
    found: dict[str, list[tuple[str, str]]] = {}
    for ref in sorted(idle):
        id, architecture, _ = ref.split("/")
        whole = next(
            (
                other
                for other in found
                if id.startswith(other.split("/")[0] + ".") and other.split("/")[1] == architecture
            ),
            ref,
        )
        found.setdefault(whole, []).append((idle[ref], ref))
    return found


def _runtime(
    reading: Reading,
    place: str,
    person: Person | None,
    parts: list[tuple[str, str]],
    config: configparser.ConfigParser,
    remotes: dict[str, str],
) -> Registered:
    """A runtime that no application here needs: space that would come back. Asked for where somebody pinned it."""
    active, ref = parts[0]
    id, _, branch = ref.split("/")
    origin, status = _origin(reading, active), reading.machine.lstat(active)
    at = from_ns(status.st_mtime_ns) if status else None
    own = tuple(r for _, r in parts)
    return Registered(
        id=f"flatpak:{person.name if person else 'system'}:{ref}",
        name=f"{' '.join(id.split('.')[1:]) or id} {branch}",
        version=branch,
        registry="flatpak",
        source=f"Flatpak from {origin}" if origin else "Flatpak",
        tops=tuple(f"{place}/runtime/{r}" for r in own),
        receipt=f"{active}/metadata",
        type="runtime",
        summary="a runtime that no Flatpak application here uses",
        person=person.name if person else "",
        asked_for=f"runtime/{ref}" in config.get("core", "xa.pinned", fallback="").split(";"),
        packages=own,
        own_packages=own,
        installed_first=at,
        installed_last=at,
        reinstallable=origin in remotes if remotes or origin else None,
    )


def _extends(ref: str, users: dict[str, list[str]]) -> bool:
    """An extension (ID.Locale, ID.GL.x ...) of a runtime or application that is used."""
    id = ref.split("/")[0]
    used = {r.split("/")[0] for r in users if r} | {r.split("/")[0] for refs in users.values() for r in refs}
    family = {u.rsplit(".", 1)[0] for u in used if u.endswith((".Platform", ".Sdk"))}
    return any(id.startswith(u + ".") for u in used | family)


def _has_runtime(reading: Reading, place: str, ref: str) -> bool:
    return bool(ref) and f"{place}/runtime/{ref}" in reading.tree


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
