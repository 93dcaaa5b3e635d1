"""The log of a worker: JSON lines beside what it makes; what was read stands in it with the whole traceback."""

from __future__ import annotations

import json
import logging
import os
from pathlib import Path

NAME = "log.jsonl"


class _AsJson(logging.Formatter):
    def format(self, record: logging.LogRecord) -> str:
        more = {"traceback": self.formatException(record.exc_info)} if record.exc_info else {}
        return json.dumps(
            {"at": self.formatTime(record), "level": record.levelname, "message": record.getMessage(), **more}
        )


def keep_log(folder: str | None) -> None:
    """Log into `folder`, or nowhere; never to the terminal."""
    log = logging.getLogger("swept_shelf")
    log.propagate = False
    log.handlers = [logging.NullHandler()]
    if folder and os.path.isdir(folder):
        handler = logging.FileHandler(Path(folder) / NAME, delay=True)
        handler.setFormatter(_AsJson())
        log.addHandler(handler)
