"""Programs that no registry lists, put together to one each from folder, launchers, links and pictures.

A launcher names what it starts. Without one, a folder in the usual places is a program when it holds a machine-code
executable near its top; a lone file in a bin folder when it is one itself: scripts there are somebody's own work."""

from __future__ import annotations

import os
import re
from collections import defaultdict
from collections.abc import Collection, Iterator

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent, ways_up
from swept_shelf.core.documents.version_control import VERSION_CONTROL
from swept_shelf.core.machine.people import EVERYONE, person_of
from swept_shelf.core.registries.entry import Reading, Registered
from swept_shelf.core.registries.launchers import LauncherFile
from swept_shelf.core.registries.unregistered.shape import looks_like_a_program
from swept_shelf.core.tree.icon_themes import is_a_themes

_PLACES = ("/opt", "/usr/local", "/srv")
_PERSONAL_PLACES = (".local/opt", "Applications", "opt", "bin", ".local/bin", ".local/lib")
_FOLDERS = ("/opt", "/usr/local/lib", "/usr/local/share", "/usr/local/games")
_PERSONAL_FOLDERS = (".local/opt", "Applications", "opt", ".local/lib", "bin")
_BINS = ("/usr/local/bin", "/usr/local/sbin", "/usr/local/games")
_PERSONAL_BINS = ("bin", ".local/bin", "go/bin")
_PICTURES = ("/usr/local/share/icons", "/usr/local/share/pixmaps")
_PERSONAL_PICTURES = (".local/share/icons", ".icons")
_SHARED = ("bin", "sbin", "games", "lib", "share", "etc", "include", "man", "src")
_OWN_WORK = (*VERSION_CONTROL, "Makefile", "CMakeLists.txt", "Cargo.toml", "pyproject.toml", "package.json")
_HOME_FOLDERS = (
    "Desktop",
    "Documents",
    "Downloads",
    "Music",
    "Pictures",
    "Public",
    "Templates",
    "Videos",
    "snap",
)
_WORKSPACES = ("go",)  # of a language: what is in its bin folder was built one by one
_LOOKED_AT_MOST = 200
_VERSION = re.compile(r"^(.+?)[-_ ]v?(\d+(?:\.\d+)*[\w.]*)(?:[-_ ].*)?$")


def read(
    reading: Reading, launchers: list[LauncherFile], owned: Collection[str], listed: Collection[str]
) -> list[Registered]:
    """One program each. `owned`, `listed`: files and folders of packages; what `reading` found already is another's."""
    taken = {t for r in reading.found for t in r.tops}
    homes = [home for _, home in reading.homes()]
    found: dict[str, list[LauncherFile]] = {}
    programs: dict[str, dict[str, None]] = defaultdict(dict)

    def free(path: str) -> bool:
        return path in reading.tree and path not in owned and not any(up in taken for up in ways_up(path))

    for launcher in launchers:
        if launcher.visible and (started := _started(reading, launcher)):
            program = _followed(reading, reading.tree.real(started))
            top = _top(reading, program, homes) if free(program) else ""
            if top and not looks_like_a_program(reading.tree, top, program):
                top = program
            if top and reading.may_declare(person_of(reading.people, launcher.path), top):
                found.setdefault(top, []).append(launcher)
                programs[top][program] = None
    for folder in _folders(reading, homes):
        if (
            folder not in found
            and folder not in listed
            and free(folder)
            and not _somebodys_work(reading, folder)
        ):
            commands = _machine_code(reading, folder)
            if commands and looks_like_a_program(reading.tree, folder, commands[0]):
                found[folder] = []
                programs[folder].update(dict.fromkeys(commands))
    for folder, program in _tools(reading, homes):
        if folder not in found and free(folder) and not any(t.startswith(folder + "/") for t in taken):
            found[folder] = []
            programs[folder][program] = None
    links: dict[str, list[str]] = defaultdict(list)
    commands = sorted(_commands(reading, homes), key=lambda c: reading.tree.kind(c) == "link")
    for path in commands:  # what a link leads to is known before it
        program = _followed(reading, path)
        top = next((up for up in ways_up(program) if up in found), "")
        if not top and path != program and free(program) and (top := _environment(reading, program)):
            found[top] = []
        if top and reading.tree.kind(path) == "link":
            links[top].append(path)
            programs[top][program] = None
        elif path == program and not top and free(path) and _is_machine_code(reading, path):
            found[path] = []
            programs[path][path] = None
    return [_program(reading, top, found[top], list(programs[top]), links[top]) for top in sorted(found)]


