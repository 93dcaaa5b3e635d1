"""Launchers: desktop entries (freedesktop.org Desktop Entry Specification 1.5), wherever they stand."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import NotRead
from swept_shelf.core.grammars.commands import command_words, parse_entry, program_of
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.machine import Machine

SYSTEM_FOLDERS = (
    "/usr/share/applications",
    "/usr/local/share/applications",
    "/var/lib/flatpak/exports/share/applications",
    "/var/lib/snapd/desktop/applications",
)
PERSONAL_FOLDERS = (".local/share/applications", ".local/share/flatpak/exports/share/applications")


@dataclass(frozen=True, slots=True)
class LauncherFile:
    path: str
    id: str
    name: str
    comment: str
    executable: str
    icon: str
    categories: tuple[str, ...]
    visible: bool
    dbus: bool
    window_class: str


def read_launcher(machine: Machine, path: str) -> LauncherFile:
    """One launcher. Raises CouldNotRead when it is not UTF-8 or has no [Desktop Entry]."""
    data = machine.read_bytes(path, 1 << 20)
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError as error:
        line = data[: error.start].count(b"\n") + 1
        raise CouldNotRead(f"is not UTF-8 in line {line}", path) from None
    keys = {k: v for k, (_, v) in parse_entry(text).items()}
    if not keys:
        raise CouldNotRead("has no [Desktop Entry]", path)

    def on(key: str) -> bool:
        return keys.get(key, "").lower() == "true"

    visible = keys.get("Type", "Application") == "Application" and not on("NoDisplay") and not on("Hidden")
    return LauncherFile(
        path,
        base(path),
        keys.get("Name", base(path)),
        keys.get("Comment", ""),
        program_of(command_words(keys.get("Exec", ""))),
        keys.get("Icon", ""),
        tuple(c for c in keys.get("Categories", "").split(";") if c),
        visible,
        on("DBusActivatable"),
        keys.get("StartupWMClass", ""),
    )


def main_launcher(launchers: Iterable[LauncherFile], name: str) -> LauncherFile | None:
    """Which of its launchers shows what something called `name` is: none that only sets it up, then by file, by command, by the
    beginning of the name; None where none is visible."""
    return min(
        (lf for lf in launchers if lf.visible), key=lambda lf: _distance(lf, name.lower()), default=None
    )


def _distance(launcher: LauncherFile, name: str) -> tuple[bool, int, int, str]:
    tail = launcher.id.removesuffix(".desktop").lower().rpartition(".")[2]
    wanted = name.rpartition(".")[2] or name
    near = (
        0
        if tail == wanted
        else 1
        if base("/" + launcher.executable).lower() == wanted
        else 2
        if wanted.startswith(f"{tail}-")
        else 3
    )
    return "Settings" in launcher.categories, near, len(tail), launcher.path


def read_launchers(machine: Machine, homes: list[str]) -> tuple[list[LauncherFile], list[NotRead]]:
    """All launchers of the system and of every home, with those that could not be read."""
    found: list[LauncherFile] = []
    broken: list[NotRead] = []

    def trouble(path: str, reason: str) -> None:
        if machine.resolve(path):  # what is not there, or leads nowhere, is no broken launcher
            broken.append(NotRead(path, reason))

    for folder in (*SYSTEM_FOLDERS, *(f"{h}/{p}" for h in homes for p in PERSONAL_FOLDERS)):
        with fence(folder, trouble):
            for name in machine.names(folder):
                if name.endswith(".desktop"):
                    with fence(f"{folder}/{name}", trouble):
                        found.append(read_launcher(machine, f"{folder}/{name}"))
    return found, broken
