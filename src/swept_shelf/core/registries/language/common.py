"""What the readers of language tools' receipts share."""

from __future__ import annotations

import json
from collections.abc import Callable, Collection, Iterable
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import compiled_from, parent, within
from swept_shelf.core.documents.times import from_ns
from swept_shelf.core.registries.entry import Reading


def each_folder(reading: Reading, folder: str, act: Callable[[str], None]) -> None:
    reading.each([c for c in reading.tree.children(folder) if reading.tree.kind(c) == "folder"], act)


def read_json(reading: Reading, path: str) -> Any:
    """Raises CouldNotRead."""
    try:
        return json.loads(reading.machine.read_bytes(path))
    except RecursionError:
        raise CouldNotRead("is not JSON: it is nested without end", path) from None
    except ValueError as error:
        raise CouldNotRead(f"is not JSON: {str(error)[:80]}", path) from None


def written(reading: Reading, path: str) -> dict[str, Any]:
    entry = reading.tree.entry(path)
    return {"installed_last": from_ns(entry.mtime_ns)} if entry else {}


def links_into(reading: Reading, links: Iterable[str], folder: str) -> list[str]:
    """Those that are links and lead into the folder: a receipt names what anybody may have put there."""
    tree = reading.tree
    found = []
    for path in dict.fromkeys(links):
        if path in tree and tree.kind(path) == "link":
            leads = tree.target(path)
            real = tree.real(leads if leads.startswith("/") else f"{parent(path)}/{leads}")
            if within(real, folder):
                found.append(path)
    return found


def whole_places(reading: Reading, files: Collection[str], top: str) -> list[str]:
    """What these files are below `top`, outermost: a folder where nothing in it is anybody else's (byte code beside counts as
    its source's), else each file."""
    tree = reading.tree
    mine = set(files)
    found: list[str] = []

    def own(path: str) -> bool:
        return path in mine or compiled_from(path) in mine

    def down(path: str) -> bool:
        """Whether all of it is ours; what is ours of it is noted where not."""
        if tree.kind(path) != "folder":
            return own(path)
        children = tree.children(path)
        ours = [c for c in children if down(c)]
        if len(ours) == len(children) and children:
            return True
        found.extend(ours)
        return False

    for child in tree.children(top):
        if any(within(f, child) for f in mine) and down(child):
            found.append(child)
    return found
