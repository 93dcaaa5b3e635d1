"""Places that a person's environment names: the configuration, data, state and cache folders (XDG Base Directory
Specification), and whatever else it sets to a path."""

from __future__ import annotations

import re
import stat
from collections.abc import Iterator

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import is_clean, within
from swept_shelf.core.documents.survey import Person
from swept_shelf.core.machine.machine import Machine

USUAL = {
    "XDG_CONFIG_HOME": ".config",
    "XDG_DATA_HOME": ".local/share",
    "XDG_STATE_HOME": ".local/state",
    "XDG_CACHE_HOME": ".cache",
}
_SETTINGS = (
    ".profile",
    ".bash_profile",
    ".bashrc",
    ".xprofile",
    ".xsessionrc",
    ".zshenv",
    ".zprofile",
    ".pam_environment",
)
_SETS = re.compile(
    r"^\s*(?:export\s+)?([A-Za-z_]\w*)(?:\s+DEFAULT)?=[\"']?([^\s\"';#:]+)[\"']?(?=[\s;#]|$)", re.M
)


def base_folders(machine: Machine, person: Person) -> dict[str, str]:
    """The usual folder's name (.config, .local/share, .local/state, .cache) to where it is for this person. The last word counts;
    what does not lie below the root as a clean path, or is another's, is left as usual."""
    told = {
        name: path
        for name, path in named_places(machine, person).items()
        if name in USUAL and _is_theirs(machine, person, path)
    }
    return {usual: told.get(name, f"{person.home}/{usual}") for name, usual in USUAL.items()}


_DESKTOP = re.compile(r'^XDG_DESKTOP_DIR="([^"]*)"', re.M)  # user-dirs.dirs(5)


def person_folders(machine: Machine, person: Person) -> dict[str, str]:
    """The same with the home and the desktop, which is called as the person's language has it: ~ ~config ~data ~cache ~desktop."""
    usual = base_folders(machine, person)
    said = _DESKTOP.search(machine.text(f"{usual['.config']}/user-dirs.dirs"))
    desktop = said[1].replace("$HOME", person.home).rstrip("/") if said else f"{person.home}/Desktop"
    if not is_clean(desktop) or desktop == person.home or not _is_theirs(machine, person, desktop):
        desktop = f"{person.home}/Desktop"
    return {
        "~": person.home,
        "~config": usual[".config"],
        "~data": usual[".local/share"],
        "~cache": usual[".cache"],
        "~desktop": desktop,
    }


def _is_theirs(machine: Machine, person: Person, path: str) -> bool:
    """In their home, or a real folder of their own elsewhere: nobody's settings make another's folder theirs."""
    if within(path, person.home):
        return True
    try:
        status = machine.lstat(path)
    except CouldNotRead:
        return False
    return (
        status is not None
        and stat.S_ISDIR(status.st_mode)
        and status.st_uid == person.uid
        and machine.resolve(path) == path
    )


def named_places(machine: Machine, person: Person) -> dict[str, str]:
    """Every name that this person's environment gives to one path, with the path: neither the root nor a home or above."""
    found: dict[str, str] = {}
    for text in _texts(machine, person):
        for match in _SETS.finditer(text):
            path = (
                re.sub(r"^(~|\$HOME|\$\{HOME\}|@\{HOME\})(?=/|$)", person.home, match[2])
                .replace("$USER", person.name)
                .rstrip("/")
            )
            if is_clean(path) and path != "/" and not within(person.home, path):
                found[match[1]] = path
    return found


def _texts(machine: Machine, person: Person) -> Iterator[str]:
    folders = ("/etc/environment.d", f"{person.home}/.config/environment.d")
    paths = [
        "/etc/environment",
        *(f"{f}/{n}" for f in folders for n in machine.names(f) if n.endswith(".conf")),
    ]
    for path in (*paths, *(f"{person.home}/{n}" for n in _SETTINGS)):
        try:
            yield machine.text(path)
        except CouldNotRead:
            continue  # the walk names what may not be read