def _program(
    reading: Reading, top: str, launchers: list[LauncherFile], programs: list[str], links: list[str]
) -> Registered:
    shown = next(iter(launchers), None)
    match = _VERSION.match(base(top).removesuffix(".AppImage"))
    whose = person_of(reading.people, top)
    pictures = _pictures(reading, {lf.icon for lf in launchers})
    started = (
        sorted({_followed(reading, x) for x in links} | {p for p in programs if launchers}) or programs[:1]
    )
    return Registered(
        id=f"files:{top}",
        name=shown.name if shown and shown.name else match[1] if match else base(top).lstrip("."),
        version=match[2] if match else "",
        registry="files",
        source="no registry",
        tops=(top, *links, *pictures),
        receipt=shown.path if shown else top,
        type="desktop" if shown else "terminal",
        summary=shown.comment if shown else "",
        person="" if whose == EVERYONE else whose,
        executables=tuple(started),
        launchers=tuple(lf.path for lf in launchers),
    )


def _started(reading: Reading, launcher: LauncherFile) -> str:
    """The program that a launcher starts: as it names it, or by the name of a command where an installer by hand puts those."""
    if "/" in launcher.executable or not launcher.executable:
        return launcher.executable if launcher.executable.startswith("/") else ""
    home = next((home for _, home in reading.homes() if launcher.path.startswith(home + "/")), "")
    bins = [*(f"{home}/{p}" for p in _PERSONAL_BINS if home), *_BINS]
    return next((path for b in bins if (path := f"{b}/{launcher.executable}") in reading.tree), "")


def _top(reading: Reading, program: str, homes: list[str]) -> str:
    """The first folder below a usual place that holds the program; in a shared folder the program alone; "" elsewhere."""
    places = [*_PLACES, *(f"{h}/{p}" for h in homes for p in _PERSONAL_PLACES), *homes]
    place = next((p for p in places if program.startswith(p + "/")), None)
    if place is None:
        return ""
    rest = program[len(place) + 1 :].split("/")
    if place in homes and (len(rest) == 1 or rest[0].startswith(".") or rest[0] in _HOME_FOLDERS):
        return program
    if place == "/usr/local" and rest[0] in ("lib", "share", "games") and len(rest) > 2:
        return f"{place}/{rest[0]}/{rest[1]}"
    if rest[0] in _SHARED or len(rest) == 1:
        return program
    top = f"{place}/{rest[0]}"
    return f"{top}/{rest[1]}" if place == "/opt" and _is_a_makers(reading, top) else top


def _is_a_makers(reading: Reading, folder: str) -> bool:
    """Whether a folder holds nothing but several programs' folders: each is one."""
    tree, children = reading.tree, reading.tree.children(folder)
    return (
        all(tree.kind(c) == "folder" and base(c) not in _SHARED for c in children)
        and sum(bool(_machine_code(reading, c)) for c in children[:_LOOKED_AT_MOST]) > 1
    )


