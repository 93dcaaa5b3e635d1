"""Names of places as they stand inside programs: which program, library or script holds the very name of a folder.

Read once per file: what an earlier survey found in a file that is as it was is taken from there."""

from __future__ import annotations

import json
import os
import re
from collections import defaultdict
from collections.abc import Iterable
from dataclasses import dataclass, field
from pathlib import Path

import numpy as np

from swept_shelf.core.belongings.program_texts import Searched, search
from swept_shelf.core.belongings.read_before import stamp_of
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.tree.walk import Tree

KEPT = "literals.json"
_NAMES_PLACES = re.compile(
    r"\.(so(\.[\d.]+)?|pyc?|pl|rb|js|jar|zip|whl|egg|dll|exe|sh|lua|tcl|gir|typelib|gschema\.xml)$"
)


@dataclass(slots=True)
class Literals(Searched):
    """`holders`: per name the files that hold it."""

    holders: dict[str, list[str]] = field(default_factory=lambda: defaultdict(list))


def find_literals(
    machine: Machine, tree: Tree, files: Iterable[str], names: Iterable[str], before: str = "", keep: str = ""
) -> Literals:
    """Search `files` for `names`, whole and in the letters they are written in, as UTF-8 or UTF-16.

    `before`, `keep`: survey folders from which earlier findings are taken and in which these are left."""
    wanted = sorted({n for n in names if len(n) > 2 and "\n" not in n})
    known = _kept(before)
    new_names = [n for n in wanted if n not in known.names]
    everything = set(wanted)
    found = Literals()
    fresh: list[str] = []
    stale: list[str] = []
    stamps: dict[str, int] = {}
    hits: dict[str, set[str]] = defaultdict(set)
    for path in sorted(set(files)):
        i = tree.where.get(path)
        if i is None or not tree.is_file.item(i) or not (size := tree.sizes.item(i)):
            continue
        stamps[path] = stamp_of(size, tree.mtime.item(i), tree.ctime.item(i))
        stamp, before_in = known.files.get(path, (0, ()))
        if stamp == stamps[path]:
            if here := set(before_in) & everything:
                hits[path] |= here
            stale.append(path)
        else:
            fresh.append(path)
    for paths, looked_for in ((fresh, wanted), (stale, new_names)):
        if paths and looked_for:
            for path, name in search(machine, tree, paths, looked_for, found):
                hits[path].add(name)
    for path, _ in found.not_read:
        stamps.pop(path, None)  # looked at again next time
    for path, inside in hits.items():
        for name in inside:
            found.holders[name].append(path)
    for holders in found.holders.values():
        holders.sort()
    if keep:
        files = {path: [stamp, sorted(hits.get(path, ()))] for path, stamp in stamps.items()}
        Path(keep, KEPT).write_text(json.dumps([wanted, files]))
    return found


@dataclass(frozen=True, slots=True)
class _Kept:
    """`files`: per path its stamp and which of `names` stand in it."""

    names: frozenset[str] = frozenset()
    files: dict[str, tuple[int, tuple[str, ...]]] = field(default_factory=dict)


def _kept(folder: str) -> _Kept:
    """What an earlier survey left; nothing where it left none or it is broken."""
    try:
        names, files = json.loads(Path(folder or os.devnull, KEPT).read_bytes())
        return _Kept(
            frozenset(names), {path: (stamp, tuple(inside)) for path, (stamp, inside) in files.items()}
        )
    except (OSError, ValueError, TypeError, AttributeError):
        return _Kept()


def program_files(tree: Tree, paths: Iterable[str]) -> list[str]:
    """Of `paths` those that can name a place: what can be started, libraries, scripts and archives of programs."""
    there = [(p, i) for p in paths if (i := tree.where.get(p)) is not None]
    positions = np.array([i for _, i in there], dtype=np.int64)
    is_file, starts = tree.is_file[positions].tolist(), tree.executable[positions].tolist()
    found = zip(there, is_file, starts, strict=True)
    return [p for (p, _), file, start in found if file and (start or _NAMES_PLACES.search(p))]
