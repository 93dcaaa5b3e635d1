"""A small root with three made-up packages, and the evidence of use that desktops, shells and the system leave in it."""

from __future__ import annotations

import os
import sqlite3
import struct
import subprocess
import time
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

from registries import bare_root, launcher, write
from swept_shelf.core.documents.survey import Belonging, LastUse, Sign, Survey
from swept_shelf.core.machine import open_machine
from swept_shelf.core.orders.moving import movable
from swept_shelf.core.survey.take import take_survey

DAY = 86400
NOW = int(time.time())
DESKTOP, TERMINAL, SERVICE = "quillstand", "blotterline", "waxsealer"
VERA_UID, OTTO_UID = 1001, 1002
JOURNAL_REMOTE = next(
    (
        p
        for p in ("/lib/systemd/systemd-journal-remote", "/usr/lib/systemd/systemd-journal-remote")
        if os.path.exists(p)
    ),
    "",
)


def ago(days: float) -> int:
    return int(NOW - days * DAY)


class Room:
    """Two people; a desktop program, a terminal program and a service, all installed 400 days ago."""

    def __init__(self, root: Path) -> None:
        self.root = bare_root(root)
        for home, uid in (("vera", VERA_UID), ("otto", OTTO_UID)):
            os.chown(root / "home" / home, uid, uid)
        files = {
            DESKTOP: {
                f"usr/bin/{DESKTOP}": f'#!/bin/sh\nplace="$HOME/.config/{DESKTOP}"\n',
                f"usr/lib/{DESKTOP}/engine.bin": "e" * 9000,
                f"usr/share/applications/{DESKTOP}.desktop": launcher("Quillstand", DESKTOP),
                f"usr/share/doc/{DESKTOP}/copyright": "made up\n",
            },
            TERMINAL: {
                f"usr/bin/{TERMINAL}": "#!/bin/sh\n",
                f"usr/share/doc/{TERMINAL}/copyright": "made up\n",
            },
            SERVICE: {
                f"usr/sbin/{SERVICE}": "#!/bin/sh\n",
                f"usr/lib/systemd/system/{SERVICE}.service": f"[Service]\nExecStart=/usr/sbin/{SERVICE}\nLogsDirectory={SERVICE}\n",
            },
        }
        self.packages(files)

    def packages(self, files: dict[str, dict[str, str]], days: float = 400, control: str = "") -> None:
        """More packages of the Debian registry, installed that many days ago; `control`: more fields of each, a line each."""
        status = self.root / "var/lib/dpkg/status"
        text, log = (status.read_text() if status.exists() else ""), ""
        for name, inside in files.items():
            text += (
                f"Package: {name}\nStatus: install ok installed\nPriority: optional\n"
                "Section: misc\nInstalled-Size: 9\nMaintainer: Test <t@test.example>\n"
                f"Architecture: all\nVersion: 1.0\n{control}Description: made up\n\n"
            )
            folders = sorted({"/" + str(p) for f in inside for p in Path(f).parents if str(p) != "."})
            write(
                self.root,
                f"var/lib/dpkg/info/{name}.list",
                "/.\n" + "\n".join([*folders, *(f"/{f}" for f in inside)]) + "\n",
            )
            for path, content in inside.items():
                write(self.root, path, content, 0o755 if "bin/" in path else 0o644)
                self.times(path, ago(days), ago(days + 30))
            self.times(f"var/lib/dpkg/info/{name}.list", ago(days), ago(days))
            log += f"{datetime.fromtimestamp(ago(days)):%Y-%m-%d %H:%M:%S} install {name}:all <none> 1.0\n"
        status.write_text(text)
        for place in ("var/lib/dpkg/available", "etc/machine-id"):
            write(self.root, place, "" if place.endswith("available") else "1" * 32 + "\n")
        known = self.root / "var/log/dpkg.log"
        write(self.root, "var/log/dpkg.log", (known.read_text() if known.exists() else "") + log)
        self.times("etc/machine-id", ago(500), ago(500))

    def times(self, path: str, read: int, wrote: int | None = None) -> None:
        target = self.root / path
        os.utime(target, (read, target.stat().st_mtime if wrote is None else wrote))

    def home(self, person: str, path: str, text: str | bytes, wrote: int) -> Path:
        """A file in a person's home, that person's own, last written then."""
        target = write(self.root, f"home/{person}/{path}", text)
        uid = VERA_UID if person == "vera" else OTTO_UID
        above = target
        while above != self.root / "home":
            os.chown(above, uid, uid)
            above = above.parent
        os.utime(target, (wrote, wrote))
        return target

    def survey(self, out: Path, **more: Any) -> Survey:
        out.mkdir(exist_ok=True)
        return take_survey(open_machine(self.root), str(out), more.pop("processes", []), **more)

    def uses(self, out: Path, **more: Any) -> dict[str, LastUse]:
        """Last uses by application id without its registry."""
        return {a.id.split(":", 1)[1]: a.last_use for a in self.survey(out, **more).applications}

    # -- evidence as its programs write it --------------------------------------------------------------------

    def logins(self, *sessions: tuple[str, int, int], name: str = "var/log/wtmp") -> None:
        """wtmp(5): USER_PROCESS and DEAD_PROCESS records of 384 bytes."""
        rows = sorted(
            (row for user, begin, end in sessions for row in ((begin, 7, user, user), (end, 8, "", user)))
        )
        write(
            self.root,
            name,
            b"".join(
                struct.pack(
                    "<hxxi32s4s32s256shhiii16s20x",
                    kind,
                    9,
                    f"tty-{who}".encode(),
                    b"7",
                    user.encode(),
                    b":0",
                    0,
                    0,
                    0,
                    at,
                    0,
                    b"",
                )
                for at, kind, user, who in rows
            ),
        )

    def accounted(self, *rows: tuple[str, int, int, int, int, int]) -> None:
        """acct(5), version 3: (command, uid, began, terminal, process, parent)."""
        write(
            self.root,
            "var/log/account/pacct",
            b"".join(
                struct.pack(
                    "<BBHIIIIIIf8H16s",
                    0,
                    3,
                    tty,
                    0,
                    uid,
                    uid,
                    pid,
                    above,
                    began,
                    100.0,
                    *[0] * 8,
                    name.encode(),
                )
                for name, uid, began, tty, pid, above in rows
            ),
        )

    def journal(self, entries: list[dict[str, Any]], name: str = "system.journal") -> None:
        """A real journal file, made from its export format by the journal's own tool."""
        folder = self.root / "var/log/journal" / ("1" * 32)
        folder.mkdir(parents=True, exist_ok=True)
        text = b""
        for i, entry in enumerate(sorted(entries, key=lambda e: e["at"])):
            fields = {
                "__REALTIME_TIMESTAMP": entry["at"] * 1_000_000,
                "__MONOTONIC_TIMESTAMP": 1000 + i,
                "_BOOT_ID": "1" * 32,
                "_MACHINE_ID": "1" * 32,
                "MESSAGE": "said something",
                "PRIORITY": 6,
                **{k: v for k, v in entry.items() if k != "at"},
            }
            text += "".join(f"{k}={v}\n" for k, v in fields.items()).encode() + b"\n"
        assert JOURNAL_REMOTE, "systemd-journal-remote is not here: see tools/setup.sh"
        subprocess.run(
            [JOURNAL_REMOTE, f"--output={folder}/{name}", "-"], input=text, check=True, capture_output=True
        )

    def database(self, person: str, path: str, script: str, wrote: int) -> None:
        target = self.home(person, path, b"", wrote)
        target.unlink()
        with sqlite3.connect(target) as db:
            db.executescript(script)
        db.close()
        os.utime(target, (wrote, wrote))


