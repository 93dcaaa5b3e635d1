"""Runs `find` over a root, on two processors at once: the tree is cut into parts, their rows put in folder order."""

from __future__ import annotations

import os
import re
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import folder_order, join, parent
from swept_shelf.core.documents.survey import NotRead
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.volumes import mount_points
from swept_shelf.core.tree.remember import NOT_TRUSTED, TRUSTED, Reuse, compare, recall
from swept_shelf.core.tree.rows import COLUMNS, FORMAT, PATHS, Reader, Rows

_CALLS = 8
_LEVELS = 4
_LARGE = (
    "./usr/",
    "./var/",
    "./home/",
    "./opt/",
    "./srv/",
)  # where a part of the second level may be most of the tree
_WIDE = 24  # below them, a folder with so many folders is cut further, and so is every home
_ARGUMENTS = 100_000


@dataclass(frozen=True, slots=True)
class Found:
    """Columns over all rows, a folder directly followed by everything below it; `paths()` in the same order."""

    columns: dict[str, NDArray[np.generic]]
    paths: Callable[[], list[str]]
    not_read: list[NotRead]
    reused: int = 0


def find_all(
    machine: Machine, skipped: Iterable[str], told: Callable[[int], None] = lambda _: None, before: str = ""
) -> Found:
    """Every path of the root, never through links, never into a holding shelf. `told` gets the number of paths so far;
    `before` is the folder of a survey whose walk may be taken from; `reused` counts the paths that were.

    Raises CouldNotRead when nothing can be walked."""
    left_out = [f".{p}" for p in (*skipped, *_shelves(machine))]
    as_patterns = [re.sub(r"([*?\[\\])", r"\\\1", p) for p in left_out]
    with machine.handed("/") as (place, fd):
        kept = recall(before) if before else None
        reuse = compare(kept, place) if kept is not None else None
        opened, parts = _cut(place, {*skipped, TRUSTED} if reuse else set(skipped))
        if reuse:
            opened += reuse.opened
            parts += reuse.parts + ([f".{NOT_TRUSTED}"] if machine.exists(NOT_TRUSTED) else [])

        def find(tops: list[str], *tests: str) -> tuple[Rows, str]:
            reader = Reader()
            with os.fdopen(os.memfd_create("paths"), "rb", buffering=0) as paths:
                number = paths.fileno()
                done = run(
                    "find",
                    *tops,
                    "-ignore_readdir_race",
                    *tests,
                    "-printf",
                    FORMAT,
                    "-fprintf",
                    f"/proc/self/fd/{number}",
                    PATHS,
                    cwd=place,
                    fds=[fd, number],
                    timeout=3600,
                    taking=reader.take,
                )
                return reader.rows(os.pread(number, os.fstat(number).st_size, 0)), done.err

        jobs: list[tuple[list[str], tuple[str, ...]]] = [
            (opened[i : i + 500], ("-maxdepth", "1")) for i in range(0, len(opened), 500)
        ]
        crossed = {p for p in parts if p == "." or any(x == p or x.startswith(p + "/") for x in left_out)}
        jobs += [(tops, ()) for tops in _shared_out([p for p in parts if p not in crossed])]
        left = ["(", *(x for path in as_patterns for x in ("-o", "-path", path))][2:]
        jobs += [(tops, ("(", *left, ")", "-prune", "-o")) for tops in _shared_out(sorted(crossed))]
        made: list[tuple[Rows, str]] = []
        total = 0
        with ThreadPoolExecutor(max(2, min(4, os.cpu_count() or 2))) as pool:
            for (_, tests), (rows, errors) in zip(
                jobs, pool.map(lambda job: find(job[0], *job[1]), jobs), strict=True
            ):
                made.append((rows, errors))
                total += len(rows) - (int(_parts_of_others(rows).sum()) if "-maxdepth" in tests else 0)
                told(total)
    if not total:
        raise CouldNotRead(
            f"could not be walked: {made[0][1].strip()[:200] if made else 'no such folder'}", machine.root
        )
    return _together(made, jobs, reuse)


def _cut(place: str, skipped: set[str]) -> tuple[list[str], list[str]]:
    """Folders that are listed here, and the parts below them that are walked each on its own. Paths begin with '.'."""
    opened: list[str] = []
    parts = ["."]
    for level in range(_LEVELS):
        deeper: list[str] = []
        for part in parts:
            inner = _folders(place, part, skipped) if level < 2 or part.startswith(_LARGE) else None
            if inner is None or (level >= 2 and len(inner) < _WIDE and parent(part) != "./home"):
                deeper.append(part)
            else:
                opened.append(part)
                deeper += inner
        parts = deeper
    return opened, parts


