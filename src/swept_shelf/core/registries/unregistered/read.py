"""A program unpacked under /opt or in a home, put together from its launcher, folder and links."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

from swept_shelf.core.documents.paths import parent, within
from swept_shelf.core.registries.launchers import LauncherFile
from swept_shelf.core.tree import Tree

PLACES = ("/opt", "/usr/local", "/srv")
PERSONAL_PLACES = (".local/opt", "Applications", "bin", ".local/bin", ".local/lib")


@dataclass(frozen=True, slots=True)
class Unregistered:
    """`top` is the folder (or single file) that is the program; it is its id too."""

    top: str
    launcher: LauncherFile
    executable: str


def read(
    launchers: list[LauncherFile], owned: set[str], tree: Tree, homes: list[str], registered: Sequence[str] = ()
) -> list[Unregistered]:
    """One program per folder that a launcher owned by no registry starts from."""
    found: dict[str, Unregistered] = {}
    places = [*PLACES, *(f"{h}/{p}" for h in homes for p in PERSONAL_PLACES)]
    for launcher in launchers:
        if launcher.path in owned or not launcher.visible or not launcher.executable.startswith("/"):
            continue
        executable = tree.real(launcher.executable)
        executable = _followed(tree, executable)
        if executable in owned or executable not in tree or any(within(executable, r) for r in registered):
            continue
        place = next((p for p in places if within(executable, p) and executable != p), None)
        if place is None:
            continue
        top = _top(executable, place)
        found.setdefault(top, Unregistered(top, launcher, executable))
    return list(found.values())


def _followed(tree: Tree, path: str) -> str:
    for _ in range(20):
        entry = tree.entry(path)
        if entry is None or entry.type != "link":
            return path
        leads = tree.target(path)
        target = leads if leads.startswith("/") else f"{parent(path)}/{leads}"
        path = tree.real(target)
    return path


def _top(executable: str, place: str) -> str:
    """The first folder below the place; in a shared bin folder the executable alone."""
    rest = executable[len(place) + 1 :].split("/")
    if rest[0] in ("bin", "sbin", "games", "lib", "share") or len(rest) == 1:
        return executable
    return f"{place}/{rest[0]}"
