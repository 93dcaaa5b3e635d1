"""Launchers: desktop entries (freedesktop.org Desktop Entry Specification 1.5), wherever they stand."""

from __future__ import annotations

import re
import shlex
from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.documents.survey import NotRead
from swept_shelf.core.machine.fences import fence
from swept_shelf.core.machine.machine import Machine

SYSTEM_FOLDERS = (
    "/usr/share/applications",
    "/usr/local/share/applications",
    "/var/lib/flatpak/exports/share/applications",
    "/var/lib/snapd/desktop/applications",
)
PERSONAL_FOLDERS = (".local/share/applications", ".local/share/flatpak/exports/share/applications")


_LONGEST = 16 << 10  # characters of a command line


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


def parse_entry(text: str) -> dict[str, tuple[int, str]]:
    """Keys of [Desktop Entry] with their line numbers from 1; the first of a key counts."""
    group = ""
    found: dict[str, tuple[int, str]] = {}
    for number, line in enumerate(text.split("\n"), 1):
        stripped = line.strip()
        if stripped.startswith("[") and stripped.endswith("]"):
            group = stripped[1:-1]
        elif group == "Desktop Entry" and "=" in stripped and not stripped.startswith("#"):
            key, _, value = stripped.partition("=")
            found.setdefault(key.strip(), (number, value.strip()))
    return found


def command_words(text: str) -> list[str]:
    """The words of an Exec key, field codes left out; [] where the quoting is broken or it is longer than any command."""
    if len(text) > _LONGEST:
        return []
    try:
        return [w for w in shlex.split(text) if not re.fullmatch(r"%[a-zA-Z]", w)]
    except ValueError:
        return []


def program_of(words: list[str]) -> str:
    """The program a command line starts, past `env`, settings and wrappers that are not the program."""
    rest = list(words)
    while rest:
        word = rest.pop(0)
        if re.fullmatch(r"[A-Za-z_]\w*=.*", word) or base("/" + word) in (
            "env",
            "exec",
            "nohup",
            "nice",
            "ionice",
            "setsid",
        ):
            continue
        if base("/" + word) in ("sh", "bash", "dash") and rest:
            if rest[0] == "-c":
                return program_of(command_words(rest[1])) if len(rest) > 1 else ""
            return rest[0]
        return word
    return ""


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
