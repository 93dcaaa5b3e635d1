"""Accounts and groups that were made for it: taken out only when nothing is owned by them, which somebody has to look at."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    what = "group" if base(path) in ("group", "gshadow") else "account"
    for line in said_lines(text):
        fields = line.text.split(":")
        name, shown = fields[0], line.text if base(path) in ("passwd", "group") else f"{fields[0]}:…"
        if base(path) == "passwd" and len(fields) > 6:
            shell = one(By.COMMAND, fields[6])
            yield Entry(line.number, f"{name}'s shell", shown, shell, f"the shell of {name}", ask=True)
        yield Entry(
            line.number,
            name,
            shown,
            one(By.ACCOUNT, name),
            f"its {what} of the system",
            line.start,
            line.end,
            ask=True,
        )


KIND = Kind(
    "account",
    "accounts",
    ("account of the system", "accounts of the system"),
    tuple(Place(f"/etc/{name}") for name in ("passwd", "group", "shadow", "gshadow")),
    _parse,
    action="ask",
)
