"""Names of services, and who may reach them (services(5), hosts_access(5)); limits of its accounts (limits.conf(5))."""

from __future__ import annotations

import re
from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import Line, said_lines
from swept_shelf.core.references.building import line_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place, Target
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    def targets(line: Line) -> tuple[Target, ...]:
        words = line.text.split()
        name = base(path)
        if name in ("hosts.allow", "hosts.deny"):
            daemons = re.split(r"[\s,]+", line.text.split(":")[0].strip())
            return tuple(
                t
                for d in daemons
                for t in (*one(By.COMMAND, d.split("@")[0]), *one(By.NAME, d.split("@")[0]))
            )
        if "limits" in path:
            return (*one(By.ACCOUNT, words[0].lstrip("@")), *one(By.NAME, words[0].lstrip("@")))
        if name == "access.conf":
            return tuple(t for w in re.split(r"[\s:]+", line.text) for t in one(By.ACCOUNT, w.strip("()")))
        return tuple(t for w in (words[0], *words[2:]) if not w.startswith("#") for t in one(By.NAME, w))

    yield from line_entries(said_lines(text), targets, "names its service or account")


KIND = Kind(
    "name of a service",
    "services",
    ("name of its service", "names of its services"),
    (
        Place("/etc/services"),
        Place("/etc/services.d/*"),
        Place("/etc/protocols"),
        Place("/etc/rpc"),
        Place("/etc/hosts.allow"),
        Place("/etc/hosts.deny"),
        Place("/etc/security/limits.conf"),
        Place("/etc/security/limits.d/*.conf"),
        Place("/etc/security/access.conf"),
    ),
    _parse,
    alone="lines",
)
