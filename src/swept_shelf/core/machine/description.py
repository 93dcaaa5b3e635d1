"""machine.json: what stands beside a made-up root: its name, volumes, clock and ledger.

A root whose maintainer scripts may run on this computer carries a seal that only this person's own builder
can write, so that no plugged-in disk can ask for it."""

from __future__ import annotations

import hashlib
import hmac
import json
import os
import secrets
from dataclasses import dataclass
from datetime import datetime
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.errors import CouldNotRead


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
    folder: Path
    name: str
    key: str
    volumes: tuple[DescribedVolume, ...]
    clock: datetime | None
    ledger: Path
    chrootless: bool


def _secret() -> bytes:
    from platformdirs import user_state_path

    path = user_state_path("swept-shelf") / "seal.key"
    try:
        return path.read_bytes()
    except FileNotFoundError:
        path.parent.mkdir(parents=True, exist_ok=True, mode=0o700)
        fd = os.open(path, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600)
        with os.fdopen(fd, "wb") as handle:
            handle.write(secrets.token_bytes(32))
        return path.read_bytes()


def seal(key: str) -> str:
    return hmac.new(_secret(), key.encode(), hashlib.sha256).hexdigest()


def find_description(root: Path) -> tuple[Path, Description | None]:
    """The root folder meant by `root` (itself, or `root/root` beside a machine.json), and its description."""
    for folder, inner in ((root, root / "root"), (root.parent, root)):
        path = folder / "machine.json"
        if inner.name == "root" and path.is_file() and inner.is_dir():
            try:
                return inner, _parse(path, json.loads(path.read_bytes()))
            except (ValueError, KeyError, TypeError, OSError) as error:
                raise CouldNotRead(f"is not a machine description: {error}", str(path)) from None
    return root, None


def _parse(path: Path, plain: dict[str, Any]) -> Description:
    if plain.get("format") != "swept-shelf/machine" or plain.get("version") != 1:
        raise ValueError("format or version is not known")
    return Description(
        folder=path.parent,
        name=str(plain["name"]),
        key=str(plain["key"]),
        volumes=tuple(DescribedVolume(**v) for v in plain["volumes"]),
        clock=datetime.fromisoformat(plain["clock"]) if plain.get("clock") else None,
        ledger=path.parent / str(plain["ledger"]),
        chrootless=hmac.compare_digest(str(plain.get("seal", "")), seal(str(plain["key"]))),
    )
