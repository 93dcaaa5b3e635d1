"""What the package tools wrote down: dpkg.log, and apt's history with who asked."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from datetime import UTC, datetime, tzinfo

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.masking import masked
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.unpacked import read_unpacked, rotated
from swept_shelf.core.machine.zone import zone
from swept_shelf.core.registries.debian.package import Asked, HistoryEvent

_ACTIONS = ("install", "upgrade", "remove", "purge")
Problems = list[tuple[str, str]]
Block = tuple[str, datetime, dict[str, str]]  # file, start and fields of one piece of work of apt's


def dpkg_history(machine: Machine, problems: Problems) -> Iterator[HistoryEvent]:
    """dpkg.log and its rotated parts, oldest first. Times there are local; taken as the machine's own zone."""
    here = zone(machine)
    for path in rotated(machine, "/var/log", "dpkg.log"):
        for number, line in enumerate(_lines(machine, path, problems), 1):
            parts = line.split(" ")
            if len(parts) == 6 and parts[2] in _ACTIONS and (at := _time(f"{parts[0]}T{parts[1]}", here)):
                version = parts[5] if parts[2] in ("install", "upgrade") else parts[4]
                yield HistoryEvent(at, parts[2], parts[3], version, path, number)


def asked(history: Iterable[Block]) -> dict[str, Asked]:
    """Per package (plain name) the first time apt installed it for somebody who named it, by apt's history."""
    found: dict[str, Asked] = {}
    for path, at, fields in history:
        who = re.sub(r"\s*\(\d+\)$", "", fields.get("Requested-By", "")) or (
            "root" if fields.get("Commandline") else ""
        )
        for name, more in re.findall(
            r"([a-z0-9][a-z0-9+.-]+)(?::[a-z0-9-]+)? \(([^)]*)\)", fields.get("Install", "")
        ):
            if "automatic" not in more:
                found.setdefault(name, Asked(at, who, masked(fields.get("Commandline", "")), path))
    return found


def commands(history: Iterable[Block]) -> list[tuple[datetime, str]]:
    """When each command line of apt was given, as apt wrote it down."""
    told = ((at, " ".join(fields.get("Commandline", "").split())) for _, at, fields in history)
    return [(at, command) for at, command in told if command]


def apt_history(machine: Machine, problems: Problems) -> Iterator[Block]:
    """Each piece of work in apt's history and its rotated parts, oldest first."""
    here = zone(machine)
    for path in rotated(machine, "/var/log/apt", "history.log"):
        for block in "\n".join(_lines(machine, path, problems)).split("\n\n"):
            fields = dict(line.split(": ", 1) for line in block.split("\n") if ": " in line)
            at = _time(re.sub(r"\s+", "T", fields.get("Start-Date", "").strip()), here)
            if at is not None:
                yield path, at, fields


def removed(machine: Machine, problems: Problems) -> Iterator[HistoryEvent]:
    """Packages that apt's history says were removed or purged: it often reaches further back than dpkg.log."""
    here = zone(machine)
    for path in rotated(machine, "/var/log/apt", "history.log"):
        at: datetime | None = None
        for number, line in enumerate(_lines(machine, path, problems), 1):
            key, _, rest = line.partition(": ")
            if key == "Start-Date":
                at = _time(re.sub(r"\s+", "T", rest.strip()), here)
            elif key in ("Remove", "Purge") and at is not None:
                for name, architecture, version in re.findall(
                    r"([a-z0-9][a-z0-9+.-]+)(?::([a-z0-9-]+))? \(([^,)]*)", rest
                ):
                    yield HistoryEvent(
                        at,
                        key.lower(),
                        f"{name}:{architecture}" if architecture else name,
                        version,
                        path,
                        number,
                    )


def _lines(machine: Machine, path: str, problems: Problems) -> list[str]:
    try:
        return read_unpacked(machine, path).splitlines()
    except CouldNotRead as error:
        problems.append((path, error.reason))
        return []


def _time(text: str, here: tzinfo) -> datetime | None:
    """A time without a zone, as the machine's own clock showed it."""
    try:
        said = datetime.fromisoformat(text)
        return (said if said.tzinfo else said.replace(tzinfo=here)).astimezone(UTC)
    except (ValueError, OverflowError):
        return None
