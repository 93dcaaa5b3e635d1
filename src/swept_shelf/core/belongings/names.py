"""The names by which an application's own places can be known, and places named inside its programs."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Collection, Iterable, Iterator
from dataclasses import dataclass
from functools import partial

import numpy as np

from swept_shelf.core.applications.assemble import Known
from swept_shelf.core.belongings.common import is_common, is_distinctive, normal
from swept_shelf.core.belongings.read_before import ReadBefore, Row
from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.references.pointees import bus_names
from swept_shelf.core.registries.debian.package import DebianRegistry
from swept_shelf.core.tree.walk import Tree

COMMANDS = ("/usr/bin/", "/usr/sbin/", "/usr/games/", "/usr/libexec/")
_READ_AT_MOST = 4 << 20
_READ_IN_ALL = 48 << 20
_HOME = re.compile(
    rb"(?<![\w.])\.(config|cache|local/share|local/state)/([\w.+@-][\w.+@ -]{0,60}(?:/[\w.+@-]{1,60})?)"
)
_SYSTEM = re.compile(rb"/(var/lib|var/cache|var/log|var/spool|var/run|run)/([\w.+@-]{2,60})")
_UNIT = re.compile(
    r"^(StateDirectory|CacheDirectory|LogsDirectory|ConfigurationDirectory|RuntimeDirectory)=(.*)$", re.M
)
_TMPFILES = re.compile(r"^\s*[a-zA-Z][!+=~^-]*\s+(/\S+)", re.M)
_LOGROTATE = re.compile(r"^[ \t]*((?:[\"']?/[^\n{#]+\s*)+)\{", re.M)
_SYSTEM_TOPS = (
    "/var/lib/",
    "/var/cache/",
    "/var/log/",
    "/var/spool/",
    "/var/tmp/",
    "/etc/",
    "/srv/",
    "/run/",
)
_UNIT_PLACES = {
    "StateDirectory": "/var/lib",
    "CacheDirectory": "/var/cache",
    "LogsDirectory": "/var/log",
    "ConfigurationDirectory": "/etc",
    "RuntimeDirectory": "/run",
}


@dataclass(frozen=True, slots=True)
class Declared:
    """A place that an application's own file names: `place` below each home (no leading /) or absolute."""

    place: str
    source: str
    line: int
    text: str


# What a distribution puts behind the name of what it built a program from, for the toolkit it was built with.
_BUILT_WITH = re.compile(r"-(qt|gtk|kde|gnome|sdl|x11|fltk|ncurses|ncursesw|tk|wx)\d*$")


def own_names(app: Known, files: Collection[str]) -> dict[str, str]:
    """Normalised names that are this application's, with where each comes from; too short or too ordinary ones only where two
    of its package, its launcher and its program are called so."""
    found: dict[str, str] = {}
    doubtful: dict[str, set[str]] = defaultdict(set)

    def add(name: str, source: str) -> None:
        if is_distinctive(name):
            found.setdefault(normal(name), source)
        elif len(normal(name)) > 1 and source in ("its package", "its launcher", "its program"):
            doubtful[normal(name)].add(source)

    for package in app.own_packages[:1]:
        add(
            package.rsplit(".", 1)[0] if app.registry == "rpm" else package.split(":")[0].split("/")[0],
            "its package",
        )
    for launcher in app.launchers:
        add(launcher.id, "its launcher")
        add(launcher.name, "its name")
        add(launcher.window_class, "its window")
    for path in {*app.executables, *(f for f in files if f.startswith(COMMANDS))}:
        add(base(path), "its program")
    for name, said_by in doubtful.items():
        if len(said_by) > 1:
            found.setdefault(name, " and ".join(sorted(said_by)))
    for bus in bus_names(files):
        add(bus, "its bus name")
    for top in app.tops if app.registry == "files" else ():
        add(base(top), "its folder")
    return found


def without_toolkits(apps: Iterable[Known], names: dict[str, dict[str, str]]) -> None:
    """Add to `names` (by application) what an application is called without the toolkit it was built with: its package is
    (thing-qt), what that was made from (thing) says so, a program of that very name is there, and no other application is called
    so."""
    taken = {name for own in names.values() for name in own}
    for app in apps:
        package = app.own_packages[0].split(":")[0] if app.own_packages else ""
        plain = _BUILT_WITH.sub("", package)
        if (
            plain != package
            and app.package
            and plain == app.package.source
            and normal(plain) not in taken
            and any(base(path) == package for path in app.executables)
        ):
            names[app.id][normal(plain)] = "its package and its program"


