"""Links in folders that shells search, leading to a program."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import parent
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.references.hit import Hit
from swept_shelf.core.references.pointees import Pointees

FAMILY = "shell"


def places(home: str | None) -> list[str]:
    return (
        [f"{home}/bin", f"{home}/.local/bin"]
        if home
        else ["/usr/local/bin", "/usr/local/sbin", "/usr/local/games"]
    )


def find(machine: Machine, folder: str, to: Pointees) -> Iterator[Hit]:
    for name in machine.names(folder):
        path = f"{folder}/{name}"
        target = machine.readlink(path)
        if target:
            leads = target if target.startswith("/") else _plain(f"{parent(path)}/{target}")
            if id := to.program(leads):
                yield Hit(
                    id,
                    FAMILY,
                    "link",
                    path,
                    0,
                    target,
                    f"-> {target}",
                    "a link by which shells find it",
                    True,
                )


def _plain(path: str) -> str:
    done: list[str] = []
    for part in path.split("/"):
        if part == "..":
            done = done[:-1]
        elif part not in ("", "."):
            done.append(part)
    return "/" + "/".join(done)
