"""The made-up machine as it was some months before: for a first visit to compare the next one with."""

from __future__ import annotations

import contextlib
import json
import os
import shutil
from collections.abc import Iterator
from datetime import datetime
from pathlib import Path

from swept_shelf.core.documents.times import rfc3339
from swept_shelf.core.machine.description import NAME, write_description

GONE = "Bogwillow"  # what was there then and is not now
_CAME_SINCE = (
    "Applications/*.AppImage",
    ".local/share/Trash/files/*",
    ".cache/*/*/north.tile",
    "Pictures/*/plate-2.tif",
)
_OF_THE_SYSTEM = ("var/cache/*-tiles/*", "var/lib/*-tiles/*")
_LAUNCHER = f"[Desktop Entry]\nType=Application\nName={GONE}\nExec=/opt/{GONE}/{GONE.lower()}\n"


@contextlib.contextmanager
def as_it_was(folder: Path, when: datetime) -> Iterator[None]:
    """Inside, the machine in `folder` is as it was at `when`, by its own clock too; afterwards everything is as before, times and
    all."""
    root, later = folder / "root", folder / "later"
    described = json.loads((folder / NAME).read_text())
    since = sorted(p for home in (root / "home").iterdir() for form in _CAME_SINCE for p in home.glob(form))
    since += sorted(p for form in _OF_THE_SYSTEM for p in root.glob(form))
    times = {p: p.stat() for f in since for p in (f.parent,)} | {
        p: p.stat() for p in (root / "opt", root / "usr/local/share/applications") if p.exists()
    }
    later.mkdir()
    moved: list[tuple[Path, Path]] = []
    made = [root / "opt" / GONE, root / f"usr/local/share/applications/{GONE.lower()}.desktop"]
    try:
        for number, path in enumerate(since):
            path.rename(later / str(number))
            moved.append((path, later / str(number)))
        made[0].mkdir(parents=True)
        program = made[0] / GONE.lower()
        program.write_bytes(b"\x7fELF" + bytes(1_500_000))
        program.chmod(0o755)
        made[1].parent.mkdir(parents=True, exist_ok=True)
        made[1].write_text(_LAUNCHER)
        write_description(folder, described | {"clock": rfc3339(when)})
        yield
    finally:
        for path, away in moved:
            away.rename(path)
        shutil.rmtree(made[0], ignore_errors=True)
        made[1].unlink(missing_ok=True)
        for path, status in times.items():
            os.utime(path, ns=(status.st_atime_ns, status.st_mtime_ns))
        write_description(folder, described)
        shutil.rmtree(later, ignore_errors=True)
