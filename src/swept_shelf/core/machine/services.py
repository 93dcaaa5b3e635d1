"""Services of the machine that are asked over a local socket: of this computer's own root, or of a made-up one, alone.

On another disk nobody is spoken to: a socket there leads to whoever made it, on this computer."""

from __future__ import annotations

import http.client
import os
import socket
import stat
from collections.abc import Iterable

from swept_shelf.core.documents.errors import CouldNotRead
from swept_shelf.core.documents.paths import base, parent
from swept_shelf.core.machine.machine import OVERFLOW_UID, Machine

_MOST = 64 << 20


def may_be_asked(machine: Machine, path: str) -> bool:
    """Whether a real socket of root's, or of whoever looks, stands at `path` on a machine whose services are spoken to."""
    if not (machine.live or machine.chrootless):
        return False
    status = machine.lstat(path)
    return (
        status is not None
        and stat.S_ISSOCK(status.st_mode)
        and status.st_uid in (0, os.geteuid(), OVERFLOW_UID)
    )


def ask(machine: Machine, path: str, question: str, timeout: float) -> tuple[int, bytes]:
    """(status, answer) of GET `question` at the service behind the socket `path`. Raises CouldNotRead."""
    return _told(machine, path, "GET", question, None, {}, timeout)


def tell(
    machine: Machine, path: str, question: str, body: Iterable[bytes], length: int, kind: str, timeout: float
) -> tuple[int, bytes]:
    """(status, answer) of POST `body` of media type `kind` and so many bytes there. Raises CouldNotRead."""
    headers = {"Content-Type": kind, "Content-Length": str(length)}
    return _told(machine, path, "POST", question, body, headers, timeout)


def _told(
    machine: Machine,
    path: str,
    method: str,
    question: str,
    body: Iterable[bytes] | None,
    headers: dict[str, str],
    timeout: float,
) -> tuple[int, bytes]:
    connection = _LocalConnection(machine, path, timeout)
    try:
        connection.request(method, question, body, headers={"Accept": "application/json"} | headers)
        answer = connection.getresponse()
        return answer.status, answer.read(_MOST)
    except (OSError, http.client.HTTPException) as error:
        raise CouldNotRead(
            f"the service gave no answer ({str(error)[:80] or type(error).__name__})", path
        ) from None
    finally:
        connection.close()


class _LocalConnection(http.client.HTTPConnection):
    """HTTP over such a socket, reached through a descriptor of its folder. Connecting raises OSError."""

    def __init__(self, machine: Machine, path: str, timeout: float) -> None:
        super().__init__("localhost", timeout=timeout)
        self._machine, self._path = machine, path

    def connect(self) -> None:
        if not may_be_asked(self._machine, self._path):
            raise ConnectionRefusedError(111, "is no service of this computer", self._path)
        self.sock = socket.socket(socket.AF_UNIX, socket.SOCK_STREAM)
        self.sock.settimeout(self.timeout)
        with self._machine.handed(parent(self._path)) as (folder, _):
            self.sock.connect(f"{folder}/{base(self._path)}")