def signs(use: LastUse, kind: str) -> list[Sign]:
    return [s for s in use.signs if s.kind == kind]


def seconds(moment: datetime | None) -> int | None:
    return None if moment is None else int(moment.astimezone(UTC).timestamp())


def belongings_of(survey: Survey, name: str) -> dict[str, Belonging]:
    """Belongings outside the package's own files, by path."""
    entry = survey.find(f"debian:{name}")
    assert entry is not None, name
    return {
        b.path: b for b in entry.belongings if not b.path.startswith(("/usr/bin", "/usr/lib", "/usr/share"))
    }


def add_program(
    room: Room, name: str, *literals: str, more: dict[str, str] | None = None, control: str = ""
) -> None:
    """A desktop program whose script holds these texts, each in quotes."""
    program = "#!/bin/sh\n" + "".join(f'x="{text}"\n' for text in literals)
    room.packages(
        {
            name: {
                f"usr/bin/{name}": program,
                f"usr/share/applications/{name}.desktop": launcher(name.capitalize(), name),
                **(more or {}),
            }
        },
        control=control,
    )


def folder_of_data(job: Any) -> tuple[str, str]:
    """(id, path) of an application with a folder of data in a home, which is not running and not protected."""
    return next(
        (a.id, b.path)
        for a in job.surveyed.survey.applications
        for b in movable(a)
        if b.path.startswith("/home/")
        and not a.running
        and not a.protected
        and (job.machine.root / b.path[1:]).is_dir()
    )