def _folders(reading: Reading, homes: list[str]) -> Iterator[str]:
    tree = reading.tree
    for place in (*_FOLDERS, *(f"{h}/{p}" for h in homes for p in _PERSONAL_FOLDERS)):
        for folder in (c for c in tree.children(place) if tree.kind(c) == "folder"):
            if place == "/opt" and _is_a_makers(reading, folder):
                yield from tree.children(folder)
            else:
                yield folder
    for home in homes:
        yield from (
            c
            for c in tree.children(home)
            if tree.kind(c) == "folder"
            and not base(c).startswith(".")
            and base(c) not in (*_HOME_FOLDERS, *_PERSONAL_FOLDERS, *_WORKSPACES)
        )


def _tools(reading: Reading, homes: list[str]) -> Iterator[tuple[str, str]]:
    """(hidden folder of a home, program in its bin folder that is called like it): tools that install themselves so."""
    tree = reading.tree
    for home in homes:
        for folder in tree.children(home):
            name = base(folder)
            program = f"{folder}/bin/{name[1:]}"
            if (
                name.startswith(".")
                and program in tree
                and tree.executable[tree.where[program]]
                and not _somebodys_work(reading, folder)
                and looks_like_a_program(tree, folder, program)
            ):
                yield folder, program


def _commands(reading: Reading, homes: list[str]) -> Iterator[str]:
    for place in (*_BINS, *(f"{h}/{p}" for h in homes for p in _PERSONAL_BINS)):
        yield from (c for c in reading.tree.children(place) if reading.tree.kind(c) in ("file", "link"))


def _somebodys_work(reading: Reading, folder: str) -> bool:
    return any(f"{folder}/{name}" in reading.tree for name in _OWN_WORK)


def _environment(reading: Reading, program: str) -> str:
    """The environment that a command was installed into for itself (PEP 405): called like something, and nobody's work."""
    folder = parent(parent(program))
    named = base(folder).strip(".") not in ("venv", "env", "virtualenv")
    ours = named and f"{folder}/pyvenv.cfg" in reading.tree and base(parent(program)) == "bin"
    return "" if not ours or any(_somebodys_work(reading, f) for f in (folder, parent(folder))) else folder


def _machine_code(reading: Reading, folder: str) -> list[str]:
    """Executables of machine code at most three folders down, nearest first; libraries are none."""
    tree, top = reading.tree, folder.count("/")
    part = tree.slice(folder)
    near = [
        tree.paths[i]
        for i in part
        if tree.is_file[i] and tree.executable[i] and tree.paths[i].count("/") - top <= 3
    ]
    near = [p for p in near if not re.search(r"\.so(\.|$)", base(p))]
    near.sort(key=lambda p: (p.count("/"), p))
    return [p for p in near[:_LOOKED_AT_MOST] if _is_machine_code(reading, p)]


def _is_machine_code(reading: Reading, path: str) -> bool:
    i = reading.tree.where[path]
    if not (reading.tree.is_file[i] and reading.tree.executable[i]):
        return False
    try:
        fd = reading.machine.open(path)
    except (OSError, CouldNotRead):
        return False  # another's file that may not be read: the walk has said so
    with os.fdopen(fd, "rb") as handle:
        return handle.read(4) == b"\x7fELF"


def _pictures(reading: Reading, names: set[str]) -> list[str]:
    """Pictures of these names where an installer by hand puts them."""
    tree = reading.tree
    plain = {n for n in names if n and "/" not in n}
    places = (
        [*_PICTURES, *(f"{home}/{p}" for _, home in reading.homes() for p in _PERSONAL_PICTURES)]
        if plain
        else []
    )
    return [
        tree.paths[i]
        for place in places
        for i in tree.slice(place)
        if tree.is_file[i]
        and base(tree.paths[i]).rsplit(".", 1)[0] in plain
        and not is_a_themes(tree, tree.paths[i])
    ]


def _followed(reading: Reading, path: str) -> str:
    tree = reading.tree
    for _ in range(20):
        if tree.kind(path) != "link":
            return path
        leads = tree.target(path)
        path = tree.real(leads if leads.startswith("/") else f"{parent(path)}/{leads}")
    return path
