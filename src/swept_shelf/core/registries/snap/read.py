"""Reads snaps: GET /v2/snaps on the service's socket; on a mounted disk the image files, launchers and data folders."""

from __future__ import annotations

import re
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.terms import Kind
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.machine.people import EVERYONE
from swept_shelf.core.registries.entry import Data, Kept, Reading, Registered
from swept_shelf.core.registries.images import text_inside
from swept_shelf.core.registries.launchers import main_launcher, read_launcher
from swept_shelf.core.registries.snap import service
from swept_shelf.core.registries.snap.service import SOCKET

PLACE = "/var/lib/snapd"
IMAGES = f"{PLACE}/snaps"
LAUNCHERS = f"{PLACE}/desktop/applications"
DATA = "/var/snap"
_TIMEOUT = 10.0
_COPIED = "its data as it was when its successor came"
_NOT_APPLICATIONS = ("base", "os", "core", "kernel", "gadget", "snapd")


def read(reading: Reading) -> None:
    machine = reading.machine
    if service.answers(machine):
        try:
            rows = service.rows(machine, _TIMEOUT)
        except CouldNotRead as error:
            reading.trouble(SOCKET, f"{error.reason}; its folders were read")
        else:
            reading.each(
                list(dict.fromkeys(str(r.get("name", "")) for r in rows)),
                lambda name: _told(reading, name, rows),
            )
            return
    if machine.exists(IMAGES):
        _from_folders(reading)


def _told(reading: Reading, name: str, rows: list[dict[str, Any]]) -> None:
    """One snap by the service's own words; each old revision that it keeps is a line of its own."""
    mine = [r for r in rows if r.get("name") == name]
    row = next((r for r in mine if r.get("status") == "active"), mine[0])
    if str(row.get("type", "app")) in _NOT_APPLICATIONS:
        return  # what snaps run on belongs to the system
    launchers = tuple(str(a["desktop-file"]) for a in row.get("apps", []) if a.get("desktop-file"))
    shown, summary = _shown(reading, launchers, name)
    tops = tuple(t for t in (_image(name, row.get("revision")),) if t in reading.tree)
    older = [m for m in mine if m is not row and _image(name, m.get("revision")) in reading.tree]
    numbers = [str(m.get("revision")) for m in older]
    called = str(row.get("title") or shown or name)
    for number, m in zip(numbers, older, strict=True):
        _older(reading, name, called, number, str(m.get("version", "")))
    broken = str(row.get("broken", ""))
    at = _time(str(row.get("install-date", "")))
    services = any("daemon" in a for a in row.get("apps", []))
    publisher = row.get("publisher")
    reading.found.append(
        Registered(
            id=f"snap:{name}",
            name=called,
            version=str(row.get("version", "")),
            registry="snap",
            source=f"Snap, {row['channel']}" if row.get("channel") else "Snap",
            tops=tops,
            receipt=tops[0] if tops else SOCKET,
            type="desktop" if shown else "service" if services else "terminal",
            state=f"broken: {broken}" if broken else "installed",
            summary=str(row.get("summary", "")) or summary,
            publisher=str(publisher.get("display-name", "") if isinstance(publisher, dict) else ""),
            homepage=str(row.get("website", "")),
            launchers=launchers,
            packages=(name,),
            own_packages=(name,),
            asked_for=True,
            executables=tuple(
                f"/snap/bin/{_command(name, str(a.get('name', '')))}"
                for a in row.get("apps", [])
                if "daemon" not in a
            ),
            installed_first=at,
            installed_last=at,
            data=tuple(_data(reading, name, numbers)),
            reinstallable=True,
        )
    )


def _image(name: str, revision: object) -> str:
    return f"{IMAGES}/{name}_{revision}.snap"


def _older(reading: Reading, name: str, called: str, number: str, version: str) -> None:
    """A revision that nothing runs on: a line of its own with the data that was copied for its successor; one from a file without
    a signature would come back under another number, and is only listed."""
    path = _image(name, number)
    if number.startswith("x"):
        way = f"snap remove {name} --revision={number}"
        said = f"older revision {number} of {name}"
        reading.kept.append(Kept("snap_revisions", f"{name}_{number}", said, path, EVERYONE, way))
        return
    data = [Data(f"{DATA}/{name}/{number}", EVERYONE, Kind.STATE, _COPIED)]
    data += [
        Data(f"{home}/snap/{name}/{number}", person.name, Kind.SUPPORT, _COPIED)
        for person, home in reading.homes()
    ]
    reading.found.append(
        Registered(
            id=f"snap:{name}/{number}",
            name=f"{called}, older revision {number}",
            version=version,
            registry="snap",
            source="Snap",
            tops=(path,),
            receipt=path,
            type="runtime",
            packages=(f"{name}/{number}",),
            own_packages=(f"{name}/{number}",),
            asked_for=False,
            installed_last=from_ns(int(reading.tree.mtime[reading.tree.where[path]])),
            data=tuple(d for d in data if d.path in reading.tree),
            reinstallable=False,
        )
    )


