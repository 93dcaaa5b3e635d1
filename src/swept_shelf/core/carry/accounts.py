"""Accounts of the system that package scripts take away: put back gives them their numbers again, so that files keep their owner.

Only lines of accounts below 1000 are kept: those of people are nobody's to touch."""

from __future__ import annotations

import fcntl
import os

from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.replacing import replace_text

# Each with the file whose lines have the numbers; a number stands in the third field (passwd(5), group(5)).
_FILES = {
    "/etc/group": "/etc/group",
    "/etc/gshadow": "/etc/group",
    "/etc/passwd": "/etc/passwd",
    "/etc/shadow": "/etc/passwd",
}
_PEOPLE = 1000
Accounts = dict[str, dict[str, str]]


def system_accounts(machine: Machine) -> Accounts:
    """{file: {name: line}}; a file that may not be read is empty."""
    lines = {
        path: {x.split(":")[0]: x for x in machine.text(path).split("\n") if ":" in x} for path in _FILES
    }
    ours = {n for path in set(_FILES.values()) for n, x in lines[path].items() if 0 < _number(x) < _PEOPLE}
    return {
        path: {n: x for n, x in known.items() if n in ours and n in lines[_FILES[path]]}
        for path, known in lines.items()
    }


def _number(line: str) -> int:
    third = [*line.split(":"), "", "", ""][2]
    return int(third) if third.isascii() and third.isdigit() else -1


def make_accounts_again(machine: Machine, kept: Accounts, gone: dict[str, list[str]]) -> None:
    """Add the lines of accounts that went, where neither their name nor their number is another's by now. Raises OSError."""
    if not any(gone.values()):
        return
    with machine.folder("/etc") as folder:
        lock = os.open(
            ".pwd.lock", os.O_WRONLY | os.O_CREAT | os.O_CLOEXEC | os.O_NOFOLLOW, 0o600, dir_fd=folder
        )
        try:
            fcntl.lockf(lock, fcntl.LOCK_EX)  # lckpwdf(3)
            now = system_accounts(machine)
            for path, numbered in _FILES.items():
                known = now[path]
                numbers = {_number(x) for x in known.values()} if path == numbered else set()
                back = [
                    kept[path][n] for n in gone.get(path, ()) if n in kept.get(path, {}) and n not in known
                ]
                lines = [x for x in back if path != numbered or _number(x) not in numbers]
                if lines and machine.exists(path):
                    text = machine.read_text(path)
                    text += "" if text.endswith("\n") or not text else "\n"
                    data = text + "".join(f"{x}\n" for x in lines)
                    replace_text(folder, path.rsplit("/", 1)[1], data.encode("utf-8", "surrogateescape"))
        finally:
            os.close(lock)
