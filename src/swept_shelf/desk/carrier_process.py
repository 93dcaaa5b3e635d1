"""A carrier that outlives the desk: a process of its own session that writes its events to a file we follow."""

from __future__ import annotations

import json
import subprocess
import tempfile
from pathlib import Path
from typing import Any

from PySide6.QtCore import QObject, QTimer, Signal

from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.own_python import FOLDER
from swept_shelf.rights.asking import BY_RIGHTS
from swept_shelf.rights.handing_over import STOP
from swept_shelf.worker.client import command_for
from swept_shelf.worker.events import Heard


class CarrierProcess(QObject):
    progressed = Signal(dict)
    succeeded = Signal(dict)
    failed = Signal(str)

    def __init__(self, request: dict[str, Any], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._request = request
        self._timer = QTimer(self)
        self._timer.setInterval(60)
        self._timer.timeout.connect(self._look)

    def begin(self, runs: Path) -> None:
        """Start it, behind the desk; `runs`: where its events may stand. Raises OSError, Refused."""
        runs.mkdir(parents=True, exist_ok=True)
        if folder := self._request.get("run_folder") or self._request.get("folder"):
            (Path(folder) / STOP).unlink(missing_ok=True)
        self._events = tempfile.TemporaryFile(dir=runs)  # noqa: SIM115
        command, told = command_for(self._request)
        self._process = subprocess.Popen(
            command, stdin=subprocess.PIPE, stdout=self._events, cwd=FOLDER, start_new_session=True
        )
        assert self._process.stdin
        self._process.stdin.write(json.dumps(told).encode() + b"\n")
        self._process.stdin.close()

    def follow(self) -> None:
        """Hear of its end, on the desk's own thread."""
        self._timer.start()

    def _look(self) -> None:
        status = self._process.poll()
        if status is None:
            return
        self._timer.stop()
        self._events.seek(0)
        heard = Heard(bool(self._request.get(BY_RIGHTS)))
        heard.take(self._events.read())
        self._events.close()
        try:
            result = heard.outcome(status)
        except SweptShelfError as error:
            self.failed.emit(str(error))
            return
        self.succeeded.emit(result)
