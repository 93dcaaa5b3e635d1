"""The snap service's public REST interface: what is installed, removing, installing a file, the changes that this makes."""

from __future__ import annotations

import json
import os
import secrets
import time
from collections.abc import Iterator
from typing import Any
from urllib.parse import quote

from swept_shelf.core.documents.errors import CouldNotRead, one_line
from swept_shelf.core.machine.machine import Machine
from swept_shelf.core.machine.services import ask, may_be_asked, tell

SOCKET = "/run/snapd.socket"
ASSERTION = "application/x.ubuntu.assertion"
_TIMEOUT = 10.0
_CHANGE = 1800.0  # seconds that a change may take: data of a snap may be saved on the way
_PIECE = 1 << 20


def answers(machine: Machine) -> bool:
    return may_be_asked(machine, SOCKET)


def rows(machine: Machine, timeout: float = _TIMEOUT) -> list[dict[str, Any]]:
    """Every snap that is installed, a row a revision. Raises CouldNotRead."""
    result = _result(*ask(machine, SOCKET, "/v2/snaps", timeout))
    if not isinstance(result, list):
        raise CouldNotRead("gave no list of snaps", SOCKET)
    return [r for r in result if isinstance(r, dict)]


def remove(machine: Machine, name: str, revision: str = "") -> None:
    """All revisions of a snap, or one that is not in use; its data folders go with it. Raises CouldNotRead with the service's
    words."""
    _act(machine, name, {"action": "remove", **({"revision": revision} if revision else {"purge": True})})


def use_again(machine: Machine, name: str, revision: str) -> None:
    """Make an installed revision the one in use, with its data as it stands. Raises CouldNotRead with the service's words."""
    _act(machine, name, {"action": "revert", "revision": revision})


def restart(machine: Machine, name: str) -> None:
    """What runs of a snap's services; nothing for one that has none. Raises CouldNotRead with the service's words."""
    mine = [r for r in rows(machine) if r.get("name") == name and r.get("status") == "active"]
    apps = [a for r in mine for a in r.get("apps") or () if isinstance(a, dict)]
    if any(a.get("daemon") and a.get("active") for a in apps):
        body = json.dumps({"action": "restart", "names": [name]}).encode()
        _changed(machine, "/v2/apps", [body], len(body), "application/json")


def _act(machine: Machine, name: str, what: dict[str, Any]) -> None:
    body = json.dumps(what).encode()
    _changed(machine, f"/v2/snaps/{quote(name, safe='')}", [body], len(body), "application/json")


def install(machine: Machine, fd: int, file: str, told: bool) -> None:
    """The image behind a descriptor; `told`: whether the service has the publisher's assertions of it. Raises CouldNotRead."""
    mark = secrets.token_hex(16)
    fields = {"action": "install"} | ({} if told else {"dangerous": "true"})
    head = "".join(
        f'--{mark}\r\nContent-Disposition: form-data; name="{k}"\r\n\r\n{v}\r\n' for k, v in fields.items()
    )
    head += f'--{mark}\r\nContent-Disposition: form-data; name="snap"; filename="{file}"\r\n'
    head += "Content-Type: application/octet-stream\r\n\r\n"
    tail = f"\r\n--{mark}--\r\n".encode()
    size = os.fstat(fd).st_size

    def body() -> Iterator[bytes]:
        yield head.encode()
        at = 0
        while piece := os.pread(fd, _PIECE, at):
            at += len(piece)
            yield piece
        yield tail

    length = len(head.encode()) + size + len(tail)
    _changed(machine, "/v2/snaps", body(), length, f"multipart/form-data; boundary={mark}")


def assertions(machine: Machine, kind: str, **by: str) -> bytes:
    """What a publisher signed, as the service has it. Raises CouldNotRead."""
    wanted = "&".join(f"{k.replace('_', '-')}={quote(v, safe='')}" for k, v in by.items())
    status, answer = ask(machine, SOCKET, f"/v2/assertions/{kind}?{wanted}", _TIMEOUT)
    if status != 200:
        raise CouldNotRead(f"has no {kind}", SOCKET)
    return answer


def acknowledge(machine: Machine, signed: bytes) -> None:
    """Raises CouldNotRead."""
    _result(*tell(machine, SOCKET, "/v2/assertions", [signed], len(signed), ASSERTION, _TIMEOUT))


def _result(status: int, answer: bytes) -> Any:
    """The `result` of an answer. Raises CouldNotRead with the service's words."""
    try:
        said = json.loads(answer)
        result = said["result"]
    except (ValueError, KeyError, TypeError, RecursionError):
        raise CouldNotRead(f"gave an answer of status {status} that is none of its own", SOCKET) from None
    if said.get("type") == "error" or status >= 400:
        words = result.get("message", "") if isinstance(result, dict) else ""
        raise CouldNotRead(f"refused: {one_line(str(words)) or f'status {status}'}", SOCKET)
    return said.get("change") if said.get("type") == "async" else result


def _changed(machine: Machine, question: str, body: Any, length: int, kind: str) -> None:
    """Begin a change and wait until it is ready. Raises CouldNotRead."""
    status, answer = tell(machine, SOCKET, question, body, length, kind, _CHANGE)
    change = _result(status, answer)
    until = time.monotonic() + _CHANGE
    pause = 0.02
    while isinstance(change, str) and time.monotonic() < until:
        now = _result(*ask(machine, SOCKET, f"/v2/changes/{quote(change, safe='')}", _TIMEOUT))
        if not isinstance(now, dict):
            break
        if now.get("ready"):
            if now.get("status") == "Done":
                return
            raise CouldNotRead(f"did not do it: {_why(now)}", SOCKET)
        time.sleep(pause)
        pause = min(pause * 1.5, 0.5)
    raise CouldNotRead("does not say how its change ended", SOCKET)


def _why(change: dict[str, Any]) -> str:
    if err := change.get("err"):
        return one_line(" ".join(str(err).split()))
    logs = [
        str(line)
        for t in change.get("tasks", [])
        if isinstance(t, dict) and t.get("status") == "Error"
        for line in t.get("log", [])
    ]
    return one_line(logs[-1] if logs else str(change.get("status", "")))
