"""Diversions: where a file of a package really stands when another package's took its name (dpkg-divert(1))."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.registries.debian.package import Package

FILE = "/var/lib/dpkg/diversions"


def diversions(machine: Machine) -> dict[str, tuple[str, str]]:
    """{path: (where the others' file of that name stands, package that keeps the name, ":" for the administrator)}."""
    return {
        a: (b, c)
        for _, a, b, c in read_diversions(machine.text(FILE))
        if a.startswith("/") and b.startswith("/")
    }


def read_diversions(text: str) -> Iterator[tuple[int, str, str, str]]:
    """(line, what is put aside, where to, for which package) of each row."""
    lines = text.split("\n")
    for i in range(0, len(lines) - 2, 3):
        yield i + 1, lines[i], lines[i + 1], lines[i + 2]


def stands_at(path: str, package: Package, diverted: dict[str, tuple[str, str]]) -> str:
    """Where `package`'s file of that name stands."""
    to, keeps = diverted.get(path, (path, package.plain_name))
    return path if keeps == package.plain_name else to
