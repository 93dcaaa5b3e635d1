"""JSON lines to whoever started the worker; a listener that went away never stops the work."""

from __future__ import annotations

import json
import logging
import os
from typing import Any

from swept_shelf.core.documents.errors import SweptShelfError


class Channel:
    def __init__(self) -> None:
        self._open = True

    def tell(self, message: dict[str, Any]) -> None:
        if not self._open:
            return
        try:
            data = memoryview(json.dumps(message, ensure_ascii=True).encode() + b"\n")
            while data:
                data = data[os.write(1, data) :]
        except OSError:
            self._open = False

    def failed(self, error: Exception) -> None:
        """Why nothing, or no more, was done: the last event. What nobody foresaw is in the log with its traceback."""
        if not isinstance(error, SweptShelfError | OSError):
            logging.getLogger("swept_shelf").error("failed", exc_info=error)
            error = SweptShelfError(f"the worker failed: {type(error).__name__}: {error}")
        if isinstance(error, SweptShelfError):
            kind, reason, path = type(error).__name__, error.reason, error.path
        else:
            kind, reason, path = "OSError", error.strerror or str(error), str(error.filename or "")
        self.tell({"event": "failed", "kind": kind, "reason": reason, "path": path})

    def progress(self, what: str, done: int, total: int) -> None:
        self.tell({"event": "progress", "what": what, "done": done, "total": total})
