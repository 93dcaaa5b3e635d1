"""Runs `find` over a root, on two processors at once: the tree is cut into parts, their rows put in folder order."""

from __future__ import annotations

import contextlib
import os
import re
from collections.abc import Callable, Iterable, Iterator
from concurrent.futures import ThreadPoolExecutor, wait
from dataclasses import dataclass
from typing import BinaryIO

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import folder_order, join
from swept_shelf.core.documents.survey import NotRead
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.machine.volumes import mount_points
from swept_shelf.core.tree.cut import cut, shared_out
from swept_shelf.core.tree.remember import NOT_TRUSTED, TRUSTED, Reuse, compare, recall
from swept_shelf.core.tree.rows import COLUMNS, FORMAT, PATHS, ROW, Rows, read

_LISTED = ("-maxdepth", "1")  # folders that are listed alone
_BREATH = 0.25  # seconds between two words of how far it is


_Job = tuple[list[str], tuple[str, ...]]  # where a call begins, and its tests
_Piece = tuple[str, int, int]  # what it is sorted by, and its rows


@dataclass(frozen=True, slots=True)
class _Walked:
    """What one call printed, and where its pieces begin and end."""

    rows: Rows
    pieces: list[_Piece]
    errors: str


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
        opened, parts = cut(place, {*skipped, TRUSTED} if reuse else set(skipped))
        if reuse:
            opened += reuse.opened
            parts += reuse.parts + ([f".{NOT_TRUSTED}"] if machine.exists(NOT_TRUSTED) else [])

        jobs: list[_Job] = [(opened[i : i + 500], _LISTED) for i in range(0, len(opened), 500)]
        crossed = {p for p in parts if p == "." or any(x == p or x.startswith(p + "/") for x in left_out)}
        jobs += [(tops, ()) for tops in shared_out([p for p in parts if p not in crossed])]
        left = ["(", *(x for path in as_patterns for x in ("-o", "-path", path))][2:]
        jobs += [(tops, ("(", *left, ")", "-prune", "-o")) for tops in shared_out(sorted(crossed))]
        calls = _Calls(place, fd, jobs)
        with ThreadPoolExecutor(max(2, min(4, os.cpu_count() or 2))) as pool:
            begun = [pool.submit(calls.make, number) for number in range(len(jobs))]
            while wait(begun, _BREATH).not_done:
                told(calls.so_far())
        made = [call.result() for call in begun]
    total = sum(end - begin for walked in made for _, begin, end in walked.pieces)
    told(total)
    if not total:
        raise CouldNotRead(
            f"could not be walked: {made[0].errors.strip()[:200] if made else 'no such folder'}", machine.root
        )
    return _together(made, reuse)


class _Calls:
    """The calls of find over one root, each made in a thread of its own."""

    def __init__(self, place: str, fd: int, jobs: list[_Job]) -> None:
        self._place, self._fd, self._jobs = place, fd, jobs
        self._seen = [0] * len(jobs)
        self._written: dict[int, BinaryIO] = {}

    def make(self, number: int) -> _Walked:
        """Raises CouldNotRead when find was ended before its end."""
        tops, tests = self._jobs[number]
        # Into files in memory: of a pipe, each side would wake the other for every page.
        with _in_memory("rows") as rows, _in_memory("paths") as paths:
            if tests != _LISTED:
                self._written[number] = rows
            done = run(
                "find",
                *tops,
                "-ignore_readdir_race",
                *tests,
                "-fprintf",
                f"/proc/self/fd/{rows.fileno()}",
                FORMAT,
                "-fprintf",
                f"/proc/self/fd/{paths.fileno()}",
                PATHS,
                cwd=self._place,
                fds=[self._fd, rows.fileno(), paths.fileno()],
                timeout=3600,
            )
            if done.status not in (0, 1):  # 1: something could not be read, and is named
                raise CouldNotRead("the walk was cut off")
            found = read(rows, paths)
            pieces = list(_own_entries(found, tops) if tests == _LISTED else _whole_parts(found, tops))
            self._written.pop(number, None)
            self._seen[number] = sum(end - begin for _, begin, end in pieces)
        return _Walked(found, pieces, done.err)

    def so_far(self) -> int:
        """How many paths have been seen, each once; while a call runs, what it has written."""
        for number, rows in [*self._written.items()]:
            with contextlib.suppress(OSError, ValueError):  # closed meanwhile
                self._seen[number] = os.fstat(rows.fileno()).st_size // ROW
        return sum(self._seen)


