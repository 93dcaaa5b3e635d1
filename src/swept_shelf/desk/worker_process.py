"""A looking worker as a child of the desk: JSON lines by QProcess, so that nothing on the desk ever waits."""

from __future__ import annotations

import json
import os
from typing import Any

from PySide6.QtCore import QObject, QProcess, QTimer, Signal

from swept_shelf.core.documents.errors import SweptShelfError
from swept_shelf.own_python import FOLDER
from swept_shelf.rights.asking import BY_RIGHTS
from swept_shelf.worker.client import command_for
from swept_shelf.worker.events import Heard


class WorkerProcess(QObject):
    progressed = Signal(dict)
    succeeded = Signal(dict)
    failed = Signal(str)

    def __init__(self, request: dict[str, Any], parent: QObject | None = None) -> None:
        super().__init__(parent)
        self._request = request
        self._heard = Heard(bool(request.get(BY_RIGHTS)))
        self._process = QProcess(self)
        self._process.setProcessChannelMode(QProcess.ProcessChannelMode.ForwardedErrorChannel)
        self._process.readyReadStandardOutput.connect(self._read)
        self._process.finished.connect(self._finished)
        self._process.errorOccurred.connect(self._broke)
        self.cancelled = False

    def start(self) -> None:
        try:
            (program, *arguments), told = command_for(self._request)
        except SweptShelfError as error:
            why = str(error)
            QTimer.singleShot(0, lambda: self.failed.emit(why))
            return
        self._process.setWorkingDirectory(FOLDER)
        self._process.start(program, arguments)
        mine = {} if BY_RIGHTS in self._request else {"parent": os.getpid()}
        self._process.write(json.dumps(told | mine).encode() + b"\n")

    @property
    def pid(self) -> int:
        return self._process.processId()

    def cancel(self) -> None:
        """End a looking worker; a carrier is never ended this way."""
        self.cancelled = True
        self._process.closeWriteChannel()  # by which a helper with more rights, that no signal reaches, is told
        self._process.kill()

    def _read(self) -> None:
        for event in self._heard.take(bytes(self._process.readAllStandardOutput().data())):
            self.progressed.emit(event)

    def _finished(self) -> None:
        self._read()
        try:
            result = self._heard.outcome(self._process.exitCode())
        except SweptShelfError as error:
            self.failed.emit("cancelled" if self.cancelled else str(error))
            return
        self.succeeded.emit(result)

    def _broke(self, error: QProcess.ProcessError) -> None:
        if error == QProcess.ProcessError.FailedToStart:
            self.failed.emit(f"the worker could not be started: {self._process.errorString()}")
