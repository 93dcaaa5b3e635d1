"""Starts a worker and reads its events; used by the command line (blocking). The desk has its own, on Qt."""

from __future__ import annotations

import json
import os
import subprocess
from collections.abc import Callable
from typing import Any

from swept_shelf.core.documents import errors
from swept_shelf.core.documents.terms import Task
from swept_shelf.own_python import FOLDER, own_python


def worker_command() -> list[str]:
    return own_python("swept_shelf.worker")


def run_worker(
    request: dict[str, Any], tell: Callable[[dict[str, Any]], None] = lambda _: None
) -> dict[str, Any]:
    """The worker's result event. Raises the worker's own error, or Interrupted when it died."""
    carrying = request["do"] in set(Task)
    with subprocess.Popen(
        worker_command(),
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        cwd=FOLDER,
        start_new_session=carrying,
    ) as process:
        assert process.stdin and process.stdout
        try:
            process.stdin.write(json.dumps(request | {"parent": os.getpid()}).encode() + b"\n")
            process.stdin.close()
            last: dict[str, Any] = {}
            for line in process.stdout:
                try:
                    last = json.loads(line)
                except ValueError:
                    continue
                tell(last)
        except BaseException:
            if not carrying:
                process.kill()
            raise
    return outcome(last, process.returncode)


def outcome(last: dict[str, Any], status: int) -> dict[str, Any]:
    if last.get("event") == "failed":
        kind = getattr(errors, str(last["kind"]), errors.SweptShelfError)
        raise kind(last["reason"], last["path"])
    if last.get("event") != "result":
        raise errors.Interrupted(f"the worker ended early (status {status})")
    return last
