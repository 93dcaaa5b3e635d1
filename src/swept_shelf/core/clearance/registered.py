"""What the registry says now: states of packages and the files that are its own."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian import read as debian

LET_IT_MEND = "let the registry mend itself first: dpkg --configure -a"


def registered(machine: Machine) -> tuple[dict[str, str], dict[str, str], str]:
    """Status by package, the files registries own with the sums of settings files, and why the registry could not be read."""
    if not debian.present(machine):
        return {}, {}, ""
    try:
        packages = debian.query(machine)
    except CouldNotRead as error:
        return {}, {}, error.reason
    there = [p for p in packages if p.installed]
    owned = {path: "" for p in there for f in p.files for path in (f, f"/usr{f}")}
    owned |= {c.path: c.md5 for p in there for c in p.conffiles}
    return {p.name: p.status for p in packages}, owned, ""


def is_installed(states: Mapping[str, str], packages: Iterable[str]) -> bool:
    """Whether any of the packages is here, whole or half, by what `registered` said."""
    return any(states.get(p, "not-installed") not in ("not-installed", "config-files") for p in packages)
