"""Links anywhere, and files with several names: what can lead to an application from where no kind of reference looks."""

from __future__ import annotations

import re
from collections import defaultdict
from collections.abc import Collection
from dataclasses import dataclass, field

import numpy as np

from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine.commands import run
from swept_shelf.core.machine.machine import SHELF, Machine
from swept_shelf.core.tree.walk import SKIPPED, Tree

Inode = tuple[str, int]  # with its file system, by which a file is known whatever it is called
_MOST = 500  # files that are looked for by their inode


@dataclass(slots=True)
class Elsewhere:
    """`links`: every symbolic link; `names`: the paths of files that have, or had, several names."""

    links: list[str] = field(default_factory=list)
    names: dict[Inode, list[str]] = field(default_factory=dict)


def in_tree(tree: Tree) -> Elsewhere:
    """By a walk of the whole root."""
    names: dict[Inode, list[str]] = defaultdict(list)
    several = np.flatnonzero((tree.links > 1) & tree.is_file).tolist()
    for i in several:
        identity = tree.entry_at(i).identity
        names[identity.file_system, identity.inode].append(tree.paths[i])
    return Elsewhere([tree.paths[i] for i in np.flatnonzero(tree.is_link).tolist()], names)


def on_disk(machine: Machine, files: Collection[Inode]) -> Elsewhere:
    """By a search of the whole root, for links and for other names of these files. Raises CouldNotRead."""
    found = Elsewhere()
    wanted = set(list(files)[:_MOST])
    numbers = [x for _, inode in sorted(wanted) for x in ("-o", "-inum", str(inode % (1 << 64)))]
    named = ["-o", "-type", "f", "(", *numbers[1:], ")"] if numbers else []
    away = [x for p in SKIPPED for x in ("-o", "-path", "." + re.sub(r"([*?\[\\])", r"\\\1", p))]
    with machine.handed("/") as (place, fd):
        said = run(
            # what is asked of every file comes first: to compare names takes find(1) most of its time
            "find", ".", "-ignore_readdir_race", "(", "-type", "l", *named, ")", "-printf", r"%y %D %i %p\0",
            "-o", "-type", "f", "-o", "(", "-name", SHELF, *away, ")", "-prune",
            cwd=place, fds=[fd],
        )  # fmt: skip
    for row in said.out.decode("utf-8", "surrogateescape").split("\0")[:-1]:
        kind, device, inode, path = row.split(" ", 3)
        if base(path) in (".", SHELF) or path[1:] in SKIPPED:
            continue
        if kind == "l":
            found.links.append(path[1:])
        elif kind == "f" and (key := (machine.file_system(int(device)), int(inode))) in wanted:
            found.names.setdefault(key, []).append(path[1:])
    found.links.sort()
    return found
