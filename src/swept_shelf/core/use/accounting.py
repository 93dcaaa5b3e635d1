"""Sign: process accounting (acct(5), version 3): which commands ended, whose they were, and on which terminal."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.machine.unpacked import rotated, unpacked_bytes
from swept_shelf.core.use.trace import DAY, FAIR, GOOD, Look, Trace
from swept_shelf.core.use.unasked import SCHEDULE

KIND = "process accounting"
_PLACES = (("/var/log/account", "pacct"), ("/var/account", "pacct"))
RECORD = np.dtype(
    [
        ("flag", "u1"),
        ("version", "u1"),
        ("tty", "<u2"),
        ("exit", "<u4"),
        ("uid", "<u4"),
        ("gid", "<u4"),
        ("pid", "<u4"),
        ("ppid", "<u4"),
        ("began", "<u4"),
        ("lasted", "<f4"),
        ("counts", "<u2", 8),
        ("name", "S16"),
    ]
)
_FORKED, _BIG_ENDIAN = 1, 0x80
_SCHEDULERS = (b"cron", b"crond", b"atd", b"anacron", b"run-parts")


def look(at: Look) -> None:
    for folder, name in _PLACES:
        for path in rotated(at.machine, folder, name):
            try:
                data = unpacked_bytes(at.machine, path)
                rows = np.frombuffer(data[: len(data) // RECORD.itemsize * RECORD.itemsize], dtype=RECORD)
                if len(rows) and ((rows["version"][0] & 0x0F) != 3 or rows["version"][0] & _BIG_ENDIAN):
                    raise CouldNotRead(f"is of version {rows['version'][0]}, not 3", path)
            except CouldNotRead as error:
                at.trouble(path, error.reason)
                continue
            at.saw(KIND)
            _keep(at, path, rows)


def _keep(at: Look, path: str, rows: NDArray[np.void]) -> None:
    """One trace for each application, person and day; what a schedule started is set aside."""
    last: dict[tuple[str, int, int, str], tuple[int, int]] = {}
    for name in np.unique(rows["name"]):
        if not (id := at.comm(name.decode("utf-8", "replace"))):
            continue
        for i in np.flatnonzero((rows["name"] == name) & ((rows["flag"] & _FORKED) == 0)).tolist():
            row = rows[i]
            ended = int(row["began"]) + max(
                0, int(np.nan_to_num(row["lasted"]) / 100)
            )  # elapsed time is in hundredths of a second
            uid, began = int(row["uid"]), int(row["began"])
            why = (
                SCHEDULE
                if _by_schedule(rows, i)
                else ""
                if at.is_person(uid) or row["tty"]
                else "run by an account that is no person’s"
            )
            key = (id, uid, began // DAY, why)
            if key not in last or last[key][0] < began:
                last[key] = (began, ended)
    for (id, uid, _, why), (began, _) in last.items():
        aside = (
            at.timely(began)
            or why
            or ("runs in the background" if at.by_id[id].background and not at.is_person(uid) else "")
        )
        at.traces.append(
            Trace(
                id,
                KIND,
                began,
                at.person(uid),
                path,
                GOOD if at.is_person(uid) else FAIR,
                None,
                0,
                "known by a name of 15 characters",
                aside,
            )
        )


def _by_schedule(rows: NDArray[np.void], i: int) -> bool:
    """Whether a scheduler stands above this process; a parent is written down after its children."""
    for _ in range(4):
        row = rows[i]
        above = np.flatnonzero(
            (rows["pid"][i + 1 : i + 5000] == row["ppid"]) & (rows["began"][i + 1 : i + 5000] <= row["began"])
        )
        if not len(above):
            return False
        i += 1 + int(above[0])
        if rows[i]["name"].rstrip(b"\0") in _SCHEDULERS:
            return True
    return False
