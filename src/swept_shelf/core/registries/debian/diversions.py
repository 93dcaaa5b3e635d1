"""Diversions: where a file of a package really stands when another package's took its name (dpkg-divert(1))."""

from __future__ import annotations

from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.package import Package

FILE = "/var/lib/dpkg/diversions"


def diversions(machine: Machine) -> dict[str, tuple[str, str]]:
    """{path: (where the others' file of that name stands, package that keeps the name, ":" for the administrator)}."""
    lines = machine.text(FILE).split("\n")
    return {
        a: (b, c)
        for a, b, c in zip(lines[0::3], lines[1::3], lines[2::3], strict=False)
        if a.startswith("/") and b.startswith("/")
    }


def stands_at(path: str, package: Package, diverted: dict[str, tuple[str, str]]) -> str:
    """Where `package`'s file of that name stands."""
    to, keeps = diverted.get(path, (path, package.plain_name))
    return path if keeps == package.plain_name else to
