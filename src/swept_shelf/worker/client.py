"""Starts a worker and reads its events; used by the command line (blocking). The desk has its own, on Qt."""

from __future__ import annotations

import contextlib
import json
import os
import subprocess
from collections.abc import Callable, Iterator
from typing import Any

from swept_shelf.core.documents.terms import LOOKING
from swept_shelf.own_python import FOLDER, own_python
from swept_shelf.rights.asking import BY_RIGHTS
from swept_shelf.rights.asking import command as rights_command
from swept_shelf.worker.events import Heard
from swept_shelf.worker.ready import READY


def worker_command() -> list[str]:
    return own_python("swept_shelf.worker")


def command_for(request: dict[str, Any]) -> tuple[list[str], dict[str, Any]]:
    """What is started for a request, and what it is told: a worker of one's own rights, or the helper that asks for the
    administrator's. Raises Refused where nobody can be asked for them."""
    if not request.get(BY_RIGHTS):
        return worker_command(), request
    return rights_command(request["do"]), {k: v for k, v in request.items() if k != BY_RIGHTS}


_ready: list[subprocess.Popen[bytes]] = []  # at most one


@contextlib.contextmanager
def ready_worker() -> Iterator[None]:
    """A worker that the next request to look is told to: it reads its own modules while this process reads others. One that was
    never told anything is ended."""
    _ready.append(_start([*worker_command(), READY], own_session=False))
    try:
        yield
    finally:
        while _ready:
            with _ready.pop() as unused:
                unused.kill()


def _start(command: list[str], own_session: bool) -> subprocess.Popen[bytes]:
    return subprocess.Popen(
        command, stdin=subprocess.PIPE, stdout=subprocess.PIPE, cwd=FOLDER, start_new_session=own_session
    )


def run_worker(
    request: dict[str, Any],
    tell: Callable[[dict[str, Any]], None] = lambda _: None,
    meanwhile: Callable[[], object] = lambda: None,
) -> dict[str, Any]:
    """The worker's result event. `meanwhile`: what is done here when more than half of its steps are behind it, where it leaves
    most of the computer idle. Raises the worker's own error, or Interrupted when it died."""
    by_rights, looks = bool(request.get(BY_RIGHTS)), request["do"] in LOOKING
    heard = Heard(by_rights)
    command, told = command_for(request)
    if not by_rights:
        told = told | {"parent": os.getpid()}
    ready = _ready.pop() if _ready and looks and not by_rights else None
    # Who asks for rights needs the terminal.
    with ready or _start(command, own_session=not (looks or by_rights)) as process:
        assert process.stdin and process.stdout
        try:
            # A helper that looks ends when this is closed. What ended at once says why by its status.
            with contextlib.suppress(BrokenPipeError):
                process.stdin.write(json.dumps(told).encode() + b"\n")
                process.stdin.flush()
            if not (by_rights and looks):
                with contextlib.suppress(BrokenPipeError):
                    process.stdin.close()
            waiting = True
            for line in process.stdout:
                for event in heard.take(line):
                    tell(event)
                    if waiting and event.get("event") == "progress" and 2 * event["done"] > event["total"]:
                        waiting = False
                        meanwhile()
            with contextlib.suppress(BrokenPipeError):
                process.stdin.close()
        except BaseException:
            if looks:
                with contextlib.suppress(PermissionError):
                    process.kill()
            raise
    return heard.outcome(process.returncode)
