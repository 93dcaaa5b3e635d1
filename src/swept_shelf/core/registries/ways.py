"""How the applications of each registry go.

`TOOL`: its own tool removes their packages, and an original of each is kept before. `WHOLE`: its own tool uninstalls an application as
one, and the registry's store keeps it under a name of ours until the shelf is emptied. `PATHS`: what it lists goes to the shelf path by path, and its
few records are taken out of its books like anything else that points at them: the registry is what stands in these places, so no
tool has to be there, nothing of the machine is run, and put back is exact."""

from __future__ import annotations

from enum import StrEnum


class Way(StrEnum):
    TOOL = "tool"
    WHOLE = "whole"
    PATHS = "paths"


_UNREGISTERED = ("files", "appimage")
_HELD_IN = ("files", "game", "wine")
_OF_THE_SYSTEM = ("debian", "rpm")
_WAYS = {
    "debian": Way.TOOL,
    "flatpak": Way.WHOLE,
    "rpm": Way.WHOLE,
    "snap": Way.WHOLE,
    **dict.fromkeys((*_UNREGISTERED, "pipx", "pip", "npm", "cargo", "gem", "game", "wine"), Way.PATHS),
}


def way_of(registry: str) -> Way | None:
    """None where nothing can be removed through it."""
    return _WAYS.get(registry)


def names_in_its_store(registry: str) -> int:
    """Names of every file of an application that its registry's own store holds, and gives up with it."""
    return int(registry == "flatpak")


def has_packages(registry: str) -> bool:
    """Whether what it installs are the packages that the system's own files speak of."""
    return registry in _OF_THE_SYSTEM


def may_hold_peoples_own(registry: str) -> bool:
    """Whether people's own things lie inside its programs: saves of games, homes of a Windows prefix."""
    return registry in _HELD_IN


def keeps_books(registry: str) -> bool:
    """Whether there is a registry to be asked at all: a program in a folder, or a file, stands in none."""
    return registry not in _UNREGISTERED
