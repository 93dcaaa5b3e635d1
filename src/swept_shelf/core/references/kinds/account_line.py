"""What the system keeps of its accounts beside them: ranges of ids, memberships, who may use jobs."""

from __future__ import annotations

from collections.abc import Iterator

from swept_shelf.core.documents.paths import base
from swept_shelf.core.grammars.lines import said_lines
from swept_shelf.core.references.building import listed_entries
from swept_shelf.core.references.kind import By, Entry, Kind, Place
from swept_shelf.core.references.targets import one


def _parse(path: str, text: str) -> Iterator[Entry]:
    name = base(path)
    for line in said_lines(text):
        fields = line.text.split(":")
        if name in ("group", "gshadow"):
            if len(fields) > 3:
                at = line.start + len(line.text) - len(fields[3])
                for entry in listed_entries(
                    line,
                    at,
                    fields[3],
                    ",",
                    lambda w: one(By.ACCOUNT, w),
                    f"a member of {fields[0]}",
                    fields[0],
                ):
                    yield Entry(
                        entry.line,
                        entry.key,
                        fields[0] + ": " + fields[3],
                        entry.targets,
                        entry.detail,
                        entry.start,
                        entry.end,
                        (at, at + len(fields[3])),
                        entry.pieces,
                        ",",
                    )
            continue
        account = fields[0].strip()
        yield Entry(
            line.number,
            line.text,
            line.text,
            one(By.ACCOUNT, account),
            f"its account stands in {name}",
            line.start,
            line.end,
        )


KIND = Kind(
    "account's entry",
    "accounts",
    ("entry of its account", "entries of its account"),
    tuple(
        Place(f"/etc/{name}")
        for name in (
            "subuid",
            "subgid",
            "group",
            "gshadow",
            "cron.allow",
            "cron.deny",
            "at.allow",
            "at.deny",
            "ftpusers",
        )
    ),
    _parse,
)