def _folders(place: str, part: str, skipped: set[str]) -> list[str] | None:
    """Folders directly below a part; None where it cannot be listed, or has to be left to find."""
    if part.startswith("./home/") and part.endswith("/.local/share"):
        return None
    try:
        with os.scandir(f"{place}/{part}") as listing:
            names = [e.name for e in listing if e.is_dir(follow_symlinks=False)]
    except OSError:
        return None
    inner = (f"{part}/{name}" for name in names if name != SHELF)
    return [p for p in inner if p[1:] not in skipped]


def _shelves(machine: Machine) -> list[str]:
    """Holding shelves that are there: at the tops of volumes and top folders, and in homes. A test for their names on every
    path would cost as much as half the walk."""
    tops = {*mount_points(machine), *(f"/{n}" for n in machine.names("/"))}
    homes = [f"/home/{n}" for n in machine.names("/home")]
    places = [join(top, SHELF) for top in (*sorted(tops), *homes)] + [
        f"{home}/.local/share/swept-shelf" for home in homes
    ]
    return [p for p in dict.fromkeys(places) if machine.exists(p)]


def _shared_out(parts: list[str]) -> list[list[str]]:
    """Dealt out like cards: neighbours are of one kind, and a call that got all the large ones would be waited for."""
    calls = min(len(parts), max(_CALLS, sum(len(p) + 1 for p in parts) // _ARGUMENTS + 1))
    return [parts[i::calls] for i in range(calls)]


def _together(
    made: list[tuple[Rows, str]], jobs: list[tuple[list[str], tuple[str, ...]]], reuse: Reuse | None
) -> Found:
    """All rows in folder order: single rows, whole parts and remembered pieces sorted by path, each as it was printed."""
    pieces: list[tuple[str, int, int]] = []
    offset = 0
    for (rows, _), (tops, tests) in zip(made, jobs, strict=True):
        if "-maxdepth" not in tests:
            pieces += _whole_parts(rows, tops, offset)
        else:
            pieces += _own_entries(rows, offset)
        offset += len(rows)
    if reuse:
        made = [*made, (reuse.rows, "")]
        pieces += [(folder_order(reuse.rows.path(a)), offset + a, offset + b) for a, b in reuse.pieces]
    pieces.sort()
    order = np.concatenate([np.arange(a, b) for _, a, b in pieces]) if pieces else np.zeros(0, dtype=np.int64)
    columns = {
        name: np.concatenate([rows.columns.pop(name) for rows, _ in made])[order] for name in COLUMNS
    }  # not held twice
    texts = [rows for rows, _ in made]

    def paths() -> list[str]:
        flat: list[str] = []
        while texts:
            flat += texts.pop(0).paths()
        return [flat[i] for i in order.tolist()]

    reused = sum(b - a for a, b in reuse.pieces) if reuse else 0
    return Found(columns, paths, list(_not_read("\n".join(errors for _, errors in made))), reused)


def _whole_parts(rows: Rows, tops: list[str], offset: int) -> Iterator[tuple[str, int, int]]:
    """Where in the rows of one call each of its parts begins and ends: parts are printed one after the other."""
    begins = np.flatnonzero(rows.columns["depth"] == 0).tolist()
    # One that is gone meanwhile has no row: then each is asked for its path.
    known = [top[1:] or "/" for top in tops] if len(begins) == len(tops) else [rows.path(i) for i in begins]
    for begin, end, path in zip(begins, [*begins[1:], len(rows)], known, strict=True):
        yield folder_order(path), offset + begin, offset + end


def _own_entries(rows: Rows, offset: int) -> Iterator[tuple[str, int, int]]:
    """Of folders that are listed alone: themselves, and what they hold apart from folders, which are parts."""
    for i, (path, is_part) in enumerate(zip(rows.paths(), _parts_of_others(rows).tolist(), strict=True)):
        if not is_part:
            yield folder_order(path), offset + i, offset + i + 1


def _parts_of_others(rows: Rows) -> NDArray[np.bool_]:
    """The folders in folders that are listed alone: each is a part, and has its row there too."""
    parts: NDArray[np.bool_] = (rows.columns["depth"] != 0) & (rows.columns["type"] == ord("d"))
    return parts


def _not_read(errors: str) -> Iterator[NotRead]:
    for line in errors.splitlines():
        text = line.removeprefix("find: ").lstrip("‘'")
        path, _, reason = text.rpartition(": ")
        path = path.rstrip("’'")
        if path.startswith(".") and reason != "No such file or directory":
            yield NotRead(
                path[1:] or "/", "may not be read" if reason == "Permission denied" else reason.lower()
            )
