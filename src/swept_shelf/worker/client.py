"""Starts a worker and reads its events; used by the command line (blocking). The desk has its own, on Qt."""

from __future__ import annotations

import json
import os
import subprocess
from collections.abc import Callable
from typing import Any

from swept_shelf.core.documents.terms import Task
from swept_shelf.own_python import FOLDER, own_python
from swept_shelf.worker.events import Heard


def worker_command() -> list[str]:
    return own_python("swept_shelf.worker")


def run_worker(
    request: dict[str, Any], tell: Callable[[dict[str, Any]], None] = lambda _: None
) -> dict[str, Any]:
    """The worker's result event. Raises the worker's own error, or Interrupted when it died."""
    carrying, heard = request["do"] in set(Task), Heard()
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
            for line in process.stdout:
                for event in heard.take(line):
                    tell(event)
        except BaseException:
            if not carrying:
                process.kill()
            raise
    return heard.outcome(process.returncode)
