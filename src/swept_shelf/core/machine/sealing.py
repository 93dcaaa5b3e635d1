"""Seals (HMAC, RFC 2104) by which a carrier knows its own records again: whoever has not its key cannot write one.

The key stands in a folder that nobody but its owner can write to, on the way there as well; it never leaves this computer."""

from __future__ import annotations

import hashlib
import hmac
import json
import os
import secrets
import stat
from pathlib import Path
from typing import Any

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.machine.own_folders import own_folder

_NAME, _SIZE = "seal.key", 32


def seal(purpose: str, *bound_to: object, content: Any = None) -> str:
    """The seal of `content` (JSON values) for one purpose, bound to whatever else it may not be moved away from."""
    text = json.dumps(
        [purpose, *map(str, bound_to), content], sort_keys=True, ensure_ascii=True, separators=(",", ":")
    )
    return hmac.new(_key(), text.encode(), hashlib.sha256).hexdigest()


def is_sealed(told: object, purpose: str, *bound_to: object, content: Any = None) -> bool:
    return isinstance(told, str) and hmac.compare_digest(
        told.encode("utf-8", "replace"), seal(purpose, *bound_to, content=content).encode()
    )


def _key() -> bytes:
    """This person's key, made when first asked for. Raises Refused where another could have put it there."""
    folder = own_folder("state")
    path = folder / _NAME
    try:
        fd = os.open(path, os.O_RDONLY | os.O_NOFOLLOW | os.O_CLOEXEC)
    except FileNotFoundError:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        _make(folder)
        fd = os.open(path, os.O_RDONLY | os.O_NOFOLLOW | os.O_CLOEXEC)
    with os.fdopen(fd, "rb") as handle:
        status = os.fstat(fd)
        data = handle.read(_SIZE + 1)
    if (
        not stat.S_ISREG(status.st_mode)
        or status.st_uid != os.geteuid()
        or status.st_mode & 0o077
        or len(data) != _SIZE
    ):
        raise Refused(
            "is not this person’s own key (32 bytes, for its owner alone): it was not used", str(path)
        )
    return data


def _make(folder: Path) -> None:
    """Whole or not at all, and never over one that is there."""
    part = folder / f".{secrets.token_hex(8)}"
    fd = os.open(part, os.O_WRONLY | os.O_CREAT | os.O_EXCL | os.O_NOFOLLOW | os.O_CLOEXEC, 0o600)
    try:
        os.write(fd, secrets.token_bytes(_SIZE))
        os.fsync(fd)
    finally:
        os.close(fd)
    try:
        os.link(part, folder / _NAME)
    except FileExistsError:
        pass
    finally:
        part.unlink()
