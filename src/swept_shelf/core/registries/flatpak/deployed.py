"""What stands deployed in an installation, as flatpak keeps it: a link to the commit's folder, and a `deploy` file in that.

The file is a GVariant of the type (ssasta{sv}): remote, commit, parts that were chosen, size, more (GLib: GVariant serialisation)."""

from __future__ import annotations

from dataclasses import dataclass

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base
from swept_shelf.core.machine.machine import Machine

_MOST = 1 << 20


@dataclass(frozen=True, slots=True)
class Deployed:
    ref: str
    commit: str
    origin: str
    parts: tuple[str, ...] = ()


def deployed(machine: Machine, place: str, ref: str) -> Deployed | None:
    """None where nothing of the name is deployed. Raises CouldNotRead."""
    link = machine.readlink(f"{place}/{ref}/active")
    if link is None:
        return None
    commit = base("/" + link)
    path = f"{place}/{ref}/{commit}/deploy"
    origin, _, parts = read_deploy(machine.read_bytes(path, _MOST), path)
    return Deployed(ref, commit, origin, parts)


def read_deploy(data: bytes, path: str) -> tuple[str, str, tuple[str, ...]]:
    """(remote, commit, parts). Raises CouldNotRead."""
    width = _width(len(data))
    ends = [
        int.from_bytes(data[len(data) - width * n : len(data) - width * (n - 1)], "little") for n in (1, 2, 3)
    ]
    if not 0 < ends[0] < ends[1] <= ends[2] <= len(data) - 3 * width:
        raise CouldNotRead("does not say what is deployed", path)
    start = ends[1]
    return _text(data[: ends[0]]), _text(data[ends[0] : ends[1]]), _texts(data[start : ends[2]], path)


def _texts(data: bytes, path: str) -> tuple[str, ...]:
    if not data:
        return ()
    width = _width(len(data))
    table = int.from_bytes(data[-width:], "little")
    if not 0 < table <= len(data) - width or (len(data) - table) % width:
        raise CouldNotRead("does not say what is deployed", path)
    ends = [int.from_bytes(data[i : i + width], "little") for i in range(table, len(data), width)]
    starts = [0, *ends[:-1]]
    if any(not s < e <= table for s, e in zip(starts, ends, strict=True)):
        raise CouldNotRead("does not say what is deployed", path)
    return tuple(_text(data[s:e]) for s, e in zip(starts, ends, strict=True))


def _width(size: int) -> int:
    """Bytes of a framing offset in a container of this size."""
    return 1 if size < 1 << 8 else 2 if size < 1 << 16 else 4


def _text(data: bytes) -> str:
    return data.split(b"\0", 1)[0].decode("utf-8", "replace")