def names_in_common(
    registry: DebianRegistry | None, system: Iterable[str], programs: Iterable[str]
) -> dict[str, str]:
    """Normalised names of what is nobody's alone, with what is called so: packages of the system, what they are made from, and
    programs that no application has for itself."""
    found: dict[str, str] = {}
    sources = {package: registry.packages[package].source for package in system} if registry else {}
    for package, source in sources.items():
        for name in (package.split(":")[0], source):
            if is_distinctive(name):
                found.setdefault(normal(name), f"the package {package}")
    for path in programs:
        if is_distinctive(base(path)):
            found.setdefault(normal(base(path)), path)
    return found


def distinct(names: dict[str, dict[str, str]]) -> dict[str, str]:
    """Names that only one application has: normalised name to application."""
    users: dict[str, set[str]] = defaultdict(set)
    for id, own in names.items():
        for name in own:
            users[name].add(id)
    return {name: next(iter(ids)) for name, ids in users.items() if len(ids) == 1}


def declared_places(
    machine: Machine, tree: Tree, files: list[str], before: ReadBefore | None = None
) -> Iterator[Declared]:
    """Places named in an application's units and programs (path literals); made_by_packages.py reads its package's scripts."""
    before = before or ReadBefore()
    for path in files:
        if path.endswith((".service", ".socket")) and "/systemd/" in path:
            text = machine.text(path)
            for match in _UNIT.finditer(text):
                number = text.count("\n", 0, match.start()) + 1
                for name in match[2].split():
                    yield Declared(f"{_UNIT_PLACES[match[1]]}/{name}", path, number, match[0])
        elif "/tmpfiles.d/" in path or path.startswith("/etc/logrotate.d/"):
            pattern = _TMPFILES if "/tmpfiles.d/" in path else _LOGROTATE
            text = machine.text(path)
            for match in pattern.finditer(text):
                for place in re.findall(r"/[^\s\"'{}*?\[]+", match[1]):
                    top = re.sub(r"^/var/run/", "/run/", place.rstrip("/"))
                    if top.startswith(_SYSTEM_TOPS) and not is_common(base(top), True):
                        yield Declared(
                            top,
                            path,
                            text.count("\n", 0, match.start(1)) + 1,
                            " ".join(match[0].split())[:120],
                        )
    left = _READ_IN_ALL
    for path in _programs(tree, files):
        if left <= 0:
            return
        entry = tree.entry(path)
        most = min(_READ_AT_MOST, left)
        if entry is None:
            continue
        try:
            if entry.identity.size > left:  # the end of what is read depends on all before it
                rows = _named(machine, path, most)
            else:
                rows = before.rows(path, entry.identity, partial(_named, machine, path, most))
        except CouldNotRead:
            continue
        left -= min(most, entry.identity.size)
        yield from (Declared(place, path, line, text) for place, line, text in rows)


def _named(machine: Machine, path: str, most: int) -> list[Row]:
    data = machine.read_bytes(path, most)
    return [
        (place, data.count(b"\n", 0, hit.start()) + 1, hit[0].decode("ascii", "replace"))
        for hit in _matches(data)
        if (place := _place(hit))
    ]


def _place(hit: re.Match[bytes]) -> str:
    """The place that a match names, as `Declared` has it; "" for what many programs name."""
    top, name = hit[1].decode(), hit[2].decode("ascii", "ignore")
    if hit.re is _HOME:
        name = name.rstrip(". ")
        return "" if is_common(name.split("/")[0], False) else f".{top}/{name}"
    return "" if is_common(name, True) else f"/{top.replace('var/run', 'run')}/{name}"


def _matches(data: bytes) -> Iterator[re.Match[bytes]]:
    """What in a program's bytes reads like a place below a home, then like one of the system.

    Only where a slash with the right byte beside it stands: many times faster on program code than the patterns alone."""
    around = np.frombuffer(data, np.uint8)
    slashes = np.flatnonzero(around[1:-1] == ord("/")) + 1
    behind = around[slashes - 1]
    for last, length in ((b"g", 7), (b"e", 6), (b"l", 6)):  # .config/ .cache/ .local/
        for at in slashes[behind == ord(last)].tolist():
            if at >= length and (match := _HOME.match(data, at - length)):
                yield match
    following = around[slashes + 1]
    for at in slashes[(following == ord("v")) | (following == ord("r"))].tolist():
        if match := _SYSTEM.match(data, at):
            yield match


def _programs(tree: Tree, files: list[str]) -> list[str]:
    """Files of an application that can name places: programs, libraries, scripts; smallest first."""
    there = [(path, i) for path in files if (i := tree.where.get(path)) is not None]
    positions = np.array([i for _, i in there], dtype=np.int64)
    sizes, starts = tree.sizes[positions], tree.executable[positions].tolist()
    fit = (tree.is_file[positions] & (sizes <= _READ_AT_MOST * 8)).tolist()
    wanted = [
        (size, path)
        for (path, _), size, fits, start in zip(there, sizes.tolist(), fit, starts, strict=True)
        if fits and (start or "/lib/" in path or path.startswith("/opt/"))
    ]
    return [p for _, p in sorted(wanted)]
