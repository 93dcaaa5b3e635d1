"""The log: JSON lines; what went wrong stands in it with the whole traceback. A worker's lies beside what it makes, the desk's and the
command line's in this person's state folder."""

from __future__ import annotations

import json
import logging
import os
import traceback
from logging.handlers import RotatingFileHandler
from pathlib import Path

from swept_shelf.core.machine.own_folders import own_folder

NAME = "log.jsonl"
_MOST, _OLDER = 1 << 20, 2


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
        handler = RotatingFileHandler(Path(folder) / NAME, maxBytes=_MOST, backupCount=_OLDER, delay=True)
        handler.setFormatter(_AsJson())
        log.addHandler(handler)


def went_wrong(error: BaseException, doing: str) -> tuple[str, str]:
    """Write an error that nobody expected down. Returns a plain sentence for the person, and the details to copy.

    Where the log cannot be written, the details are all there is."""
    folder = own_folder("state")
    where = f"the details stand in {folder / NAME}"
    try:
        folder.mkdir(parents=True, exist_ok=True, mode=0o700)
        keep_log(str(folder))
        logging.getLogger("swept_shelf").error("%s", doing, exc_info=error)
    except OSError as why:
        where = f"the details could not be written to {folder}: {why.strerror}"
    details = "".join(traceback.format_exception(error))
    return f"{doing} failed in a way that was not foreseen ({type(error).__name__}); {where}", details
