"""A file that somebody hands in: an order, a sheet of answers."""

from __future__ import annotations

import os
import stat

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.sizes import human_bytes

_MOST = 64 << 20


def read_handed_in(path: str, what: str) -> bytes:
    """Raises Refused for what is no regular file, is too large, or cannot be read; a pipe is waited for by nobody."""
    try:
        fd = os.open(path, os.O_RDONLY | os.O_NONBLOCK | os.O_CLOEXEC)
        with os.fdopen(fd, "rb") as handle:
            if not stat.S_ISREG(os.fstat(fd).st_mode):
                raise Refused("is not a file", path)
            data = handle.read(_MOST + 1)
    except OSError as error:
        raise Refused(f"the {what} cannot be read: {(error.strerror or '').lower()}", path) from None
    if len(data) > _MOST:
        raise Refused(f"is larger than the {human_bytes(_MOST)} that one may have", path)
    return data