def _command(snap: str, app: str) -> str:
    return snap if app == snap else f"{snap}.{app}"


def _shown(reading: Reading, launchers: tuple[str, ...], name: str) -> tuple[str, str]:
    """Name and comment of the launcher that shows a snap of this name."""
    read = []
    for path in launchers:
        try:
            read.append(read_launcher(reading.machine, path))
        except CouldNotRead as error:
            reading.trouble(error.path or path, error.reason)
    main = main_launcher(read, name)
    return (main.name, main.comment) if main else ("", "")


def _time(text: str) -> datetime | None:
    try:
        found = datetime.fromisoformat(re.sub(r"(\.\d{6})\d+", r"\1", text))
    except ValueError:
        return None
    return found.astimezone(UTC) if found.tzinfo else None


def _from_folders(reading: Reading) -> None:
    """Image files NAME_REVISION.snap, launchers NAME_APP.desktop, and data."""
    images: dict[str, list[str]] = {}
    for path in reading.tree.children(IMAGES):
        if match := re.fullmatch(r"(.+)_(x?\d+)\.snap", base(path)):
            images.setdefault(match[1], []).append(path)

    def one(name: str) -> None:
        tops = sorted(images[name], key=_revision)
        said = _said_inside(reading, tops[-1])
        if said.get("type", "app") in _NOT_APPLICATIONS:
            return
        numbers = [_number(t) for t in tops[:-1]]
        launchers = tuple(c for c in reading.tree.children(LAUNCHERS) if base(c).startswith(f"{name}_"))
        shown, summary = _shown(reading, launchers, name)
        for number in numbers:
            _older(reading, name, shown or name, number, "")
        at = from_ns(int(reading.tree.mtime[reading.tree.where[tops[-1]]]))
        reading.found.append(
            Registered(
                id=f"snap:{name}",
                name=shown or name,
                version=str(said.get("version", "")),
                registry="snap",
                source="Snap",
                tops=tuple(tops[-1:]),
                receipt=tops[-1],
                type="desktop" if shown else "terminal",
                summary=str(said.get("summary", "")) or summary,
                launchers=launchers,
                packages=(name,),
                own_packages=(name,),
                installed_last=at,
                data=tuple(_data(reading, name, numbers)),
            )
        )

    reading.each(list(images), one)


def _revision(path: str) -> tuple[bool, int]:
    """The order of revisions: those installed from a file (x1, x2 ...) before the store's."""
    number = _number(path)
    return not number.startswith("x"), int(number.lstrip("x"))


def _number(path: str) -> str:
    return base(path).removesuffix(".snap").rsplit("_", 1)[1]


def _said_inside(reading: Reading, path: str) -> dict[str, Any]:
    """What the image says of itself (meta/snap.yaml); nothing, with a note, where that cannot be read."""
    import yaml

    try:
        with reading.machine.opened(path) as handle:
            said = yaml.safe_load(text_inside(handle, 0, "meta", "snap.yaml", path))
    except (CouldNotRead, yaml.YAMLError) as error:
        reading.trouble(path, getattr(error, "reason", "") or str(error).split("\n")[0])
        return {}
    return said if isinstance(said, dict) else {}


def _data(reading: Reading, name: str, older: list[str]) -> Iterator[Data]:
    """All but what was copied for those of the `older` revisions that are lines of their own."""
    older = [number for number in older if not number.startswith("x")]
    for child in reading.tree.children(f"{DATA}/{name}"):
        if reading.tree.kind(child) == "folder" and base(child) not in older:
            yield Data(child, EVERYONE, Kind.STATE, "the data folder of its snap")
    for person, home in reading.homes():
        for child in reading.tree.children(f"{home}/snap/{name}"):
            if reading.tree.kind(child) == "folder" and base(child) not in older:
                yield Data(child, person.name, Kind.SUPPORT, "the data folder of its snap")
