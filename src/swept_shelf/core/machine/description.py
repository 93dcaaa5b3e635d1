"""machine.json: what stands beside a made-up root: its name, volumes, clock and ledger.

It is sealed by this person's own builder, and bound to the very folder it stands in: no plugged-in disk and no copy can
ask for anything. One without that seal names nothing."""

from __future__ import annotations

import contextlib
import json
import os
import stat
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead, SweptShelfError
from swept_shelf.core.documents.paths import is_clean
from swept_shelf.core.machine.sealing import is_sealed, seal

NAME = "machine.json"
_PURPOSE = "machine description"
_MOST = 1 << 20


@dataclass(frozen=True, slots=True)
class DescribedVolume:
    """`base`: bytes used by what is not in the folder, so that the used part follows the real bytes."""

    id: str
    mount: str
    file_system: str
    capacity: int
    base: int


@dataclass(frozen=True, slots=True)
class Description:
    """`chrootless`: the root's package scripts are ours and may run on this computer."""

    folder: Path
    name: str
    key: str
    volumes: tuple[DescribedVolume, ...]
    clock: datetime | None
    ledger: Path
    chrootless: bool


def write_description(folder: Path, plain: dict[str, Any]) -> None:
    """Write, or write again, `folder`/machine.json with its seal, for its owner alone."""
    plain = {k: v for k, v in plain.items() if k != "seal"}
    text = json.dumps(plain | {"seal": seal(_PURPOSE, *_place(folder), content=plain)}, indent=1) + "\n"
    with contextlib.suppress(FileNotFoundError):
        (folder / NAME).unlink()
    fd = os.open(folder / NAME, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600)
    with os.fdopen(fd, "w") as handle:
        handle.write(text)


def find_description(root: Path) -> tuple[Path, Description | None, str]:
    """The root folder meant by `root` (itself, or `root/root` beside a machine.json of ours), its description, and the path of
    a description that was not heeded."""
    unheeded = ""
    for folder, inner in ((root, root / "root"), (root.parent, root)):
        path = folder / NAME
        if inner.name != "root" or not inner.is_dir():
            continue
        plain = _sealed(folder)
        if plain is None:
            unheeded = unheeded or (str(path) if path.is_symlink() or path.exists() else "")
            continue
        try:
            return inner, _parse(folder, plain), ""
        except (ValueError, KeyError, TypeError) as error:
            raise CouldNotRead(f"is not a machine description: {error}", str(path)) from None
    return root, None, unheeded


def _place(folder: Path) -> tuple[int, ...]:
    """The folder and the root in it: neither can be another one."""
    outer, inner = folder.stat(), (folder / "root").stat()
    return outer.st_dev, outer.st_ino, inner.st_dev, inner.st_ino


def _sealed(folder: Path) -> dict[str, Any] | None:
    """What stands in the folder's description if the file is a real one of this person's, for its owner alone, and sealed."""
    try:
        fd = os.open(
            folder / NAME, os.O_RDONLY | os.O_NOFOLLOW | os.O_NONBLOCK | os.O_NOATIME | os.O_CLOEXEC
        )  # ours, or of no interest
    except OSError:
        return None
    status = os.fstat(fd)
    if not stat.S_ISREG(status.st_mode):
        os.close(fd)
        return None
    with os.fdopen(fd, "rb") as handle:
        if status.st_uid != os.geteuid() or status.st_mode & 0o077 or status.st_size > _MOST:
            return None
        try:
            plain = json.loads(handle.read(_MOST))
            told = plain.pop("seal", "")
            return plain if is_sealed(told, _PURPOSE, *_place(folder), content=plain) else None
        except (ValueError, AttributeError, TypeError, RecursionError, SweptShelfError):
            return None


def _parse(folder: Path, plain: dict[str, Any]) -> Description:
    if plain.get("format") != "swept-shelf/machine" or plain.get("version") != 1:
        raise ValueError("format or version is not known")
    ledger = str(plain["ledger"])
    if not is_clean("/" + ledger):
        raise ValueError("its ledger lies outside its folder")
    return Description(
        folder=folder,
        name=str(plain["name"]),
        key=str(plain["key"]),
        volumes=tuple(DescribedVolume(**v) for v in plain["volumes"]),
        clock=datetime.fromisoformat(plain["clock"]) if plain.get("clock") else None,
        ledger=folder / ledger,
        chrootless=True,
    )
