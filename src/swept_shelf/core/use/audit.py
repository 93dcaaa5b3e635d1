"""Sign: the audit log (SYSCALL records): which program ran, and as whom somebody had logged in."""

from __future__ import annotations

import re

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.unpacked import rotated, unpacked_bytes
from swept_shelf.core.use.trace import DAY, GOOD, Look, Trace
from swept_shelf.core.use.unasked import SCHEDULE

KIND = "audit log"
_RECORD = re.compile(
    rb"^(?:node=\S+ )?type=SYSCALL msg=audit\((\d{1,12})\.\d+:\d+\):.*? success=yes .*?\bauid=(\d+) uid=(\d+) .*? tty=(\S+) .*?"
    rb"comm=(\S+) exe=(\S+)"
)
_UNSET = 4294967295


def look(at: Look) -> None:
    for path in rotated(at.machine, "/var/log/audit", "audit.log"):
        try:
            data = unpacked_bytes(at.machine, path)
        except CouldNotRead as error:
            at.trouble(path, error.reason)
            continue
        at.saw(KIND)
        last: dict[tuple[str, str, int, str], tuple[int, int]] = {}
        for number, line in enumerate(data.split(b"\n"), 1):
            if not line.startswith(b"type=SYSCALL") and b" type=SYSCALL" not in line[:80]:
                continue
            match = _RECORD.match(line)
            if match is None or not (id := at.program(_text(match[6]))):
                continue
            when, login, terminal = int(match[1]), int(match[2]), match[4] != b"(none)"
            person = at.person(login)
            aside = (
                ""
                if person
                else SCHEDULE
                if login != _UNSET and not terminal
                else "run without anybody logged in"
            )
            key = (id, person, when // DAY, aside)
            if key not in last or last[key][0] < when:
                last[key] = (when, number)
        for (id, person, _, aside), (when, number) in last.items():
            at.traces.append(
                Trace(id, KIND, when, person, path, GOOD, None, number, "", at.timely(when) or aside)
            )


def _text(raw: bytes) -> str:
    """A value as the audit system writes it: in quotes, or as hexadecimal digits where it holds blanks."""
    if raw.startswith(b'"'):
        return raw.strip(b'"').decode("utf-8", "surrogateescape")
    try:
        return bytes.fromhex(raw.decode("ascii")).decode("utf-8", "surrogateescape")
    except ValueError:
        return ""