def _in_memory(name: str) -> BinaryIO:
    return os.fdopen(os.memfd_create(name), "rb", buffering=0)


def _shelves(machine: Machine) -> list[str]:
    """Holding shelves that are there: at the tops of volumes and top folders, and in homes. A test for their names on every
    path would cost as much as half the walk."""
    tops = {*mount_points(machine), *(f"/{n}" for n in machine.names("/"))}
    homes = [f"/home/{n}" for n in machine.names("/home")]
    places = [join(top, SHELF) for top in (*sorted(tops), *homes)] + [
        f"{home}/.local/share/swept-shelf" for home in homes
    ]
    return [p for p in dict.fromkeys(places) if machine.exists(p)]


def _together(made: list[_Walked], reuse: Reuse | None) -> Found:
    """All rows in folder order: single rows, whole parts and remembered pieces sorted by path, each as it was printed."""
    texts = [walked.rows for walked in made]
    errors = "\n".join(walked.errors for walked in made)
    pieces: list[_Piece] = []
    offset = 0
    for walked in made:
        pieces += [(key, offset + begin, offset + end) for key, begin, end in walked.pieces]
        offset += len(walked.rows)
    if reuse:
        texts.append(reuse.rows)
        pieces += [(folder_order(reuse.rows.path(a)), offset + a, offset + b) for a, b in reuse.pieces]
    pieces.sort()
    begins, ends = (np.array([piece[k] for piece in pieces], dtype=np.int64) for k in (1, 2))
    lengths = ends - begins
    stops = np.cumsum(lengths)
    order = np.arange(stops[-1] if pieces else 0) + np.repeat(begins - stops + lengths, lengths)
    columns = {
        name: np.concatenate([rows.columns.pop(name) for rows in texts])[order] for name in COLUMNS
    }  # not held twice

    def paths() -> list[str]:
        flat: list[str] = []
        while texts:
            flat += texts.pop(0).paths()
        return [flat[i] for i in order.tolist()]

    reused = sum(b - a for a, b in reuse.pieces) if reuse else 0
    return Found(columns, paths, list(_not_read(errors)), reused)


def _whole_parts(rows: Rows, tops: list[str]) -> Iterator[_Piece]:
    """Where in the rows of one call each of its parts begins and ends: parts are printed one after the other."""
    begins = rows.positions_of(tops)
    ends = [*(begin for begin, _ in begins[1:]), len(rows)]
    for (begin, top), end in zip(begins, ends, strict=False):
        yield folder_order(top[1:] or "/"), begin, end


def _own_entries(rows: Rows, tops: list[str]) -> Iterator[_Piece]:
    """Of folders that are listed alone: themselves, and what they hold but for folders: each of those is a part, and has its
    row there too."""
    own: NDArray[np.bool_] = rows.columns["type"] != ord("d")
    own[[position for position, _ in rows.positions_of(tops)]] = True
    for i, (path, is_own) in enumerate(zip(rows.paths(), own.tolist(), strict=True)):
        if is_own:
            yield folder_order(path), i, i + 1


def _not_read(errors: str) -> Iterator[NotRead]:
    for line in errors.splitlines():
        text = line.removeprefix("find: ").lstrip("‘'")
        path, _, reason = text.rpartition(": ")
        path = path.rstrip("’'")
        if path.startswith(".") and reason != "No such file or directory":
            yield NotRead(
                path[1:] or "/", "may not be read" if reason == "Permission denied" else reason.lower()
            )
