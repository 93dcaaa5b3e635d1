"""Servers that are started for each connection: inetd.conf(5), xinetd.conf(5)."""

from __future__ import annotations

import re
from collections.abc import Iterator
from dataclasses import replace

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.commands import WRAPPERS
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one

_SERVICE = re.compile(r"^[ \t]*service[ \t]+\S+\s*\{[^{}]*\}[ \t]*\n?", re.M)
_SERVER = re.compile(r"^\s*(server|server_args)\s*\+?=\s*(.+?)\s*$", re.M)
_WRAPPERS = WRAPPERS | {"tcpd", "sh", "bash"}  # what is started stands behind them
_OFF = re.compile(r"^\s*disable\s*=\s*yes\s*$", re.M)


def _parse(path: str, text: str) -> Iterator[Entry]:
    detail = "is started for each connection"
    if "xinetd" not in path:
        for line in said_lines(text):
            fields = line.text.split()
            if len(fields) > 5:
                own = base(f"/{fields[5]}") in _WRAPPERS
                for field in (fields[5], *fields[6:7]):
                    targets = one(By.COMMAND, field)
                    entry = Entry(line.number, line.text, line.text, targets, detail, line.start, line.end)
                    yield replace(entry, ask=field != fields[5] and not own)
        return
    for block in _SERVICE.finditer(text):
        enabled = not _OFF.search(text, block.start(), block.end())
        all_said = list(_SERVER.finditer(text, block.start(), block.end()))
        wrapped = any(m[1] == "server" and base(f"/{m[2].split()[0]}") in _WRAPPERS for m in all_said)
        for said in all_said:
            number = text.count("\n", 0, said.start(1)) + 1
            targets = tuple(t for w in said[2].split()[:1] for t in one(By.COMMAND, w))
            entry = Entry(
                number, said[0].strip(), said[0].strip(), targets, detail, *block.span(), enabled=enabled
            )
            yield replace(entry, ask=said[1] == "server_args" and not wrapped)


KIND = Kind(
    "connection",
    "services",
    ("server started for connections", "servers started for connections"),
    (Place("/etc/inetd.conf"), Place("/etc/inetd.d/*"), Place("/etc/xinetd.conf"), Place("/etc/xinetd.d/*")),
    _parse,
    alone="lines",
    starts="socket",
)
