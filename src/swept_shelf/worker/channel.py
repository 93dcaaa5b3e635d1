"""JSON lines to whoever started the worker; a listener that went away never stops the work."""

from __future__ import annotations

import json
import os
from typing import Any


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

    def progress(self, what: str, done: int, total: int) -> None:
        self.tell({"event": "progress", "what": what, "done": done, "total": total})
