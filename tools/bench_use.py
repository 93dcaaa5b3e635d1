"""A machine for the bench: 200 applications, five people, a gigabyte of journal, long histories."""

from __future__ import annotations

import os
import random
import subprocess
import time
from pathlib import Path

from bench_registry import write_registry

APPLICATIONS, PEOPLE = 200, 5
REMOTE = next(
    (
        p
        for p in ("/lib/systemd/systemd-journal-remote", "/usr/lib/systemd/systemd-journal-remote")
        if os.path.exists(p)
    ),
    "",
)
_ID = "1" * 32


def build(root: Path, entries: int) -> None:
    """`entries` per person, about 550 bytes each in the journal."""
    names = [f"quill{i:03}" for i in range(APPLICATIONS)]
    write_registry(root, names, PEOPLE, lambda i, name: b"#!/bin/sh\n")
    folder = root / "var/log/journal" / _ID
    folder.mkdir(parents=True)
    for i in range(PEOPLE):
        chance, now = random.Random(i), int(time.time())
        home = root / f"home/p{i}"
        home.mkdir(parents=True)
        (home / ".bash_history").write_text(
            "".join(
                f"#{now - 40000000 + n * 500}\n{chance.choice(names)} --page {n}\n" for n in range(20_000)
            )
        )
        for name in names[i * 20 : i * 20 + 60]:
            (home / f".config/{name}").mkdir(parents=True)
            (home / f".config/{name}/settings.ini").write_text("x=1\n")
        _journal(folder / f"user-{1001 + i}.journal", 1001 + i, entries, names, chance)


def _journal(file: Path, uid: int, entries: int, names: list[str], chance: random.Random) -> None:
    """Mostly chatter of programs that are no application's, some of applications, a scope for every start."""
    with subprocess.Popen(
        [REMOTE, f"--output={file}", "-"], stdin=subprocess.PIPE, stderr=subprocess.DEVNULL
    ) as made:
        assert made.stdin
        start, step = int((time.time() - 200 * 86400) * 1e6), int(200 * 86400e6 / entries)
        for i in range(entries):
            at = start + i * step
            if i % 200 == 0:
                name = chance.choice(names)
                what = f"_EXE=/usr/lib/systemd/systemd\n_COMM=systemd\nUSER_UNIT=app-room-{name}-{chance.randrange(10**6)}.scope\n"
            else:
                name = names[int(chance.random() ** 3 * len(names))] if i % 3 == 0 else f"noise{i % 400}"
                what = f"_EXE=/usr/bin/{name}\n_COMM={name}\n_SYSTEMD_USER_UNIT=app-room-{name}-{i // 20000}.scope\n"
            made.stdin.write(
                f"__REALTIME_TIMESTAMP={at}\n__MONOTONIC_TIMESTAMP={i + 1}\n"
                f"_BOOT_ID={_ID}\n_MACHINE_ID={_ID}\n_UID={uid}\n_PID={1000 + i % 30000}\n"
                f"{what}"
                f"PRIORITY=6\n_SYSTEMD_UNIT=user@{uid}.service\nMESSAGE={i}: {chance.randrange(10**12)} "
                "was said here, about as long as usual\n\n".encode()
            )
