"""`python -m swept_shelf.worker`: one request as a JSON line on standard input, events as JSON lines on standard output.

Requests: {"do": "survey", "root", "folder", "ours": [[from, to] of earlier work],
"rules": [corrections]}, {"do": "clearance", "root", "run", "folder"}, {"do": "trace", "root", "name", "id",
"names", "since", "folder"},
{"do": "carry_out"|"put_back"|"empty", "root", "run_folder"|"run", "lines"}, {"do": "archive", "root", "run", "file", "tops"},
{"do": "restore", "root", "file", "lines", "elsewhere"}.
The last event is {"event": "result", ...} or {"event": "failed", "kind", "reason", "path"}."""

from __future__ import annotations

import json
import os
import sys

from swept_shelf.core.documents.errors import Refused
from swept_shelf.core.documents.terms import LOOKING, Task
from swept_shelf.logbook import keep_log
from swept_shelf.running import begin
from swept_shelf.worker.channel import Channel
from swept_shelf.worker.ready import READY


def main() -> int:
    channel = Channel()
    keep_log(None)
    os.chdir("/")
    os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")  # what starts no thread may still enter namespaces
    if READY in sys.argv[1:]:
        import swept_shelf.worker.looking
        import swept_shelf.worker.surveying  # noqa: F401
    try:
        said = sys.stdin.readline()
        if not said:
            return 0  # nobody wanted anything
        request = json.loads(said)
        kind = request.pop("do")
        keep_log(request.get("folder") or request.get("run_folder"))
        if kind in LOOKING:
            from swept_shelf.worker.looking import look

            look(kind, request, channel)
        elif kind in ("archive", "restore"):
            from swept_shelf.worker.archiving import archive

            archive(kind, request, channel)
        elif kind in (Task.CARRY_OUT, Task.PUT_BACK, Task.EMPTY):
            from swept_shelf.worker.carrying import carry

            carry(kind, request, channel)
        else:
            raise Refused(f"the worker does not know how to {kind}")
    except Exception as error:
        channel.failed(error)
        return 2
    return 0


if __name__ == "__main__":
    begin()
    sys.exit(main())
